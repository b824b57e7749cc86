// Markup: every tag, every mistake with its code and location, literal brackets, values, styles.

#include <catch2/catch.hpp>
#include <sstream>

#include "arvik/language.hpp"
#include "arvik/markup.hpp"
#include "arvik/steps.hpp"
#include "arvik/style.hpp"
#include "support/allocations.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

// Spans and points as `name@begin-end` and `name@at`, in the order of the source.
std::string edges_of(const MarkedText& marked) {
  static const char* const names[] = {"pause",  "hold",   "rate",   "whole", "by",       "flow",
                                      "mark",   "sound",  "typing", "mute",  "portrait", "look",
                                      "icon",   "value",  "br",     "page",  "keep",     "lang",
                                      "plural", "select", "ruby",   "at"};
  const auto name_of = [](const Instruction& what) -> std::string {
    const auto* look = std::get_if<tag::Look>(&what);
    if (look == nullptr) return names[what.index()];
    const StyleChange& change = look->change;
    if (!look->style.empty()) return "style";
    return change.bold        ? "b"
           : change.italic    ? "i"
           : change.underline ? "u"
           : change.strike    ? "s"
           : change.color     ? "color"
           : change.percent   ? "size"
                              : "enter";
  };
  std::ostringstream out;
  EdgeWalker walker(marked);
  while (walker.has_edge_until(marked.text.size())) {
    const Edge edge = walker.take();
    const char* sign = edge.kind == EdgeKind::begin ? "<" : edge.kind == EdgeKind::end ? ">" : "";
    if (out.tellp() > 0) out << ' ';
    out << (edge.kind == EdgeKind::end ? "" : sign) << name_of(*edge.what)
        << (edge.kind == EdgeKind::end ? sign : "") << '@' << edge.at;
  }
  return out.str();
}

// Diagnostics as `code begin-end row:column`.
std::string problems_of(const MarkedText& marked) {
  std::ostringstream out;
  for (const Diagnostic& d : marked.diagnostics) {
    if (out.tellp() > 0) out << ", ";
    out << diagnostic_name(d.code) << ' ' << d.range.begin << '-' << d.range.end << ' ' << d.row
        << ':' << d.column;
    if (!d.hint.empty()) out << " hint " << d.hint;
  }
  return out.str();
}

struct Example {
  const char* source;
  const char* text;
  const char* edges;
  const char* problems = "";
};

Vocabulary vocabulary() {
  return {.styles = {{"dread", {.italic = true, .percent = 120}}, {"shout", {.bold = true}}},
          .value = [](std::string_view name) -> std::optional<std::string> {
            if (name == "keeper") return "Odrun";
            if (name == "tricky") return "[b: not [[bold]]]";
            if (name == "empty") return "";
            if (name == "two_rows") return "a\nb";
            if (name == "broken")
              return "a\xFF"
                     "b";
            if (name == "huge") return std::string(max_text_bytes + 10, 'x');
            return std::nullopt;
          }};
}

}  // namespace

TEST_CASE("markup") {
  const Example rows[] = {
      // plain
      {"", "", ""},
      {"Mind the gap.", "Mind the gap.", ""},
      {"back\\slash \"quote\" <angle> {brace} & 'x'", "back\\slash \"quote\" <angle> {brace} & 'x'",
       ""},
      // points and spans
      {"a[pause 400ms]b", "ab", "pause@1"},
      {"[hold]", "", "hold@0"},
      {"[b: x]", "x", "<b@0 b>@1"},
      {"[b:x]", "x", "<b@0 b>@1"},
      {"[b:  x]", " x", "<b@0 b>@2"},
      {"[b:]", "", "<b@0 b>@0"},
      {"a[br]b", "a\nb", "br@1"},
      {"[rate  x0.5 :x]", "x", "<rate@0 rate>@1"},
      {"[b: one [i: two] three]", "one two three", "<b@0 <i@4 i>@7 b>@13"},
      {"[b: [i: x]]", "x", "<b@0 <i@0 i>@1 b>@1"},
      {"[b: x[pause 1s]]", "x", "<b@0 pause@1 b>@1"},
      {"[mark a][mark b: x][mark c]", "x", "mark@0 <mark@0 mark>@1 mark@1"},
      {"[b: x][i: y]", "xy", "<b@0 b>@1 <i@1 i>@2"},
      {"[u: x][s: y][mute: z]", "xyz", "<u@0 u>@1 <s@1 s>@2 <mute@2 mute>@3"},
      {"[by word: x][keep: y][lang ja: 水]", "xy水", "<by@0 by>@1 <keep@1 keep>@2 <lang@2 lang>@5"},
      {"[enter fade 200ms: x][size 120%: y][style dread: z]", "xyz",
       "<enter@0 enter>@1 <size@1 size>@2 <style@2 style>@3"},
      {"[typing reeds: x][sound splash][icon key][value keeper][page]", "x\uFFFCOdrun",
       "<typing@0 typing>@1 sound@1 icon@1 value@4 page@9"},
      // what the game supplies is text and nothing else
      {"[value tricky]!", "[b: not [[bold]]]!", "value@0"},
      {"[b: [value keeper]]", "Odrun", "<b@0 value@0 b>@5"},
      {"a[value empty]b", "ab", "value@1"},
      {"[value two_rows]", "a\nb", "value@0"},
      {"[value broken]", "a\uFFFDb", "value@0", "invalid-utf8 0-14 1:1"},
      {"[value keper]", "[value keper]", "", "unknown-value 7-12 1:8"},
      {"[style draed: z]", "[style draed: z]", "", "unknown-style 7-12 1:8 hint dread"},
      {"[color #11223344: x][color TEAL: y]", "xy", "<color@0 color>@1 <color@1 color>@2"},
      // literal brackets
      {"[[b: x]]", "[b: x]", ""},
      {"[[]]", "[]", ""},
      {"[b: [[x]]]", "[x]", "<b@0 b>@3"},
      {"[b: x]] y]", "x] y", "<b@0 b>@4"},
      {"[b: [i: [[E]]]]", "[E]", "<b@0 <i@0 i>@3 b>@3"},
      {"[b: [[ [i: x]]", "[ x", "<b@0 <i@2 i>@3 b>@3"},
      // mistakes
      {"[puase 400ms]x", "[puase 400ms]x", "", "unknown-tag 1-6 1:2 hint pause"},
      {"[sigh] oh", "[sigh] oh", "", "unknown-tag 1-5 1:2"},
      {"[bold: a [i: b] c]", "[bold: a b c]", "<i@9 i>@10", "unknown-tag 1-5 1:2 hint b"},
      {"[b x: y]", "[b x: y]", "", "extra-argument 3-4 1:4"},
      {"[pause]", "[pause]", "", "missing-argument 1-6 1:2"},
      {"[pause soon]", "[pause soon]", "", "bad-argument 7-11 1:8"},
      {"[pause 1s 2s]", "[pause 1s 2s]", "", "extra-argument 10-12 1:11"},
      {"[pause 1s: x]", "[pause 1s: x]", "", "not-a-span 1-6 1:2"},
      {"[b]", "[b]", "", "not-a-point 1-2 1:2"},
      {"[mark x y]", "[mark x y]", "", "bad-argument 8-9 1:9"},
      {"[mark a=b]", "[mark a=b]", "", "bad-argument 6-9 1:7"},
      {"[rate fast: x]", "[rate fast: x]", "", "bad-argument 6-10 1:7"},
      {"[rate 0cps: x]", "[rate 0cps: x]", "", "bad-argument 6-10 1:7"},
      {"[size 5%: x]", "[size 5%: x]", "", "bad-argument 6-8 1:7"},
      {"[color tael: x]", "[color tael: x]", "", "bad-argument 7-11 1:8 hint teal"},
      {"[enter fad: x]", "[enter fad: x]", "", "bad-argument 7-10 1:8 hint fade"},
      {"[by wrod: x]", "[by wrod: x]", "", "bad-argument 4-8 1:5 hint word"},
      {"[lang 日本: x]", "[lang 日本: x]", "", "bad-argument 6-12 1:7"},
      {"[b: x", "[b: x", "", "missing-bracket 0-4 1:1"},
      {"é\n[b: x", "é\n[b: x", "", "missing-bracket 3-7 2:1"},
      {"[b: [i: x]", "[b: x", "<i@4 i>@5", "missing-bracket 0-4 1:1"},
      {"[pause 1s", "[pause 1s", "", "missing-bracket 0-6 1:1"},
      {"[pause [b: x]", "[pause x", "<b@7 b>@8", "missing-bracket 0-6 1:1"},
      {"a] b", "a] b", "", "stray-bracket 1-2 1:2"},
      {"a [ b", "a [ b", "", "stray-bracket 2-3 1:3"},
      {"[10:30]", "[10:30]", "", "stray-bracket 0-1 1:1, stray-bracket 6-7 1:7"},
      {"a[", "a[", "", "stray-bracket 1-2 1:2"},
      {"[pause 1s]]", "]", "pause@0", "stray-bracket 10-11 1:11"},
      // repair
      {"a\xFFz", "a\uFFFDz", "", "invalid-utf8 1-2 1:2"},
      {"\xE2\x82|\xF0\x9F", "\uFFFD|\uFFFD", "", "invalid-utf8 0-2 1:1, invalid-utf8 3-5 1:3"},
      {"[b: \xC0]", "\uFFFD", "<b@0 b>@3", "invalid-utf8 4-5 1:5"},
  };
  for (const Example& row : rows) {
    INFO(row.source);
    const MarkedText marked = parse(row.source, vocabulary());
    CHECK(marked.text == row.text);
    CHECK(edges_of(marked) == row.edges);
    CHECK(problems_of(marked) == row.problems);
  }
}

TEST_CASE("arguments arrive read") {
  const MarkedText marked = parse(
      "[pause 1.5s][mark x key=a=b empty=][rate 20cps: r][color #11223344: c][color Teal: t]"
      "[size 120.5%: s][enter wipe 300ms: e][color transparent: n]");
  REQUIRE(marked.diagnostics.empty());
  CHECK(std::get<tag::Pause>(marked.points[0].what).time == 1500ms);
  const auto& mark = std::get<tag::Mark>(marked.points[1].what);
  CHECK(mark.name == "x");
  CHECK(mark.attributes == std::vector<Attribute>{{"key", "a=b"}, {"empty", ""}});
  CHECK(std::get<tag::Rate>(marked.spans[0].what).change == RateChange{20, false});
  CHECK(std::get<tag::Look>(marked.spans[1].what).change.color == Rgba{0x11, 0x22, 0x33, 0x44});
  CHECK(std::get<tag::Look>(marked.spans[2].what).change.color == Rgba{0, 0x80, 0x80, 0xFF});
  CHECK(std::get<tag::Look>(marked.spans[3].what).change.percent == 120.5);
  CHECK(std::get<tag::Look>(marked.spans[4].what).change.entrance == Entrance::wipe);
  CHECK(std::get<tag::Look>(marked.spans[4].what).change.entrance_time == 300ms);
  CHECK(std::get<tag::Look>(marked.spans[5].what).change.color->alpha == 0);
}

TEST_CASE("messages say what to do") {
  CHECK(parse("[b]").diagnostics[0].message ==
        "\"b\" needs a colon and content: write it like [b: text]");
  CHECK(parse("[enter jump: x]").diagnostics[0].message ==
        "\"jump\" is not an entrance: cut, fade, wipe or rise");
  CHECK(parse("[pause 400]").diagnostics[0].message ==
        "\"400\" is not a time: write it like 400ms or 1.5s");
  CHECK(parse("a]").diagnostics[0].message == "this bracket closes nothing: write ]] to show one");
}

TEST_CASE("nesting has a limit, and what is too deep is shown") {
  std::string source;
  for (std::size_t i = 0; i < max_nesting + 1; ++i) source += "[b: ";
  source += "x" + std::string(max_nesting + 1, ']');
  const MarkedText marked = parse(source);
  CHECK(marked.spans.size() == max_nesting);
  REQUIRE(marked.diagnostics.size() == 1);
  CHECK(marked.diagnostics[0].code == DiagnosticCode::too_deep);
  CHECK(marked.text == "[b: x]");
}

TEST_CASE("long and hostile sources are read in one go") {
  const MarkedText brackets = parse(std::string(1'000'000, '['));
  CHECK(brackets.text == std::string(500'000, '['));
  const MarkedText stray = parse(std::string(1'000'001, ']'));
  CHECK(stray.text.size() == 500'001);
  std::string heads;
  for (int i = 0; i < 300'000; ++i) heads += "[b ";
  CHECK(parse(heads).text == heads);
  CHECK(parse(heads).diagnostics.size() == max_diagnostics + 1);
  const std::string huge(max_text_bytes + 10, 'x');
  const MarkedText cut = parse(huge);
  CHECK(cut.text.size() == max_text_bytes);
  REQUIRE(cut.diagnostics.size() == 1);
  CHECK(cut.diagnostics[0].code == DiagnosticCode::text_too_long);
}

TEST_CASE("parsing into a used object leaves nothing of the last text") {
  MarkedText marked = parse("[b: old] [hold] [wrong]");
  parse("new", marked);
  CHECK(marked.text == "new");
  CHECK(marked.spans.empty());
  CHECK(marked.points.empty());
  CHECK(marked.diagnostics.empty());
}

TEST_CASE("styles and values that nobody gives are told, and shown as they stand") {
  const MarkedText marked = parse("[style dread: x] [value keeper]");
  CHECK(marked.text == "[style dread: x] [value keeper]");
  REQUIRE(marked.diagnostics.size() == 2);
  CHECK(marked.diagnostics[0].message == "no named styles are given here");
  CHECK(marked.diagnostics[1].message == "no values are given here, so \"keeper\" has no text");
  const MarkedText unknown = parse("[style draed: x] [value keper]", vocabulary());
  CHECK(unknown.diagnostics[0].message == "no style is named \"draed\"");
  CHECK(unknown.diagnostics[1].message == "no value is named \"keper\"");
}

TEST_CASE("a value cannot make a text longer than the limit") {
  const MarkedText marked = parse("ab[value huge]cd", vocabulary());
  CHECK(marked.text.size() < max_text_bytes);
  CHECK(marked.text.size() > max_text_bytes - 32);
  CHECK(marked.text.ends_with("cd"));  // what the writer wrote stays
  CHECK(marked.diagnostics[0].message == "this value makes the text longer than 16 MiB");
}

TEST_CASE("values are cut before they are kept, however often one is used") {
  std::string markup;
  for (int i = 0; i < 400; ++i) markup += "[value big]";
  Vocabulary words;
  words.value = [](std::string_view) { return std::string(1'000'000, 'x'); };
  const std::size_t before = test::allocated_bytes();
  const MarkedText marked = parse(markup, words);
  // Each time the game's own text comes and goes; what is kept of all of them is one text.
  CHECK(test::allocated_bytes() - before < 400 * 1'100'000 + 12 * max_text_bytes);
  std::size_t kept = 0;
  for (const Point& point : marked.points) kept += std::get<tag::Value>(point.what).text.capacity();
  CHECK(kept < 2 * max_text_bytes);
  CHECK(marked.text.size() <= max_text_bytes);
}

TEST_CASE("names in tags are repaired where they come in") {
  const MarkedText marked = parse("a[mark b\xFF key=\xC3]c[sound \xE3\x81]d[unknown\xFF x]", {});
  CHECK(std::get<tag::Mark>(marked.points[0].what).name == "b\uFFFD");
  CHECK(std::get<tag::Mark>(marked.points[0].what).attributes[0].value == "\uFFFD");
  CHECK(std::get<tag::Sound>(marked.points[1].what).name == "\uFFFD");
  REQUIRE(marked.diagnostics.size() >= 4);
  CHECK(marked.diagnostics[0].code == DiagnosticCode::invalid_utf8);
  CHECK(marked.diagnostics[0].range == TextRange{1, 16});
  CHECK(marked.text == "acd[unknown\uFFFD x]");
}

TEST_CASE("escaped text is shown as it stands") {
  for (const char* text : {"", "plain", "[b: x]", "[[", "]]]", "a [value x] [ b ]"}) {
    const MarkedText marked = parse(escape(text));
    CHECK(marked.text == text);
    CHECK(marked.diagnostics.empty());
    CHECK(marked.spans.empty());
  }
}

TEST_CASE("named styles change what they name and leave the rest") {
  Vocabulary words = vocabulary();
  words.styles.insert({"plain",
                       {.bold = false,
                        .color = Rgba{1, 2, 3, 4},
                        .entrance = Entrance::rise,
                        .entrance_time = std::chrono::milliseconds(90)}});
  const MarkedText marked = parse("[b: a[style dread: b[style plain: c]]]", words);
  const Steps steps = Language::open("en").value().segment(marked.text);
  std::vector<StyleRun> runs;
  find_styles(marked, steps, runs);
  REQUIRE(runs.size() == 3);
  CHECK(runs[0].style == TextStyle{.bold = true});
  CHECK(runs[1].style == TextStyle{.bold = true, .italic = true, .size = 1.2F});
  CHECK(runs[2].style == TextStyle{.italic = true,
                                   .has_color = true,
                                   .color = {1, 2, 3, 4},
                                   .size = 1.2F,
                                   .has_entrance = true,
                                   .entrance = Entrance::rise,
                                   .entrance_time = std::chrono::milliseconds(90)});
}
