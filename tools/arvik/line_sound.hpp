#pragma once

#include "arvik/typesetter.hpp"
#include "arvik/typing_player.hpp"
#include "sound_input.hpp"
#include "sound_output.hpp"

namespace arvik::tool {

/// The sounds of one line while it is played on this machine's sound device.
class LineSound {
 public:
  /// Keeps the bank of the sounds, which must outlive it. A line's own warnings (sounds that are
  /// not there) are in problems().
  LineSound(const PreparedLine& line, Language& language, const Pace& pace, SoundSet& sounds,
            live::FrameClock& clock);

  /// The line begins, or begins again: what still sounds of it ends.
  void begin();

  /// What a tick of so much time, or a skip, has brought. Call it with every tick, to the end and
  /// after it, so that what rings is heard.
  void follow(const Reveal& before, const Reveal& after, const Progress& progress,
              Nanoseconds time);

  /// Waits until what rings has rung out.
  void ring_out() { output_.ring_out(); }

  [[nodiscard]] const SoundOutput& output() const { return output_; }
  [[nodiscard]] const std::vector<Diagnostic>& problems() const { return plan_.diagnostics; }

 private:
  TypingPlan plan_;
  TypingPlayer player_;
  SoundOutput output_;
  Nanoseconds now_{};
  std::vector<SoundEvent> events_;
};

}  // namespace arvik::tool
