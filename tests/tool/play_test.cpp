// `arvik play --log`: the same events for every frame, and what is wrong with a script. On a
// terminal: terminal_test.cpp.

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <sstream>

#include "support/tool.hpp"

using namespace arvik::test;
using nlohmann::json;

TEST_CASE("play writes the same log for every frame, but for the moments of presses") {
  const std::string script = std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.script.json";
  const auto log = [&](const std::vector<std::string>& more) {
    std::vector<std::string> arguments{"play", script, "--log", "--value", "keeper=Pell"};
    arguments.insert(arguments.end(), more.begin(), more.end());
    const Outcome outcome = arvik_tool(arguments);
    CHECK(outcome.status == 0);
    CHECK(outcome.err.empty());
    return outcome.out;
  };
  const std::string whole = log({"--auto", "--frame", "1ms"});
  for (const char* frame : {"16ms", "33ms", "7.3ms", "5s", "3ms,41ms,16.7ms,1ms,250ms"}) {
    INFO(frame);
    CHECK(log({"--auto", "--frame", frame}) == whole);
  }
  std::istringstream rows(whole);
  int started = 0;
  int left = 0;
  std::string last;
  for (std::string row; std::getline(rows, row);) {
    const json event = json::parse(row);
    last = event["event"];
    if (last == "line_started") ++started;
    if (last == "line_left") ++left;
  }
  CHECK(started == 28);
  CHECK(left == 28);
  CHECK(last == "closed");
  // Without presses it waits at the end of the first line, and the log ends there.
  CHECK(contains(log({}), "\"event\":\"waiting\",\"line\":0"));
  CHECK_FALSE(contains(log({}), "line_left"));
  const std::string pressed = log({"--press", "1s", "--press", "2s", "--frame", "10ms"});
  CHECK(contains(pressed, "{\"time_us\":1000000,\"event\":\"finish\",\"line\":0"));
  CHECK(contains(pressed, "{\"time_us\":2000000,\"event\":\"line_started\",\"line\":1"));
  const std::string held = log({"--hold-button", "1s..9s", "--frame", "10ms"});
  CHECK_FALSE(contains(held, "line_left"));
}

TEST_CASE("play gives answers in a log, in order, and waits where there are none left") {
  const std::string script = std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.script.json";
  const auto log = [&](const std::vector<std::string>& more) {
    std::vector<std::string> arguments{"play", script, "low_water", "--log"};
    arguments.insert(arguments.end(), more.begin(), more.end());
    return arvik_tool(arguments);
  };
  const Outcome asked = log({});
  CHECK(asked.status == 0);
  CHECK(contains(asked.out, "\"event\":\"choosing\""));
  CHECK(contains(asked.out, "{\"text\":\"Open the blue valve.\",\"id\":\"low_open\"}"));
  CHECK(contains(asked.out, "\"available\":false"));
  CHECK_FALSE(contains(asked.out, "chosen"));
  const Outcome waited = log({"--choose", "2", "--choose", "2"});
  CHECK(contains(waited.out, "\"event\":\"chosen\",\"line\":0,\"id\":\"low_01\",\"answer\":2"));
  CHECK(contains(waited.out, "\"id\":\"wait_02\""));
  CHECK(contains(waited.out, "\"event\":\"closed\""));
  const Outcome round = log({"--choose", "2", "--choose", "1", "--choose", "4"});
  CHECK(contains(round.out, "\"answer\":4"));
  CHECK_FALSE(contains(round.out, "closed"));
  for (const char* wrong : {"3", "9"}) {
    const Outcome refused = log({"--choose", wrong});
    CHECK(refused.status == 2);
    CHECK(contains(refused.err, std::string("--choose ") + wrong));
  }
  CHECK(log({"--choose", "0"}).status == 2);
}

TEST_CASE("play tells what is wrong with a script, a name or a time") {
  const ScratchFolder folder;
  const std::string empty =
      folder.write("empty.json", R"({"arvik_script": 1, "conversations": {"a": []}})");
  const Outcome warned = arvik_tool({"play", empty, "--log"});
  CHECK(warned.status == 0);
  CHECK(contains(warned.err, "warning: conversation \"a\" has no lines (nothing-to-say)"));
  CHECK(contains(warned.out, "\"event\":\"closed\""));
  const std::string wrong = folder.write(
      "wrong.json", R"({"arvik_script": 1, "conversations": {"a": [{"text": "[puase 1s]"}]}})");
  const Outcome refused = arvik_tool({"play", wrong, "--log"});
  CHECK(refused.status == 1);
  CHECK(contains(refused.err, "wrong.json:1:56: error: unknown tag \"puase\""));
  CHECK(contains(refused.err, "arvik: the script was not loaded"));
  const std::string good =
      folder.write("good.json", R"({"arvik_script": 1, "conversations": {"a": [{"text": "x"}]}})");
  const auto message = [&](const std::vector<std::string>& arguments) {
    const Outcome outcome = arvik_tool(arguments);
    CHECK(outcome.status == 2);
    return outcome.err.substr(0, outcome.err.find('\n'));
  };
  CHECK(message({"play", good, "b", "--log"}) ==
        "arvik: " + good + ": no conversation is named \"b\"; there are: a");
  CHECK(message({"play", good, "--log", "--press", "soon"}) ==
        "arvik: --press: \"soon\" is not a time: write it like 400ms or 1.5s");
  CHECK(message({"play", good, "--log", "--hold-button", "2s"}) ==
        "arvik: --hold-button: \"2s\" is not of the form FROM..TO, like 2s..3.5s");
  CHECK(message({"play", good, "--log", "--frame", "0s"}) == "arvik: --frame needs more than 0");
  CHECK(message({"play", good, "--value", "keeper"}) ==
        "arvik: --value: \"keeper\" is not of the form NAME=TEXT");
  CHECK(message({"play", good, "--watch"}) == "arvik: --watch needs a terminal to play in");
  CHECK(message({"play", "/nowhere.json"}) ==
        "arvik: cannot read /nowhere.json: No such file or directory");
}

TEST_CASE("a button that is let go of before it is pressed is refused") {
  const std::string demo = std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.script.json";
  const Outcome outcome =
      arvik_tool({"play", demo, "--log", "--value", "keeper=P", "--hold-button", "5s..1s"});
  CHECK(outcome.status == 2);
  CHECK(contains(outcome.err, "ends before it begins"));
}
