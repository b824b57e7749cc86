#pragma once

namespace arvik::tool {

/// While it lives, the signals by which users end a program (SIGINT, SIGTERM, SIGHUP, SIGQUIT) are
/// noted, so that the terminal can be left clean. Its destructor then lets the program end by that
/// signal, as whoever started it should see. One at a time.
class SignalWatch {
 public:
  SignalWatch();
  SignalWatch(const SignalWatch&) = delete;
  SignalWatch& operator=(const SignalWatch&) = delete;
  ~SignalWatch();
  /// Whether a signal has come.
  [[nodiscard]] static bool has_come();
};

}  // namespace arvik::tool
