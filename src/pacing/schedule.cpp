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
// Inside a word or row that appears at once the cursor stands still and the intervals are owed;
// they pass where the unit ends or anything cuts it.
//
// A line that must last a given time, or be at given places at given times, is walked twice: first
// to learn how much of each piece is intervals and how much pauses, then with a clock that
// stretches them. So everything that happens in it is scaled in one place, and rounding never adds
// up.
//
// Jitter moves the onsets inside a stretch, not the intervals: a random walk would drift, this
// cannot. A shift of half an interval at most keeps neighbours in order.
//
// Guarded by tests/pacing/schedule_test.cpp and tests/pacing/rhythm_test.cpp.

#include "arvik/schedule.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>

#include "../base/bytes.hpp"
#include "../base/random.hpp"
#include "clock.hpp"
#include "pauses.hpp"

namespace arvik {
namespace {

using pacing::Clock;
using pacing::Cut;
using pacing::Piece;

// What a line gives to every walk over it.
struct Material {
  const MarkedText& marked;
  const Steps& steps;
  const Pace& pace;
  const RowStarts& starts;
  const std::vector<StepPause>& automatic;
  const std::vector<std::uint8_t>& word_starts;  // empty where no word appears at once
  const std::vector<std::uint16_t>&
      weights;          // of the steps, in thousandths; empty where all are alike
  std::span<Cut> cuts;  // in the order in which they are met
};

class Scheduler {
 public:
  // Without pieces it goes in the line's own time, and notes where the cuts stand in it.
  Scheduler(const Material& material, std::span<const Piece> pieces, Schedule& out)
      : material_(material),
        edges_(material.marked),
        steps_(material.steps),
        pace_(material.pace),
        automatic_(material.automatic),
        pieces_(pieces),
        clock_(pieces.empty() ? Piece{} : pieces.front()),
        out_(out) {
    rates_[0] = pace_.rate;
    units_[0] = pace_.unit;
    plain_ = pieces.empty() && pace_.jitter == 0;
    if (pace_.jitter > 0) seed_ = base::mixed(pace_.seed) ^ base::hash_of(material.marked.text);
  }

  void run() {
    const std::uint32_t size = steps_.size();
    out_.onsets.resize(size);
    out_.events.clear();
    out_.pauses.clear();
    ink_end_ = end_of_ink();
    timeless_ = base::contains_byte(steps_.kinds, StepKind::row_end) ||
                base::contains_byte(steps_.kinds, StepKind::unseen);
    for (std::uint32_t i = 0; i < size;) {
      page_begins_at(i) ? take_edges_around_page(i) : take_edges(i, steps_.begin_byte(i));
      pass_automatic_pause();
      if (next_cut_ < material_.cuts.size()) pass_anchors(i);
      last_ = end_of_stretch(i) - 1;
      plain_&& unit() == RevealUnit::step ? show_steps(i, last_) : show_units(i, last_);
      open_automatic_pause();
      i = last_ + 1;
    }
    take_edges(size, material_.marked.text.size());
    out_.duration = clock_.now();
    add_event(EventKind::finish);
  }

  [[nodiscard]] const Clock& clock() const { return clock_; }

 private:
  [[nodiscard]] std::uint32_t end_of_ink() const {
    std::uint32_t end = steps_.size();
    while (end > 0 && !has_ink(steps_.kinds[end - 1])) --end;
    return end;
  }

  static bool is_timeless(StepKind kind) {
    return kind == StepKind::row_end || kind == StepKind::unseen;
  }

  void add_event(EventKind kind, std::string_view name = {}) {
    Event& event = out_.events.emplace_back();
    event.kind = kind;
    event.step = step_;
    event.time = clock_.now();
    event.name = name;
  }

  [[nodiscard]] bool page_begins_at(std::uint32_t step) const {
    const auto& pages = material_.starts.pages;
    return next_page_ < pages.size() && pages[next_page_] == step;
  }

  void turn_page() {
    ++next_page_;
    pending_ = false;
    pay();
    if (step_ > 0 && !is_held()) {
      add_event(EventKind::hold);
      out_.events.back().by_layout = !is_written_end();
    }
    add_event(EventKind::page);
    out_.events.back().by_layout = true;
  }

  // Whether `[page]` ends the page that ends here.
  [[nodiscard]] bool is_written_end() const {
    return edge_.what != nullptr && std::holds_alternative<tag::PageEnd>(*edge_.what) &&
           edge_.at == steps_.begin_byte(step_);
  }

  // Whether the writer's hold stands at this page's end, with nothing but blanks, row ends, marks
  // or sounds behind it: then that hold is the page's.
  [[nodiscard]] bool is_held() const {
    // Back to the begin of this page at most, so that all pages together are one walk.
    for (auto event = out_.events.rbegin(); event != out_.events.rend(); ++event) {
      if (event->kind == EventKind::page) return false;
      if (event->kind != EventKind::hold) continue;
      const auto* kinds = steps_.kinds.data();
      return std::none_of(kinds + event->step, kinds + step_, has_ink);
    }
    return false;
  }

  // From `first` to before the step that it returns nothing stands between the steps but their
  // intervals.
  [[nodiscard]] std::uint32_t end_of_stretch(std::uint32_t first) {
    while (next_automatic_ < automatic_.size() && automatic_[next_automatic_].step < first) {
      ++next_automatic_;
    }
    const auto& pages = material_.starts.pages;
    std::uint32_t end = steps_.size();
    if (next_automatic_ < automatic_.size()) end = automatic_[next_automatic_].step + 1;
    if (next_page_ < pages.size()) end = std::min(end, pages[next_page_]);
    if (next_cut_ < material_.cuts.size()) end = std::min(end, material_.cuts[next_cut_].step);
    end = std::max(end, first + 1);
    if (edges_.has_edge_until(steps_.begin_byte(end - 1))) {
      end = std::min(end, steps_.step_from(edges_.next_at(), first + 1));
    }
    return end;
  }

  // Puts down the onsets of the steps of a stretch; the cursor then stands behind the last. The
  // common way: each step for itself, on time.
  void show_steps(std::uint32_t first, std::uint32_t last) {
    Nanoseconds cursor = clock_.now();
    const Nanoseconds begin = cursor;
    const Nanoseconds interval = interval_of(rates_[rate_depth_]);
    if (is_simple(last - first + 1, cursor, interval)) {
      cursor = show_simple_steps(first, last, cursor, interval);
    } else {
      for (std::uint32_t i = first; i <= last; ++i) {
        out_.onsets[i] = cursor;
        if (takes_time(i)) cursor = add_saturated(cursor, weighted(i, interval));
      }
    }
    const bool line_ends = last + 1 == steps_.size();
    clock_.pass_interval((line_ends ? out_.onsets[last] : cursor) - begin);
  }

  // Inside nothing that appears at once, and far from the end of time.
  [[nodiscard]] bool is_simple(std::uint32_t count, Nanoseconds cursor,
                               Nanoseconds interval) const {
    constexpr std::int64_t far = std::numeric_limits<std::int64_t>::max() / 4;
    constexpr std::int64_t heaviest = std::numeric_limits<std::uint16_t>::max() / letter_weight + 1;
    return whole_depth_ == 0 && cursor.count() < far && interval.count() < far / heaviest / count;
  }

  // From `cursor` on; returns the time behind the interval of the last step.
  Nanoseconds show_simple_steps(std::uint32_t first, std::uint32_t last, Nanoseconds cursor,
                                Nanoseconds interval) {
    Nanoseconds* onsets = out_.onsets.data();
    if (!timeless_ && material_.weights.empty()) {  // each lasts as long
      for (std::uint32_t i = first; i <= last; ++i, cursor += interval) onsets[i] = cursor;
      return cursor;
    }
    const StepKind* kinds = steps_.kinds.data();
    const std::uint16_t* weights = material_.weights.empty() ? nullptr : material_.weights.data();
    // Mostly two weights alternate, those of letters and of punctuation.
    struct Known {
      std::uint16_t weight = letter_weight;
      Nanoseconds time{};
    };
    Known now{.time = interval};
    Known before = now;
    for (std::uint32_t i = first; i <= last; ++i) {
      if (weights != nullptr && weights[i] != now.weight) {
        std::swap(now, before);
        if (weights[i] != now.weight) now = {weights[i], weighted(i, interval)};
      }
      onsets[i] = cursor;
      cursor += is_timeless(kinds[i]) ? Nanoseconds::zero() : now.time;
    }
    return cursor;
  }

  // The same for words, rows, jitter and stretched time.
  void show_units(std::uint32_t first, std::uint32_t last) {
    const Nanoseconds interval = interval_of(rates_[rate_depth_]);
    for (std::uint32_t i = first; i <= last; ++i) {
      out_.onsets[i] = clock_.now();
      if (i + 1 == steps_.size()) {
        owed_ = {};  // the finish waits for nothing
        return;
      }
      if (takes_time(i)) owed_ = add_saturated(owed_, weighted(i, interval));
      if (!ends_unit(i) || owed_ == Nanoseconds::zero()) continue;
      pay();
      if (pace_.jitter > 0 && passes_time(i + 1, last)) {
        clock_.shift(
            random_shift(i + 1, std::min(weighted(i, interval), weighted(i + 1, interval))));
      }
    }
  }

  [[nodiscard]] Nanoseconds weighted(std::uint32_t step, Nanoseconds interval) const {
    if (material_.weights.empty()) return interval;
    const std::int64_t weight = material_.weights[step];
    // In two parts, so that no interval is too long for it.
    return interval / letter_weight * weight + interval % letter_weight * weight / letter_weight;
  }

  // Whether the unit that begins at `first` ends within the stretch and takes time. What begins
  // one, and what is cut by anything, comes on time.
  [[nodiscard]] bool passes_time(std::uint32_t first, std::uint32_t last) {
    bool time = false;
    for (std::uint32_t i = first; i <= last && i + 1 < steps_.size(); ++i) {
      time = time || takes_time(i);
      if (ends_unit(i)) return time;
    }
    return false;
  }

  [[nodiscard]] Nanoseconds random_shift(std::uint32_t step, Nanoseconds interval) const {
    const double random = base::uniform(base::mixed(seed_ + step));
    const double most = pace_.jitter / 2 * static_cast<double>(interval.count());
    return Nanoseconds(static_cast<std::int64_t>((2 * random - 1) * most));
  }

  void pay() {
    clock_.shift({});
    clock_.pass_interval(owed_);
    owed_ = {};
  }

  [[nodiscard]] bool takes_time(std::uint32_t step) const {
    return !is_timeless(steps_.kinds[step]) && !joins_next(step);
  }

  // Inside what appears at once and takes no time.
  [[nodiscard]] bool joins_next(std::uint32_t step) const {
    return is_inside_whole(step) || (unit() == RevealUnit::line && step + 1 < steps_.size());
  }

  [[nodiscard]] bool is_inside_whole(std::uint32_t step) const {
    return whole_depth_ > 0 && steps_.end_byte(step) < whole_end_;
  }

  [[nodiscard]] RevealUnit unit() const { return units_[unit_depth_]; }

  // Whether what appears with `step`, which is not the last, is complete with it. Asked for rising
  // steps, but for a look ahead of a few.
  [[nodiscard]] bool ends_unit(std::uint32_t step) {
    if (is_inside_whole(step)) return false;
    switch (unit()) {
      case RevealUnit::word:
        return material_.word_starts[step + 1] != 0;
      case RevealUnit::row: {
        const auto& rows = material_.starts.rows;
        return steps_.kinds[step] == StepKind::row_end ||
               std::binary_search(rows.begin(), rows.end(), step + 1);
      }
      case RevealUnit::step:
      case RevealUnit::line:
        break;
    }
    return true;
  }

  void open_automatic_pause() {
    const bool asked =
        next_automatic_ < automatic_.size() && automatic_[next_automatic_].step == last_;
    pending_ = asked && last_ + 1 < ink_end_ && flow_depth_ == 0 && !joins_next(last_);
  }

  // In a row that appears at once, its pauses are part of its time.
  void pass_automatic_pause() {
    if (!pending_) return;
    pending_ = false;
    const StepPause& pause = automatic_[next_automatic_];
    if (unit() == RevealUnit::row && !ends_unit(last_)) {
      owed_ = add_saturated(owed_, pause.automatic);
      return;
    }
    StepPause& whole = pause_after_last();
    whole.automatic = passed(pause.automatic);
    whole.reason = pause.reason;
  }

  // Lets a pause pass; returns how long it is in the schedule.
  Nanoseconds passed(Nanoseconds pause) {
    pay();
    const Nanoseconds begin = clock_.now();
    clock_.pass_pause(pause);
    return clock_.now() - begin;
  }

  StepPause& pause_after_last() {
    if (out_.pauses.empty() || out_.pauses.back().step != last_) {
      out_.pauses.push_back({last_, {}, {}, BoundaryKind::none});
    }
    return out_.pauses.back();
  }

  void take_edges(std::uint32_t step, std::size_t until) {
    step_ = step;
    while (edges_.has_edge_until(until)) take_edge();
  }

  void take_edge() {
    edge_ = edges_.take();
    std::visit([this](const auto& tag) { apply(tag); }, *edge_.what);
  }

  // Where a page begins, the page turns at the last `[hold]` or `[page]` that stands there; without
  // one, behind the spans that end and the pauses. What follows belongs to the new page.
  void take_edges_around_page(std::uint32_t step) {
    step_ = step;
    const std::size_t until = steps_.begin_byte(step);
    const auto turns = [](const Edge& edge) {
      return std::holds_alternative<tag::Hold>(*edge.what) ||
             std::holds_alternative<tag::PageEnd>(*edge.what);
    };
    const auto ends = [](const Edge& edge) {
      return edge.kind == EdgeKind::end || std::holds_alternative<tag::Pause>(*edge.what);
    };
    std::size_t before = 0;  // edges that belong to the old page
    std::size_t count = 0;
    bool only_ends = true;
    for (EdgeWalker ahead = edges_; ahead.has_edge_until(until);) {
      const Edge edge = ahead.take();
      ++count;
      only_ends = only_ends && ends(edge);
      if (only_ends || turns(edge)) before = count;
    }
    for (std::size_t i = 0; i < before; ++i) take_edge();
    turn_page();
    while (edges_.has_edge_until(until)) take_edge();
  }

  [[nodiscard]] bool begins() const { return edge_.kind == EdgeKind::begin; }

  void apply(const tag::Pause& pause) {
    pass_automatic_pause();
    const Nanoseconds time = passed(pause.time);
    if (step_ > 0) pause_after_last().written += time;  // before the first, no step has it
  }

  // The cuts of `[at T]` stand in the order of the text, like the tags themselves, but those that
  // stand behind anchors of the same step: there are none.
  void apply(const tag::At&) {
    pass_automatic_pause();
    pay();
    while (!material_.cuts[next_cut_].written) ++next_cut_;  // of steps that were passed
    pass_cut();
  }

  // The anchors of the step that is shown next.
  void pass_anchors(std::uint32_t step) {
    while (next_cut_ < material_.cuts.size() && material_.cuts[next_cut_].step <= step) {
      Cut& cut = material_.cuts[next_cut_];
      if (step > 0 && cut.valid && is_inside_unit(step)) {
        cut.valid = false;
        cut.inside_unit = true;
      }
      if (cut.valid) pay();
      pass_cut();
    }
  }

  // Whether a step is shown together with the one before it.
  [[nodiscard]] bool is_inside_unit(std::uint32_t step) {
    if (unit() == RevealUnit::line) return true;
    if (whole_depth_ > 0) return steps_.begin_byte(step) > whole_begin_;
    return !ends_unit(step - 1);
  }

  void pass_cut() {
    Cut& cut = material_.cuts[next_cut_++];
    if (!cut.valid) return;
    if (pieces_.empty()) {
      cut.intervals = clock_.intervals();
      cut.pauses = clock_.pauses();
    } else {
      clock_.enter(pieces_[++piece_]);
    }
  }

  void apply(const tag::Hold&) {
    pending_ = false;
    pay();
    add_event(EventKind::hold);
  }

  void apply(const tag::Mark& mark) {
    EventKind kind = EventKind::mark;
    if (edge_.kind == EdgeKind::begin) kind = EventKind::mark_begin;
    if (edge_.kind == EdgeKind::end) kind = EventKind::mark_end;
    add_event(kind, mark.name);
    out_.events.back().attributes = mark.attributes;
  }

  void apply(const tag::Sound& sound) { add_event(EventKind::sound, sound.name); }

  void apply(const tag::Portrait& portrait) { add_event(EventKind::portrait, portrait.name); }

  void apply(const tag::Typing& typing) {
    add_event(begins() ? EventKind::typing_begin : EventKind::typing_end, typing.name);
  }

  void apply(const tag::Mute&) {
    add_event(begins() ? EventKind::mute_begin : EventKind::mute_end);
  }

  void apply(const tag::Rate& rate) {
    if (!begins()) {
      --rate_depth_;
      return;
    }
    const double outer = rates_[rate_depth_];
    const double inner = rate.change.relative ? outer * rate.change.value : rate.change.value;
    rates_[++rate_depth_] = std::clamp(inner, min_rate, max_rate);
  }

  void apply(const tag::Whole&) {
    if (!begins()) {
      --whole_depth_;
    } else if (whole_depth_++ == 0) {
      whole_begin_ = edge_.at;
      whole_end_ = edge_.end;
    }
  }

  void apply(const tag::By& by) {
    pay();
    if (begins()) {
      units_[++unit_depth_] = by.unit;
    } else {
      --unit_depth_;
    }
  }

  void apply(const tag::Flow&) { flow_depth_ += begins() ? 1 : -1; }

  template <typename Other>
  void apply(const Other&) {}  // without effect on time

  const Material& material_;
  EdgeWalker edges_;
  const Steps& steps_;
  const Pace& pace_;
  const std::vector<StepPause>& automatic_;
  std::span<const Piece> pieces_;
  Clock clock_;
  Schedule& out_;
  std::uint64_t seed_ = 0;
  Nanoseconds owed_{};              // of the unit that is not complete yet
  std::size_t next_automatic_ = 0;  // the first automatic pause at or behind the stretch
  std::size_t next_page_ = 0;
  std::size_t next_cut_ = 0;
  std::size_t piece_ = 0;  // in which the clock goes
  Edge edge_;
  std::array<double, max_nesting + 1> rates_{};
  std::size_t rate_depth_ = 0;
  std::size_t unit_depth_ = 0;
  std::size_t whole_begin_ = 0;
  std::size_t whole_end_ = 0;
  std::uint32_t ink_end_ = 0;
  bool timeless_ = false;   // some steps take no time by themselves
  std::uint32_t last_ = 0;  // the last step shown
  std::uint32_t step_ = 0;  // before which edges are taken
  int whole_depth_ = 0;
  int flow_depth_ = 0;
  std::array<RevealUnit, max_nesting + 1> units_{};
  bool plain_ = true;     // neither stretched nor uneven
  bool pending_ = false;  // an automatic pause stands after the last step and has not passed yet
};

// The weights of the steps: of their scripts, and of blanks.
void find_weights(const Steps& steps, const Pace& pace, std::vector<std::uint16_t>& out) {
  out.clear();
  if (pace.by_script) step_weights(steps, out);
  if (pace.blank == 1) return;
  if (out.empty()) out.resize(steps.size(), letter_weight);
  const auto blank = static_cast<std::uint16_t>(std::lround(pace.blank * letter_weight));
  for (std::uint32_t i = 0; i < steps.size(); ++i) {
    if (steps.kinds[i] == StepKind::blank) out[i] = blank;
  }
}

bool has_words_at_once(const MarkedText& marked, const Pace& pace) {
  if (pace.unit == RevealUnit::word) return true;
  return std::any_of(marked.spans.begin(), marked.spans.end(), [](const Span& span) {
    const auto* by = std::get_if<tag::By>(&span.what);
    return by != nullptr && by->unit == RevealUnit::word;
  });
}

// What the line must last, if it does not do so by itself.
std::optional<Nanoseconds> target_of(const Pace& pace, Nanoseconds duration) {
  if (pace.fit) return pace.fit;
  if (pace.least && duration < *pace.least) return pace.least;
  if (pace.most && duration > *pace.most) return pace.most;
  return std::nullopt;
}

std::string milliseconds(Nanoseconds time) {
  return std::to_string(std::chrono::round<std::chrono::milliseconds>(time).count()) + " ms";
}

// Walks again, in pieces between the cuts, so that the line lasts `end`, if that is given.
void stretch(const Material& material, const Clock& natural, std::optional<Nanoseconds> end,
             std::vector<Piece>& pieces, Schedule& out) {
  const bool keep = material.pace.fit_pauses == FitPauses::keep;
  pacing::make_pieces(material.cuts, natural, end, keep, pieces);
  Scheduler(material, pieces, out).run();
  if (!end) return;
  out.duration = *end;
  out.events.back().time = *end;
}

void tell_short_fit(const Clock& natural, Nanoseconds target, DiagnosticSink& problems) {
  problems.add({.code = DiagnosticCode::fit_too_short,
                .severity = Severity::warning,
                .message = "the pauses alone last " + milliseconds(natural.pauses()) +
                           ", but the line must last " + milliseconds(target) +
                           "; the pauses are shortened, too"});
}

// Brings the steps of anchors and `[at T]` to their times, and the line to its length.
void keep_times(const Material& material, const Clock& natural, pacing::Scratch& scratch,
                DiagnosticSink& problems, Schedule& out) {
  bool cut = false;
  for (Cut& each : scratch.cuts) {
    if (each.inside_unit) {
      pacing::refuse(each, material.marked, material.steps,
                     "it appears together with the step before it", problems);
    }
    cut = cut || each.valid;
  }
  if (cut) stretch(material, natural, std::nullopt, scratch.pieces, out);
  const auto target = target_of(material.pace, out.duration);
  if (!target) return;
  if (material.pace.fit_pauses == FitPauses::keep && natural.pauses() > *target) {
    tell_short_fit(natural, *target, problems);
  }
  stretch(material, natural, target, scratch.pieces, out);
}

}  // namespace

std::string_view event_kind_name(EventKind kind) {
  static constexpr std::array<std::string_view, 12> names{
      "mark",  "mark_begin",   "mark_end",   "hold",       "finish",   "page",
      "sound", "typing_begin", "typing_end", "mute_begin", "mute_end", "portrait"};
  return names[static_cast<std::size_t>(kind)];
}

tl::expected<void, Diagnostic> pacing::schedule(const MarkedText& marked, const Steps& steps,
                                                Language& language, const Pace& pace,
                                                const RowStarts& starts,
                                                const std::vector<Boundary>* boundaries,
                                                std::span<const Anchor> anchors, Scratch& scratch,
                                                Schedule& out) {
  if (auto problem = find_problem(pace)) return tl::unexpected(std::move(*problem));
  out.diagnostics.clear();
  const bool by_word = has_words_at_once(marked, pace);
  std::vector<LanguageRun>& others = scratch.others;
  if (boundaries == nullptr || by_word) find_languages(marked, steps, others);
  if (boundaries == nullptr) {
    read_boundaries(marked.text, steps, language, others, options_of(pace), scratch.boundaries);
    boundaries = &scratch.boundaries;
  }
  find_pauses(*boundaries, pace, scratch.automatic);
  scratch.word_starts.clear();
  if (by_word) {
    language.word_starts(marked.text, steps, scratch.word_starts);
    for (const LanguageRun& run : others) {
      language.other(run.tag).word_starts(marked.text, steps, run.first_step, run.end_step,
                                          scratch.word_starts);
    }
  }
  std::vector<std::uint16_t>& weights = scratch.weights;
  find_weights(steps, pace, weights);
  out.letters =
      weights.empty()
          ? static_cast<double>(steps.size())
          : static_cast<double>(std::accumulate(weights.begin(), weights.end(), std::uint64_t{0})) /
                letter_weight;
  DiagnosticSink problems(marked.text, out.diagnostics);
  pacing::collect_cuts(marked, steps, anchors, pace.fit ? pace.fit : pace.most, problems,
                       scratch.cuts);
  const Material material{
      marked, steps, pace, starts, scratch.automatic, scratch.word_starts, weights, scratch.cuts};
  Scheduler scheduler(material, {}, out);
  scheduler.run();
  if (!scratch.cuts.empty() || pace.fit || pace.least || pace.most) {
    keep_times(material, scheduler.clock(), scratch, problems, out);
  }
  return {};
}

tl::expected<void, Diagnostic> schedule(const MarkedText& marked, const Steps& steps,
                                        Language& language, const Pace& pace, Schedule& out,
                                        const RowStarts& starts,
                                        const std::vector<Boundary>* boundaries,
                                        std::span<const Anchor> anchors) {
  pacing::Scratch scratch;
  return pacing::schedule(marked, steps, language, pace, starts, boundaries, anchors, scratch, out);
}

tl::expected<Schedule, Diagnostic> schedule(const MarkedText& marked, const Steps& steps,
                                            Language& language, const Pace& pace,
                                            const RowStarts& starts) {
  Schedule out;
  return schedule(marked, steps, language, pace, out, starts).map([&] { return std::move(out); });
}

}  // namespace arvik
