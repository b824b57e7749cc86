#pragma once

#include <memory>
#include <span>
#include <string>

#include "../live/frame_clock.hpp"
#include "arvik/mixer.hpp"

namespace arvik::tool {

/// Plays sound events through the machine's sound device, where there is one and the tool was built
/// with SDL; silent otherwise. Where another program drives the clock, the device is the file that
/// the environment variable ARVIK_SOUND names: it gets the samples of just the time that passes,
/// two channels of 32 bit floats.
class SoundOutput {
 public:
  static constexpr int rate = 48'000;

  /// Keeps references to both; the clips of the bank must have `rate`.
  SoundOutput(ClipBank& bank, live::FrameClock& clock);
  SoundOutput(const SoundOutput&) = delete;
  SoundOutput& operator=(const SoundOutput&) = delete;
  ~SoundOutput();

  /// Whether there is a device.
  [[nodiscard]] bool is_open() const;
  /// Why there is none.
  [[nodiscard]] std::string problem() const;

  /// Lets time pass: what the tick that began at `begin`, on the events' clock, and lasted `length`
  /// brought. A clock that stands still, as while paused, is fine.
  void tick(Nanoseconds begin, Nanoseconds length, std::span<const SoundEvent> events);

  /// Fades out what sounds.
  void stop();

  /// Waits until what sounds has ended, and the device has played it.
  void ring_out();

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace arvik::tool
