// Onsets and events of a line: one walk over the steps, with the edges (span begins, span ends,
// points) taken in between, in the order of the source. Where nothing stands between steps but
// their intervals, a whole stretch is put down at once.
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
  Scheduler(const MarkedText& marked, const Steps& steps, const Pace& pace,
            const std::vector<StepPause>& automatic, std::span<const std::uint32_t> page_starts,
            Schedule& out)
      : edges_(marked),
        marked_(marked),
        steps_(steps),
        automatic_(automatic),
        page_starts_(page_starts),
        out_(out) {
    rates_[0] = pace.rate;
  }

  void run() {
    const std::uint32_t size = steps_.size();
    out_.onsets.resize(size);
    out_.events.clear();
    out_.pauses.clear();
    ink_end_ = end_of_ink();
    for (std::uint32_t i = 0; i < size;) {
      take_edges(i, steps_.begin_byte(i));
      turn_page(i);
      pass_automatic_pause();
      last_ = end_of_stretch(i) - 1;
      show(i, last_);
      open_automatic_pause();
      i = last_ + 1;
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

  void turn_page(std::uint32_t step) {
    if (next_page_ >= page_starts_.size() || page_starts_[next_page_] != step) return;
    ++next_page_;
    pending_ = false;
    const auto& events = out_.events;
    const bool held =
        !events.empty() && events.back().kind == EventKind::hold && events.back().step == step;
    if (!held) out_.events.push_back({EventKind::hold, step, cursor_, {}, {}});
    out_.events.push_back({EventKind::page, step, cursor_, {}, {}});
  }

  // From `first` to before the answer nothing stands between the steps but their intervals.
  [[nodiscard]] std::uint32_t end_of_stretch(std::uint32_t first) {
    while (next_automatic_ < automatic_.size() && automatic_[next_automatic_].step < first) {
      ++next_automatic_;
    }
    std::uint32_t end = steps_.size();
    if (next_automatic_ < automatic_.size()) end = automatic_[next_automatic_].step + 1;
    if (next_page_ < page_starts_.size()) end = std::min(end, page_starts_[next_page_]);
    end = std::max(end, first + 1);
    if (edges_.has_edge_until(steps_.begin_byte(end - 1))) {
      end = std::min(end, steps_.step_from(edges_.next_at(), first + 1));
    }
    return end;
  }

  // Puts down the onsets of the steps of a stretch; the cursor then stands behind the last.
  void show(std::uint32_t first, std::uint32_t last) {
    Nanoseconds cursor = cursor_;
    const Nanoseconds interval = interval_of(rates_[rate_depth_]);
    for (std::uint32_t i = first; i <= last; ++i) {
      out_.onsets[i] = cursor;
      const StepKind kind = steps_.kinds[i];
      const bool seen = kind != StepKind::row_end && kind != StepKind::unseen;
      if (seen && !is_inside_whole(i)) cursor = add_saturated(cursor, interval);
    }
    const bool line_ends = last + 1 == steps_.size();
    cursor_ = line_ends ? out_.onsets[last] : cursor;
  }

  [[nodiscard]] bool is_inside_whole(std::uint32_t step) const {
    return whole_depth_ > 0 && steps_.end_byte(step) < whole_end_;
  }

  void open_automatic_pause() {
    const bool asked =
        next_automatic_ < automatic_.size() && automatic_[next_automatic_].step == last_;
    pending_ = asked && last_ + 1 < ink_end_ && flow_depth_ == 0 && !is_inside_whole(last_);
  }

  void pass_automatic_pause() {
    if (!pending_) return;
    const StepPause& pause = automatic_[next_automatic_];
    StepPause& whole = pause_after_last();
    whole.automatic = pause.automatic;
    whole.reason = pause.reason;
    advance(pause.automatic);
    pending_ = false;
  }

  StepPause& pause_after_last() {
    if (out_.pauses.empty() || out_.pauses.back().step != last_) {
      out_.pauses.push_back({last_, {}, {}, PauseReason::none});
    }
    return out_.pauses.back();
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
    if (step_ > 0) pause_after_last().written += pause.time;  // before the first, no step has it
  }

  void apply(const tag::Hold&) {
    pending_ = false;
    out_.events.push_back({EventKind::hold, step_, cursor_, {}, {}});
  }

  void apply(const tag::Mark& mark) {
    EventKind kind = EventKind::mark;
    if (edge_.kind == EdgeKind::begin) kind = EventKind::mark_begin;
    if (edge_.kind == EdgeKind::end) kind = EventKind::mark_end;
    out_.events.push_back({kind, step_, cursor_, mark.name, mark.attributes});
  }

  void apply(const tag::Rate& rate) {
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
  const std::vector<StepPause>& automatic_;
  std::span<const std::uint32_t> page_starts_;
  std::size_t next_page_ = 0;
  Schedule& out_;

  Nanoseconds cursor_{};
  std::uint32_t ink_end_ = 0;
  std::uint32_t last_ = 0;          // the last step shown
  std::size_t next_automatic_ = 0;  // the first automatic pause at or behind the stretch
  bool pending_ = false;            // it stands after the last step and has not passed yet

  Edge edge_;
  std::uint32_t step_ = 0;
  std::array<double, max_nesting + 1> rates_{};
  std::size_t rate_depth_ = 0;
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
  static constexpr std::array<std::string_view, 6> names{"mark", "mark_begin", "mark_end",
                                                         "hold", "finish",     "page"};
  return names[static_cast<std::size_t>(kind)];
}

tl::expected<void, Diagnostic> schedule(const MarkedText& marked, const Steps& steps,
                                        const Language& language, const Pace& pace, Schedule& out,
                                        std::span<const std::uint32_t> page_starts) {
  if (auto problem = find_problem(pace)) return tl::unexpected(std::move(*problem));
  std::vector<StepPause> automatic;
  pacing::find_pauses(marked.text, steps, language, pace, automatic);
  Scheduler(marked, steps, pace, automatic, page_starts, out).run();
  return {};
}

tl::expected<Schedule, Diagnostic> schedule(const MarkedText& marked, const Steps& steps,
                                            const Language& language, const Pace& pace,
                                            std::span<const std::uint32_t> page_starts) {
  Schedule out;
  return schedule(marked, steps, language, pace, out, page_starts).map([&] {
    return std::move(out);
  });
}

}  // namespace arvik
