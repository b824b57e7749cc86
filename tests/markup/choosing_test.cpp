// Words that values choose: plural and select, in languages with other plural forms than English,
// and what is wrong with them.

#include <catch2/catch.hpp>
#include <map>

#include "arvik/language.hpp"
#include "arvik/markup.hpp"

using namespace arvik;

namespace {

MarkedText read(const std::string& source, const std::map<std::string, TextValue>& values = {},
                Language* language = nullptr) {
  Vocabulary vocabulary;
  vocabulary.value = [&](std::string_view name) -> std::optional<TextValue> {
    const auto found = values.find(std::string(name));
    return found == values.end() ? std::nullopt : std::optional(found->second);
  };
  return parse(source, vocabulary, language);
}

std::string codes_of(const MarkedText& marked) {
  std::string codes;
  for (const Diagnostic& problem : marked.diagnostics) {
    codes += (codes.empty() ? "" : ", ") + std::string(diagnostic_name(problem.code)) + ' ' +
             std::to_string(problem.range.begin) + '-' + std::to_string(problem.range.end);
    if (problem.severity == Severity::warning) codes += " (warning)";
  }
  return codes;
}

const std::string polish =
    "[plural n: [one: [value n] kropla][few: [value n] krople][many: [value n] kropel][other: "
    "[value n] kropli]]";

}  // namespace

TEST_CASE("a number chooses the words of its language") {
  struct Row {
    const char* tag;
    const char* source;
    TextValue number;
    const char* text;
  };
  const char* const english = "[plural n: [=0: none][one: one coin][other: [value n] coins]]!";
  const char* const arabic =
      "[plural n: [zero: صفر][one: واحد][two: اثنان][few: قليل][many: كثير][other: آخر]]";
  const char* const russian = "[plural n: [one: день][few: дня][many: дней][other: дня]]";
  for (const Row& row :
       std::vector<Row>{{"en", english, std::int64_t{0}, "none!"},
                        {"en", english, std::int64_t{1}, "one coin!"},
                        {"en", english, std::int64_t{1200}, "1,200 coins!"},
                        {"en", english, 1.5, "1.5 coins!"},
                        {"en", english, std::string("1"), "one coin!"},
                        {"en", english, std::string("007"), "007 coins!"},
                        {"en", english, 0.0, "none!"},
                        {"de", english, 2.5, "2,5 coins!"},
                        {"ja", "[plural n: [other: [value n]枚]]", std::int64_t{1}, "1枚"},
                        {"ar", arabic, std::int64_t{0}, "صفر"},
                        {"ar", arabic, std::int64_t{2}, "اثنان"},
                        {"ar", arabic, std::int64_t{3}, "قليل"},
                        {"ar", arabic, std::int64_t{11}, "كثير"},
                        {"ar", arabic, std::int64_t{100}, "آخر"},
                        {"ru", russian, std::int64_t{21}, "день"},
                        {"ru", russian, std::int64_t{22}, "дня"},
                        {"ru", russian, std::int64_t{25}, "дней"},
                        {"ru", russian, 1.5, "дня"}}) {
    Language language = Language::open(row.tag).value();
    INFO(row.tag << ": " << row.text);
    const MarkedText marked = read(row.source, {{"n", row.number}}, &language);
    CHECK(marked.text == row.text);
    CHECK(codes_of(marked) == "");
  }
  Language language = Language::open("pl").value();
  for (const auto& [number, text] : std::map<int, const char*>{{1, "1 kropla"},
                                                               {3, "3 krople"},
                                                               {5, "5 kropel"},
                                                               {12, "12 kropel"},
                                                               {22, "22 krople"}}) {
    CHECK(read(polish, {{"n", std::int64_t{number}}}, &language).text == text);
  }
  // Without a language there are exact numbers and `other`.
  CHECK(read(english, {{"n", std::int64_t{1}}}).text == "1 coins!");
  CHECK(read(english, {{"n", std::int64_t{0}}}).text == "none!");
}

TEST_CASE("a text chooses words") {
  const std::string source =
      "She is [select mood: [glad: [b: glad]][sad: [i: sad][pause 1s]][other: here]].";
  const MarkedText glad = read(source, {{"mood", std::string("glad")}});
  CHECK(glad.text == "She is glad.");
  REQUIRE(glad.spans.size() == 2);
  const auto* select = std::get_if<tag::Select>(&glad.spans[0].what);
  REQUIRE(select != nullptr);
  CHECK(select->name == "mood");
  CHECK(select->branch == "glad");
  CHECK(glad.spans[0].begin == 7);
  CHECK(glad.spans[0].end == 11);
  CHECK(glad.points.empty());  // what was not chosen does not happen
  CHECK(read(source, {{"mood", std::string("sad")}}).points.size() == 1);
  CHECK(read(source, {{"mood", std::string("cross")}}).text == "She is here.");
  // A value is never markup, nor a branch more than a name.
  CHECK(read("[select m: [a: [value m]][other: [value m]]]", {{"m", std::string("[b: x]")}}).text ==
        "[b: x]");
  CHECK(read("[select n: [3: three][other: more]]", {{"n", std::int64_t{3}}}).text == "three");
  // Choices inside choices, and blanks and rows between branches.
  const std::string nested =
      "[select who:\n  [pell: [plural n: [one: once][other: often]]]\n  [other: never]\n]";
  CHECK(read(nested, {{"who", std::string("pell")}, {"n", std::int64_t{1}}}).text == "often");
  CHECK(codes_of(read(nested, {{"who", std::string("x")}, {"n", std::int64_t{1}}})) == "");
}

TEST_CASE("mistakes in choices lose no text and are told with their place") {
  struct Row {
    const char* source;
    const char* text;
    const char* codes;
  };
  Language english = Language::open("en").value();
  const std::map<std::string, TextValue> values{{"n", std::int64_t{2}}, {"word", std::string("x")}};
  for (const Row& row : {
           Row{"[plural n: [one: a]]", "a", "missing-branch 0-11"},
           {"[plural n: [one: a][other: b][few: c]]", "b", "unknown-branch 29-35 (warning)"},
           {"[plural n: [other: b]]", "b", "missing-branch 0-11 (warning)"},
           {"[plural n: [oen: a][one: a][other: b]]", "b", "unknown-branch 11-17"},
           {"[plural n: [one: a][one: b][other: c]]", "c", "unknown-branch 19-25"},
           {"[plural n: [=two: a][one: a][other: b]]", "b", "unknown-branch 11-18"},
           {"[plural n: and [one: a][other: b]]", "and b", "bad-argument 11-15"},
           {"[plural n: [b][one: a][other: b]]", "[b]b", "bad-argument 11-14, not-a-point 12-13"},
           {"[plural word: [one: a][other: b]]", "b", "bad-argument 0-14"},
           {"[plural nobody: [one: a][other: b]]", "b", "unknown-value 0-16"},
           {"[plural n: ]", "", "missing-branch 0-11, missing-branch 0-11 (warning)"},
           {"[plural n]", "[plural n]", "not-a-point 1-7"},
           {"[plural: [other: b]]", "[plural: [other: b]]",
            "missing-argument 1-7, unknown-tag 10-15"},
           {"[plural n: [one: a][other: b]", "[plural n: [one: a][other: b]",
            "missing-bracket 0-11"},
           {"[select word: [x: [b: y][other: z]]", "[select word: [x: y[other: z]]",
            "missing-bracket 0-14, unknown-tag 25-30"},
       }) {
    INFO(row.source);
    const MarkedText marked = read(row.source, values, &english);
    CHECK(marked.text == row.text);
    CHECK(codes_of(marked) == row.codes);
  }
}
