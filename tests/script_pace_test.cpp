#include <catch2/catch.hpp>
#include <sstream>

#include "arvik/pace_file.hpp"
#include "arvik/read_file.hpp"
#include "arvik/style_file.hpp"
#include "support/process.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

std::string problems_of(const std::string& json) {
  const auto pace = parse_pace(json);
  if (pace) return "";
  std::ostringstream out;
  for (const Diagnostic& d : pace.error()) {
    if (out.tellp() > 0) out << '\n';
    out << d.row << ':' << d.column << ' ' << diagnostic_name(d.code) << ": " << d.message;
    if (!d.hint.empty()) out << " (" << d.hint << ")";
  }
  return out.str();
}

}  // namespace

TEST_CASE("a pace file sets what it names and leaves the rest") {
  const Pace pace = parse_pace(R"({
    "arvik_pace": 1, "rate": "24cps", "sentence": "0.3s", "abbreviations": ["Adm."]
  })")
                        .value();
  CHECK(pace.rate == 24);
  CHECK(pace.sentence == 300ms);
  CHECK(pace.clause == Pace{}.clause);
  CHECK(pace.abbreviations == std::vector<std::string>{"Adm."});
}

TEST_CASE("every problem of a pace file is told at once, with its place") {
  struct Row {
    const char* json;
    const char* problems;
  };
  const Row rows[] = {
      {"[]", "1:1 bad-value: a pace is a JSON object"},
      {"{}", "1:1 bad-value: \"arvik_pace\": 1 is missing: is this a pace file?"},
      {"{\"arvik_pace\": 2}", "1:16 bad-value: this version reads format 1 only"},
      {"{\"arvik_pace\": 1,\n \"sentense\": \"1s\",\n \"clause\": 120,\n \"rate\": \"fast\"}",
       "2:2 unknown-key: a pace has no key \"sentense\" (sentence)\n"
       "3:12 bad-value: clause must be a string with a unit, like \"240ms\"\n"
       "4:10 bad-value: \"fast\" is not a rate: write it like 30cps (characters per second)"},
      {"{\"arvik_pace\": 1, \"abbreviations\": \"Dr.\"}",
       "1:36 bad-value: abbreviations must be a list of strings"},
      {"{\"arvik_pace\": 1, \"abbreviations\": [\"Dr.\", 5, \"Mr\"]}",
       "1:44 bad-value: an abbreviation must be a string that ends with a full stop, like "
       "\"Adm.\"\n"
       "1:47 bad-value: an abbreviation must be a string that ends with a full stop, like "
       "\"Adm.\""},
  };
  for (const Row& row : rows) {
    INFO(row.json);
    CHECK(problems_of(row.json) == row.problems);
  }
}

TEST_CASE("what is not JSON is refused where it breaks") {
  for (const char* wrong : {"", "{", "{\"arvik_pace\": 1,}", "nope", "{\"a\":\"\xFF\"}"}) {
    INFO(wrong);
    const auto pace = parse_pace(wrong);
    REQUIRE_FALSE(pace.has_value());
    CHECK(pace.error()[0].code == DiagnosticCode::bad_json);
  }
  const auto broken = parse_pace("{\n  \"rate\": \"30cps\"\n  \"dash\": \"1s\"\n}");
  CHECK(broken.error()[0].row == 3);
}

TEST_CASE("files that cannot be read say why") {
  const test::ScratchFolder folder;
  const auto missing = read_file((folder.path() / "none.json").string());
  REQUIRE_FALSE(missing.has_value());
  CHECK(missing.error().code == DiagnosticCode::file_unreadable);
  CHECK(missing.error().message.ends_with("No such file or directory"));
  CHECK_FALSE(read_file(folder.path().string()).has_value());
  CHECK(read_file(folder.write("empty", "")).value().empty());
}
