// The clock of one line, against a naive reveal: ticks, skips, holds, pauses, speeds, saved places.

#include <catch2/catch.hpp>

#include "arvik/reveal.hpp"
#include "arvik/typesetter.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

PreparedLine prepare(const std::string& markup, double rate = 10) {
  static Typesetter typesetter(Language::open("en").value());
  return typesetter.prepare(markup, {.rate = rate}, GridFont(), Box{}).value();
}

std::string names(const Progress& progress) {
  std::string result;
  for (const Event& event : progress.events) {
    if (!result.empty()) result += ' ';
    result += event.name.empty() ? std::string(event_kind_name(event.kind)) : event.name;
  }
  return result;
}

}  // namespace

TEST_CASE("nothing shows before the first tick, and a tick of 0 brings what is due at 0") {
  const PreparedLine line = prepare("[mark start]abc");
  Reveal reveal = line.reveal();
  CHECK(reveal.shown_steps() == 0);
  CHECK(reveal.state() == RevealState::revealing);
  const Progress first = reveal.tick(0ns);
  CHECK(names(first) == "start");
  CHECK(reveal.shown_steps() == 1);
  CHECK(reveal.tick(0ns).events.empty());
  CHECK(reveal.shown_steps() == 1);
}

TEST_CASE("a step shows at its onset, not a nanosecond before") {
  const PreparedLine line = prepare("abc");
  Reveal reveal = line.reveal();
  reveal.tick(100ms - 1ns);
  CHECK(reveal.shown_steps() == 1);
  const Progress progress = reveal.tick(1ns);
  CHECK(progress.first_step == 1);
  CHECK(progress.end_step == 2);
  CHECK(reveal.position() == 100ms);
}

TEST_CASE("shown counts in every unit") {
  const PreparedLine line = prepare("é👍🏽z");
  Reveal reveal = line.reveal();
  reveal.tick(100ms);
  CHECK(reveal.shown() == Extent{10, 3, 5});
  reveal.tick(1s);
  CHECK(reveal.shown() == Extent{11, 4, 6});
}

TEST_CASE("a hold stops time until it is let go of") {
  const PreparedLine line = prepare("ab[hold]cd");
  Reveal reveal = line.reveal();
  CHECK_FALSE(reveal.release_hold());  // not there yet
  const Progress reached = reveal.tick(10s);
  CHECK(names(reached) == "hold");
  CHECK(reveal.state() == RevealState::holding);
  CHECK(reveal.shown_steps() == 2);  // c has the same time, but stands behind the hold
  CHECK(reveal.tick(10s).events.empty());
  CHECK(reveal.skip().events.empty());
  CHECK(reveal.shown_steps() == 2);
  CHECK(reveal.release_hold());
  CHECK_FALSE(reveal.release_hold());
  reveal.tick(0ns);
  CHECK(reveal.shown_steps() == 3);  // what was left of the long ticks is dropped
  CHECK(names(reveal.tick(1s)) == "finish");
}

TEST_CASE("a reveal goes to a time of the line, and never back") {
  const PreparedLine line = prepare("ab[mark x]cd[hold]ef");
  Reveal reveal = line.reveal();
  reveal.set_speed(4000);  // has no part in it
  CHECK(reveal.advance_to(0ns).end_step == 1);
  CHECK(names(reveal.advance_to(250ms)) == "x");
  CHECK(reveal.position() == 250ms);
  CHECK(reveal.shown_steps() == 3);
  CHECK(reveal.advance_to(100ms).events.empty());
  CHECK(reveal.position() == 250ms);
  CHECK(names(reveal.advance_to(10s)) == "hold");
  CHECK(reveal.shown_steps() == 4);
  CHECK(reveal.advance_to(20s).events.empty());  // the hold holds
  reveal.release_hold();
  reveal.pause();
  CHECK(reveal.advance_to(20s).events.empty());
  reveal.resume();
  CHECK(names(reveal.advance_to(20s)) == "finish");
  CHECK(reveal.position() == line.schedule.duration);
  CHECK(Reveal().advance_to(1s).events.empty());

  Reveal mixed = line.reveal();  // by the clock and by a position
  mixed.tick(130ms);
  mixed.advance_to(180ms);
  mixed.tick(20ms);
  CHECK(mixed.shown_steps() == 3);
  mixed.set_instant(true);
  CHECK(mixed.advance_to(210ms).skipped);
}

TEST_CASE("however a position is reached, the same events come at the same times") {
  test::Random random(9);
  const PreparedLine line = prepare("one[mark a] two, [mark b]three. [mark c]four", 20);
  for (int run = 0; run < 200; ++run) {
    Reveal whole = line.reveal();
    Reveal cut = line.reveal();
    std::string by_one, by_many;
    Nanoseconds to{};
    while (to < line.schedule.duration) {
      to += Nanoseconds(test::below(random, 400'000'000));
      by_one = names(whole.advance_to(to));
      by_many.clear();
      while (cut.position() < std::min(to, line.schedule.duration)) {
        const Nanoseconds step(1 + test::below(random, 50'000'000));
        const bool by_tick = test::below(random, 2) == 0;
        const Nanoseconds next = std::min(cut.position() + step, to);
        const Progress progress = by_tick ? cut.tick(next - cut.position()) : cut.advance_to(next);
        const std::string more = names(progress);
        if (!more.empty()) by_many += (by_many.empty() ? "" : " ") + more;
      }
      CHECK(by_many == by_one);
      CHECK(cut.shown_steps() == whole.shown_steps());
    }
  }
}

TEST_CASE("a skip delivers what it passes, up to the next hold, and never a mark twice") {
  const PreparedLine line = prepare("a[mark x]b[mark y: c[hold]d]e[mark z]");
  Reveal reveal = line.reveal();
  reveal.tick(100ms);
  const Progress skipped = reveal.skip();
  CHECK(skipped.skipped);
  CHECK(names(skipped) == "y hold");
  CHECK(skipped.first_step == 2);
  CHECK(skipped.end_step == 3);
  reveal.release_hold();
  const Progress rest = reveal.skip();
  CHECK(names(rest) == "y z finish");
  CHECK(reveal.state() == RevealState::finished);
  CHECK(reveal.shown_steps() == 5);
  const Progress over = reveal.skip();
  CHECK_FALSE(over.skipped);
  CHECK(over.events.empty());
  CHECK(reveal.tick(1s).events.empty());
}

TEST_CASE("pause stops the clock, resume goes on, a skip works in between") {
  const PreparedLine line = prepare("abcdef");
  Reveal reveal = line.reveal();
  reveal.tick(150ms);
  reveal.pause();
  reveal.pause();
  CHECK(reveal.paused());
  reveal.tick(10s);
  CHECK(reveal.shown_steps() == 2);
  CHECK(reveal.position() == 150ms);
  reveal.resume();
  reveal.tick(50ms);
  CHECK(reveal.shown_steps() == 3);
  reveal.pause();
  CHECK(names(reveal.skip()) == "finish");
  CHECK(reveal.paused());
}

TEST_CASE("speed scales time and carries fractions") {
  const PreparedLine line = prepare(std::string(100, 'x'));
  Reveal reveal = line.reveal();
  reveal.set_speed(2000);
  reveal.tick(500ms);
  CHECK(reveal.position() == 1s);
  reveal.set_speed(333);
  for (int i = 0; i < 1'000'000; ++i) reveal.tick(1ns);
  CHECK(reveal.position() == 1s + 333us);  // a third of a nanosecond each, none lost
  reveal.set_speed(0);
  reveal.tick(1h);
  CHECK(reveal.position() == 1s + 333us);
  reveal.set_speed(-5);
  CHECK(reveal.speed() == 0);
  reveal.set_speed(2'000'000'000);
  CHECK(reveal.speed() == Reveal::max_speed);
}

TEST_CASE("negative and huge ticks have an answer") {
  const PreparedLine line = prepare("ab[hold]cd");
  Reveal reveal = line.reveal();
  CHECK(names(reveal.tick(Nanoseconds::min())).empty());
  CHECK(reveal.shown_steps() == 1);  // as a tick of 0
  reveal.tick(50ms);
  reveal.tick(-1h);
  CHECK(reveal.position() == 50ms);
  CHECK(names(reveal.tick(Nanoseconds::max())) == "hold");
  reveal.release_hold();
  reveal.set_speed(Reveal::max_speed);
  CHECK(names(reveal.tick(Nanoseconds::max())) == "finish");
  CHECK(reveal.position() == line.schedule.duration);
  reveal.set_speed(1);
  CHECK(reveal.tick(Nanoseconds::max()).events.empty());
}

TEST_CASE("a copy goes on by itself and brings the same") {
  const PreparedLine line = prepare("abc[mark x]def[hold]ghi[mark y]jkl");
  Reveal first = line.reveal();
  first.set_speed(700);
  first.tick(333ms);
  Reveal second = first;
  std::string heard_first;
  std::string heard_second;
  for (int i = 0; i < 100; ++i) {
    heard_first += names(first.tick(16ms));
    first.release_hold();
  }
  CHECK(second.shown_steps() == 3);
  for (int i = 0; i < 100; ++i) {
    heard_second += names(second.tick(16ms));
    second.release_hold();
  }
  CHECK(heard_first == heard_second);
  CHECK(heard_first == "xholdyfinish");
}

TEST_CASE("a reveal of nothing, and of the wrong line, is finished") {
  Reveal nothing;
  CHECK(nothing.state() == RevealState::finished);
  CHECK(nothing.tick(1s).events.empty());
  CHECK(nothing.skip().events.empty());
  CHECK(nothing.shown() == Extent{});
  nothing.pause();
  nothing.resume();
  nothing.set_speed(500);
  CHECK(nothing.tick(1s).events.empty());
  CHECK(nothing.position() == 0ns);
  const PreparedLine a = prepare("abc");
  const PreparedLine b = prepare("longer");
  const Reveal mixed(a.steps, b.schedule);
  CHECK(mixed.state() == RevealState::finished);
}

TEST_CASE("an empty line finishes on the first tick") {
  const PreparedLine line = prepare("");
  Reveal reveal = line.reveal();
  CHECK(reveal.state() == RevealState::revealing);
  CHECK(names(reveal.tick(0ns)) == "finish");
  CHECK(reveal.state() == RevealState::finished);
}

TEST_CASE("a reveal agrees with the slow, obvious one") {
  test::Random random(7);
  for (int round = 0; round < 300; ++round) {
    const PreparedLine line = prepare(test::random_markup(random, 1 + test::below(random, 25)), 30);
    const Schedule& schedule = line.schedule;
    Reveal reveal = line.reveal();
    // The oracle: time in thousandths of a nanosecond; everything found anew from the start.
    std::int64_t now = 0;
    std::int64_t speed = 1000;
    std::size_t delivered = 0;
    bool holding = false;
    for (int i = 0; i < 200 && delivered < schedule.events.size(); ++i) {
      if (test::below(random, 10) == 0) {
        speed = static_cast<std::int64_t>(test::below(random, 3000));
        reveal.set_speed(static_cast<std::int32_t>(speed));
      }
      if (holding && test::below(random, 2) == 0) {
        holding = false;
        REQUIRE(reveal.release_hold());
      }
      const auto delta = static_cast<std::int64_t>(test::below(random, 80'000'000));
      const Progress progress = reveal.tick(Nanoseconds(delta));
      std::vector<const Event*> expected;
      if (!holding) now += delta * speed;
      while (!holding && delivered < schedule.events.size() &&
             schedule.events[delivered].time.count() * 1000 <= now) {
        const Event& event = schedule.events[delivered++];
        expected.push_back(&event);
        holding = event.kind == EventKind::hold;
        if (holding) now = event.time.count() * 1000;
      }
      std::uint32_t shown = 0;
      for (const Nanoseconds onset : schedule.onsets) shown += onset.count() * 1000 <= now ? 1 : 0;
      if (holding) shown = schedule.events[delivered - 1].step;
      REQUIRE(progress.events.size() == expected.size());
      for (std::size_t e = 0; e < expected.size(); ++e) {
        REQUIRE(&progress.events[e] == expected[e]);
      }
      REQUIRE(reveal.shown_steps() == shown);
    }
  }
}
