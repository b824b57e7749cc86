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
      {{}, "arvik: name a command: reveal, schedule, layout, frames, chart, mix, play"},
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
       "arvik: --output: \"chart.gif\" ends neither in .png nor in .svg"},
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

TEST_CASE("one pace of several is used by its name") {
  const ScratchFolder folder;
  const std::string paces = folder.write("voices.json", R"({"arvik_paces": 1, "paces": {
    "calm": {"rate": "10cps"}, "dread": {"based_on": "calm", "rate": "x0.5"}}})");
  const auto duration = [&](const std::vector<std::string>& more) {
    std::vector<std::string> arguments{"schedule", "--format", "json", "ab"};
    arguments.insert(arguments.end(), more.begin(), more.end());
    return json::parse(arvik_tool(arguments).out)["duration_us"];
  };
  CHECK(duration({"--pace", paces + "#calm"}) == 100000);
  CHECK(duration({"--pace", paces + "#dread"}) == 200000);
  CHECK(duration({"--pace", paces + "#dread", "--rate", "20cps"}) == 50000);
  CHECK(duration({"--pace", paces + "#dread", "--fit", "3s"}) == 3000000);
  CHECK(duration({"--rate", "600cpm"}) == 100000);
  CHECK(duration({"--rate", "100wpm"}) == 100000);
  CHECK(duration({"--by", "line"}) == 0);
  const Outcome none = arvik_tool({"schedule", "--pace", paces, "ab"});
  CHECK(none.status == 2);
  CHECK(none.err == "arvik: " + paces + ": the file has several paces; name one of: calm, dread\n");
  CHECK(arvik_tool({"schedule", "--pace", paces + "#clam", "ab"}).err ==
        "arvik: " + paces + ": no pace is named \"clam\"; there are: calm, dread\n");
}

TEST_CASE("named styles and values reach every command") {
  const ScratchFolder folder;
  const std::string styles =
      folder.write("styles.json", R"({"arvik_styles": 1, "styles": {"loud": ["b", "size 150%"]}})");
  const std::vector<std::string> more{"--styles",
                                      styles,
                                      "--value",
                                      "who=Odrun",
                                      "--value",
                                      "what=[b: a=b]",
                                      "[style loud: So] [value who]: [value what]"};
  for (const char* command : {"schedule", "layout", "reveal"}) {
    std::vector<std::string> arguments{command};
    arguments.insert(arguments.end(), more.begin(), more.end());
    const Outcome outcome = arvik_tool(arguments);
    CHECK(outcome.status == 0);
    CHECK(outcome.err.empty());
    if (std::string(command) != "schedule") CHECK(contains(outcome.out, "So Odrun: [b: a=b]"));
  }
  const Outcome missing = arvik_tool({"layout", "[value who]"});
  CHECK(missing.status == 1);
  CHECK(contains(missing.err, "no values are given here, so \"who\" has no text"));
  const std::string wrong =
      folder.write("wrong.json", R"({"arvik_styles": 1, "styles": {"x": 5}})");
  CHECK(contains(arvik_tool({"layout", "--styles", wrong, "x"}).err,
                 "a style is a list of tags, like [\"i\", \"color teal\"]"));
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
  CHECK(arvik_tool({"chart", "-o", picture, "-f", "-"}, huge).status == 0);
  CHECK(arvik_tool({"chart", "-o", picture, "--with", "/nowhere.txt", "x"}).status == 2);
}

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
