// `arvik reveal` on a real terminal: a pseudo-terminal whose other end the test reads and types at.

#include <poll.h>
#include <pty.h>
#include <sys/ioctl.h>
#include <sys/wait.h>
#include <termios.h>
#include <unistd.h>
#include <utmp.h>
#include <catch2/catch.hpp>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <string>
#include <utility>
#include <vector>

#include "support/process.hpp"

namespace {

// The tool in a terminal of its own, on a clock that this test drives: nothing happens in it but
// when frames() or a function built on it lets time pass.
class TerminalSession {
 public:
  explicit TerminalSession(std::vector<std::string> arguments,
                           const std::string& command = "reveal",
                           const char* terminal = "xterm-256color") {
    arguments.insert(arguments.begin(), {ARVIK_TOOL, command});
    winsize size{24, 60, 0, 0};
    REQUIRE(openpty(&master_, &slave_, nullptr, nullptr, &size) == 0);
    tcgetattr(slave_, &before_);
    int to_tool[2];
    int from_tool[2];
    REQUIRE(pipe(to_tool) == 0);
    REQUIRE(pipe(from_tool) == 0);
    // The tool may end between asking for a frame and being granted it.
    std::signal(SIGPIPE, SIG_IGN);
    child_ = fork();
    if (child_ == 0) {
      std::signal(SIGPIPE, SIG_DFL);
      if (terminal == nullptr) {
        unsetenv("TERM");
      } else {
        setenv("TERM", terminal, 1);
      }
      const std::string descriptors =
          std::to_string(to_tool[0]) + ":" + std::to_string(from_tool[1]);
      setenv("ARVIK_FRAMES", descriptors.c_str(), 1);
      close(master_);
      close(to_tool[1]);
      close(from_tool[0]);
      login_tty(slave_);
      std::vector<char*> words;
      for (std::string& word : arguments) words.push_back(word.data());
      words.push_back(nullptr);
      execv(words[0], words.data());
      _exit(127);
    }
    close(to_tool[0]);
    close(from_tool[1]);
    grant_ = to_tool[1];
    asked_ = from_tool[0];
    runs_ = wait_until_asked();
  }
  TerminalSession(const TerminalSession&) = delete;
  TerminalSession& operator=(const TerminalSession&) = delete;
  ~TerminalSession() {
    if (child_ > 0) {
      kill(child_, SIGKILL);
      waitpid(child_, nullptr, 0);
    }
    for (const int descriptor : {slave_, master_, grant_, asked_}) close(descriptor);
  }

  // Lets frames pass, as long as the tool runs.
  void frames(int count) {
    for (int i = 0; i < count && runs_; ++i) {
      const char go = 's';
      runs_ = write(grant_, &go, 1) == 1 && wait_until_asked();
    }
  }

  // Lets frames pass until `part` was written since the last call of this function.
  bool read_until(const std::string& part) {
    for (int frame = 0; output_.find(part, seen_) == std::string::npos; ++frame) {
      if (!runs_ || frame > most_frames) return false;
      frames(1);
    }
    seen_ = output_.find(part, seen_) + part.size();
    return true;
  }

  void type(const std::string& keys) {
    REQUIRE(write(master_, keys.data(), keys.size()) == static_cast<ssize_t>(keys.size()));
  }

  // Lets time pass to the end and returns the exit status, or 128 and the signal.
  int finish() {
    frames(most_frames);
    REQUIRE_FALSE(runs_);
    int status = 0;
    waitpid(child_, &status, 0);
    child_ = 0;
    read_terminal();  // what it wrote last
    return WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
  }

  void resize(unsigned short rows, unsigned short columns) const {
    const winsize size{rows, columns, 0, 0};
    REQUIRE(ioctl(master_, TIOCSWINSZ, &size) == 0);
  }

  void signal(int number) const { REQUIRE(kill(child_, number) == 0); }

  [[nodiscard]] bool terminal_is_as_before() const {
    termios now{};
    tcgetattr(slave_, &now);
    return now.c_lflag == before_.c_lflag && now.c_iflag == before_.c_iflag;
  }

  [[nodiscard]] bool echoes() const {
    termios now{};
    tcgetattr(slave_, &now);
    return (now.c_lflag & ECHO) != 0;
  }

  [[nodiscard]] const std::string& output() const { return output_; }

 private:
  static constexpr int most_frames = 20'000;

  void read_terminal() {
    for (pollfd waiting{master_, POLLIN, 0};
         poll(&waiting, 1, 0) > 0 && (waiting.revents & POLLIN);) {
      char buffer[4096];
      const ssize_t got = read(master_, buffer, sizeof buffer);
      if (got <= 0) return;
      output_.append(buffer, static_cast<std::size_t>(got));
    }
  }

  // Reads what the tool writes until it asks for the next frame; false if it has ended. The end is
  // seen at the pipe, which closes with the last process that has it.
  bool wait_until_asked() {
    for (;;) {
      pollfd waiting[2] = {{asked_, POLLIN, 0}, {master_, POLLIN, 0}};
      if (poll(waiting, 2, -1) < 0 && errno != EINTR) return false;
      read_terminal();
      if ((waiting[0].revents & (POLLIN | POLLHUP)) == 0) continue;
      char byte = 0;
      const bool asked = read(asked_, &byte, 1) == 1;
      read_terminal();
      return asked;
    }
  }

  int master_ = -1;
  int slave_ = -1;
  int grant_ = -1;  // a byte for each frame goes here …
  int asked_ = -1;  // … and one comes from here before each
  pid_t child_ = 0;
  bool runs_ = false;
  termios before_{};
  std::string output_;
  std::size_t seen_ = 0;
};

// The texts below have a hold or a very slow rate where the test must be sure that nothing moves.
const char* const hidden_cursor = "\x1b[?25l";
const char* const shown_cursor = "\x1b[?12l\x1b[?25h";

const std::string demo_script = std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.script.json";
const std::string demo_sounds = std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.sounds.json";

}  // namespace

TEST_CASE("space goes on from a hold and shows the rest, and the terminal is left clean") {
  TerminalSession session({"QR[hold]zw", "--rate", "50cps"});
  REQUIRE(session.read_until(hidden_cursor));
  REQUIRE(session.read_until("Q"));
  REQUIRE(session.read_until("▾ space"));
  CHECK_FALSE(session.echoes());
  CHECK(session.output().find("z") == std::string::npos);
  session.type(" ");
  REQUIRE(session.read_until("w"));
  CHECK(session.finish() == 0);
  CHECK(session.terminal_is_as_before());
  CHECK(session.output().find(shown_cursor) != std::string::npos);
}

TEST_CASE("enter skips to the next hold") {
  TerminalSession session({"--rate", "0.01cps", "XYZ[hold]W"});
  REQUIRE(session.read_until("X"));
  session.type("\n");
  REQUIRE(session.read_until("Z"));
  REQUIRE(session.read_until("▾ space"));
  session.type("\n\n");
  CHECK(session.finish() == 0);
  CHECK(session.output().find("W") != std::string::npos);
}

TEST_CASE("p pauses, + and - change the speed, q leaves") {
  TerminalSession session({"--rate", "0.01cps", "XYZ"});
  REQUIRE(session.read_until("X"));
  session.type("p");
  REQUIRE(session.read_until("‖ paused"));
  session.type("p+");
  REQUIRE(session.read_until("x1.25"));
  session.type("--");
  REQUIRE(session.read_until("x0.75"));
  session.type("q");
  CHECK(session.finish() == 0);
  CHECK(session.terminal_is_as_before());
}

TEST_CASE("signals leave the terminal clean and end the program, of whatever command") {
  struct Way {
    const char* name;
    const char* keys;  // typed, or
    int signal;        // sent
    int status;
  };
  const auto way =
      GENERATE(Way{"Ctrl-C", "\x03", 0, 128 + SIGINT}, Way{"Ctrl-\\", "\x1c", 0, 128 + SIGQUIT},
               Way{"SIGTERM", "", SIGTERM, 128 + SIGTERM}, Way{"SIGHUP", "", SIGHUP, 128 + SIGHUP});
  const bool whole_screen = GENERATE(false, true);
  INFO(way.name << (whole_screen ? " in play" : " in reveal"));
  const arvik::test::ScratchFolder folder;
  const std::string script = folder.write(
      "one.json",
      R"({"arvik_script": 1, "conversations": {"a": [{"text": "XYZ", "rate": "0.01cps"}]}})");
  const std::vector<std::string> line{"--rate", "0.01cps", "XYZ"};
  TerminalSession session(whole_screen ? std::vector<std::string>{script} : line,
                          whole_screen ? "play" : "reveal");
  REQUIRE(session.read_until("X"));
  if (way.signal == 0) {
    session.type(way.keys);
  } else {
    session.signal(way.signal);
  }
  CHECK(session.finish() == way.status);
  CHECK(session.terminal_is_as_before());
  CHECK(session.output().find(shown_cursor) != std::string::npos);
}

TEST_CASE("on a terminal that cannot place text, or that nobody knows, the text comes as it is") {
  for (const char* terminal :
       {static_cast<const char*>(nullptr), "", "no-such-terminal", "dumb", "vt52"}) {
    INFO((terminal == nullptr ? "none" : terminal));
    TerminalSession session({"Mind [b: the] gap.[hold] Now.", "--rate", "200cps"}, "reveal",
                            terminal);
    CHECK(session.finish() == 0);
    CHECK(session.terminal_is_as_before());
    CHECK(session.output() == "Mind the gap. Now.\r\n");
  }
  TerminalSession play({demo_script}, "play", "no-such-terminal");
  CHECK(play.finish() == 2);
  CHECK(play.output().find("try --log") != std::string::npos);
}

TEST_CASE("every step is put into its own cell, in its row, in its style") {
  TerminalSession session(
      {"--width", "8", "--align", "end", "Mind [b: the] 水x", "--rate", "500cps"});
  CHECK(session.finish() == 0);
  const std::string& output = session.output();
  CHECK(output.find("\r\x1b[7Ce") != std::string::npos);             // end of "Mind the"
  CHECK(output.find("\r\x1b[5C水\r\x1b[7Cx") != std::string::npos);  // second row, at the end
  CHECK(output.find("\x1b[1m") != std::string::npos);
}

TEST_CASE("what would act on the terminal is made harmless") {
  TerminalSession session({"A\x1b[2JB", "--rate", "500cps"});
  session.finish();
  CHECK(session.output().find("\x1b[2J") == std::string::npos);
}

TEST_CASE("r plays again from the start") {
  TerminalSession session({"--rate", "0.01cps", "XYZ"});
  REQUIRE(session.read_until("X"));
  session.type("r");
  REQUIRE(session.read_until("X"));
  session.type("q");
  CHECK(session.finish() == 0);
}

TEST_CASE("a status row tells speed, position and characters") {
  TerminalSession session({"--status", "--rate", "100cps", "abcde[hold]f"});
  REQUIRE(session.read_until("x1   "));
  REQUIRE(session.read_until("▾ space"));
  session.type("+");
  REQUIRE(session.read_until("x1.25   0.05 of 0.05 s   5 of 6 characters"));
  session.type(" ");
  REQUIRE(session.read_until("6 of 6 characters"));
  CHECK(session.finish() == 0);
  CHECK(session.terminal_is_as_before());
}

TEST_CASE("a watched line plays again when it or its pace is saved, also after a mistake") {
  const arvik::test::ScratchFolder folder;
  const std::string line = folder.write("line.txt", "first\n");
  const std::string pace = folder.write("pace.json", R"({"arvik_pace": 1, "rate": "500cps"})");
  TerminalSession session({"--watch", line, "--pace", pace});
  REQUIRE(session.read_until("watching " + line));
  REQUIRE(session.read_until("5 of 5 characters"));
  (void)folder.write("line.txt", "second\n");
  REQUIRE(session.read_until("6 of 6 characters"));
  (void)folder.write("pace.json", R"({"arvik_pace": 1, "rate": "fast"})");
  REQUIRE(session.read_until("the pace was not used"));
  (void)folder.write("pace.json", R"({"arvik_pace": 1, "rate": "250cps"})");
  REQUIRE(session.read_until("6 of 6 characters"));
  std::filesystem::remove(line);  // as some editors do while they save
  (void)folder.write("line.txt", "third [puase] one\n");
  REQUIRE(session.read_until("unknown tag"));
  REQUIRE(session.read_until("17 of 17 characters"));
  session.type("q");
  CHECK(session.finish() == 0);
  CHECK(session.terminal_is_as_before());
}

TEST_CASE("a conversation plays on the whole terminal, with name, portrait, history and keys") {
  TerminalSession session({demo_script, "--value", "keeper=Pell"}, "play");
  REQUIRE(session.read_until("╭"));
  REQUIRE(session.read_until("Odrun"));
  session.type(" ");  // shows the rest
  REQUIRE(session.read_until("▾"));
  session.type("+");
  REQUIRE(session.read_until("fast"));
  session.type("h");
  REQUIRE(session.read_until("What was said"));
  REQUIRE(session.read_until("Odrun: High water at ten past four."));
  session.type("h");
  session.resize(20, 40);  // lays out again
  REQUIRE(session.read_until("╭"));
  session.type("q");
  CHECK(session.finish() == 0);
  CHECK(session.terminal_is_as_before());
}

TEST_CASE("answers are chosen with arrows and Return, or with a digit, and stand in the history") {
  TerminalSession session({demo_script, "low_water"}, "play");
  REQUIRE(session.read_until("Pell"));
  session.type(" ");  // shows the rest
  REQUIRE(session.read_until("Say nothing."));
  session.type(" ");  // no button chooses
  session.type("3");
  REQUIRE(session.read_until("not available"));
  session.type("\x1bOB");
  session.frames(4);
  session.type("\r");
  REQUIRE(session.read_until("Odrun"));
  session.type(" ");
  REQUIRE(session.read_until("Good night, keeper."));
  session.type("h");
  REQUIRE(session.read_until("Wait for the tide."));
  session.type("h");
  session.type("2");
  CHECK(session.finish() == 0);
  CHECK(session.terminal_is_as_before());
}

TEST_CASE("a conversation that goes on by itself closes and leaves the terminal clean") {
  const arvik::test::ScratchFolder folder;
  const std::string script = folder.write("short.json", R"({"arvik_script": 1, "conversations":
    {"a": [{"text": "one", "auto": "10ms"}, {"text": "two", "auto": "10ms"}]}})");
  TerminalSession session({script}, "play");
  REQUIRE(session.read_until("t"));
  CHECK(session.finish() == 0);
  CHECK(session.terminal_is_as_before());
}

namespace {

// A sound device that is a file, filled on the clock that the test drives; or no device at all.
class SoundDevice {
 public:
  explicit SoundDevice(bool is_there) : path_(folder_.path() / "heard.raw") {
    setenv("ARVIK_SOUND", is_there ? path_.c_str() : "/no/such/file", 1);
  }
  SoundDevice(const SoundDevice&) = delete;
  SoundDevice& operator=(const SoundDevice&) = delete;
  ~SoundDevice() { unsetenv("ARVIK_SOUND"); }

  // What was played, 48000 frames a second of two channels; empty without a device.
  [[nodiscard]] std::vector<float> heard() const {
    if (!std::filesystem::exists(path_)) return {};
    const std::string bytes = arvik::test::read_whole(path_);
    std::vector<float> samples(bytes.size() / sizeof(float));
    std::memcpy(samples.data(), bytes.data(), samples.size() * sizeof(float));
    return samples;
  }

 private:
  arvik::test::ScratchFolder folder_;
  std::filesystem::path path_;
};

// How often sound begins after 10 ms of silence.
int starts(const std::vector<float>& samples) {
  int count = 0;
  std::size_t quiet = 480;
  for (std::size_t i = 0; i < samples.size(); i += 2) {
    if (std::abs(samples[i]) < 0.01F) {
      ++quiet;
    } else if (std::exchange(quiet, 0) >= 480) {
      ++count;
    }
  }
  return count;
}

}  // namespace

TEST_CASE("a conversation is heard where there is a sound device, and silent where there is none") {
  const bool with_device = GENERATE(true, false);
  const SoundDevice device(with_device);
  TerminalSession session({demo_script, "--value", "keeper=Pell"}, "play");
  REQUIRE(session.read_until("Odrun"));
  session.frames(32);  // half a second: some letters are heard
  session.type(" ");
  REQUIRE(session.read_until("▾"));
  session.type("q");
  CHECK(session.finish() == 0);
  const std::vector<float> samples = device.heard();
  REQUIRE(samples.empty() != with_device);
  if (!with_device) return;
  const auto [low, high] = std::minmax_element(samples.begin(), samples.end());
  CHECK(*high > 0.1F);
  CHECK(*low >= -1);
  CHECK(*high <= 1);
}

TEST_CASE("a line is heard to its end, each letter, and what rings last") {
  const SoundDevice device(true);
  TerminalSession session({"tick tock", "--rate", "8cps", "--typing", demo_sounds + "#wood"},
                          "reveal");
  CHECK(session.finish() == 0);
  CHECK(session.terminal_is_as_before());
  CHECK(starts(device.heard()) == 8);
  const std::vector<float> samples = device.heard();
  CHECK(std::abs(samples.back()) < 0.001F);
}

TEST_CASE("a skip ends the sounds with the text; without a device a line is shown all the same") {
  const bool with_device = GENERATE(true, false);
  const SoundDevice device(with_device);
  TerminalSession session(
      {"tick tock tick tock", "--rate", "4cps", "--typing", demo_sounds + "#wood"}, "reveal");
  REQUIRE(session.read_until("t"));
  session.type(" ");
  CHECK(session.finish() == 0);
  CHECK((session.output().find("no sound device") != std::string::npos) != with_device);
  if (with_device) CHECK(starts(device.heard()) == 1);
}

TEST_CASE("the sounds of a watched line are heard anew when their file is saved") {
  const SoundDevice device(true);
  const arvik::test::ScratchFolder folder;
  const auto sounds = [](const std::string& gain) {
    return R"({"arvik_sounds": 1, "sounds": {"a": {"gain": ")" + gain + R"(", "samples": [")" +
           std::string(ARVIK_SOURCE_DIR) + R"(/demo/sounds/valve_1.wav"]}}})";
  };
  const std::string line = folder.write("line.txt", "abc");
  const std::string file = folder.write("sounds.json", sounds("-90dB"));
  TerminalSession session({"--watch", line, "--rate", "5cps", "--typing", file}, "reveal");
  REQUIRE(session.read_until("3 of 3 characters"));
  (void)folder.write("sounds.json", sounds("loud"));
  REQUIRE(session.read_until("the sounds were not used"));
  (void)folder.write("sounds.json", sounds("0dB"));
  REQUIRE(session.read_until("3 of 3 characters"));
  session.frames(60);
  session.type("q");
  CHECK(session.finish() == 0);
  CHECK(starts(device.heard()) == 3);
}

TEST_CASE("sounds without a terminal to play in are refused") {
  const auto run =
      arvik::test::run({ARVIK_TOOL, "reveal", "Hi", "--typing", demo_sounds + "#wood"});
  CHECK(run.status == 2);
  CHECK(run.err.find("arvik mix") != std::string::npos);
}

TEST_CASE("a watched script is read again at the line where it stands") {
  const arvik::test::ScratchFolder folder;
  const auto script = [](const std::string& text) {
    return R"({"arvik_script": 1, "conversations": {"a": [{"text": "first"}, {"text": ")" + text +
           R"("}]}})";
  };
  const std::string path = folder.write("script.json", script("QRS"));
  TerminalSession session({path, "--watch"}, "play");
  REQUIRE(session.read_until("▾"));
  session.type(" ");
  REQUIRE(session.read_until("S"));
  (void)folder.write("script.json", script("XYZW"));
  REQUIRE(session.read_until("W"));
  (void)folder.write("script.json", "{");
  REQUIRE(session.read_until("not JSON"));
  session.type("q");
  CHECK(session.finish() == 0);
}

TEST_CASE("a held key does not rush through a conversation, and Ctrl-C leaves the terminal clean") {
  TerminalSession session({demo_script, "--value", "keeper=Pell"}, "play");
  REQUIRE(session.read_until("Odrun"));
  for (int i = 0; i < 25; ++i) {  // as a terminal repeats a key
    session.type(" ");
    session.frames(2);  // 32 ms
  }
  session.type("h");
  REQUIRE(session.read_until("Odrun: High water"));  // the first line, and no other
  session.type("\x03");
  session.finish();
  CHECK(session.terminal_is_as_before());
  CHECK(session.output().find("It has never once") == std::string::npos);  // the second line
}
