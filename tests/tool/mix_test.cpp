// `arvik mix`: sounds of lines and scripts as files. What is heard in them: audio/audio_test.cpp.

#include <catch2/catch.hpp>

#include "support/tool.hpp"

using namespace arvik::test;

namespace {
const std::string tide_clock = std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.script.json";
}  // namespace

TEST_CASE("a value that nobody gives is an error, in mix as in play") {
  const ScratchFolder folder;
  const std::string out = (folder.path() / "x.wav").string();
  for (const std::vector<std::string>& command :
       {std::vector<std::string>{"mix", tide_clock, "-o", out},
        {"play", tide_clock, "--log", "--auto"}}) {
    const Outcome outcome = arvik_tool(command);
    CHECK(outcome.status == 1);
    CHECK(contains(outcome.err, "\"keeper\""));
    CHECK(contains(outcome.err, "unknown-value"));
    CHECK_FALSE(outcome.out.empty());
    std::vector<std::string> good = command;
    good.insert(good.end(), {"--value", "keeper=Pell"});
    const Outcome outcome_of_good = arvik_tool(good);
    CHECK(outcome_of_good.status == 0);
    CHECK(outcome_of_good.err.empty());
  }
}
