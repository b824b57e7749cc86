#include "file_watch.hpp"

#include <system_error>

namespace arvik::tool {

FileWatch::FileWatch(const live::FrameClock& clock, const std::vector<std::string>& paths)
    : clock_(clock) {
  for (const std::string& path : paths) {
    if (path.empty()) continue;
    files_.push_back({path, {}});
    look(path, files_.back().state);
  }
}

bool FileWatch::look(const std::filesystem::path& path, State& state) {
  std::error_code gone;
  const auto time = std::filesystem::last_write_time(path, gone);
  if (gone) return false;
  const auto size = std::filesystem::file_size(path, gone);
  if (gone) return false;
  state = {time, size};
  return true;
}

bool FileWatch::changed() {
  const auto now = clock_.now();
  if (now < next_look_) return false;
  next_look_ = now + std::chrono::milliseconds(100);
  bool changed = false;
  for (File& file : files_) {
    const State before = file.state;
    changed = (look(file.path, file.state) && file.state != before) || changed;
  }
  return changed;
}

}  // namespace arvik::tool
