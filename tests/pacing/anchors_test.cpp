// Anchors and `[at T]`: exact on random lines, everything in order, contradictions told.
#include <algorithm>
#include <catch2/catch.hpp>

#include "arvik/arvik.hpp"
#include "support/english.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::english;

namespace {

Schedule anchored(const std::string& markup, const std::vector<Anchor>& anchors,
                  const Pace& pace = {.rate = 10}) {
  const MarkedText marked = parse(markup);
  REQUIRE(marked.diagnostics.empty());
  const Steps steps = english().segment(marked.text);
  Schedule out;
  REQUIRE(schedule(marked, steps, english(), pace, out, {}, nullptr, anchors));
  return out;
}

std::string onsets_of(const Schedule& schedule) {
  std::string text;
  for (const Nanoseconds onset : schedule.onsets) {
    text += std::to_string(std::chrono::round<std::chrono::milliseconds>(onset).count()) + " ";
  }
  return text + "| " + std::to_string(schedule.duration / 1ms);
}

const Event& event_named(const Schedule& schedule, const std::string& name) {
  const auto found = std::find_if(schedule.events.begin(), schedule.events.end(),
                                  [&](const Event& event) { return event.name == name; });
  REQUIRE(found != schedule.events.end());
  return *found;
}

std::string random_take(test::Random& random) {
  static const char* pieces[] = {"the tide ",
                                 "clock",
                                 ". ",
                                 "wait, ",
                                 "— ",
                                 "[hold]",
                                 "[pause 300ms]",
                                 "[mark x]",
                                 "[rate x0.5: slow one] ",
                                 "[whole: all at once] ",
                                 "[by word: one two three] ",
                                 "水門。",
                                 "[page]",
                                 "[mark y: spanned] ",
                                 "\n",
                                 "[flow: a, b. ]"};
  std::string line = "x";
  const std::size_t count = 1 + test::below(random, 14);
  for (std::size_t i = 0; i < count; ++i) line += pieces[test::below(random, std::size(pieces))];
  return line;
}

}  // namespace

TEST_CASE("a line is stretched between its anchors") {
  struct Row {
    const char* name;
    const char* markup;
    std::vector<Anchor> anchors;
    const char* expected;
  };
  const std::vector<Row> rows{
      {"no anchor", "abcde", {}, "0 100 200 300 400 | 400"},
      {"the first step waits", "abc", {{0, 500ms}}, "500 600 700 | 700"},
      {"between two: in proportion", "abcde", {{0, 0ms}, {4, 1s}}, "0 250 500 750 1000 | 1000"},
      {"behind the last: its own time", "abcde", {{2, 1s}}, "0 500 1000 1100 1200 | 1200"},
      {"pauses are stretched, too", "a[pause 300ms]bc", {{1, 800ms}}, "0 800 900 | 900"},
      {"a rate counts within its piece", "a[rate x0.5: b]cd", {{3, 800ms}}, "0 200 600 800 | 800"},
      {"two at one time", "abcd", {{1, 300ms}, {2, 300ms}}, "0 300 300 400 | 400"},
      {"in any order", "abcde", {{4, 1s}, {0, 0ms}}, "0 250 500 750 1000 | 1000"},
      {"where something that comes at once begins",
       "a[whole: bcd]e",
       {{1, 500ms}, {4, 900ms}},
       "0 500 500 500 900 | 900"},
      {"where a word begins that comes at once",
       "[by word: one two]",
       {{4, 900ms}},
       "0 0 0 0 900 900 900 | 900"},
      {"[at] is one", "ab[at 1s]cd", {}, "0 500 1000 1100 | 1100"},
      {"[at] stands above anchors",
       "ab[at 1s]cd",
       {{2, 3s, 0.5F}, {3, 2s}},
       "0 500 1000 2000 | 2000"},
      {"[at] behind the text: the finish", "abc[at 1s]", {}, "0 500 1000 | 1000"},
  };
  for (const Row& row : rows) {
    INFO(row.name);
    const Schedule schedule = anchored(row.markup, row.anchors);
    CHECK(onsets_of(schedule) == row.expected);
    CHECK(schedule.diagnostics.empty());
  }
}

TEST_CASE("what stands behind [at] comes with it, what stands before comes before") {
  const Schedule schedule = anchored("ab.[mark early] [at 2s][sound thud]Cd", {});
  CHECK(schedule.onsets[4] == 2s);
  CHECK(event_named(schedule, "thud").time == 2s);
  CHECK(event_named(schedule, "early").time < 2s);
}

TEST_CASE("anchors and the length of a line") {
  Pace pace{.rate = 10};
  pace.fit = 2s;
  CHECK(onsets_of(anchored("abcde", {{2, 1s}}, pace)) == "0 500 1000 1500 2000 | 2000");
  const Schedule late = anchored("abcde", {{2, 3s}}, pace);
  CHECK(late.duration == 2s);
  REQUIRE(late.diagnostics.size() == 1);
  CHECK(late.diagnostics[0].code == DiagnosticCode::bad_anchor);
  pace.fit.reset();
  pace.least = 4s;
  CHECK(onsets_of(anchored("abcde", {{2, 1s}}, pace)) == "0 500 1000 2500 4000 | 4000");
}

TEST_CASE("contradictions are told, with the place") {
  struct Row {
    const char* name;
    const char* markup;
    std::vector<Anchor> anchors;
    const char* message;
  };
  const std::vector<Row> rows{
      {"[at] before [at]",
       "a[at 2s]b[at 1s]c",
       {},
       "[at] 1.000 s is left out: what stands before it comes later, at 2.000 s"},
      {"falling",
       "abc",
       {{1, 2s}, {2, 1500ms}},
       "the anchor of step 2 at 1.500 s (\"c\") is left out: what stands before it comes later, at "
       "2.000 s"},
      {"twice",
       "abc",
       {{1, 1s}, {1, 2s}},
       "the anchor of step 1 at 2.000 s (\"b\") is left out: this step has a time already, 1.000 "
       "s"},
      {"no such step",
       "abc",
       {{7, 1s}},
       "the anchor of step 7 at 1.000 s is left out: the text has only 3 steps"},
      {"before the begin",
       "abc",
       {{1, -1ns}},
       "the anchor of step 1 at 0.000 s (\"b\") is left out: it must be 0 to one hour"},
      {"against [at]",
       "ab[at 1s]cd",
       {{1, 2s}},
       "the anchor of step 1 at 2.000 s (\"b\") is left out: what follows comes earlier, at 1.000 "
       "s"},
      {"inside what comes at once",
       "a[whole: bcd]",
       {{2, 2s}},
       "the anchor of step 2 at 2.000 s (\"c\") is left out: it appears together with the step "
       "before it"},
  };
  for (const Row& row : rows) {
    INFO(row.name);
    const Schedule schedule = anchored(row.markup, row.anchors);
    REQUIRE(schedule.diagnostics.size() == 1);
    CHECK(schedule.diagnostics[0].code == DiagnosticCode::bad_anchor);
    CHECK(schedule.diagnostics[0].message == row.message);
    // What was found and not given says nothing.
    std::vector<Anchor> found = row.anchors;
    for (Anchor& anchor : found) anchor.confidence = 0.9F;
    if (!found.empty()) CHECK(anchored(row.markup, found).diagnostics.empty());
  }
  const Schedule placed = anchored("a[at 2s]b\nc[at 1s]d", {});
  REQUIRE(placed.diagnostics.size() == 1);
  CHECK(placed.diagnostics[0].range == TextRange{11, 18});
}

TEST_CASE("random anchors on random lines are exact, and everything is in order") {
  test::Random random(18);
  for (int i = 0; i < 1500; ++i) {
    const std::string markup = random_take(random);
    const MarkedText marked = parse(markup);
    const Steps steps = english().segment(marked.text);
    Pace pace{.rate = 5 + static_cast<double>(test::below(random, 60))};
    pace.jitter = static_cast<double>(test::below(random, 3)) / 2;
    pace.unit = test::below(random, 4) == 0 ? RevealUnit::word : RevealUnit::step;
    pace.fit_pauses = test::below(random, 2) == 0 ? FitPauses::keep : FitPauses::scale;
    std::vector<Anchor> anchors;
    Nanoseconds time{};
    for (std::uint32_t step = 0; step < steps.size(); ++step) {
      if (test::below(random, 4) != 0) continue;
      time += Nanoseconds(test::below(random, 700'000'000));
      anchors.push_back({step, time});
    }
    RowStarts starts;
    for (const Point& point : marked.points) {
      if (!std::holds_alternative<tag::PageEnd>(point.what)) continue;
      const std::uint32_t page = steps.step_from(point.at);
      if (page > 0 && page < steps.size() && (starts.pages.empty() || starts.pages.back() < page)) {
        starts.pages.push_back(page);
      }
    }
    Schedule out;
    REQUIRE(schedule(marked, steps, english(), pace, out, starts, nullptr, anchors));
    CAPTURE(markup, i);
    const Schedule natural = [&] {
      Schedule plain;
      REQUIRE(schedule(marked, steps, english(), pace, plain, starts));
      return plain;
    }();
    std::size_t kept = 0;
    for (const Anchor& anchor : anchors) {
      if (out.onsets[anchor.step] == anchor.time) ++kept;
    }
    CHECK(kept + out.diagnostics.size() >= anchors.size());
    for (const Diagnostic& problem : out.diagnostics) {
      CHECK(problem.message.find("together with the step before") != std::string::npos);
    }
    CHECK(std::is_sorted(out.onsets.begin(), out.onsets.end()));
    REQUIRE(out.events.size() == natural.events.size());
    for (std::size_t e = 0; e < out.events.size(); ++e) {
      const Event& event = out.events[e];
      CHECK(event.kind == natural.events[e].kind);
      CHECK(event.step == natural.events[e].step);
      if (e > 0) CHECK(event.time >= out.events[e - 1].time);
      if (event.step > 0) CHECK(event.time >= out.onsets[event.step - 1]);
      if (event.step < out.onsets.size()) CHECK(event.time <= out.onsets[event.step]);
    }
  }
}

TEST_CASE("the anchors of a timing, and of another text") {
  const std::string text = "  The tide. ";
  const Steps steps = english().segment(text);
  VoiceTiming timing{.text = text_fingerprint(text),
                     .length = 3s,
                     .begin = 200ms,
                     .end = 2s,
                     .anchors = {{2, 200ms, 0.9F}, {6, 900ms, 0.8F}}};
  std::vector<Anchor> anchors;
  anchors_of(timing, VoiceSync::align, text, steps, anchors);
  CHECK(anchors == timing.anchors);
  anchors_of(timing, VoiceSync::free, text, steps, anchors);
  CHECK(anchors.empty());
  timing.text = text_fingerprint("The clock.");
  anchors_of(timing, VoiceSync::align, text, steps, anchors);
  REQUIRE(anchors.size() == 2);
  CHECK(anchors[0].step == 2);
  CHECK(anchors[0].time == 200ms);
  CHECK(anchors[1].step == 10);
  CHECK(anchors[1].time == 2s);
  anchors_of(timing, VoiceSync::align, "   ", english().segment("   "), anchors);
  CHECK(anchors.empty());
}
