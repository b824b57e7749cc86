// Voices, and how long a line waits that goes on by itself: for what is heard, and for its reader.
//
// Guarded by tests/conversation/conversation_test.cpp.

#include <algorithm>
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
  typing.set_voice_end(machine.clock());
  if (!voice_plays) return;
  voice_plays = false;
  sounds.push_back({.kind = SoundEventKind::voice_end,
                    .time = machine.clock(),
                    .name = now().voice,
                    .fade = settings.voice_fade});
}

// How long a line waits that goes on by itself; nothing if it does not.
std::optional<Nanoseconds> Conversation::Impl::wait_time() const {
  if (!now().automatic && !settings.play_by_itself) return std::nullopt;
  const AutoAdvance how = now().automatic.value_or(AutoAdvance{.reading = true});
  const ConversationTimes& times = machine.times();
  Nanoseconds wait = std::max(how.after, Nanoseconds::zero());
  if (how.reading) wait = std::max(wait, reading_time() - (times.part_time - times.since));
  if (machine.state() == ConversationState::waiting) {
    wait = std::max(wait, voice_length() - (times.line_time - times.since));
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
