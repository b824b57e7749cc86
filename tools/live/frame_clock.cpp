#include "frame_clock.hpp"

#include <poll.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstdlib>

namespace arvik::live {

FrameClock::FrameClock() {
  const char* descriptors = std::getenv("ARVIK_FRAMES");
  if (descriptors == nullptr) return;
  int in = -1;
  int out = -1;
  if (std::sscanf(descriptors, "%d:%d", &in, &out) != 2) return;
  in_ = in;
  out_ = out;
}

std::chrono::nanoseconds FrameClock::now() const {
  return is_driven() ? driven_ : std::chrono::steady_clock::now() - begin_;
}

bool FrameClock::ask_driver() {
  char byte = 'r';
  if (!has_asked_ && write(out_, &byte, 1) != 1) {
    has_ended_ = true;
    return false;
  }
  has_asked_ = true;
  const ssize_t got = read(in_, &byte, 1);
  if (got < 0 && errno == EINTR) return false;  // asked already; the answer is still to come
  has_asked_ = false;
  has_ended_ = got != 1;
  return !has_ended_;
}

bool FrameClock::wait(std::chrono::milliseconds frame, int input) {
  if (is_driven()) {
    if (!ask_driver()) return false;
    driven_ += frame;
    frame = {};
  }
  pollfd waiting{input, POLLIN, 0};
  return poll(&waiting, 1, static_cast<int>(frame.count())) > 0;
}

}  // namespace arvik::live
