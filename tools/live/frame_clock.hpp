#pragma once

#include <chrono>

/// The time of what runs in frames: the tool's live commands and the windowed game.
namespace arvik::live {

/// Mostly the machine's steady clock. Where the environment variable ARVIK_FRAMES is set to IN:OUT,
/// two file descriptors, another program drives it: before each frame it writes a byte to OUT and
/// reads one from IN, and each frame lasts just as long as it was asked to. So a test sees the same
/// on a busy machine as on an idle one. One for a program; one thread.
class FrameClock {
 public:
  FrameClock();

  /// Time since the clock was made.
  [[nodiscard]] std::chrono::nanoseconds now() const;

  /// Whether another program drives it.
  [[nodiscard]] bool is_driven() const { return in_ >= 0; }

  /// Waits for the next frame, `frame` at most; less if `input`, a file descriptor or -1, can be
  /// read before, or if a signal comes. Returns whether `input` can be read.
  bool wait(std::chrono::milliseconds frame, int input = -1);

  /// Whether the program that drives it has gone: then nothing will happen any more.
  [[nodiscard]] bool has_ended() const { return has_ended_; }

 private:
  // Returns whether a frame was granted.
  bool ask_driver();

  std::chrono::steady_clock::time_point begin_ = std::chrono::steady_clock::now();
  std::chrono::nanoseconds driven_{};
  int in_ = -1;
  int out_ = -1;
  bool has_asked_ = false;
  bool has_ended_ = false;
};

}  // namespace arvik::live
