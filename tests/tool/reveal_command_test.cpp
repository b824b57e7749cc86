// `arvik reveal` without a terminal; with one: terminal_test.cpp.

#include <catch2/catch.hpp>

#include "support/tool.hpp"

using namespace arvik::test;

TEST_CASE("reveal without a terminal writes the rows, and lets go of holds by itself") {
  const Outcome outcome = arvik_tool(
      {"reveal", "--no-wait", "--width", "8", "--align", "end", "Mind[hold] [b: the] gap"});
  CHECK(outcome.status == 0);
  CHECK(outcome.out == "Mind the\n     gap\n");
  const Outcome timed = arvik_tool({"reveal", "--rate", "200cps", "Mind[hold] the gap"});
  CHECK(timed.out == "Mind the gap\n");
}
