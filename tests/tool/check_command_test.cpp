// `arvik check`: what it prints, its formats, baselines, exit statuses, and wrong usage.

#include <sys/wait.h>
#include <unistd.h>
#include <catch2/catch.hpp>
#include <csignal>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "support/tool.hpp"

using namespace arvik::test;
namespace fs = std::filesystem;

namespace {

// A script and its table with two findings.
class CheckProject : public ScratchFolder {
 public:
  CheckProject() {
    write("s.json", R"({"arvik_script": 1, "strings": "s.csv", "conversations": {"a": [
      {"id": "x"}, {"id": "y"}]}})");
    write("s.csv", "key,en,de\nx,Now![mark bell],Jetzt!\ny,High water.,Die  Flut.\n");
  }
};

Outcome check_tool(std::vector<std::string> words) {
  words.insert(words.begin(), "check");
  return arvik_tool(words);
}

// Whether a process is the tool by now, and has a handler for SIGINT.
bool catches_interrupt(pid_t process) {
  const std::string folder = "/proc/" + std::to_string(process);
  if (!fs::equivalent(folder + "/exe", ARVIK_TOOL)) return false;
  std::ifstream file(folder + "/status");
  for (std::string row; std::getline(file, row);) {
    constexpr std::string_view head = "SigCgt:\t";
    if (!row.starts_with(head)) continue;
    return (std::stoull(row.substr(head.size()), nullptr, 16) >> (SIGINT - 1) & 1U) != 0;
  }
  return false;
}

}  // namespace

TEST_CASE("arvik check prints findings by file, with their places, and a summary") {
  const CheckProject project;
  const Outcome outcome = check_tool({project.path("s.json")});
  CHECK(outcome.status == 1);
  CHECK(outcome.err.empty());
  const std::string wanted =
      project.path("s.csv") +
      "\n"
      "  2:19  error: the translation has lost [mark bell] (lost-tag)  [x, de]\n"
      "      x,Now![mark bell],Jetzt!\n"
      "                        ^^^^^^\n"
      "  3:18  warning: two blanks stand together (double-blank)  [y, de]\n"
      "      y,High water.,Die  Flut.\n"
      "                       ^^\n"
      "\n"
      "                   de\n"
      "double-blank        1\n"
      "lost-tag            1\n"
      "\n"
      "1 error, 1 warning; 4 texts checked in 2 locales: en de\n";
  CHECK(outcome.out == wanted);
}

TEST_CASE("the demo has no finding") {
  const Outcome outcome = check_tool({ARVIK_SOURCE_DIR "/demo/tide_clock.script.json"});
  CHECK(outcome.status == 0);
  CHECK(outcome.out == "0 errors, 0 warnings; 325 texts checked in 5 locales: en pl de ja ar\n");
}

TEST_CASE("the exit status is that of errors, and of warnings where they count") {
  const CheckProject project;
  CHECK(check_tool({project.path("s.json"), "--off", "lost-tag"}).status == 0);
  CHECK(check_tool({project.path("s.json"), "--off", "lost-tag", "--warnings-as-errors"}).status ==
        1);
  CHECK(
      check_tool({project.path("s.json"), "--off", "lost-tag,double-blank", "--warnings-as-errors"})
          .status == 0);
  CHECK(check_tool({project.path("s.json"), "--locale", "en"}).status == 0);
}

TEST_CASE("a baseline lets a build fail on new findings alone") {
  const CheckProject project;
  CHECK(check_tool({project.path("s.json"), "--format", "json", "-o", project.path("known.json")})
            .status == 1);
  const Outcome known =
      check_tool({project.path("s.json"), "--baseline", project.path("known.json")});
  CHECK(known.status == 0);
  CHECK(contains(known.out, "0 errors, 0 warnings, 2 known; 4 texts"));
  project.write("s.csv",
                "key,en,de\nx,Now![mark bell],Jetzt!\nnew,A.,B.\n"
                "y,High water.[hold],Die  Flut.\n");
  const Outcome later =
      check_tool({project.path("s.json"), "--baseline", project.path("known.json")});
  CHECK(later.status == 1);
  CHECK(contains(later.out, "1 error, 1 warning, 2 known"));
  CHECK(contains(later.out, "[hold]"));
}

TEST_CASE("findings go to files in the formats of other programs") {
  const CheckProject project;
  const auto document =
      nlohmann::json::parse(check_tool({project.path("s.json"), "--format", "json"}).out);
  CHECK(document["findings"].size() == 2);
  CHECK(document["findings"][0]["file"] == project.path("s.csv"));
  const auto sarif =
      nlohmann::json::parse(check_tool({project.path("s.json"), "--format", "sarif"}).out);
  CHECK(sarif["runs"][0]["tool"]["driver"]["version"] == "0.1.0");
  CHECK(contains(check_tool({project.path("s.json"), "--format", "junit"}).out, "<testsuites"));
  // Several scripts at once, each with its own files.
  const auto both = nlohmann::json::parse(
      check_tool({project.path("s.json"), ARVIK_SOURCE_DIR "/demo/tide_clock.script.json",
                  "--format", "json"})
          .out);
  CHECK(both["scripts"].size() == 2);
  CHECK(both["texts"] == 329);
  CHECK(both["findings"].size() == 2);
}

TEST_CASE("real fonts have their own widths, and may lack characters") {
  const CheckProject project;
  project.write("s.csv", "key,en,de\nx,Now!,Jetzt!\ny,High water.,Die Flut 時計 steht.\n");
  const auto check_with = [&](std::vector<std::string> words) {
    words.insert(words.begin(), project.path("s.json"));
    return check_tool(words);
  };
  const Outcome outcome =
      check_with({"--size", "20", "--font", "DejaVu Sans", "--width", "90", "--height", "30"});
  CHECK(contains(outcome.out, "no font of the locale has 時 計 (missing-glyph)"));
  CHECK(contains(outcome.out, "the text takes 2 pages, its source 1") == false);
  CHECK(contains(
      check_with({"--size", "20", "--font", "DejaVu Sans", "--width", "125", "--height", "30"}).out,
      "the text takes 2 pages, its source 1"));
  CHECK(check_with({"--font", "DejaVu Sans"}).status == 2);
  CHECK(contains(check_with({"--size", "20"}).err, "names no fonts"));
  CHECK(contains(check_with({"--size", "20", "--font", "No Such Family"}).err, "No Such Family"));
}

TEST_CASE("wrong usage of check is told") {
  const CheckProject project;
  struct Row {
    std::vector<std::string> words;
    std::string message;
  };
  const std::string script = project.path("s.json");
  const std::vector<Row> rows{
      {{}, "name a script"},
      {{script, "--off", "duoble-blank"}, "did you mean \"double-blank\"?"},
      {{script, "--locale", "fr"}, "the script has no locale \"fr\""},
      {{script, "--locale", "x"}, "is no locale"},
      {{script, "-o", "x.json"}, "-o needs --format"},
      {{script, "--overview", project.path("x.txt")}, ".html"},
      {{script, script, "--overview", project.path("x.html")}, "--overview shows one script"},
      {{script, "--threads", "0"}, "1 to 256"},
      {{script, "--format", "xml"}, "is none of"},
  };
  for (const Row& row : rows) {
    const Outcome outcome = check_tool(row.words);
    INFO(row.message << "\n" << outcome.err);
    CHECK(outcome.status == 2);
    CHECK(contains(outcome.err, row.message));
  }
  CHECK(check_tool({project.path("no.json")}).status == 2);
  CHECK(check_tool({script, "--baseline", script}).status == 1);
  project.write("bad.json", "{");
  const Outcome bad = check_tool({project.path("bad.json")});
  CHECK(bad.status == 1);
  CHECK(contains(bad.out, "(bad-json)"));
  // An output is never one of the inputs.
  CHECK(check_tool({script, "--format", "json", "-o", script}).status != 0);
  CHECK(contains(check_tool({"--rules"}).out, "unread-advance"));
}

TEST_CASE("Ctrl-C ends a check by its signal, and no report is written") {
  const CheckProject project;
  std::string lines, table = "key,en,de\n";
  for (int i = 0; i < 60'000; ++i) {
    const std::string key = "k" + std::to_string(i);
    lines += (i > 0 ? ",\n" : "") + ("{\"id\": \"" + key + "\"}");
    table += key + ",\"Water stands high, and the tide turns.\",Das Wasser steht hoch.\n";
  }
  project.write("s.json", R"({"arvik_script": 1, "strings": "s.csv", "conversations": {"a": [)" +
                              lines + "]}}");
  project.write("s.csv", table);
  const std::string report = project.path("report.json"), script = project.path("s.json");
  const pid_t child = fork();
  REQUIRE(child >= 0);
  if (child == 0) {
    execl(ARVIK_TOOL, ARVIK_TOOL, "check", script.c_str(), "--format", "json", "-o", report.c_str(),
          static_cast<char*>(nullptr));
    _exit(127);
  }
  while (!catches_interrupt(child)) REQUIRE(waitpid(child, nullptr, WNOHANG) == 0);
  kill(child, SIGINT);
  int status = 0;
  waitpid(child, &status, 0);
  CHECK(WIFSIGNALED(status));
  CHECK(WTERMSIG(status) == SIGINT);
  CHECK_FALSE(fs::exists(report));
}
