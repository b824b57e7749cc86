#include "output.hpp"

#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <fstream>
#include <nlohmann/json.hpp>
#include <system_error>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/read_file.hpp"
#include "exit_status.hpp"

namespace arvik::tool {
namespace {

std::string reason() { return std::generic_category().message(errno != 0 ? errno : EIO); }

[[noreturn]] void fail_to_write(const std::filesystem::path& path) {
  throw Failure(wrong_usage, "cannot write " + path.string() + ": " + reason());
}

std::vector<std::filesystem::path>& inputs() {
  static std::vector<std::filesystem::path> paths;
  return paths;
}

// The unfinished file, for the signal handler, which may use nothing that allocates.
std::array<char, 4096> unfinished{};
constexpr int fatal_signals[] = {SIGINT, SIGTERM, SIGHUP};

extern "C" void remove_unfinished(int signal) {
  unlink(unfinished.data());
  std::signal(signal, SIG_DFL);
  std::raise(signal);
}

// While it lives, those signals wait: so none comes between a file and the handler that knows of
// it.
class SignalsWait {
 public:
  SignalsWait() {
    sigset_t waiting;
    sigemptyset(&waiting);
    for (const int signal : fatal_signals) sigaddset(&waiting, signal);
    sigprocmask(SIG_BLOCK, &waiting, &before_);
  }
  SignalsWait(const SignalsWait&) = delete;
  SignalsWait& operator=(const SignalsWait&) = delete;
  ~SignalsWait() { sigprocmask(SIG_SETMASK, &before_, nullptr); }

 private:
  sigset_t before_{};
};

bool is_special(const std::filesystem::path& path) {
  std::error_code unknown;
  const auto status = std::filesystem::status(path, unknown);
  return std::filesystem::exists(status) && !std::filesystem::is_regular_file(status);
}

}  // namespace

void write_out(std::string_view text) {
  errno = 0;
  if (std::fwrite(text.data(), 1, text.size(), stdout) != text.size()) {
    throw Failure(input_has_errors, "cannot write the output: " + reason());
  }
}

void flush_out() {
  errno = 0;
  if (std::fflush(stdout) != 0) {
    throw Failure(input_has_errors, "cannot write the output: " + reason());
  }
}

void close_out() {
  errno = 0;
  const bool failed = std::ferror(stdout) != 0;
  if (std::fclose(stdout) != 0 || failed) {
    throw Failure(input_has_errors, "cannot write the output: " + reason());
  }
}

std::string json_text(const nlohmann::ordered_json& json, int indent) {
  return json.dump(indent, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

std::string read_input_file(const std::string& path) {
  auto content = read_file(path);
  if (!content) throw Failure(wrong_usage, content.error().message);
  remember_input(path);
  return std::move(*content);
}

void remember_input(const std::filesystem::path& path) { inputs().push_back(path); }

OutputFile::OutputFile(const std::filesystem::path& target) : target_(target), path_(target) {
  std::error_code unknown;
  for (const auto& input : inputs()) {
    if (!std::filesystem::equivalent(target, input, unknown)) continue;
    throw Failure(wrong_usage, target.string() + " is read by this very command: write elsewhere");
  }
  if (is_special(target)) return;
  // Through a link, to what it stands for.
  if (const auto real = std::filesystem::canonical(target, unknown); !unknown) target_ = real;
  const std::filesystem::path folder = target_.parent_path();
  std::string name =
      (folder / ("." + target_.filename().string().substr(0, 200) + ".XXXXXX")).string();
  const SignalsWait until_it_is_known;
  errno = 0;
  const int file = mkstemp(name.data());
  if (file < 0 || name.size() >= unfinished.size()) fail_to_write(target);
  struct stat before {};
  const mode_t mask = umask(0);
  umask(mask);
  const bool replaces = stat(target_.c_str(), &before) == 0;
  const mode_t mode = replaces ? before.st_mode & 07777U : 0666U & ~mask;
  if (fchmod(file, mode) != 0 || close(file) != 0) fail_to_write(target);
  path_ = name;
  std::memcpy(unfinished.data(), name.c_str(), name.size() + 1);
  for (const int signal : fatal_signals) std::signal(signal, remove_unfinished);
}

OutputFile::~OutputFile() {
  if (path_ == target_) return;
  unlink(path_.c_str());  // gone already if it was put in its place
  for (const int signal : fatal_signals) std::signal(signal, SIG_DFL);
}

void OutputFile::commit() {
  if (path_ == target_) return;
  errno = 0;
  if (std::rename(path_.c_str(), target_.c_str()) != 0) fail_to_write(target_);
}

void check_ending(const std::filesystem::path& path,
                  std::initializer_list<std::string_view> endings) {
  std::string ending = path.extension().string();
  std::transform(ending.begin(), ending.end(), ending.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  if (std::find(endings.begin(), endings.end(), ending) != endings.end() || is_special(path))
    return;
  throw Failure(wrong_usage, fmt::format("--output: {} must end in {}", quoted_word(path.string()),
                                         fmt::join(endings, " or ")));
}

void write_file(const std::filesystem::path& path, std::string_view bytes) {
  OutputFile output(path);
  errno = 0;
  std::ofstream file(output.path(), std::ios::binary);
  file << bytes;
  file.close();
  if (!file) fail_to_write(path);
  output.commit();
}

}  // namespace arvik::tool
