// Places of single lines: taken from one schedule, found again in another.
#include <catch2/catch.hpp>

#include "arvik/place.hpp"
#include "arvik/typesetter.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

PreparedLine prepared(const std::string& markup, float width = 100, std::uint32_t rows = 0) {
  static Typesetter setter(Language::open("en").value());
  static const GridFont font;
  const Pace pace{.rate = 10, .sentence = {}, .clause = {}};
  return setter.prepare(markup, pace, font, Box{.width = width, .max_rows = rows}).value();
}

std::string events_of(const Schedule& schedule, std::size_t first) {
  std::string text;
  for (std::size_t i = first; i < schedule.events.size(); ++i) {
    const Event& event = schedule.events[i];
    text += (text.empty() ? "" : ", ") + std::string(event_kind_name(event.kind)) +
            (event.name.empty() ? "" : " " + event.name);
  }
  return text;
}

}  // namespace

TEST_CASE("a place is found again in another text by its events and its share") {
  struct Row {
    const char* from;
    Nanoseconds time;
    const char* to;
    std::uint32_t shown;
    const char* overdue;
    const char* left;
  };
  const Row rows[] = {
      // the same share of the whole, of what stands behind an event, of what stands before one
      {"0123456789", 450ms, "01234567890123456789", 10, "", "finish"},
      {"01234[mark a]56789", 650ms, "a[mark a]bcdefghij", 5, "", "finish"},
      {"01234[mark a]56789", 250ms, "0123456789[mark a]x", 6, "", "mark a, finish"},
      // events in another order: what has passed has passed, what has not comes at once
      {"012[mark a]345[mark b]6789", 450ms, "a[mark b]b[mark a]cdefghij", 7, "mark b", "finish"},
      {"012[mark a]345[mark b]6789", 450ms, "a[mark a]b[mark b]cdefghij", 1, "", "mark b, finish"},
      // an event that was lost, and one that is new
      {"012[mark a]3456789", 450ms, "abcdefghij", 5, "", "finish"},
      {"0123456789", 450ms, "ab[mark n]cdefghij", 1, "", "mark n, finish"},
      // in the same text the same steps
      {"0123456789", 450ms, "01[mark n]23456789", 5, "mark n", "finish"},
      // the same name twice
      {"0[mark a]1[mark a]2345", 150ms, "0[mark a]1[mark a]2345", 2, "", "mark a, finish"},
      {"", 0ms, "0123", 4, "", "finish"},
      {"0123", 900ms, "", 0, "", "finish"},
      // complete stays complete
      {"0123", 900ms, "01234567[mark n]89", 10, "mark n", "finish"},
  };
  for (const Row& row : rows) {
    INFO(row.from << " -> " << row.to << " at " << row.time.count());
    const PreparedLine from = prepared(row.from);
    Reveal reveal = from.reveal();
    reveal.tick(row.time);
    const LinePlace place = place_of(reveal, from.marked.text, from.schedule);
    PreparedLine to = prepared(row.to);
    const Relocation found = relocate(place, to.marked.text, to.schedule);
    CHECK(found.place.shown == row.shown);
    std::string overdue;
    for (const Event& event : found.overdue) {
      overdue += std::string(event_kind_name(event.kind)) + " " + event.name;
    }
    CHECK(overdue == row.overdue);
    CHECK(events_of(to.schedule, 0) == row.left);
    Reveal again = to.reveal();
    CHECK(again.go_to(found.place));
    if (reveal.state() == RevealState::finished) CHECK(again.state() == RevealState::finished);
  }
}

TEST_CASE("in the same text a place is exact, whatever the rows and pages") {
  const char* markup = "One two [mark a]three four. [hold]Five [sound s]six seven eight nine ten.";
  for (int at = 0; at < 8000; at += 37) {
    const PreparedLine from = prepared(markup, 12, 2);
    Reveal reveal = from.reveal();
    for (int t = 0; t < at; t += 100) {
      reveal.release_hold();
      reveal.tick(std::chrono::milliseconds(100));
    }
    const LinePlace place = place_of(reveal, from.marked.text, from.schedule);
    PreparedLine same = prepared(markup, 12, 2);
    const Relocation exact = relocate(place, same.marked.text, same.schedule);
    CHECK(exact.place.position == reveal.position());
    CHECK(exact.place.state == reveal.state());
    CHECK(exact.overdue.empty());
    for (const float width : {5.0F, 30.0F, 80.0F}) {
      PreparedLine other = prepared(markup, width, 1);
      const Relocation found = relocate(place, other.marked.text, other.schedule);
      CHECK(found.place.shown == reveal.shown_steps());
      CHECK(found.overdue.empty());
      Reveal again = other.reveal();
      REQUIRE(again.go_to(found.place));
      // Taken again, it is the same place.
      const LinePlace second = place_of(again, other.marked.text, other.schedule, found.before);
      CHECK(second.passed.size() == place.passed.size());
      CHECK(second.shown == place.shown);
    }
  }
}

TEST_CASE("a reveal goes only where one can stand") {
  const PreparedLine line = prepared("ab[hold]cd[mark m]ef");
  Reveal reveal = line.reveal();
  reveal.tick(150ms);
  const RevealPlace good = reveal.place();
  const auto refused = [&](auto change) {
    RevealPlace bad = good;
    change(bad);
    Reveal other = line.reveal();
    return !other.go_to(bad) && other.place() == line.reveal().place();
  };
  CHECK_FALSE(refused([](RevealPlace&) {}));
  CHECK(refused([](RevealPlace& p) { p.shown = 1; }));       // what is due has come
  CHECK(refused([](RevealPlace& p) { p.shown = 5; }));       // what is not due has not
  CHECK(refused([](RevealPlace& p) { p.next_event = 2; }));  // an event that is still to come
  CHECK(refused([](RevealPlace& p) { p.position = 900ms; }));
  CHECK(refused([](RevealPlace& p) { p.remainder = 1000; }));
  CHECK(refused([](RevealPlace& p) {
    p.state = RevealState::revealing;
    p.next_event = 9;
  }));
  CHECK(refused([](RevealPlace& p) { p.state = RevealState::finished; }));
}
