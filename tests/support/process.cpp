#include "support/process.hpp"

#include <fcntl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdlib>
#include <fstream>
#include <iterator>
#include <stdexcept>

namespace arvik::test {
namespace {

void redirect(const std::string& path, int flags, int descriptor) {
  const int file = open(path.c_str(), flags, 0600);
  if (file < 0 || dup2(file, descriptor) < 0) _exit(126);
  close(file);
}

}  // namespace

Outcome run(const std::vector<std::string>& command, const std::string& input) {
  const ScratchFolder folder;
  const std::string in = folder.write("in", input);
  const std::string out = folder.write("out", "");
  const std::string err = folder.write("err", "");
  std::vector<char*> arguments;
  for (const std::string& word : command) arguments.push_back(const_cast<char*>(word.c_str()));
  arguments.push_back(nullptr);
  const pid_t child = fork();
  if (child < 0) throw std::runtime_error("fork failed");
  if (child == 0) {
    setsid();  // no controlling terminal
    redirect(in, O_RDONLY, STDIN_FILENO);
    redirect(out, O_WRONLY, STDOUT_FILENO);
    redirect(err, O_WRONLY, STDERR_FILENO);
    execv(arguments[0], arguments.data());
    _exit(127);
  }
  int status = 0;
  waitpid(child, &status, 0);
  const int result = WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
  return {result, read_whole(out), read_whole(err)};
}

ScratchFolder::ScratchFolder() {
  std::string name = (std::filesystem::temp_directory_path() / "arvik-test-XXXXXX").string();
  if (mkdtemp(name.data()) == nullptr) throw std::runtime_error("mkdtemp failed");
  path_ = name;
}

ScratchFolder::~ScratchFolder() {
  std::error_code ignored;  // a folder that stays behind harms no test
  std::filesystem::remove_all(path_, ignored);
}

std::string ScratchFolder::write(const std::string& name, const std::string& content) const {
  const std::filesystem::path path = path_ / name;
  std::ofstream(path, std::ios::binary) << content;
  return path.string();
}

std::string read_whole(const std::filesystem::path& path) {
  std::ifstream file(path, std::ios::binary);
  if (!file) throw std::runtime_error("cannot read " + path.string());
  return {std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()};
}

}  // namespace arvik::test
