#pragma once

#include <chrono>
#include <filesystem>
#include <string>
#include <vector>

#include "../live/frame_clock.hpp"

namespace arvik::tool {

/// Tells when files were saved. A file that is gone for a moment, as while editors save, has not
/// changed until it is back.
class FileWatch {
 public:
  /// Empty paths are left out. Keeps a reference to the clock.
  FileWatch(const live::FrameClock& clock, const std::vector<std::string>& paths);

  /// Whether any file was changed since the last time that this said so. Looks at most ten times a
  /// second; cheap to ask in between.
  [[nodiscard]] bool changed();

 private:
  struct State {
    std::filesystem::file_time_type time{};
    std::uintmax_t size = 0;
    friend bool operator==(const State&, const State&) = default;
  };
  struct File {
    std::filesystem::path path;
    State state;
  };
  // Returns false if the file cannot be looked at.
  static bool look(const std::filesystem::path& path, State& state);

  const live::FrameClock& clock_;
  std::vector<File> files_;
  std::chrono::nanoseconds next_look_{};
};

}  // namespace arvik::tool
