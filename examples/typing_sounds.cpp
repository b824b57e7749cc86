// Typing sounds beside a reveal: what to start, when inside the frame, how high and how loud. Your
// engine's audio plays it; here it is printed.

#include <arvik/arvik.hpp>
#include <cstdio>
#include <vector>

int main() {
  using namespace std::chrono_literals;
  arvik::Typesetter typesetter(arvik::Language::open("en").value());

  // A speaker: three samples, never the same twice in a row, 55 ms apart at least.
  const std::vector<arvik::TypingSound> voices{
      {.name = "wood",
       .samples = {"wood_1", "wood_2", "wood_3"},
       .choice = arvik::SampleChoice::shuffle,
       .gap = 55ms,
       .pitch = {-1, 1},
       .question_pitch = 3},
  };

  // Once a line: prepare it, and plan its sounds.
  const arvik::Pace pace{.rate = 25};
  const arvik::PreparedLine line = typesetter
                                       .prepare("Who's [mute: (tick)] there?[sound valve-thud]",
                                                pace, arvik::GridFont{}, arvik::Box{})
                                       .value();
  const arvik::TypingPlan plan = arvik::plan_typing(line.marked, line.steps, typesetter.language(),
                                                    line.schedule, voices, "wood", pace)
                                     .value();

  // Every frame: tick the reveal, let the player follow it, start what comes of it.
  arvik::Reveal reveal = line.reveal();
  arvik::TypingPlayer typing;
  typing.begin(plan);
  std::vector<arvik::SoundEvent> sounds;
  arvik::Nanoseconds now{};
  while (reveal.state() != arvik::RevealState::finished) {
    const arvik::Reveal before = reveal;
    const arvik::Progress progress = reveal.tick(16ms);
    sounds.clear();
    typing.follow(before, reveal, progress, now, sounds);
    for (const arvik::SoundEvent& sound : sounds) {
      // engine.play(sound.name, /*delay:*/ sound.time - now, sound.pitch, sound.gain);
      std::printf("%4lld ms  %-7.*s %-10.*s %+.2f st\n", static_cast<long long>(sound.time / 1ms),
                  static_cast<int>(sound_event_name(sound.kind).size()),
                  sound_event_name(sound.kind).data(), static_cast<int>(sound.name.size()),
                  sound.name.data(), static_cast<double>(sound.pitch));
    }
    now += 16ms;
  }
}
