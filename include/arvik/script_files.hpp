#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"

/// Part of arvik::script.
namespace arvik {

/// Where the other files of a script come from: tables of strings, included scripts, and whether
/// there is a voice clip. Names are paths with `/`, counted from the script's own folder; none
/// leads out of it.
struct ScriptFiles {
  /// Returns the content of a file. Empty: the script has no other files.
  std::function<tl::expected<std::string, Diagnostic>(const std::string& name)> read{};
  /// Whether there is a file of that name. Empty: no file is looked for, and lines have those
  /// voices alone that the script lists.
  std::function<bool(const std::string& name)> exists{};
};

/// The files in a folder of the disk. Folders are listed once, when they are first asked about.
/// Safe from any thread.
[[nodiscard]] ARVIK_API ScriptFiles files_in(const std::string& folder);

/// `name` as a file of the script with that name writes it: relative to the file's own folder.
/// Fails with file_outside for what is absolute or leads out of the script's folder, and for what
/// is empty or has a backslash.
[[nodiscard]] ARVIK_API tl::expected<std::string, Diagnostic> file_beside(std::string_view file,
                                                                          std::string_view name);

}  // namespace arvik
