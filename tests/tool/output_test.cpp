// Nothing that was written is lost without a word, and nothing is overwritten that is not whole or
// that is an input.

#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <csignal>
#include <filesystem>

#include "support/tool.hpp"

using namespace arvik::test;

namespace {

const std::string demo_folder = std::string(ARVIK_SOURCE_DIR) + "/demo/";

// Runs a shell command, for what only a shell can set up.
Outcome shell(const std::string& command) { return run({"/bin/sh", "-c", command}); }

std::string quoted(const std::string& word) { return "'" + word + "'"; }

std::size_t files_in(const std::filesystem::path& folder) {
  return static_cast<std::size_t>(std::distance(std::filesystem::directory_iterator(folder), {}));
}

}  // namespace

TEST_CASE("output that cannot be written is told, by every command") {
  for (const char* arguments :
       {"schedule --format json Hello", "schedule --format csv Hello", "schedule Hello",
        "schedule --batch -f demo/prose_en.txt", "layout Hello", "reveal --no-wait Hello",
        "--version", "--help", "schedule --help",
        "play demo/tide_clock.script.json --log --auto"}) {
    INFO(arguments);
    const std::string command = std::string("cd ") + quoted(ARVIK_SOURCE_DIR) + " && " +
                                quoted(ARVIK_TOOL) + " " + arguments;
    const Outcome full = shell(command + " >/dev/full");
    CHECK(full.status == 1);
    CHECK(contains(full.err, "arvik: cannot write the output: No space left on device"));
    const Outcome not_open = shell(command + " >&-");
    CHECK(not_open.status == 1);
  }
  // More than a pipe holds, so that the reader has gone for certain.
  const Outcome piped =
      shell("trap '' PIPE; (" + quoted(ARVIK_TOOL) + " schedule --format csv -f " +
            quoted(demo_folder + "prose_en.txt") + "; echo status $? >&2) | true");
  CHECK(contains(piped.err, "status 1"));
  CHECK(contains(piped.err, "Broken pipe"));
}

TEST_CASE("what a command reads it does not overwrite") {
  const ScratchFolder folder;
  std::filesystem::copy(demo_folder, folder.path(), std::filesystem::copy_options::recursive);
  const auto in = [&](const std::string& name) { return (folder.path() / name).string(); };
  std::filesystem::rename(in("line_odrun.txt"), in("line.wav"));
  std::filesystem::copy(in("line_pell.txt"), in("line.png"));
  std::filesystem::create_symlink(in("line.png"), in("link.png"));
  const std::vector<std::vector<std::string>> commands{
      {"mix", "-f", in("line.wav"), "-o", in("line.wav")},
      {"mix", "-f", in("line_pell.txt"), "--typing", in("tide_clock.sounds.json#wood"), "-o",
       in("sounds/wood_1.wav")},
      {"mix", in("tide_clock.script.json"), "--value", "keeper=P", "-o", in("sounds/alarm.wav")},
      {"chart", "-f", in("line.png"), "-o", in("line.png")},
      {"chart", "-f", in("line_pell.txt"), "--with", in("line.png"), "-o", in("link.png")},
      {"frames", "-f", in("line.png"), "-o", in("line.png")},
  };
  for (const auto& command : commands) {
    const std::string before = read_whole(command.back());
    const Outcome outcome = arvik_tool(command);
    INFO(outcome.err);
    CHECK(outcome.status == 2);
    CHECK(contains(outcome.err, "is read by this very command: write elsewhere"));
    CHECK(read_whole(command.back()) == before);
  }
}

TEST_CASE("a file is replaced when the new one is whole, and keeps its mode") {
  const ScratchFolder folder;
  const std::string path = folder.write("out.wav", "what was there");
  chmod(path.c_str(), 0640);
  CHECK(arvik_tool({"mix", "Hello.", "-o", path}).status == 0);
  CHECK(read_whole(path).substr(0, 4) == "RIFF");
  struct stat mode {};
  stat(path.c_str(), &mode);
  CHECK((mode.st_mode & 0777U) == 0640);
  CHECK(files_in(folder.path()) == 1);

  const std::string link = (folder.path() / "link.wav").string();
  std::filesystem::create_symlink(path, link);
  CHECK(arvik_tool({"mix", "Hello.", "-o", link}).status == 0);
  CHECK(std::filesystem::is_symlink(link));
  CHECK(files_in(folder.path()) == 2);
  CHECK(arvik_tool({"chart", "Hello.", "-o", "/dev/null"}).status == 0);
}

TEST_CASE("interrupted, a command leaves what was there and nothing else") {
  const ScratchFolder folder;
  const std::string path = folder.write("out.wav", "what was there");
  const pid_t child = fork();
  if (child == 0) {
    setsid();
    // Two hours of sound: minutes of work.
    execl(ARVIK_TOOL, ARVIK_TOOL, "mix", "[pause 3600s][mark a][pause 3500s].", "-o", path.c_str(),
          static_cast<char*>(nullptr));
    _exit(127);
  }
  while (files_in(folder.path()) < 2) {  // until it has begun to write
    REQUIRE(waitpid(child, nullptr, WNOHANG) == 0);
  }
  kill(child, SIGINT);
  int status = 0;
  waitpid(child, &status, 0);
  CHECK(WIFSIGNALED(status));
  CHECK(WTERMSIG(status) == SIGINT);
  CHECK(read_whole(path) == "what was there");
  CHECK(files_in(folder.path()) == 1);
}

TEST_CASE("an ending must fit the format") {
  const ScratchFolder folder;
  const auto in = [&](const char* name) { return (folder.path() / name).string(); };
  for (const auto& [command, name, endings] :
       {std::tuple("mix", "x.mp3", ".wav"), std::tuple("mix", "x", ".wav"),
        std::tuple("chart", "x.gif", ".png or .svg"), std::tuple("frames", "x.jpg", ".png")}) {
    const Outcome outcome = arvik_tool({command, "Hello.", "-o", in(name)});
    CHECK(outcome.status == 2);
    CHECK(contains(outcome.err, std::string("must end in ") + endings));
  }
  CHECK(files_in(folder.path()) == 0);
}
