#pragma once

#include <stdexcept>

namespace arvik::tool {

/// What the tool returns to the shell.
enum ExitStatus : int { good = 0, input_has_errors = 1, wrong_usage = 2 };

/// Ends a command with a message; thrown by commands, caught in main.
class Failure : public std::runtime_error {
 public:
  Failure(ExitStatus status, const std::string& message)
      : std::runtime_error(message), status_(status) {}
  [[nodiscard]] ExitStatus status() const { return status_; }

 private:
  ExitStatus status_;
};

}  // namespace arvik::tool
