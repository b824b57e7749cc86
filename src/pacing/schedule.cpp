// Onsets and events of a line: one walk over the steps, with the edges (span begins, span ends,
// points) taken in between, in the order of the source.
//
// The time cursor stands behind the interval of the last step. What the walk meets between two
// steps happens at the cursor, in order. The automatic pause of the step before is still open then:
// it passes at the first written pause or else right before the next step. So a mark set close
// behind a full stop comes with the stop and not after the rest, and one behind a written pause
// comes together with the next step. A hold uses the open pause up.
//
// Guarded by tests/pacing_schedule_test.cpp.

#include "arvik/schedule.hpp"

#include <algorithm>
#include <array>

#include "punctuation.hpp"

namespace arvik {
namespace {

class Scheduler {
 public:
  Scheduler(const MarkedText& marked, const Steps& steps, const Pace& pace, Schedule& out)
      : edges_(marked), marked_(marked), steps_(steps), out_(out) {
    rates_[0] = pace.rate;
  }

  // out.pauses holds every automatic pause that the punctuation asks for.
  void run() {
    const std::uint32_t size = steps_.size();
    out_.onsets.resize(size);
    out_.events.clear();
    const std::uint32_t ink_end = end_of_ink();
    for (std::uint32_t i = 0; i < size; ++i) {
      take_edges(i, steps_.begin_byte(i));
      pass_automatic_pause();
      out_.onsets[i] = cursor_;
      const bool rests = i + 1 < ink_end && flow_depth_ == 0 && !is_inside_whole(i);
      if (!rests) {
        out_.pauses[i].automatic = {};
        out_.pauses[i].reason = PauseReason::none;
      }
      open_pause_ = &out_.pauses[i];
      automatic_pending_ = rests;
      if (i + 1 < size) advance(interval(i));
    }
    take_edges(size, marked_.text.size());
    out_.duration = cursor_;
    out_.events.push_back({EventKind::finish, size, cursor_, {}, {}});
  }

 private:
  [[nodiscard]] std::uint32_t end_of_ink() const {
    std::uint32_t end = steps_.size();
    while (end > 0 && !has_ink(steps_.kinds[end - 1])) --end;
    return end;
  }

  void advance(Nanoseconds time) { cursor_ = add_saturated(cursor_, time); }

  [[nodiscard]] bool is_inside_whole(std::uint32_t step) const {
    return whole_depth_ > 0 && steps_.end_byte(step) < whole_end_;
  }

  [[nodiscard]] Nanoseconds interval(std::uint32_t step) {
    const StepKind kind = steps_.kinds[step];
    if (kind == StepKind::row_end || kind == StepKind::unseen || is_inside_whole(step)) return {};
    if (interval_ == Nanoseconds::zero()) interval_ = interval_of(rates_[rate_depth_]);
    return interval_;
  }

  void pass_automatic_pause() {
    if (!automatic_pending_) return;
    advance(open_pause_->automatic);
    automatic_pending_ = false;
  }

  void drop_automatic_pause() {
    if (!automatic_pending_) return;
    open_pause_->automatic = {};
    open_pause_->reason = PauseReason::none;
    automatic_pending_ = false;
  }

  void take_edges(std::uint32_t step, std::size_t until) {
    while (edges_.has_edge_until(until)) {
      const Edge edge = edges_.take();
      step_ = step;
      edge_ = edge;
      std::visit([this](const auto& tag) { apply(tag); }, *edge.what);
    }
  }

  void apply(const tag::Pause& pause) {
    pass_automatic_pause();
    advance(pause.time);
    if (open_pause_ != nullptr) open_pause_->written += pause.time;
  }

  void apply(const tag::Hold&) {
    drop_automatic_pause();
    out_.events.push_back({EventKind::hold, step_, cursor_, {}, {}});
  }

  void apply(const tag::Mark& mark) {
    static constexpr std::array kinds{EventKind::mark_begin, EventKind::mark_end, EventKind::mark};
    const EventKind kind = kinds[static_cast<std::size_t>(edge_.kind)];
    out_.events.push_back({kind, step_, cursor_, mark.name, mark.attributes});
  }

  void apply(const tag::Rate& rate) {
    interval_ = {};
    if (edge_.kind == EdgeKind::end) {
      --rate_depth_;
      return;
    }
    const double outer = rates_[rate_depth_];
    const double inner = rate.change.relative ? outer * rate.change.value : rate.change.value;
    rates_[++rate_depth_] = std::clamp(inner, min_rate, max_rate);
  }

  void apply(const tag::Whole&) {
    if (edge_.kind == EdgeKind::end) {
      --whole_depth_;
    } else if (whole_depth_++ == 0) {
      whole_end_ = edge_.end;
    }
  }

  void apply(const tag::Flow&) { flow_depth_ += edge_.kind == EdgeKind::end ? -1 : 1; }

  template <typename Other>
  void apply(const Other&) {}  // without effect on time

  EdgeWalker edges_;
  const MarkedText& marked_;
  const Steps& steps_;
  Schedule& out_;

  Nanoseconds cursor_{};
  StepPause* open_pause_ = nullptr;  // of the last step; none before the first
  bool automatic_pending_ = false;   // the automatic part of it has not passed yet

  Edge edge_;
  std::uint32_t step_ = 0;
  std::array<double, max_nesting + 1> rates_{};
  std::size_t rate_depth_ = 0;
  Nanoseconds interval_{};  // of the current rate; zero: not computed yet
  int whole_depth_ = 0;
  std::size_t whole_end_ = 0;
  int flow_depth_ = 0;
};

}  // namespace

std::string_view pause_reason_name(PauseReason reason) {
  static constexpr std::array<std::string_view, 8> names{
      "", "space", "clause", "dash", "row end", "sentence", "ellipsis", "paragraph"};
  return names[static_cast<std::size_t>(reason)];
}

std::string_view event_kind_name(EventKind kind) {
  static constexpr std::array<std::string_view, 5> names{"mark", "mark_begin", "mark_end", "hold",
                                                         "finish"};
  return names[static_cast<std::size_t>(kind)];
}

tl::expected<void, Diagnostic> schedule(const MarkedText& marked, const Steps& steps,
                                        const Language& language, const Pace& pace, Schedule& out) {
  if (auto problem = find_problem(pace)) return tl::unexpected(std::move(*problem));
  pacing::find_pauses(marked.text, steps, language, pace, out.pauses);
  Scheduler(marked, steps, pace, out).run();
  return {};
}

tl::expected<Schedule, Diagnostic> schedule(const MarkedText& marked, const Steps& steps,
                                            const Language& language, const Pace& pace) {
  Schedule out;
  return schedule(marked, steps, language, pace, out).map([&] { return std::move(out); });
}

}  // namespace arvik
