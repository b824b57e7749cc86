// When each step and each event comes: intervals, written pauses, holds, pages, spans.

#include <catch2/catch.hpp>
#include <limits>
#include <sstream>

#include "arvik/layout.hpp"
#include "arvik/schedule.hpp"
#include "support/english.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::english;
using test::timed;

namespace {

std::int64_t ms(Nanoseconds time) {
  return std::chrono::duration_cast<std::chrono::milliseconds>(time).count();
}

// Onsets in milliseconds, then `| kind name@step:time` for each event.
std::string describe(const Schedule& schedule) {
  std::ostringstream out;
  for (const Nanoseconds onset : schedule.onsets) out << ms(onset) << ' ';
  for (const Event& event : schedule.events) {
    out << "| " << event_kind_name(event.kind) << (event.name.empty() ? "" : " ") << event.name
        << '@' << event.step << ':' << ms(event.time) << ' ';
  }
  std::string result = out.str();
  result.pop_back();
  return result;
}

}  // namespace

TEST_CASE("onsets and events") {
  struct Row {
    const char* markup;
    const char* expected;
  };
  const Row rows[] = {
      {"", "| finish@0:0"},
      {"abc", "0 100 200 | finish@3:200"},
      // written pauses
      {"a[pause 1s]b", "0 1100 | finish@2:1100"},
      {"[pause 1s]ab", "1000 1100 | finish@2:1100"},
      {"ab[pause 1s]", "0 100 | finish@2:1100"},
      {"[pause 1s]", "| finish@0:1000"},
      {"a.[pause 1s] b", "0 100 1440 1540 | finish@4:1540"},
      // events at the cursor
      {"a[mark x][pause 1s]b", "0 1100 | mark x@1:100 | finish@2:1100"},
      {"a[pause 1s][mark x]b", "0 1100 | mark x@1:1100 | finish@2:1100"},
      {"a[mark x]b", "0 100 | mark x@1:100 | finish@2:100"},
      {"[mark x]a", "0 | mark x@0:0 | finish@1:0"},
      {"a[mark x]", "0 | mark x@1:0 | finish@1:0"},
      {"[mark w: ab]c", "0 100 200 | mark_begin w@0:0 | mark_end w@2:200 | finish@3:200"},
      {"[mark o: a[mark i: b]]",
       "0 100 | mark_begin o@0:0 | mark_begin i@1:100 | mark_end i@2:100 "
       "| mark_end o@2:100 | finish@2:100"},
      // close behind a full stop: with the stop; before the next word: with the word
      {"a.[mark x] b", "0 100 440 540 | mark x@2:200 | finish@4:540"},
      {"a. [mark x]b", "0 100 440 540 | mark x@3:540 | finish@4:540"},
      {"a.[pause 1s][mark x] b", "0 100 1440 1540 | mark x@2:1440 | finish@4:1540"},
      // holds
      {"ab[hold]c", "0 100 200 | hold@2:200 | finish@3:200"},
      {"a.[hold] b", "0 100 200 300 | hold@2:200 | finish@4:300"},
      {"[hold]a", "0 | hold@0:0 | finish@1:0"},
      {"a[hold]", "0 | hold@1:0 | finish@1:0"},
      {"a[hold][hold]b", "0 100 | hold@1:100 | hold@1:100 | finish@2:100"},
      // rate
      {"[rate x0.5: ab]c", "0 200 400 | finish@3:400"},
      {"[rate 5cps: ab]c", "0 200 400 | finish@3:400"},
      {"[rate x0.5: a[rate x0.5: b]c]d", "0 200 600 800 | finish@4:800"},
      {"[rate x0.5: a[rate 20cps: b]c]d", "0 200 250 450 | finish@4:450"},
      {"[rate x2: a. ]b", "0 50 340 390 | finish@4:390"},  // a rate is no matter of pauses
      // whole
      {"a[whole: bcd]e", "0 100 100 100 200 | finish@5:200"},
      {"[whole: a. b.] c", "0 0 0 0 0 340 440 | finish@7:440"},
      {"[whole: a[whole: b]c]d", "0 0 0 100 | finish@4:100"},
      {"[whole: a[pause 1s]b]c", "0 1000 1100 | finish@3:1100"},
      {"[whole: a[hold]b]c", "0 0 100 | hold@1:0 | finish@3:100"},
      // flow
      {"[flow: a, b. ]c", "0 100 200 300 400 500 600 | finish@7:600"},
      {"[flow: a]. b", "0 100 440 540 | finish@4:540"},
      // what is not seen takes no time
      {"a[br]b", "0 100 300 | finish@3:300"},
      {"a\u00adb", "0 100 100 | finish@3:100"},
      {"ab  ", "0 100 200 300 | finish@4:300"},
      // tags without effect on time
      {"[b: a][i: b][color red: c][icon x]", "0 100 200 300 | finish@4:300"},
      // sounds, and what the game does about typing sounds
      {"a[sound splash]b", "0 100 | sound splash@1:100 | finish@2:100"},
      {"[typing reed: a[mute: b]]c",
       "0 100 200 | typing_begin reed@0:0 | mute_begin@1:100 | mute_end@2:200 "
       "| typing_end reed@2:200 | finish@3:200"},
      // words and rows at once, at the rate of their letters
      {"[by word: ab cd] e", "0 0 0 300 300 500 600 | finish@7:600"},
      {"[by word: ab, cd]", "0 0 0 420 520 520 | finish@6:520"},
      {"x[by word: ab]", "0 100 100 | finish@3:100"},
      {"[by word: a[mark m]b c]", "0 0 0 300 | mark m@1:0 | finish@4:300"},
      {"[by word: a[b: b]c d]", "0 0 0 0 400 | finish@5:400"},
      {"[by word: ab[pause 1s]cd e]", "0 0 1200 1200 1200 1500 | finish@6:1500"},
      {"[by word: ab[hold]cd e]", "0 0 200 200 200 500 | hold@2:200 | finish@6:500"},
      {"[by word: ab[rate x0.5: cd] e]", "0 0 0 0 0 700 | finish@6:700"},
      {"[by word: wait—no, [whole: a b] c]",
       "0 0 0 0 0 660 660 660 1080 1180 1180 1180 1180 1380 | finish@14:1380"},
      {"[by row: a, b[br]c d] e", "0 0 0 0 0 720 720 720 1020 1120 | finish@10:1120"},
  };
  for (const Row& row : rows) {
    INFO(row.markup);
    CHECK(describe(timed(row.markup)) == row.expected);
  }
}

TEST_CASE("every value of a pace has its effect") {
  struct Row {
    const char* text;
    Nanoseconds Pace::*value;
  };
  const Row rows[] = {{"a. b", &Pace::sentence}, {"a, b", &Pace::clause},
                      {"a — b", &Pace::dash},    {"a… b", &Pace::ellipsis},
                      {"a\nb", &Pace::row_end},  {"a\n\nb", &Pace::paragraph},
                      {"a b", &Pace::space}};
  for (const Row& row : rows) {
    INFO(row.text);
    Pace longer{.rate = 10};
    longer.*row.value += 1s;
    CHECK(timed(row.text, longer).duration == timed(row.text).duration + 1s);
  }
  CHECK(timed("abc", {.rate = 20}).duration == 100ms);
}

TEST_CASE("defaults") {
  const Pace pace;
  CHECK(pace.rate == 30);
  CHECK(pace.sentence == 240ms);
  CHECK(pace.clause == 120ms);
  CHECK(pace.dash == 160ms);
  CHECK(pace.ellipsis == 360ms);
  CHECK(pace.row_end == 200ms);
  CHECK(pace.paragraph == 400ms);
  CHECK(pace.space == 0ms);
}

TEST_CASE("a long line is as fast as a short one, and does not drift") {
  const Schedule schedule = timed(std::string(90'001, 'a'), {.rate = 30});
  CHECK(schedule.duration == 90'000 * interval_of(30));
}

TEST_CASE("marks keep their attributes") {
  const Schedule schedule = timed("[mark door side=left speed=2: x]");
  CHECK(schedule.events[0].attributes == std::vector<Attribute>{{"side", "left"}, {"speed", "2"}});
  CHECK(schedule.events[1].attributes.size() == 2);
}

TEST_CASE("paces out of range are refused by name, and change nothing") {
  const MarkedText marked = parse("a. b");
  const Steps steps = english().segment(marked.text);
  Schedule out = timed("xyz");
  const auto refused = [&](const Pace& pace) {
    const auto result = schedule(marked, steps, english(), pace, out);
    REQUIRE_FALSE(result.has_value());
    CHECK(result.error().code == DiagnosticCode::bad_pace);
    return result.error().message;
  };
  CHECK(refused({.rate = 0}) == "rate is out of range: it must be 0.01 to 100000 steps per second");
  refused({.rate = -1});
  refused({.rate = std::numeric_limits<double>::quiet_NaN()});
  refused({.rate = std::numeric_limits<double>::infinity()});
  CHECK(refused({.clause = -1ms}) == "clause is out of range: a pause is 0 to one hour");
  refused({.space = 2h});
  CHECK(out.onsets.size() == 3);
}

TEST_CASE("absurd sums of pauses stop at a limit") {
  std::string markup;
  for (int i = 0; i < 3000; ++i) markup += "[pause 3600s]x";
  const Schedule schedule = timed(markup, {.rate = 0.01});
  CHECK(schedule.duration < max_duration);
  CHECK(std::is_sorted(schedule.onsets.begin(), schedule.onsets.end()));
}

TEST_CASE("what is written behind a page belongs to the new page") {
  struct Case {
    const char* name;
    const char* markup;
    float width;
    std::uint32_t rows;
    const char* events;
  };
  // A character is 100 ms, nothing else rests.
  const Case cases[] = {
      {"a mark and a pause", "One.[page][mark x][pause 2s]Two.", 20, 9,
       "hold@4:400 page@4:400 mark x@4:400 finish@8:2700"},
      {"a sound", "One.[page][sound thud]Two.", 20, 9,
       "hold@4:400 page@4:400 sound thud@4:400 finish@8:700"},
      {"before it", "One.[sound thud][pause 2s][page]Two.", 20, 9,
       "sound thud@4:400 hold@4:2400 page@4:2400 finish@8:2700"},
      {"a span that ends and one that begins", "[mark a: One.][page][mark b: Two.]", 20, 9,
       "mark_begin a@0:0 mark_end a@4:400 hold@4:400 page@4:400 mark_begin b@4:400 mark_end "
       "b@8:700 "
       "finish@8:700"},
      {"a hold of the writer's", "One.[hold][page][sound thud]Two.", 20, 9,
       "hold@4:400 page@4:400 sound thud@4:400 finish@8:700"},
      {"a hold behind it", "One.[page][hold]Two.", 20, 9, "hold@4:400 page@4:400 finish@8:700"},
      {"a page that is full", "One two [sound thud]six", 7, 1,
       "hold@8:800 page@8:800 sound thud@8:800 finish@11:1000"},
      {"a hold, blanks and a sound at its end", "One two.[hold] [sound thud]Six", 8, 1,
       "hold@8:800 page@9:900 sound thud@9:900 finish@12:1100"},
      {"a hold behind the blanks", "One two. [hold][sound thud]Six", 8, 1,
       "hold@9:900 page@9:900 sound thud@9:900 finish@12:1100"},
      {"a hold at a row end", "One two.[hold]\nSix", 20, 1, "hold@8:800 page@9:800 finish@12:1000"},
      {"a hold inside the page before", "One.[hold] two six", 8, 1,
       "hold@4:400 hold@9:900 page@9:900 finish@12:1100"},
  };
  Pace bare{.rate = 10};
  for (auto pause : {&Pace::sentence, &Pace::clause, &Pace::row_end, &Pace::paragraph}) {
    bare.*pause = {};
  }
  for (const Case& c : cases) {
    INFO(c.name << ": " << c.markup);
    const MarkedText marked = parse(c.markup);
    const Steps steps = english().segment(marked.text);
    const Layout layout =
        lay_out(marked, steps, english(), GridFont(), {.width = c.width, .max_rows = c.rows})
            .value();
    const Schedule timed = schedule(marked, steps, english(), bare, row_starts(layout)).value();
    std::string events;
    for (const Event& event : timed.events) {
      events += (events.empty() ? "" : " ") + std::string(event_kind_name(event.kind)) +
                (event.name.empty() ? "" : " ") + event.name + "@" + std::to_string(event.step) +
                ":" + std::to_string(ms(event.time));
    }
    CHECK(events == c.events);
  }
}
