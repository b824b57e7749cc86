// The command-line tool without a terminal, as scripts and new users meet it.

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <sstream>

#include "support/process.hpp"

using namespace arvik::test;
using nlohmann::json;

namespace {

Outcome arvik_tool(std::vector<std::string> arguments, const std::string& input = {}) {
  arguments.insert(arguments.begin(), ARVIK_TOOL);
  return run(arguments, input);
}

bool contains(const std::string& text, const std::string& part) {
  return text.find(part) != std::string::npos;
}

}  // namespace

TEST_CASE("help and version") {
  for (const std::vector<std::string>& arguments : {std::vector<std::string>{"--help"},
                                                    {"reveal", "--help"},
                                                    {"schedule", "--help"},
                                                    {"layout", "--help"}}) {
    const Outcome outcome = arvik_tool(arguments);
    CHECK(outcome.status == 0);
    CHECK(contains(outcome.out, "Usage: arvik"));
    CHECK(outcome.err.empty());
  }
  CHECK(arvik_tool({"--version"}).out.starts_with("arvik "));
}

TEST_CASE("wrong usage is told in a sentence, with status 2") {
  struct Row {
    std::vector<std::string> arguments;
    const char* message;
  };
  const Row rows[] = {
      {{}, "arvik: name a command: reveal, schedule, layout, frames"},
      {{"dance"}, "arvik: there is no command \"dance\""},
      {{"schedul", "x"}, "arvik: there is no command \"schedul\"; did you mean \"schedule\"?"},
      {{"reveal", "--rate", "fast", "x"},
       "arvik: --rate: \"fast\" is not a rate: write it like 30cps (characters per second)"},
      {{"reveal", "--rate", "0cps", "x"},
       "arvik: --rate: \"0cps\" is out of range: a rate is 0.01cps to 100000cps"},
      {{"reveal", "--speed", "0", "x"},
       "arvik: --speed: \"0\" is out of range: a speed is x0.05 to x100"},
      {{"layout", "--width", "0", "x"}, "arvik: --width: \"0\" is not a number from 1 to 10000"},
      {{"layout", "--align", "middle", "x"},
       "arvik: --align: \"middle\" is none of: center, end, start"},
      {{"schedule", "--format", "xml", "x"},
       "arvik: --format: \"xml\" is none of: csv, json, table"},
      {{"schedule", "--batch", "--format", "csv", "x"},
       "arvik: --batch writes JSON Lines: leave --format out"},
      {{"schedule", "--file", "/nowhere/line.txt"},
       "arvik: cannot read /nowhere/line.txt: No such file or directory"},
      {{"schedule", "--file", "a.txt", "text"}, "arvik: TEXT excludes --file"},
      {{"schedule", "--lang", "not a tag", "x"},
       "arvik: no rules for language \"not a tag\": not a BCP 47 language tag"},
  };
  for (const Row& row : rows) {
    const Outcome outcome = arvik_tool(row.arguments);
    INFO(row.message);
    CHECK(outcome.status == 2);
    CHECK(outcome.out.empty());
    CHECK(outcome.err.substr(0, outcome.err.find('\n')) == row.message);
  }
}

TEST_CASE("mistakes in the text point at their place, and the text is still used") {
  const Outcome outcome =
      arvik_tool({"schedule", "--format", "json", "-f", "-"}, "Mind 水 the\n [puase 400ms] gap\n");
  CHECK(outcome.status == 1);
  CHECK(outcome.err ==
        "stdin:2:3: error: unknown tag \"puase\" (unknown-tag); did you mean \"pause\"?\n"
        "   [puase 400ms] gap\n"
        "    ^^^^^\n");
  CHECK(json::parse(outcome.out)["text"] == "Mind 水 the\n [puase 400ms] gap");

  // The caret stands under the place in cells, however wide what precedes is.
  const Outcome wide = arvik_tool({"layout", "水門 [x]"});
  CHECK(contains(wide.err, "  水門 [x]\n        ^\n"));
}

TEST_CASE("layout warnings name the text as shown") {
  const Outcome outcome = arvik_tool({"layout", "[b: an unbreakable] x", "--width", "5"});
  CHECK(outcome.status == 0);
  CHECK(outcome.err ==
        "text (as shown):1:4: warning: a word is longer than the row and is broken (word-broken)\n"
        "  an unbreakable x\n"
        "     ^^^^^\n");
}

TEST_CASE("schedule as JSON") {
  const Outcome outcome = arvik_tool({"schedule", "--format", "json", "a, [mark x k=v]é[hold]"});
  CHECK(outcome.status == 0);
  const json schedule = json::parse(outcome.out);
  CHECK(schedule["arvik_schedule"] == 1);
  CHECK(schedule["text"] == "a, é");
  CHECK(schedule["duration_us"] == 220000);
  CHECK(schedule["steps"].size() == 4);
  CHECK(schedule["steps"][3] ==
        json({{"text", "é"}, {"begin", 3}, {"end", 5}, {"onset_us", 220000}}));
  CHECK(schedule["steps"][1]["pause_us"] == 120000);
  CHECK(schedule["events"] ==
        json::array(
            {{{"kind", "mark"},
              {"name", "x"},
              {"step", 3},
              {"time_us", 220000},
              {"attributes", {{"k", "v"}}}},
             {{"kind", "hold"}, {"step", 4}, {"time_us", 220000}, {"attributes", json::object()}},
             {{"kind", "finish"},
              {"step", 4},
              {"time_us", 220000},
              {"attributes", json::object()}}}));
}

TEST_CASE("schedule as CSV quotes what RFC 4180 asks to quote") {
  CHECK(arvik_tool({"schedule", "--format", "csv", "\",[hold]"}).out ==
        "kind,step,text,begin,end,time_us,pause_us,pause_reason,attributes\r\n"
        "step,0,\"\"\"\",0,1,0,0,,\r\n"
        "step,1,\",\",1,2,33333,0,,\r\n"
        "hold,2,,,,33333,,,\r\n"
        "finish,2,,,,33333,,,\r\n");
}

TEST_CASE("schedule as a table tells why") {
  const Outcome outcome = arvik_tool({"schedule", "Ah.[pause 1s] B"});
  CHECK(outcome.out ==
        "    onset   step  shows       pause after\n"
        "   0.000 s      0  A\n"
        "   0.033 s      1  h\n"
        "   0.067 s      2  .          1240 ms  sentence, written\n"
        "   1.340 s      3  ␣\n"
        "   1.373 s      4  B\n"
        "   1.373 s      ▸  finish\n");
}

TEST_CASE("a batch is one JSON object a row, empty rows too") {
  const Outcome outcome = arvik_tool({"schedule", "--batch"}, "One.\n\n[b: Two]\r\n[wrong] three");
  CHECK(outcome.status == 1);
  std::istringstream lines(outcome.out);
  std::vector<std::string> texts;
  for (std::string line; std::getline(lines, line);) texts.push_back(json::parse(line)["text"]);
  CHECK(texts == std::vector<std::string>{"One.", "", "Two", "[wrong] three"});
  CHECK(contains(outcome.err, "stdin:4:2: error: unknown tag \"wrong\""));
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

TEST_CASE("reveal without a terminal writes the rows, and lets go of holds by itself") {
  const Outcome outcome = arvik_tool(
      {"reveal", "--no-wait", "--width", "8", "--align", "end", "Mind[hold] [b: the] gap"});
  CHECK(outcome.status == 0);
  CHECK(outcome.out == "Mind the\n     gap\n");
  const Outcome timed = arvik_tool({"reveal", "--rate", "200cps", "Mind[hold] the gap"});
  CHECK(timed.out == "Mind the gap\n");
}

TEST_CASE("empty, huge and strange input") {
  CHECK(arvik_tool({"reveal", ""}).out == "\n");
  CHECK(arvik_tool({"layout", ""}).status == 0);
  CHECK(json::parse(arvik_tool({"schedule", "--format", "json"}, "").out)["steps"].empty());
  CHECK(arvik_tool({"schedule", "--batch"}, "").out.empty());

  std::string huge;
  while (huge.size() < 1'000'000) huge += "The clock has stopped. ";
  const Outcome layout = arvik_tool({"layout", "--format", "json"}, huge);
  CHECK(layout.status == 0);
  CHECK(json::parse(layout.out)["rows"].size() > 15'000);
  CHECK(arvik_tool({"schedule", "--format", "csv"}, huge).out.size() > 20'000'000);
  CHECK(arvik_tool({"layout", "--width", "1", "水 ab"}).status == 0);

  const Outcome bytes = arvik_tool({"layout", "a\xFF"});
  CHECK(bytes.status == 1);
  CHECK(contains(bytes.err, "text:1:2: error: these bytes are not UTF-8"));
  const Outcome brackets = arvik_tool({"layout"}, std::string(1'000'001, ']'));
  CHECK(brackets.status == 1);
}

TEST_CASE("control characters never reach a terminal through messages or tables") {
  const Outcome outcome = arvik_tool({"layout", "a\x1b[31m [x\x1b]"});
  CHECK_FALSE(contains(outcome.err, "\x1b"));
  CHECK_FALSE(contains(outcome.out, "\x1b"));
  CHECK_FALSE(contains(arvik_tool({"schedule", "\x1b"}).out, "\x1b"));
}

TEST_CASE("a pace file is used, and a wrong one is told") {
  const ScratchFolder folder;
  const std::string good = folder.write("good.json", R"({"arvik_pace": 1, "rate": "10cps"})");
  const Outcome outcome = arvik_tool({"schedule", "--format", "json", "--pace", good, "ab"});
  CHECK(json::parse(outcome.out)["duration_us"] == 100000);
  const std::string wrong = folder.write("wrong.json", "{\"arvik_pace\": 1, \"rat\": \"10cps\"}");
  const Outcome refused = arvik_tool({"schedule", "--pace", wrong, "ab"});
  CHECK(refused.status == 1);
  CHECK(refused.out.empty());
  CHECK(refused.err == wrong +
                           ":1:19: error: a pace has no key \"rat\" (unknown-key); did you mean "
                           "\"rate\"?\n"
                           "  {\"arvik_pace\": 1, \"rat\": \"10cps\"}\n"
                           "                    ^^^^^\n"
                           "arvik: the pace was not used\n");
}

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
