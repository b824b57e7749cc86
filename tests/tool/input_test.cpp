// What the commands share: where texts, paces, styles and values come from, and how mistakes are
// told.

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/tool.hpp"

using namespace arvik::test;
using nlohmann::json;

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

TEST_CASE("of a long row that part is shown which has the mistake, in one row of a terminal") {
  const auto excerpt_of = [](const std::string& text) {
    const std::string err = arvik_tool({"layout", text}).err;
    const std::size_t begin = err.find('\n') + 1;
    return err.substr(begin, err.find('\n', err.find('\n', begin) + 1) - begin);
  };
  const std::string carets = "\n" + std::string(30, ' ') + "^^^^";
  const std::string letters(60, 'x');
  CHECK(excerpt_of(letters + "[bold: y]" + letters) ==
        "  …" + letters.substr(0, 26) + "[bold: y]" + letters.substr(0, 33) + "…" + carets);
  std::string wide;
  for (int i = 0; i < 60; ++i) wide += "水";
  CHECK(excerpt_of(wide + "[bold: y]" + wide) ==
        "  …" + wide.substr(0, 13 * 3) + "[bold: y]" + wide.substr(0, 16 * 3) + "…" + carets);
  // A long mistake is cut, too; what cannot be shown takes one cell.
  CHECK(excerpt_of("[a\x01" + letters + "]") ==
        "  [a\xEF\xBF\xBD" + letters + "]\n   " + std::string(30, '^'));
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

TEST_CASE("a byte order mark is no part of the text") {
  const ScratchFolder folder;
  const std::string line = folder.write("line.txt", "\xEF\xBB\xBFMind.\n");
  CHECK(arvik_tool({"layout", "-f", line}).out == arvik_tool({"layout", "Mind."}).out);
  CHECK(arvik_tool({"layout"}, "\xEF\xBB\xBFMind.\n").out == arvik_tool({"layout", "Mind."}).out);
}

TEST_CASE("a pace may come from a script") {
  const ScratchFolder folder;
  const std::string script = folder.write(
      "scene.json",
      R"({"arvik_script": 1, "paces": {"slow": {"rate": "1cps"}}, "conversations": {}})");
  const Outcome slow = arvik_tool({"schedule", "ab", "--pace", script + "#slow"});
  CHECK(slow.status == 0);
  CHECK(contains(slow.out, "1.000 s"));
  const Outcome none = arvik_tool({"schedule", "ab", "--pace", script + "#fast"});
  CHECK(none.status == 2);
  CHECK(contains(none.err, "no pace is named"));
}
