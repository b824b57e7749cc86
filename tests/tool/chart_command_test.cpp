// `arvik chart`: pictures of one line, two lines and two paces.

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/tool.hpp"

using namespace arvik::test;
using nlohmann::json;

TEST_CASE("chart writes one picture, of one pace, two paces or two lines") {
  const ScratchFolder folder;
  const std::string picture = (folder.path() / "chart.png").string();
  const std::string drawing = (folder.path() / "chart.svg").string();
  const std::string slow = folder.write("slow.json", R"({"arvik_pace": 1, "rate": "5cps"})");
  const std::string other = folder.write("other.txt", "Another line.\n");
  const std::string line = "The [rate x0.5: tide] clock, [hold]stopped… [mark bell]at four.";
  const Outcome one = arvik_tool({"chart", line, "-o", picture});
  CHECK(one.status == 0);
  CHECK(one.out == picture + "\n");
  const std::string first = read_whole(picture);
  CHECK(first.substr(1, 3) == "PNG");
  CHECK(arvik_tool({"chart", line, "-o", picture, "--compare", slow}).status == 0);
  CHECK(read_whole(picture) != first);
  CHECK(arvik_tool({"chart", line, "-o", drawing, "--with", other}).status == 0);
  CHECK(contains(read_whole(drawing), "<svg"));
  for (const char* text : {"", "x", "[hold][pause 3s]", "[pause 3600s]x", "\n\n\n"}) {
    INFO(text);
    CHECK(arvik_tool({"chart", text, "-o", picture}).status == 0);
  }
  std::string huge;
  for (int i = 0; i < 2000; ++i) huge += "the tide clock stopped, ";
  const Outcome long_line = arvik_tool({"chart", "-o", picture, "-f", "-"}, huge);
  CHECK(long_line.status == 1);
  CHECK(
      contains(long_line.err, "48000 characters are too many for a chart: it draws 10000 at most"));
  CHECK(arvik_tool({"chart", "-o", picture, "-f", "-"}, huge.substr(0, 9000)).status == 0);
  CHECK(arvik_tool({"chart", "-o", picture, "--with", "/nowhere.txt", "x"}).status == 2);
}
