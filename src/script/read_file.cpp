#include "arvik/read_file.hpp"

#include <cerrno>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <system_error>

namespace arvik {

tl::expected<std::string, Diagnostic> read_file(const std::string& path) {
  const auto unreadable = [&](int error) {
    return tl::unexpected(Diagnostic{
        .code = DiagnosticCode::file_unreadable,
        .severity = Severity::error,
        .message = "cannot read " + path + ": " + std::generic_category().message(error)});
  };
  std::error_code ignored;  // what cannot be looked at cannot be opened either
  if (std::filesystem::is_directory(path, ignored)) return unreadable(EISDIR);
  errno = 0;
  std::ifstream file(path, std::ios::binary);
  if (!file) return unreadable(errno);
  std::ostringstream content;
  if (file.peek() != std::ifstream::traits_type::eof()) content << file.rdbuf();
  if (file.bad() || content.fail()) return unreadable(errno);
  return content.str();
}

}  // namespace arvik
