#include "line_sound.hpp"

#include "exit_status.hpp"

namespace arvik::tool {

LineSound::LineSound(const PreparedLine& line, Language& language, const Pace& pace,
                     SoundSet& sounds, live::FrameClock& clock)
    : output_(sounds.bank, clock) {
  auto plan = plan_typing(line.marked, line.steps, language, line.schedule, sounds.sounds,
                          sounds.begin_with, pace);
  if (!plan) throw Failure(input_has_errors, plan.error().message);
  plan_ = std::move(*plan);
}

void LineSound::begin() {
  output_.stop();
  player_ = {};
  player_.begin(plan_);
}

void LineSound::follow(const Reveal& before, const Reveal& after, const Progress& progress,
                       Nanoseconds time) {
  events_.clear();
  player_.follow(before, after, progress, now_, events_);
  output_.tick(now_, time, events_);
  now_ += time;
}

}  // namespace arvik::tool
