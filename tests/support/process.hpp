#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace arvik::test {

/// What a program left behind.
struct Outcome {
  int status = -1;  ///< its exit status, or 128 and the signal that ended it
  std::string out;
  std::string err;
};

/// Runs a program without a terminal: `input` on its standard input, both outputs caught.
[[nodiscard]] Outcome run(const std::vector<std::string>& command, const std::string& input = {});

/// A folder of its own for one test, gone with the object.
class ScratchFolder {
 public:
  ScratchFolder();
  ScratchFolder(const ScratchFolder&) = delete;
  ScratchFolder& operator=(const ScratchFolder&) = delete;
  ~ScratchFolder();
  /// Writes a file into it and returns its path.
  std::string write(const std::string& name, const std::string& content) const;
  [[nodiscard]] const std::filesystem::path& path() const { return path_; }
  /// Of a file in it.
  [[nodiscard]] std::string path(const std::string& name) const { return (path_ / name).string(); }

 private:
  std::filesystem::path path_;
};

[[nodiscard]] std::string read_whole(const std::filesystem::path& path);

}  // namespace arvik::test
