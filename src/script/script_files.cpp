// Guarded by tests/script/locales_test.cpp.

#include "arvik/script_files.hpp"

#include <filesystem>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <system_error>

#include "arvik/read_file.hpp"

namespace arvik {
namespace {

namespace fs = std::filesystem;

class Folders {
 public:
  explicit Folders(fs::path root) : root_(std::move(root)) {}

  bool has(const std::string& name) {
    const std::lock_guard lock(mutex_);
    const fs::path path = fs::path(name).lexically_normal();
    auto [names, is_new] = known_.try_emplace(path.parent_path());
    if (is_new) {
      std::error_code none;  // a folder that is not there has no files
      for (fs::directory_iterator at(root_ / names->first, none), end; at != end;
           at.increment(none)) {
        if (at->is_regular_file(none)) names->second.insert(at->path().filename());
      }
    }
    return names->second.contains(path.filename());
  }

 private:
  fs::path root_;
  std::mutex mutex_;
  std::map<fs::path, std::set<fs::path>> known_;
};

}  // namespace

ScriptFiles files_in(const std::string& folder) {
  const fs::path root = folder;
  const auto folders = std::make_shared<Folders>(root);
  return {.read = [root](const std::string& name) { return read_file((root / name).string()); },
          .exists = [folders](const std::string& name) { return folders->has(name); }};
}

tl::expected<std::string, Diagnostic> file_beside(std::string_view file, std::string_view name) {
  const fs::path path(name);
  const fs::path whole = (fs::path(file).parent_path() / path).lexically_normal();
  const bool outside = path.is_absolute() || path.has_root_name() || *whole.begin() == "..";
  if (name.empty() || outside || name.find('\\') != std::string_view::npos) {
    return tl::unexpected(Diagnostic{
        .code = DiagnosticCode::file_outside,
        .message = name.empty() ? "a file needs a name"
                                : quoted_word(name) +
                                      " is no file of the script: write a path with / that stays "
                                      "inside the script's folder"});
  }
  return whole.generic_string();
}

}  // namespace arvik
