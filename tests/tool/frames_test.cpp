// `arvik frames`: pictures, their names and places.

#include <catch2/catch.hpp>
#include <filesystem>

#include "support/tool.hpp"

using namespace arvik::test;

TEST_CASE("frames writes pictures and says where") {
  const ScratchFolder folder;
  const std::string out = (folder.path() / "new" / "folder").string();
  const Outcome two =
      arvik_tool({"frames", "Mind the gap.", "--at", "0.1s", "--at", "0.25s", "-o", out});
  CHECK(two.status == 0);
  CHECK(two.out == out + "/frame-000100ms.png\n" + out + "/frame-000250ms.png\n");
  CHECK(read_whole(out + "/frame-000100ms.png").substr(1, 3) == "PNG");
  CHECK(read_whole(out + "/frame-000100ms.png") != read_whole(out + "/frame-000250ms.png"));
  const Outcome again =
      arvik_tool({"frames", "Mind the gap.", "--at", "0.1s", "--at", "0.25s", "-o", out});
  CHECK(again.out == two.out);  // a second time in a row
  const Outcome strip = arvik_tool({"frames", "--strip", "--debug", "--enter", "wipe", "-o", out,
                                    "Mind the [i: gap] שלום.", "--width", "200"});
  CHECK(strip.status == 0);
  CHECK(read_whole(out + "/strip.png").size() > 5000);
  CHECK(arvik_tool({"frames", "--every", "100ms", "Mind", "-o", out}).out.size() > 0);
  CHECK(arvik_tool({"frames", "", "-o", out}).status == 0);

  struct Row {
    std::vector<std::string> arguments;
    int status;
    const char* message;
  };
  const Row rows[] = {
      {{"frames", "x", "--at", "soon"},
       2,
       "arvik: \"soon\" is not a time: write it like 400ms or 1.5s"},
      {{"frames", "x", "--every", "0s"}, 2, "arvik: --every needs more than 0"},
      {{"frames", "[pause 3600s]x", "--every", "1ms"},
       2,
       "arvik: --every 1ms would make more than 10000 pictures"},
      {{"frames", "x", "--size", "0"}, 2, "arvik: --size: \"0\" is not a number from 1 to 2000"},
      {{"frames", "x", "--padding", "300"},
       1,
       "arvik: padding and picture leave no width for text"},
      {{"frames", "Mind the gap.", "--width", "90", "--rows", "1", "--overflow", "refuse"},
       1,
       "arvik: the text does not fit into the box"},
      {{"frames", "x", "-o", "/proc/none"},
       2,
       "arvik: cannot make the folder /proc/none: No such file or directory"},
  };
  for (const Row& row : rows) {
    const Outcome outcome = arvik_tool(row.arguments);
    INFO(row.message);
    CHECK(outcome.status == row.status);
    CHECK(outcome.err.substr(0, outcome.err.find('\n')) == row.message);
  }
  const Outcome family = arvik_tool({"frames", "x", "--font", "No Such Family", "-o", out});
  CHECK(family.status == 2);
  CHECK(
      family.err.starts_with("arvik: there is no font family \"No Such Family\"; the nearest is"));
}

TEST_CASE("one picture goes into a file that is named, several into a folder") {
  const ScratchFolder folder;
  const auto in = [&](const char* name) { return (folder.path() / name).string(); };
  const Outcome one = arvik_tool({"frames", "Mind.", "-o", in("end.png")});
  CHECK(one.out == in("end.png") + "\n");
  CHECK(read_whole(in("end.png")).substr(1, 3) == "PNG");
  CHECK(arvik_tool({"frames", "Mind.", "--strip", "-o", in("strip.png")}).status == 0);
  const Outcome several =
      arvik_tool({"frames", "Mind.", "--at", "0s", "--at", "1s", "-o", in("two.png")});
  CHECK(several.status == 2);
  CHECK(contains(several.err, "is one file, but there are 2 pictures"));
  CHECK_FALSE(std::filesystem::exists(in("two.png")));
  // Moments less than a millisecond apart have names of their own.
  const Outcome close =
      arvik_tool({"frames", "Mind.", "--at", "1ms", "--at", "1.5ms", "-o", in("f")});
  CHECK(contains(close.out, "frame-000001ms.png"));
  CHECK(contains(close.out, "frame-000001.500ms.png"));
}

TEST_CASE("a command that fails leaves no folder behind") {
  const ScratchFolder folder;
  const std::string out = (folder.path() / "new").string();
  CHECK(arvik_tool({"frames", "x", "--width", "40", "--padding", "300", "-o", out}).status != 0);
  CHECK(arvik_tool({"frames", "x", "--every", "0s", "-o", out}).status == 2);
  CHECK_FALSE(std::filesystem::exists(out));
}
