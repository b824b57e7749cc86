// JSON with locations: what a writer has most likely done is told at its place, and a document's
// size is bounded by its text's.

#include <catch2/catch.hpp>

#include "arvik/place_file.hpp"
#include "arvik/script_file.hpp"
#include "support/allocations.hpp"

using namespace arvik;

namespace {

std::string problem_of(const std::string& json) {
  const auto script = parse_script(json);
  if (script) return "none";
  const Diagnostic& first = script.error()[0];
  return std::to_string(first.row) + ":" + std::to_string(first.column) + " " +
         std::string(diagnostic_name(first.code)) + ": " + first.message;
}

}  // namespace

TEST_CASE("what is not JSON is explained where it stands") {
  struct Case {
    const char* name;
    std::string json;
    const char* problem;
  };
  const std::vector<Case> cases{
      {"nothing", "", "1:1 bad-json: not JSON: the file is empty"},
      {"blanks", "  \n ", "2:2 bad-json: not JSON: the file is empty"},
      {"an end in the middle", "{\"a\": [1, 2",
       "1:12 bad-json: not JSON: the file ends in the middle: a closing bracket is missing"},
      {"a comma before a bracket", "{\"a\": [1, 2, ]}",
       "1:12 bad-json: not JSON: nothing follows this comma: remove it"},
      {"a comma before a brace", "{\"a\": 1,\n}",
       "1:8 bad-json: not JSON: nothing follows this comma: remove it"},
      {"two commas", "[1,, 2]", "1:4 bad-json: not JSON: a value is missing before this comma"},
      {"no comma between members", "{\"a\": \"x\"\n \"b\": 1}",
       "2:2 bad-json: not JSON: a comma is missing before this"},
      {"no comma between elements", "[1 2]",
       "1:4 bad-json: not JSON: a comma is missing before this"},
      {"a key without quotes", "{key: 1}",
       "1:2 bad-json: not JSON: this key must stand in double quotes"},
      {"a second key without quotes", "{\"a\": 1, key: 1}",
       "1:10 bad-json: not JSON: this key must stand in double quotes"},
      {"a value without quotes", "{\"a\": hello}",
       "1:7 bad-json: not JSON: text must stand in double quotes"},
      {"single quotes", "{'a': 1}",
       "1:2 bad-json: not JSON: strings and keys stand in double quotes"},
      {"no value", "{\"a\": }", "1:5 bad-json: not JSON: a value is missing behind this colon"},
      {"no closing quote before a row end", "{\"a\": \"hello,\n \"b\": 1}",
       "1:7 bad-json: not JSON: this string has no closing quote in its row"},
      {"no closing quote at all", "{\"a\": \"hello}",
       "1:7 bad-json: not JSON: this string has no closing quote"},
      {"a comment", "{\n// who speaks\n\"a\": 1}",
       "2:1 bad-json: not JSON: JSON has no comments: use a \"description\" key"},
      {"a comment behind a comma", "{\"a\": 1, /* x */ \"b\": 2}",
       "1:10 bad-json: not JSON: JSON has no comments: use a \"description\" key"},
      {"an unknown escape", "{\"a\": \"\\q\"}",
       "1:8 bad-json: not JSON: this escape is unknown: a backslash itself is written twice"},
      {"half an escape", "{\"a\": \"\\u12\"}",
       "1:8 bad-json: not JSON: an escape with u needs four hexadecimal digits and whole pairs"},
      {"a tab in a string", "{\"a\": \"\t\"}",
       "1:8 bad-json: not JSON: a control character must be written as an escape, like \\t"},
      {"bad bytes", "{\"a\": \"x\xFFy\"}", "1:9 bad-json: not JSON: these bytes are not UTF-8"},
      {"a number too large", "{\"a\": 1e999}", "1:7 bad-json: not JSON: this number is too large"},
      {"a number of another kind", "{\"a\": 01}",
       "1:7 bad-json: not JSON: a number does not begin with 0 and another digit"},
      {"a NUL", std::string("{\"a\": 1}\0garbage", 16),
       "1:9 bad-json: not JSON: there is a NUL byte here"},
      {"something behind the end", "{} x",
       "1:4 bad-json: not JSON: a comma is missing before this"},
  };
  for (const Case& c : cases) {
    INFO(c.name << ": " << c.json);
    CHECK(problem_of(c.json) == c.problem);
  }
}

TEST_CASE("a byte order mark is no part of the document") {
  CHECK(problem_of("\xEF\xBB\xBF{\"arvik_script\": 1, \"conversations\": {}}") == "none");
  CHECK(problem_of("\xEF\xBB\xBF{\"arvik_script\": 2, \"conversations\": {}}") ==
        "1:19 bad-value: this version reads format 1 only");
}

TEST_CASE("depth is bounded before anything is built") {
  const auto nested = [](std::size_t depth) {
    return std::string(depth, '[') + std::string(depth, ']');
  };
  CHECK(problem_of(nested(64)) == "1:1 bad-value: a script is a JSON object");
  CHECK(problem_of(nested(65)) ==
        "1:65 bad-json: not JSON: more than 64 brackets inside each other");
  CHECK(problem_of(std::string(20'000, '[')).find("1:65 bad-json") == 0);
  CHECK(read_place(std::string(120'000, '[')).error().code == DiagnosticCode::bad_json);
}

TEST_CASE("memory is linear in the file, whatever is in it") {
  const auto cost = [](const std::string& json) {
    const std::size_t before = test::allocated_bytes();
    (void)parse_script(json);
    return test::allocated_bytes() - before;
  };
  const auto list_under_long_keys = [](std::size_t size) {
    std::string json;
    for (int i = 0; i < 30; ++i) json += "{\"" + std::string(size / 60, 'k') + "\": ";
    json += "[";
    for (std::size_t i = 0; i < size / 4; ++i) json += "1,";
    return json + "1]" + std::string(30, '}');
  };
  const auto lines = [](std::size_t count) {
    std::string json =
        "{\"arvik_script\": 1, \"conversations\": {\"" + std::string(count, 'n') + "\": [";
    for (std::size_t i = 0; i < count; ++i) json += "{\"text\": \"x\"},";
    return json + "{\"text\": \"x\"}]}}";
  };
  const auto conversations = [](std::size_t count) {
    std::string json = "{\"arvik_script\": 1, \"conversations\": {\"first\": []";
    for (std::size_t i = 0; i < count; ++i) json += ",\"c" + std::to_string(i) + "\": []";
    return json + "}}";
  };
  CHECK(cost(list_under_long_keys(40'000)) < 5 * cost(list_under_long_keys(10'000)));
  CHECK(cost(lines(4000)) < 5 * cost(lines(1000)));
  CHECK(cost(conversations(4000)) < 5 * cost(conversations(1000)));
}

TEST_CASE("a script with mistakes is refused, or repaired and told") {
  const std::string json = R"({"arvik_script": 1, "conversations": {"a": [
    {"text": "good"}, {"speaker": "nobody", "pace": "none", "text": "[puase] here"}, 3]}})";
  CHECK_FALSE(parse_script(json).has_value());
  const auto script = parse_script(json, ScriptErrors::repair);
  REQUIRE(script.has_value());
  REQUIRE(script->conversations[0].lines.size() == 2);
  CHECK(script->conversations[0].lines[1].text == "[puase] here");
  CHECK(script->conversations[0].lines[1].speaker == "nobody");
  CHECK(script->diagnostics.size() == 4);
  CHECK_FALSE(parse_script("{", ScriptErrors::repair).has_value());
}

TEST_CASE("an appended line of another speaker is a warning") {
  const auto script = parse_script(R"({"arvik_script": 1, "cast": {"a": {}, "b": {}},
    "conversations": {"x": [{"speaker": "a", "text": "One."},
                            {"speaker": "b", "append": true, "text": "Two."}]}})");
  REQUIRE(script.has_value());
  REQUIRE(script->diagnostics.size() == 1);
  CHECK(script->diagnostics[0].pointer == "/conversations/x/1");
}

TEST_CASE("rows of a box are whole") {
  CHECK(problem_of(R"({"arvik_script": 1, "conversations": {}, "box": {"rows": 1.7}})") ==
        "1:58 bad-value: rows must be a whole number");
  CHECK(problem_of(R"({"arvik_script": 1, "conversations": {}, "box": {"rows": 0}})") ==
        "1:58 bad-value: rows is out of range");
}
