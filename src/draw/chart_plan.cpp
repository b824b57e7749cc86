// The scale is chosen so that most characters have room for their glyph until the next one comes;
// where fast passages leave less, glyphs are squeezed, and where that is not enough they pile up in
// lanes above each other. A line longer than a ribbon goes on in the next one.
//
// Guarded by tests/draw/chart_test.cpp.

#include <algorithm>
#include <array>
#include <cmath>

#include "chart.hpp"

namespace arvik {
namespace {

constexpr float side_margin = 44;      // left and right of a ribbon
constexpr float hold_gap = 46;         // the break that a hold makes in the axis
constexpr float least_squeeze = 0.5F;  // narrower glyphs are hard to read
constexpr float wanted_squeeze = 0.8F;
constexpr float piece_width = 360;  // of text that appears at once, before it is folded
constexpr double least_scale = 20;  // pixels a second
constexpr double most_scale = 420;
constexpr std::size_t most_lanes = 8;
constexpr double most_ribbons = 12;
constexpr float label_width = 6.2F;  // of one character of a label, about

// Steps that appear at once, before they have a place.
struct Group {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  std::uint32_t holds = 0;  // before it
  Nanoseconds onset{};
  double room = 0;  // seconds until something else appears or a rest begins
  float width = 0;  // of its text
};

std::string milliseconds(Nanoseconds time) {
  return std::to_string(std::chrono::round<std::chrono::milliseconds>(time).count());
}

class TrackPlanner {
 public:
  explicit TrackPlanner(const ChartTrack& track) : track_(track) { find_groups(); }

  [[nodiscard]] const std::vector<Group>& groups() const { return groups_; }
  /// With what is left of a recording then, where that is not far more.
  [[nodiscard]] Nanoseconds duration() const {
    const Nanoseconds own = track_.schedule->duration;
    const double voice = static_cast<double>(track_.voice.wave.size()) / track_.voice.rate;
    const Nanoseconds most = add_saturated(own, own + std::chrono::seconds(1));
    return std::max(own, std::min(most, Nanoseconds(std::llround(voice * 1e9))));
  }
  [[nodiscard]] const ChartTrack& track() const { return track_; }

  [[nodiscard]] std::uint32_t holds() const {
    return static_cast<std::uint32_t>(
        std::count_if(track_.schedule->events.begin(), track_.schedule->events.end(),
                      [](const Event& event) { return event.kind == EventKind::hold; }));
  }

 private:
  void find_groups() {
    const auto& onsets = track_.schedule->onsets;
    const auto& events = track_.schedule->events;
    std::size_t event = 0;
    std::uint32_t holds = 0;
    float width = 0;
    for (std::uint32_t i = 0; i < onsets.size(); ++i) {
      bool held = false;
      for (; event < events.size() && events[event].step <= i; ++event) {
        if (events[event].kind != EventKind::hold) continue;
        ++holds;
        held = true;
      }
      const bool ink = has_ink(track_.steps->kinds[i]);
      const StepPosition& place = track_.layout->steps[i];
      const bool joins = !groups_.empty() && !held && onsets[i] == groups_.back().onset &&
                         track_.layout->steps[i - 1].row == place.row && width < piece_width;
      if (joins) {
        groups_.back().end_step = i + 1;
        groups_.back().width += place.width;
        width = ink ? width + place.width : 0;
        if (!ink && groups_.back().width > piece_width) width = piece_width;
        continue;
      }
      groups_.push_back({i, i + 1, holds, onsets[i], 0, place.width});
      width = 0;
    }
    for (std::size_t g = 0; g < groups_.size(); ++g) groups_[g].room = room_after(g);
  }

  // Until the next onset, without the rest between.
  [[nodiscard]] double room_after(std::size_t g) const {
    const Group& group = groups_[g];
    std::size_t next = g + 1;
    while (next < groups_.size() && groups_[next].onset == group.onset) ++next;
    if (next >= groups_.size()) return 1;
    Nanoseconds room = groups_[next].onset - group.onset;
    const auto& pauses = track_.schedule->pauses;
    const auto pause =
        std::lower_bound(pauses.begin(), pauses.end(), group.first_step,
                         [](const StepPause& p, std::uint32_t step) { return p.step < step; });
    if (pause != pauses.end() && pause->step < group.end_step) {
      room -= pause->automatic + pause->written;
    }
    return in_seconds(room);
  }

  const ChartTrack& track_;
  std::vector<Group> groups_;
};

double choose_scale(const std::vector<TrackPlanner>& planners, double duration, double holds,
                    float ribbon_width) {
  std::vector<double> wanted;
  for (const TrackPlanner& planner : planners) {
    for (const Group& group : planner.groups()) {
      if (group.width <= 0 || group.room <= 0) continue;
      wanted.push_back(static_cast<double>(group.width * wanted_squeeze) / group.room);
    }
  }
  double scale = 200;
  if (!wanted.empty()) {
    const auto most = wanted.begin() + static_cast<std::ptrdiff_t>(wanted.size() * 4 / 5);
    std::nth_element(wanted.begin(), most, wanted.end());
    scale = *most;
  }
  scale = std::clamp(scale, least_scale, most_scale);
  if (duration <= 0) return scale;
  const auto room = static_cast<double>(ribbon_width);
  const double gaps = holds * static_cast<double>(hold_gap);
  // Ribbons are filled, and so few that one can look at them.
  const double natural = (duration * scale + gaps) / room;
  if (natural < 0.5) return std::min((room - gaps) / duration, scale * 2);
  const double ribbons = std::clamp(std::ceil(natural - 0.25), 1.0, most_ribbons);
  return std::max((ribbons * room - gaps) / duration, 1.0);
}

// A place on the endless axis, cut into ribbons.
struct Spot {
  std::size_t ribbon = 0;
  float x = 0;
};

class ChartPlanner {
 public:
  ChartPlanner(const std::vector<ChartTrack>& tracks, const ChartOptions& options) {
    for (const ChartTrack& track : tracks) planners_.emplace_back(track);
    plan_.right_to_left = tracks[0].layout->direction == Direction::right_to_left;
    plan_.ribbon_width = options.width - 2 * side_margin;
    std::uint32_t holds = 0;
    for (const TrackPlanner& planner : planners_) {
      plan_.duration = std::max(plan_.duration, planner.duration());
      holds = std::max(holds, planner.holds());
    }
    // On a common axis a hold can open no gap: the tracks reach it at different times.
    if (planners_.size() > 1) holds = 0;
    plan_.pixels_per_second =
        choose_scale(planners_, in_seconds(plan_.duration), holds, plan_.ribbon_width);
    open_gaps(holds);
    cut_ribbons(place(plan_.duration, holds));
    plan_.ribbons.resize(begins_.size());
    for (std::size_t r = 0; r < plan_.ribbons.size(); ++r) {
      plan_.ribbons[r].strips.resize(planners_.size());
      plan_.ribbons[r].width = r + 1 < begins_.size() ? end_of(r) : plan_.ribbon_width;
    }
  }

  ChartPlan run() {
    for (std::size_t t = 0; t < planners_.size(); ++t) {
      track_ = t;
      put_chunks();
      put_rests();
      put_events();
      put_sounds();
      put_voice();
      put_brackets();
    }
    put_ticks();
    return std::move(plan_);
  }

 private:
  // On the endless axis, in pixels.
  [[nodiscard]] double place(Nanoseconds time, std::uint32_t holds) const {
    return in_seconds(time) * plan_.pixels_per_second +
           gaps_[std::min<std::size_t>(holds, gaps_.size() - 1)];
  }

  // A hold breaks the axis behind the text that stands there.
  void open_gaps(std::uint32_t holds) {
    const auto& groups = planners_[0].groups();
    auto group = groups.begin();
    double text_end = 0;  // as if there were no gaps
    for (const Event& event : planners_[0].track().schedule->events) {
      if (event.kind != EventKind::hold || gaps_.size() > holds) continue;
      for (; group != groups.end() && group->holds < gaps_.size(); ++group) {
        const double begin = in_seconds(group->onset) * plan_.pixels_per_second;
        text_end =
            std::max(text_end, begin + static_cast<double>(group->width * squeeze_of(*group)));
      }
      const double hold = in_seconds(event.time) * plan_.pixels_per_second;
      gaps_.push_back(gaps_.back() + static_cast<double>(hold_gap) +
                      std::max(text_end - hold, 0.0));
      text_end = hold;
    }
  }

  [[nodiscard]] float squeeze_of(const Group& group) const {
    if (group.width <= 0) return 1;
    const double room = group.room * plan_.pixels_per_second;
    return std::clamp(static_cast<float>(room) / group.width, least_squeeze, 1.0F);
  }

  // How far behind its time a hold's sign stands: behind the text before it.
  [[nodiscard]] float text_before_hold(std::uint32_t hold) const {
    if (hold + 1 >= gaps_.size()) return 0;
    return static_cast<float>(gaps_[hold + 1] - gaps_[hold]) - hold_gap;
  }

  // A ribbon ends where a word begins, if one does in its last third, and before text that would
  // run out of it.
  void cut_ribbons(double end) {
    const auto width = static_cast<double>(plan_.ribbon_width);
    const double text_width = width + static_cast<double>(side_margin) * 0.8;
    begins_.push_back(0);
    const auto& groups = planners_[0].groups();
    const Steps& steps = *planners_[0].track().steps;
    auto group = groups.begin();
    for (bool all = false; !all;) {
      const double begin = begins_.back();
      double next = begin + width;
      all = end <= next + 1;
      for (; group != groups.end(); ++group) {
        const double x = place(group->onset, group->holds);
        const double text_end = x + static_cast<double>(group->width * squeeze_of(*group));
        const bool ink = has_ink(steps.kinds[group->first_step]);
        if (x > begin + width + 1) break;
        if (ink && text_end > begin + text_width && x > begin + width / 3) {
          next = x;
          all = false;
          break;
        }
        const bool word =
            ink && group->first_step > 0 && !has_ink(steps.kinds[group->first_step - 1]);
        if (word && !all && x > begin + width * 2 / 3) next = x;
      }
      if (!all) begins_.push_back(next);
      while (group != groups.begin() &&
             place((group - 1)->onset, (group - 1)->holds) >= next - 1e-6) {
        --group;
      }
    }
  }

  // What ends with a ribbon stays in it.
  [[nodiscard]] Spot spot(Nanoseconds time, std::uint32_t holds) const {
    const double at = place(time, holds);
    const auto next = std::lower_bound(begins_.begin() + 1, begins_.end(), at - 1e-6);
    const auto ribbon = static_cast<std::size_t>(next - begins_.begin()) - 1;
    return {ribbon, static_cast<float>(at - begins_[ribbon])};
  }

  // What begins there stands in the next one.
  [[nodiscard]] Spot begin_spot(Nanoseconds time, std::uint32_t holds) const {
    const double at = place(time, holds);
    const auto next = std::upper_bound(begins_.begin() + 1, begins_.end(), at + 1e-6);
    const auto ribbon = static_cast<std::size_t>(next - begins_.begin()) - 1;
    return {ribbon, static_cast<float>(std::max(at - begins_[ribbon], 0.0))};
  }

  // How far a ribbon goes before the next one begins.
  [[nodiscard]] float end_of(std::size_t ribbon) const {
    if (ribbon + 1 >= begins_.size()) return plan_.ribbon_width;
    return static_cast<float>(begins_[ribbon + 1] - begins_[ribbon]);
  }

  [[nodiscard]] ChartStrip& strip(std::size_t ribbon) {
    return plan_.ribbons[std::min(ribbon, plan_.ribbons.size() - 1)].strips[track_];
  }
  [[nodiscard]] const TrackPlanner& planner() const { return planners_[track_]; }
  [[nodiscard]] const Schedule& schedule() const { return *planner().track().schedule; }

  // How many holds lie before a step.
  [[nodiscard]] std::uint32_t holds_before(std::uint32_t step) const {
    const auto& groups = planner().groups();
    const auto group =
        std::upper_bound(groups.begin(), groups.end(), step,
                         [](std::uint32_t s, const Group& g) { return s < g.first_step; });
    return group == groups.begin() ? 0 : (group - 1)->holds;
  }

  void put_chunks() {
    std::array<float, most_lanes> ends{};
    std::size_t ribbon = plan_.ribbons.size();
    const auto& groups = planner().groups();
    for (std::size_t g = 0; g < groups.size(); ++g) {
      const Group& group = groups[g];
      if (group.width <= 0) continue;
      // Folded text that appears at once stands in rows, the first on top.
      std::size_t fold = 1;
      while (g + fold < groups.size() && groups[g + fold].onset == group.onset &&
             groups[g + fold].holds == group.holds) {
        ++fold;
      }
      const Spot at = begin_spot(group.onset, group.holds);
      if (at.ribbon != ribbon) ends.fill(-1);
      ribbon = at.ribbon;
      const float squeeze = squeeze_of(group);
      const std::size_t lane = free_lane(ends, fold, at.x);
      for (std::size_t f = 0; f < fold; ++f) {
        const Group& piece = groups[g + f];
        const std::size_t place = std::min(lane + fold - 1 - f, most_lanes - 1);
        strip(ribbon).chunks.push_back(
            {piece.first_step, piece.end_step, at.x, squeeze, static_cast<std::uint32_t>(place)});
        ends[place] = at.x + piece.width * squeeze;
      }
      g += fold - 1;
    }
  }

  // The lowest lane from which on so many are free.
  static std::size_t free_lane(const std::array<float, most_lanes>& ends, std::size_t count,
                               float x) {
    std::size_t lane = 0;
    for (std::size_t l = 0; l < std::min(lane + count, most_lanes); ++l) {
      if (ends[l] > x + 0.5F) lane = l + 1;
    }
    return std::min(lane, most_lanes - 1);
  }

  void put_rests() {
    const Steps& steps = *planner().track().steps;
    for (const StepPause& pause : schedule().pauses) {
      const std::uint32_t next = pause.step + 1;
      const Nanoseconds length = pause.automatic + pause.written;
      if (length <= Nanoseconds::zero()) continue;
      const bool last = next >= steps.size();
      const Nanoseconds end = last ? schedule().duration : schedule().onsets[next];
      std::string label = milliseconds(length) + " ms";
      const std::string_view reason =
          pause.written > Nanoseconds::zero() ? "written" : boundary_name(pause.reason);
      if (!reason.empty()) label += " " + std::string(reason);
      put_rest(end - length, end, holds_before(pause.step), label);
    }
    const auto& onsets = schedule().onsets;
    const Nanoseconds lead = onsets.empty() ? schedule().duration : onsets[0];
    if (lead > Nanoseconds::zero()) put_rest({}, lead, 0, milliseconds(lead) + " ms written");
  }

  void put_rest(Nanoseconds begin, Nanoseconds end, std::uint32_t holds, const std::string& label) {
    for_parts(begin, end, holds, holds, [&](std::size_t ribbon, float from, float to, bool, bool) {
      std::string shown = label;
      const auto width = [&] { return label_width * static_cast<float>(shown.size()); };
      if (width() > to - from) shown = label.substr(0, label.find(' ', label.find("ms")));
      if (width() > to - from) shown = label.substr(0, label.find(' '));
      if (width() > to - from + 4) shown.clear();
      strip(ribbon).rests.push_back({from, to, shown});
    });
  }

  template <typename Put>
  void for_parts(Nanoseconds begin, Nanoseconds end, std::uint32_t holds_at_begin,
                 std::uint32_t holds_at_end, Put put) const {
    const Spot from = begin_spot(begin, holds_at_begin);
    const Spot to = spot(end, holds_at_end);
    for (std::size_t r = from.ribbon; r <= to.ribbon; ++r) {
      const float left = r == from.ribbon ? from.x : 0;
      const float right = r == to.ribbon ? to.x : end_of(r);
      put(r, left, std::max(left, right), r == from.ribbon, r == to.ribbon);
    }
  }

  void put_events() {
    std::uint32_t holds = 0;
    for (const Event& event : schedule().events) {
      if (event.kind == EventKind::hold) {
        const Spot at = spot(event.time, holds);
        strip(at.ribbon).holds.push_back(at.x + text_before_hold(holds));
        ++holds;
        continue;
      }
      const std::string label = flag_label(event);
      if (label.empty()) continue;
      const Spot at = begin_spot(event.time, holds);
      put_flag(strip(at.ribbon), {at.x, event.kind, label, 0});
    }
  }

  [[nodiscard]] std::vector<Nanoseconds> hold_times() const {
    std::vector<Nanoseconds> times;
    for (const Event& event : schedule().events) {
      if (event.kind == EventKind::hold) times.push_back(event.time);
    }
    return times;
  }

  void put_sounds() {
    for (const ChartSound& sound : planner().track().sounds) {
      const Spot at = begin_spot(sound.time, holds_before(sound.step));
      strip(at.ribbon).pennants.push_back({at.x, sound.pitch});
    }
    put_wave(planner().track().wave, planner().track().wave_rate, &ChartStrip::wave);
  }

  void put_voice() {
    const ChartVoice& voice = planner().track().voice;
    put_wave(voice.wave, voice.rate, &ChartStrip::voice);
    const std::vector<Nanoseconds> holds_at = hold_times();
    const auto holds = [&](Nanoseconds time) {
      return static_cast<std::uint32_t>(std::lower_bound(holds_at.begin(), holds_at.end(), time) -
                                        holds_at.begin());
    };
    for (const ChartVoice::Speech& speech : voice.speech) {
      for_parts(speech.begin, speech.end, holds(speech.begin), holds(speech.end),
                [&](std::size_t ribbon, float from, float to, bool, bool) {
                  strip(ribbon).speech.push_back({from, to, {}});
                });
    }
    for (const Anchor& anchor : voice.anchors) {
      const Spot at = begin_spot(anchor.time, holds_before(anchor.step));
      strip(at.ribbon).anchors.push_back(
          {at.x, anchor.confidence, anchor.confidence >= voice.least_confidence});
    }
  }

  void put_wave(std::span<const float> wave, int rate, std::vector<ChartColumn> ChartStrip::*to) {
    const double samples_per_pixel = rate / plan_.pixels_per_second;
    float loudest = 1e-6F;
    for (const float sample : wave) loudest = std::max(loudest, std::abs(sample));
    const std::vector<Nanoseconds> holds_at = hold_times();
    for (std::size_t pixel = 0;; ++pixel) {
      const auto column = static_cast<double>(pixel);
      const auto first = static_cast<std::size_t>(column * samples_per_pixel);
      const auto end =
          std::min(static_cast<std::size_t>((column + 1) * samples_per_pixel) + 1, wave.size());
      if (first >= end) return;
      const Nanoseconds now(static_cast<std::int64_t>(column / plan_.pixels_per_second * 1e9));
      const auto holds = static_cast<std::uint32_t>(
          std::lower_bound(holds_at.begin(), holds_at.end(), now) - holds_at.begin());
      const Spot at = begin_spot(now, holds);
      if (at.ribbon >= plan_.ribbons.size() || at.x > plan_.ribbon_width) return;
      const auto [low, high] =
          std::minmax_element(wave.begin() + static_cast<std::ptrdiff_t>(first),
                              wave.begin() + static_cast<std::ptrdiff_t>(end));
      (strip(at.ribbon).*to).push_back({at.x, *low / loudest, *high / loudest});
    }
  }

  static std::string flag_label(const Event& event) {
    switch (event.kind) {
      case EventKind::mark:
        return event.name;
      case EventKind::mark_begin:
        return event.name + " ⟨";
      case EventKind::mark_end:
        return "⟩ " + event.name;
      case EventKind::sound:
        return "♪ " + event.name;
      case EventKind::page:
        return "page";
      default:
        return {};
    }
  }

  static void put_flag(ChartStrip& strip, ChartFlag flag) {
    const auto covers = [&](const ChartFlag& other) {
      const float end = other.x + label_width * static_cast<float>(other.label.size()) + 8;
      return other.lane == flag.lane && end > flag.x;
    };
    while (std::any_of(strip.flags.begin(), strip.flags.end(), covers)) ++flag.lane;
    strip.flags.push_back(std::move(flag));
  }

  static std::string bracket_label(const Instruction& what) {
    if (const auto* rate = std::get_if<tag::Rate>(&what)) {
      std::string number = std::to_string(rate->change.value);
      number.erase(number.find_last_not_of('0') + 1);
      if (number.ends_with('.')) number.pop_back();
      return rate->change.relative ? "x" + number : number + "cps";
    }
    if (std::holds_alternative<tag::Whole>(what)) return "whole";
    if (std::holds_alternative<tag::Flow>(what)) return "flow";
    if (const auto* by = std::get_if<tag::By>(&what)) {
      return by->unit == RevealUnit::word ? "by word" : "by row";
    }
    if (std::holds_alternative<tag::Mute>(what)) return "mute";
    if (const auto* typing = std::get_if<tag::Typing>(&what)) return "typing " + typing->name;
    return {};
  }

  void put_brackets() {
    const MarkedText& marked = *planner().track().marked;
    const Steps& steps = *planner().track().steps;
    struct Open {
      std::size_t end = 0;
      std::uint32_t level = 0;
    };
    std::vector<Open> open;
    for (auto span = marked.spans.begin(); span != marked.spans.end(); ++span) {
      const std::string label = bracket_label(span->what);
      const std::uint32_t first = steps.step_from(span->begin);
      const std::uint32_t end = steps.step_from(span->end);
      if (label.empty() || first >= end) continue;
      while (!open.empty() && open.back().end <= span->begin) open.pop_back();
      // Outer brackets stand further from the text.
      std::uint32_t inner = 0;
      std::size_t last_end = span->begin;
      for (auto other = span + 1; other != marked.spans.end() && other->begin < span->end;
           ++other) {
        if (bracket_label(other->what).empty() || other->begin < last_end) continue;
        inner = std::max(inner, depth_of(marked, other));
        last_end = other->end;
      }
      const std::uint32_t level = inner;
      open.push_back({span->end, level});
      const auto& onsets = schedule().onsets;
      const Nanoseconds until = end < onsets.size() ? onsets[end] : schedule().duration;
      for_parts(onsets[first], until, holds_before(first), holds_before(end - 1),
                [&](std::size_t ribbon, float from, float to, bool opens, bool closes) {
                  strip(ribbon).brackets.push_back({from, to, opens, closes, label, level});
                });
    }
  }

  // How many labelled spans stand inside each other from here on, this one counted.
  static std::uint32_t depth_of(const MarkedText& marked, std::vector<Span>::const_iterator span) {
    std::uint32_t most = 0;
    std::vector<std::size_t> ends;
    for (auto other = span; other != marked.spans.end() && other->begin < span->end; ++other) {
      if (bracket_label(other->what).empty()) continue;
      while (!ends.empty() && ends.back() <= other->begin) ends.pop_back();
      ends.push_back(other->end);
      most = std::max(most, static_cast<std::uint32_t>(ends.size()));
    }
    return std::max(most, 1U);
  }

  void put_ticks() {
    using namespace std::chrono_literals;
    static constexpr std::array<Nanoseconds, 9> steps{50ms, 100ms, 250ms, 500ms, 1s,
                                                      2s,   5s,    10s,   60s};
    const auto* step = std::find_if(steps.begin(), steps.end() - 1, [&](Nanoseconds s) {
      return in_seconds(s) * plan_.pixels_per_second >= 56;
    });
    track_ = 0;
    const std::vector<Nanoseconds> holds_at = hold_times();
    for (Nanoseconds now{}; now <= plan_.duration; now += *step) {
      const auto holds = static_cast<std::uint32_t>(
          std::lower_bound(holds_at.begin(), holds_at.end(), now) - holds_at.begin());
      const Spot at = now == Nanoseconds::zero() ? Spot{} : begin_spot(now, holds);
      plan_.ribbons[std::min(at.ribbon, plan_.ribbons.size() - 1)].ticks.push_back({at.x, now});
    }
  }

  std::vector<TrackPlanner> planners_;
  std::vector<double> begins_;   // of the ribbons, on the endless axis
  std::vector<double> gaps_{0};  // by how many holds lie before: what they add to the axis
  std::size_t track_ = 0;
  ChartPlan plan_;
};

}  // namespace

ChartPlan plan_chart(const std::vector<ChartTrack>& tracks, const ChartOptions& options) {
  if (tracks.empty()) return {};
  return ChartPlanner(tracks, options).run();
}

}  // namespace arvik
