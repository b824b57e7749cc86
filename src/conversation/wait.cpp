// Voices, and how long a line waits that goes on by itself: for what is heard, and for its reader.
//
// Guarded by tests/conversation/conversation_test.cpp.

#include <algorithm>
#include <cmath>
#include <numeric>

#include "impl.hpp"

namespace arvik {

Nanoseconds Conversation::Impl::voice_length() const {
  if (!settings.voice_length || now().voice.empty()) return {};
  return std::max(settings.voice_length(now().voice), Nanoseconds::zero());
}

void Conversation::Impl::begin_voice() {
  const std::string& voice = now().voice;
  if (voice.empty()) return;
  typing.set_voice_end(add_saturated(machine.clock(), voice_length()));
  sounds.push_back({.kind = SoundEventKind::voice_begin, .time = machine.clock(), .name = voice});
  voice_plays = true;
}

void Conversation::Impl::end_sounds() {
  typing.stop(machine.clock(), sounds);
  end_voice();
}

void Conversation::Impl::end_voice() {
  typing.set_voice_end(machine.clock());
  if (!voice_plays) return;
  voice_plays = false;
  sounds.push_back({.kind = SoundEventKind::voice_end,
                    .time = machine.clock(),
                    .name = now().voice,
                    .fade = settings.voice_fade});
}

// Takes the reveal to where the line's voice is; nothing where there is no such place. `before_it`,
// which says when things happened within the tick, then has the speed at which the voice has gone.
std::optional<Progress> Conversation::Impl::follow_voice(Reveal& before_it, Nanoseconds time) {
  if (!voice_position || !voice_plays || hurried) return std::nullopt;
  const Nanoseconds way = *voice_position - reveal.position();
  const std::int64_t passed = std::max<std::int64_t>(time.count(), 1);
  const double speed =
      std::ceil(1000.0 * static_cast<double>(way.count()) / static_cast<double>(passed));
  Progress progress = reveal.advance_to(*voice_position);
  // Farther than any speed goes, it was sought: what lies between is passed over.
  if (speed > Reveal::max_speed) progress.skipped = true;
  before_it.set_speed(static_cast<std::int32_t>(std::clamp(speed, 0.0, 1.0 * Reveal::max_speed)));
  return progress;
}

// How long a line waits that goes on by itself; nothing if it does not.
std::optional<Nanoseconds> Conversation::Impl::wait_time() const {
  if (!now().automatic && !settings.play_by_itself) return std::nullopt;
  const AutoAdvance how = now().automatic.value_or(AutoAdvance{.reading = true});
  const ConversationTimes& times = machine.times();
  Nanoseconds wait = std::max(how.after, Nanoseconds::zero());
  if (how.reading) wait = std::max(wait, reading_time() - (times.part_time - times.since));
  if (machine.state() == ConversationState::waiting && typing.voice_end()) {
    wait = std::max(wait, *typing.voice_end() - (times.clock - times.since));
  }
  return wait;
}

// Of what came since the line's begin or the last hold in it.
Nanoseconds Conversation::Impl::reading_time() const {
  const std::uint32_t there = std::min(machine.times().part_shown, reveal.shown_steps());
  const auto& weights = own().part.weights;
  const std::uint32_t shown_now = reveal.shown_steps();
  const double letters =
      weights.empty() ? shown_now - there
                      : std::accumulate(weights.begin() + there, weights.begin() + shown_now, 0.0) /
                            letter_weight;
  const double seconds = letters / settings.reading_rate;
  const double most = in_seconds(max_written_time);
  const auto time = std::chrono::duration_cast<Nanoseconds>(
      std::chrono::duration<double>(std::min(seconds, most)));
  return std::max(time, settings.least_reading);
}

}  // namespace arvik
