// `arvik schedule`: every format, one line and many.

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <sstream>

#include "support/tool.hpp"

using namespace arvik::test;
using nlohmann::json;

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

TEST_CASE("a fit that the pauses alone exceed is told") {
  const ScratchFolder folder;
  const std::string pace =
      folder.write("tight.json", R"({"arvik_pace": 1, "fit": "100ms", "fit_pauses": "keep"})");
  const Outcome outcome = arvik_tool({"schedule", "--pace", pace, "One. Two"});
  CHECK(outcome.status == 0);
  CHECK(contains(outcome.err,
                 "warning: the pauses alone last 240 ms, but the line must last 100 ms"));
}

TEST_CASE("timed text of one line and of many") {
  CHECK(arvik_tool({"schedule", "--format", "vtt", "--unit", "word", "--speaker", "Pell", "--stay",
                    "1s", "Is --> it [b: on]?[br][br]No"})
            .out ==
        "WEBVTT\n\n00:00:00.000 --> 00:00:02.027\n<v Pell>Is <00:00:00.100>--&gt; "
        "<00:00:00.393>it <b><00:00:00.493>on</b>?\n&nbsp;\n<00:00:00.993>No</v>\n\n");
  const Outcome batch =
      arvik_tool({"schedule", "--batch", "--format", "vtt", "--unit", "line", "--stay", "0s"},
                 "ab\n\nx\ncd\n");
  CHECK(batch.out ==
        "WEBVTT\n\n00:00:00.000 --> 00:00:00.033\nab\n\n00:00:00.033 --> 00:00:00.034\nx\n\n"
        "00:00:00.034 --> 00:00:00.067\ncd\n\n");
  CHECK(arvik_tool({"schedule", "--format", "vtt", ""}).out == "WEBVTT\n\n");
  CHECK(arvik_tool({"schedule", "--ssml", "[pause 1.5s]One.[pause 0.26s] [rate x2: Two & [hold]]"})
            .out ==
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<speak version=\"1.1\" "
        "xmlns=\"http://www.w3.org/2001/10/synthesis\" xml:lang=\"en\"><mark "
        "name=\"line-begin\"/><break time=\"1500ms\"/>One.<break time=\"500ms\"/> <prosody "
        "rate=\"200%\">Two &amp; <mark name=\"hold\"/></prosody></speak>\n");
}

TEST_CASE("a bad byte inside a tag costs neither its row nor those behind it") {
  const Outcome outcome =
      arvik_tool({"schedule", "--batch"}, "one\n[mark a\xff]two\n[sound \xC3]three\nfour\n");
  CHECK(outcome.status == 1);
  CHECK(contains(outcome.err, "invalid-utf8"));
  std::istringstream rows(outcome.out);
  std::vector<std::string> texts;
  for (std::string row; std::getline(rows, row);) {
    texts.push_back(json::parse(row)["text"].get<std::string>());
  }
  CHECK(texts == std::vector<std::string>{"one", "two", "three", "four"});
}
