#pragma once

#include <fmt/format.h>

#include <filesystem>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>
#include <utility>

namespace arvik::tool {

/// Writes to standard output. Throws Failure with the system's reason if not all of it could be
/// written.
void write_out(std::string_view text);

/// What write_out() has kept back is written now. Throws like it.
void flush_out();

template <typename... Arguments>
void print_out(fmt::format_string<Arguments...> format, Arguments&&... arguments) {
  write_out(fmt::format(format, std::forward<Arguments>(arguments)...));
}

/// What write_out() has kept back is written, and standard output closed. Throws like it.
void close_out();

/// JSON as text; bytes that are not UTF-8, as in file names, become U+FFFD. `indent` -1: one row.
[[nodiscard]] std::string json_text(const nlohmann::ordered_json& json, int indent = -1);

/// Reads a whole file and remembers it as an input. Throws Failure with the system's reason.
[[nodiscard]] std::string read_input_file(const std::string& path);
/// Remembers a file that is read otherwise as an input.
void remember_input(const std::filesystem::path& path);

/// A file that is written beside its target and put in its place when it is whole: until then, and
/// if the program fails or is interrupted, what was there before stays. What is no regular file (a
/// device, a pipe) is written directly. One at a time.
class OutputFile {
 public:
  /// Throws Failure if the target is an input of this run, or cannot be written.
  explicit OutputFile(const std::filesystem::path& target);
  OutputFile(const OutputFile&) = delete;
  OutputFile& operator=(const OutputFile&) = delete;
  ~OutputFile();
  /// Where to write.
  [[nodiscard]] const std::filesystem::path& path() const { return path_; }
  /// It is whole. Throws Failure if it cannot be put in its place.
  void commit();

 private:
  std::filesystem::path target_;
  std::filesystem::path path_;
};

/// Throws Failure unless the name ends as one of `endings` (".png"), or is a device.
void check_ending(const std::filesystem::path& path,
                  std::initializer_list<std::string_view> endings);

/// Writes a whole file by OutputFile.
void write_file(const std::filesystem::path& path, std::string_view bytes);

}  // namespace arvik::tool
