// Paces and styles as JSON: what is read, and every problem with its location.

#include <catch2/catch.hpp>
#include <sstream>

#include "arvik/pace_file.hpp"
#include "arvik/read_file.hpp"
#include "arvik/style_file.hpp"
#include "support/process.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

std::string pace_problems(const std::string& json) {
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
       "4:10 bad-value: \"fast\" is not a rate: write it like x0.5 or 20cps"},
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
    CHECK(pace_problems(row.json) == row.problems);
  }
}

TEST_CASE("a pace file can set every value") {
  const Pace pace = parse_pace(R"({
    "arvik_pace": 1, "description": "all of it", "rate": "x0.5", "unit": "word",
    "sentence": "1ms", "clause": "2ms", "dash": "3ms", "ellipsis": "4ms", "row_end": "5ms",
    "paragraph": "6ms", "space": "7ms", "characters": {"♪": "300ms", "👍🏽": "0s"},
    "least": "1s", "most": "2.5s", "fit_pauses": "keep", "jitter": "12.5%", "seed": 99
  })")
                        .value();
  CHECK(pace.rate == 15);
  CHECK(pace.unit == RevealUnit::word);
  CHECK(pace.sentence == 1ms);
  CHECK(pace.clause == 2ms);
  CHECK(pace.dash == 3ms);
  CHECK(pace.ellipsis == 4ms);
  CHECK(pace.row_end == 5ms);
  CHECK(pace.paragraph == 6ms);
  CHECK(pace.space == 7ms);
  REQUIRE(pace.characters.size() == 2);
  CHECK(pace.characters[0].character == "♪");
  CHECK(pace.characters[0].pause == 300ms);
  CHECK(pace.least == 1s);
  CHECK(pace.most == 2500ms);
  CHECK(pace.fit_pauses == FitPauses::keep);
  CHECK(pace.jitter == 0.125);
  CHECK(pace.seed == 99);
  CHECK(parse_pace(R"({"arvik_pace": 1, "fit": "2s"})").value().fit == 2s);
}

TEST_CASE("a pace may be based on another and change a few values") {
  const auto paces = parse_paces(R"({"arvik_paces": 1, "paces": {
    "worse": {"based_on": "dread", "rate": "x0.5", "fit": null, "characters": {"!": "1s"}},
    "dread": {"based_on": "calm", "rate": "x0.5", "fit": "2s", "characters": {"♪": "2s"}},
    "calm": {"rate": "20cps", "sentence": "400ms", "abbreviations": ["Kpr."]}
  }})")
                         .value();
  REQUIRE(paces.size() == 3);
  CHECK(paces[0].name == "worse");
  CHECK(paces[0].pace.rate == 5);
  CHECK(paces[0].pace.sentence == 400ms);
  CHECK_FALSE(paces[0].pace.fit.has_value());
  CHECK(paces[0].pace.characters.size() == 2);
  CHECK(paces[0].pace.abbreviations.size() == 1);
  CHECK(paces[1].pace.rate == 10);
  CHECK(paces[1].pace.fit == 2s);
  std::string chain = R"({"arvik_paces": 1, "paces": {"p0": {"rate": "50cps"})";
  for (int i = 1; i < 2000; ++i) {
    chain += ", \"p" + std::to_string(i) + "\": {\"based_on\": \"p" + std::to_string(i - 1) + "\"}";
  }
  CHECK(parse_pace(chain + "}}", "p1999").value().rate == 50);
}

TEST_CASE("every problem of several paces is told at once, with its place") {
  struct Row {
    const char* json;
    const char* problems;
  };
  const Row rows[] = {
      {R"({"arvik_paces": 1})", "1:1 bad-value: \"paces\" is missing"},
      {R"({"arvik_paces": 2, "paces": {}})", "1:17 bad-value: this version reads format 1 only"},
      {R"({"arvik_paces": 1, "paces": []})",
       "1:29 bad-value: paces must be an object: names with paces"},
      {R"({"arvik_paces": 1, "pace": {}, "paces": {"a": 5}})",
       "1:47 bad-value: a pace is a JSON object\n"
       "1:20 unknown-key: a file of paces has no key \"pace\" (paces)"},
      {R"({"arvik_paces": 1, "paces": {"calm": {}, "b": {"based_on": "clam"}}})",
       "1:60 unknown-pace: no pace is named \"clam\" (calm)"},
      {R"({"arvik_paces": 1, "paces": {"a": {"based_on": "a"}}})",
       "1:48 pace-loop: pace \"a\" is based on itself: a → a"},
      {R"({"arvik_paces": 1, "paces": {"a": {"based_on": "b"}, "b": {"based_on": "c"},
 "c": {"based_on": "b"}}})",
       "2:20 pace-loop: pace \"b\" is based on itself: b → c → b"},
      {R"({"arvik_paces": 1, "paces": {"a": {"based_on": 5, "unit": "wrod", "jitter": "120%",
 "seed": -1, "fit": "0s", "characters": {"ab": "1s", "♪": 5, "!": "1"}, "fit_pauses": 7}}})",
       "1:48 bad-value: based_on must be the name of another pace\n"
       "1:59 bad-value: unit must be one of: step, word, row, line (word)\n"
       "1:77 bad-value: jitter must be a string from \"0%\" to \"100%\"\n"
       "2:10 bad-value: seed must be a whole number, 0 or more\n"
       "2:48 bad-value: \"ab\" is not one character\n"
       "2:59 bad-value: a pause must be a string with a unit, like \"240ms\"\n"
       "2:67 bad-value: \"1\" is not a time: write it like 400ms or 1.5s\n"
       "2:87 bad-value: fit_pauses must be one of: scale, keep"},
      {R"({"arvik_pace": 1, "characters": "♪"})",
       "1:33 bad-value: characters must be an object: characters with times, like "
       "{\"♪\": \"300ms\"}"},
      {R"({"arvik_pace": 1, "least": "3s", "most": "2s"})",
       "1:1 bad-pace: least is longer than most"},
      {R"({"arvik_paces": 1, "paces": {"a": {"fit": "0s"}}})",
       "1:35 bad-pace: fit is out of range: a duration is more than 0, to one hour"},
      {R"({"arvik_pace": 1, "rate": "0.001cps", "sentence": "2h"})",
       "1:27 bad-value: \"0.001cps\" is out of range: a rate is 0.01cps to 100000cps\n"
       "1:51 bad-value: \"2h\" is not a time: write it like 400ms or 1.5s"},
  };
  for (const Row& row : rows) {
    INFO(row.json);
    CHECK(pace_problems(row.json) == row.problems);
  }
}

TEST_CASE("one pace of a file is found by name") {
  const std::string two = R"({"arvik_paces": 1, "paces": {"calm": {}, "dread": {}}})";
  CHECK(parse_pace(two, "dread").has_value());
  CHECK(parse_pace(two).error()[0].message ==
        "the file has several paces; name one of: calm, dread");
  CHECK(parse_pace(two, "clam").error()[0].message ==
        "no pace is named \"clam\"; there are: calm, dread");
  CHECK(parse_pace(two, "clam").error()[0].hint == "calm");
  CHECK(parse_pace(R"({"arvik_pace": 1})", "calm").error()[0].message ==
        "the file has one pace, without a name");
  CHECK(parse_pace(R"({"arvik_paces": 1, "paces": {}})").error()[0].message ==
        "the file has no pace");
  CHECK(parse_pace(R"({"arvik_paces": 1, "paces": {"only": {}}})").has_value());
}

TEST_CASE("a file of styles is read as tags are, and its problems are told") {
  const auto styles = parse_styles(R"({"arvik_styles": 1, "styles": {
    "dread": ["i", "color teal", "size 80%", "enter fade 200ms"], "loud": ["b", "u", "s"]}})")
                          .value();
  REQUIRE(styles.size() == 2);
  CHECK(styles.at("dread") == StyleChange{.italic = true,
                                          .color = Rgba{0, 128, 128, 255},
                                          .percent = 80,
                                          .entrance = Entrance::fade,
                                          .entrance_time = 200ms});
  CHECK(styles.at("loud") == StyleChange{.bold = true, .underline = true, .strike = true});
  const auto problems = [](const std::string& json) {
    std::string list;
    const auto styles_or_problems = parse_styles(json);
    REQUIRE_FALSE(styles_or_problems.has_value());
    for (const Diagnostic& d : styles_or_problems.error()) {
      list += std::to_string(d.row) + ':' + std::to_string(d.column) + ' ' + d.message +
              (d.hint.empty() ? "" : " (" + d.hint + ")") + '\n';
    }
    return list;
  };
  CHECK(problems("[]") == "1:1 a file of styles is a JSON object\n");
  CHECK(problems(R"({"styles": {}})") ==
        "1:1 \"arvik_styles\": 1 is missing: is this a file of styles?\n");
  CHECK(problems(R"({"arvik_styles": 1})") == "1:1 \"styles\" is missing\n");
  CHECK(problems(R"({"arvik_styles": 1, "styls": {}, "styles": {}})") ==
        "1:21 a file of styles has no key \"styls\" (styles)\n");
  CHECK(problems(R"({"arvik_styles": 1, "styles": {"a b": [], "x": "b",
 "y": [5, "color tael", "hold", "pause 1s", "b: x] [i", "rate x2", ""]}})") ==
        "1:39 \"a b\" cannot be written in a tag: a name has no blank, colon or bracket\n"
        "1:48 a style is a list of tags, like [\"i\", \"color teal\"]\n"
        "2:8 a tag must be a string, like \"color teal\"\n"
        "2:11 \"tael\" is not a colour: write #rrggbb, #rrggbbaa or a CSS colour name (teal)\n"
        "2:25 \"hold\" stands alone and takes no content: write it like [hold]\n"
        "2:33 \"pause\" stands alone and takes no content: write it like [pause 400ms]\n"
        "2:45 \"b: x] [i\" is no tag about looks: a style takes b, i, u, s, color, size and enter\n"
        "2:57 \"rate x2\" is no tag about looks: a style takes b, i, u, s, color, size and enter\n"
        "2:68 this bracket opens no tag: write [[ to show one\n");
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
