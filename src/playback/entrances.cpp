// Each step keeps the real moment at which it appeared. That is known when it appears: the reveal
// says how much real time lay between the tick's begin and the step's onset.
//
// Guarded by tests/playback/frame_test.cpp and tests/conversation/opacity_test.cpp.

#include "arvik/entrances.hpp"

#include <algorithm>
#include <limits>

namespace arvik {

void Entrances::begin(std::size_t steps) {
  steps_.clear();
  steps_.reserve(steps);
}

void Entrances::follow(const Reveal& before, const Progress& progress, Nanoseconds time,
                       std::uint32_t first_step) {
  const std::size_t begin = std::size_t{first_step} + progress.first_step;
  // Only steps that come next are new: an appended line begins where the one before it ended.
  if (begin <= steps_.size()) steps_.resize(begin);
  for (std::uint32_t i = progress.first_step; i < progress.end_step; ++i) {
    Appearance step{.at = now_};
    if (!progress.skipped) {
      const Nanoseconds wait = before.real_time_to(before.onset(i));
      step.at = add_saturated(now_, wait);
      const Nanoseconds next = before.onset(i + 1);
      if (next > before.onset(i)) step.spacing = before.real_time_to(next) - wait;
    }
    steps_.push_back(step);
  }
  pass(std::max(time, Nanoseconds::zero()));
}

void Entrances::put(std::uint32_t steps) { steps_.assign(steps, {.at = long_ago}); }

std::vector<Appearance> appearances(const Schedule& schedule, std::uint32_t shown) {
  std::vector<Appearance> out(std::min<std::size_t>(shown, schedule.onsets.size()));
  for (std::size_t i = 0; i < out.size(); ++i) {
    out[i].at = schedule.onsets[i];
    if (i + 1 < schedule.onsets.size()) {
      out[i].spacing = schedule.onsets[i + 1] - schedule.onsets[i];
    }
  }
  return out;
}

void glyph_onsets(const Layout& layout, std::span<const Appearance> shown, const Schedule& schedule,
                  const Reveal& reveal, Nanoseconds now, Nanoseconds origin,
                  std::vector<float>& out, std::uint32_t first_step) {
  // What stands behind the next hold comes when the player lets it.
  std::uint32_t end = static_cast<std::uint32_t>(schedule.onsets.size());
  const std::uint32_t next_event = reveal.place().next_event;
  for (std::size_t i = next_event; i < schedule.events.size(); ++i) {
    if (schedule.events[i].kind != EventKind::hold) continue;
    end = schedule.events[i].step;
    break;
  }
  const bool stands = reveal.paused() || reveal.speed() == 0;
  if (reveal.state() != RevealState::revealing || stands) end = reveal.shown_steps();
  out.clear();
  for (const Glyph& glyph : layout.glyphs) {
    float onset = std::numeric_limits<float>::infinity();
    if (glyph.first_step < shown.size()) {
      onset = std::chrono::duration<float>(shown[glyph.first_step].at - origin).count();
    } else if (glyph.first_step >= first_step && glyph.first_step - first_step < end) {
      const Nanoseconds wait = reveal.real_time_to(schedule.onsets[glyph.first_step - first_step]);
      onset = std::chrono::duration<float>(add_saturated(now, wait) - origin).count();
    }
    out.push_back(onset);
  }
}

}  // namespace arvik
