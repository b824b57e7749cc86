// What the player chooses: speeds, instant, reduced motion, and a rate suggested from a reading
// speed.

#include <catch2/catch.hpp>

#include "arvik/arvik.hpp"
#include "support/english.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::english;
using test::timed;

TEST_CASE("the player's settings stand in one place") {
  PlayerSettings settings;
  CHECK(settings.speeds.size() == 4);
  const MarkedText marked = parse("one [hold]two[mark m] three");
  const Steps steps = english().segment(marked.text);
  const Schedule schedule_of_line = schedule(marked, steps, english(), {.rate = 10}).value();
  const auto shown_after = [&](std::size_t speed, Nanoseconds time) {
    settings.speed = speed;
    Reveal reveal(steps, schedule_of_line);
    apply(settings, reveal);
    reveal.tick(time);
    return reveal.shown_steps();
  };
  CHECK(shown_after(0, 250ms) == 2);
  CHECK(shown_after(1, 250ms) == 3);
  CHECK(shown_after(2, 160ms) == 3);
  CHECK(shown_after(3, 0ms) == 4);   // up to the hold
  CHECK(shown_after(99, 0ms) == 4);  // beyond the table: its last
  settings.speeds.clear();
  CHECK(shown_after(0, 250ms) == 3);

  Reveal instant(steps, schedule_of_line);
  instant.set_instant(true);
  const Progress first = instant.tick(1ms);
  CHECK(first.skipped);
  CHECK(instant.state() == RevealState::holding);
  CHECK(instant.tick(1s).events.empty());
  instant.release_hold();
  instant.pause();
  CHECK(instant.tick(1s).events.empty());
  instant.resume();
  CHECK(instant.tick(0ms).events.size() == 2);  // the mark is not lost
  CHECK(instant.state() == RevealState::finished);

  settings.reduced_motion = true;
  CHECK(adjusted(settings, Pace{.rate = 12, .jitter = 0.5}).jitter == 0);
  CHECK(adjusted(settings, Pace{.rate = 12, .jitter = 0.5}).rate == 12);
  CHECK(adjusted(settings, FrameOptions{.entrance = Entrance::rise}).reduced_motion);
  settings.reduced_motion = false;
  CHECK_FALSE(adjusted(settings, FrameOptions{}).reduced_motion);
  CHECK(adjusted(settings, Pace{.jitter = 0.5}).jitter == 0.5);
}

TEST_CASE("a rate is suggested so that a scene lasts as long as reading it") {
  const std::string scene =
      "The tide clock stopped at noon. Nobody heard it, and nobody looked up; the water was calm.";
  const double reading = characters_per_minute(200);
  CHECK(reading == 1200);
  const double rate = suggested_rate(timed(scene, {}), reading);
  const Schedule at_rate = timed(scene, {.rate = rate});
  const double seconds = std::chrono::duration<double>(at_rate.duration).count();
  CHECK(seconds == Approx(static_cast<double>(scene.size()) / 20).epsilon(0.02));
  CHECK(suggested_rate(timed("a. b", {.sentence = 1min}), reading) == max_rate);
  CHECK(suggested_rate(timed("", {}), reading) == min_rate);
  CHECK(suggested_rate(timed(scene, {}), 0) == min_rate);
}
