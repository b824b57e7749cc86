// `arvik layout`: rows in cells and in pixels.

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/tool.hpp"

using namespace arvik::test;
using nlohmann::json;

TEST_CASE("layout warnings name the text as shown") {
  const Outcome outcome = arvik_tool({"layout", "[b: an unbreakable] x", "--width", "5"});
  CHECK(outcome.status == 0);
  CHECK(outcome.err ==
        "text (as shown):1:4: warning: a word is longer than the row and is broken (word-broken)\n"
        "  an unbreakable x\n"
        "     ^^^^^\n");
}

TEST_CASE("layout as text and as JSON") {
  const Outcome text = arvik_tool({"layout", "Mind the 水門", "--width", "8", "--align", "end"});
  CHECK(text.out ==
        "      0\n"
        "     ┌┬───────┐\n"
        "   0 │Mind the│ 8\n"
        "   1 │    水門│ 4\n"
        "     └┴───────┘\n"
        "      2 rows, widest 8 of 8 cells\n");
  const json rows =
      json::parse(arvik_tool({"layout", "Mind the gap", "--width", "8", "--format", "json"}).out);
  CHECK(rows ==
        json({{"arvik_layout", 1},
              {"width", 8},
              {"height", 2},
              {"rows",
               {{{"text", "Mind the"}, {"x", 0}, {"width", 8}, {"first_step", 0}, {"end_step", 9}},
                {{"text", "gap"}, {"x", 0}, {"width", 3}, {"first_step", 9}, {"end_step", 12}}}}}));
}

TEST_CASE("layout in pixels") {
  const Outcome text = arvik_tool({"layout", "--font", "DejaVu Sans", "--size", "20", "--width",
                                   "200", "The tide clock stopped at four."});
  CHECK(text.status == 0);
  CHECK(
      contains(text.out, "page row        x        y    width  text\n   0   0     0.00     0.00"));
  CHECK(contains(text.out, "box 200 by "));
  const json rows =
      json::parse(arvik_tool({"layout", "--font", "DejaVu Sans", "--format", "json", "--rows", "1",
                              "--width", "200", "The tide clock stopped."})
                      .out);
  CHECK(rows["rows"].size() >= 2);
  CHECK(rows["rows"][1]["page"] == 1);
  CHECK(rows["rows"][0]["glyphs"] > 5);
  CHECK(rows["box_width"] == 200);
}
