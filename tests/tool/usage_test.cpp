// The tool as new users meet it: help, wrong usage, empty, huge and strange input.

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/tool.hpp"

using namespace arvik::test;
using nlohmann::json;

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
      {{},
       "arvik: name a command: reveal, schedule, layout, frames, chart, mix, play, strings, "
       "voices, check"},
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
       "arvik: --format: \"xml\" is none of: csv, json, ssml, table, vtt"},
      {{"schedule", "--batch", "--format", "csv", "x"},
       "arvik: --batch writes JSON Lines or, with --format vtt, cues"},
      {{"schedule", "--file", "/nowhere/line.txt"},
       "arvik: cannot read /nowhere/line.txt: No such file or directory"},
      {{"schedule", "--file", "a.txt", "text"}, "arvik: TEXT excludes --file"},
      {{"schedule", "--rate", "0wpm", "x"},
       "arvik: --rate: \"0wpm\" is not a reading speed: write it like 200wpm or 1200cpm"},
      {{"schedule", "--fit", "0s", "x"}, "arvik: --fit: a line lasts more than 0"},
      {{"schedule", "--value", "x", "y"}, "arvik: --value: \"x\" is not of the form NAME=TEXT"},
      {{"schedule", "--ssml", "--format", "csv", "x"},
       "arvik: --ssml is a format: leave --format out"},
      {{"schedule", "--stay", "long", "--format", "vtt", "x"},
       "arvik: --stay: \"long\" is not a time: write it like 400ms or 1.5s"},
      {{"reveal", "--watch", "/nowhere/line.txt"}, "arvik: --watch needs a terminal to play in"},
      {{"chart", "-o", "chart.gif", "x"},
       "arvik: --output: \"chart.gif\" must end in .png or .svg"},
      {{"chart", "--reading", "20-12", "x"},
       "arvik: --reading: \"20-12\" is no range of speeds: write it like 12-20"},
      {{"chart", "--width", "100", "x"}, "arvik: a chart must be 480 to 8000 pixels wide"},
      {{"chart", "-o", "/nowhere/chart.png", "x"},
       "arvik: cannot write /nowhere/chart.png: No such file or directory"},
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
