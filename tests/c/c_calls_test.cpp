// Calls of the C interface in any order.

#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <fstream>
#include <string>

#include "c/c_objects.hpp"
#include "support/allocations.hpp"
#include "support/generator.hpp"

using namespace arvik::test;

TEST_CASE("any calls in any order: nothing crashes, and what is shown never runs past the text") {
  arvik::test::Random random(20261125);
  const auto below = [&](std::uint64_t count) { return arvik::test::below(random, count); };
  const Setter setter = english();
  const Sounds sounds{arvik_sounds_create(sounds_json, ARVIK_NUL, nullptr)};
  arvik_box box;
  arvik_box_init(&box);
  arvik_talk_settings settings;
  arvik_talk_settings_init(&settings);
  for (int round = 0; round < 150; ++round) {
    const std::string markup = arvik::test::random_markup(random, 12);
    arvik_line* line = arvik_line_prepare(setter, markup.data(), markup.size(), nullptr, nullptr,
                                          nullptr, nullptr);
    const Reveal reveal{arvik_reveal_create(line, nullptr)};
    const std::uint32_t steps = arvik_line_steps(line);
    arvik_line_destroy(line);
    const Talk talk{
        new_talk(below(2) == 0 ? setter.object : nullptr, talk_script, nullptr, nullptr, nullptr)};
    arvik_line_place place{};
    place.size = sizeof place;
    std::string saved = "{}";
    for (int call = 0; call < 60; ++call) {
      // Negative, huge and everyday times.
      const auto time = static_cast<std::int64_t>(
          below(8) == 0 ? random() : below(3) * 40'000'000 - below(2) * 10'000'000);
      switch (below(20)) {
        case 0:
          arvik_reveal_hear(reveal, setter, sounds, below(2) == 0 ? "wood" : "hum", nullptr);
          break;
        case 1:
          arvik_reveal_skip(reveal, nullptr);
          break;
        case 2:
          arvik_reveal_release_hold(reveal);
          break;
        case 3:
          arvik_reveal_set_speed(reveal, static_cast<std::int32_t>(time));
          break;
        case 4:
          below(2) == 0 ? arvik_reveal_pause(reveal) : arvik_reveal_resume(reveal);
          break;
        case 5:
          arvik_reveal_place(reveal, &place);
          break;
        case 6:
          if (below(3) == 0) place.shown = static_cast<std::uint32_t>(below(9));
          arvik_reveal_go_to(reveal, &place);
          break;
        case 7:
          arvik_reveal_set_instant(reveal, below(4) == 0 ? 1 : 0);
          break;
        case 8:
          arvik_talk_start(talk, nullptr, nullptr, nullptr);
          break;
        case 9:
          if (below(3) == 0) arvik_talk_stop(talk);
          break;
        case 10:
          below(2) == 0 ? arvik_talk_pause(talk) : arvik_talk_resume(talk);
          break;
        case 11:
          box.width = static_cast<float>(below(30)) - 3;
          arvik_talk_set_box(talk, &box, nullptr);
          break;
        case 12:
          settings.speed = static_cast<std::int32_t>(time);
          settings.instant = below(5) == 0 ? 1 : 0;
          settings.reading_rate = static_cast<double>(time);
          settings.hurry_after_ns = time;
          settings.opening_ns = time;
          settings.by_itself = below(2) == 0 ? 1 : 0;
          arvik_talk_configure(talk, &settings);
          break;
        case 13:
          saved = arvik_talk_write_place(talk, nullptr);
          break;
        case 14:
          arvik_talk_start_at(talk, saved.data(), saved.size(), nullptr);
          break;
        case 15:
          (void)arvik_line_rows(arvik_talk_line(talk));
          break;
        default:
          arvik_reveal_tick(reveal, time, nullptr);
          arvik_reveal_advance_to(reveal, time / 2, nullptr);
          if (below(4) == 0) arvik_talk_set_voice_position(talk, time);
          arvik_talk_tick(talk, time, static_cast<std::uint32_t>(below(4)));
      }
      arvik_extent extent{};
      extent.size = sizeof extent;
      REQUIRE(arvik_reveal_shown(reveal, &extent) == 1);
      REQUIRE(extent.steps <= steps);
      (void)heard(reveal.object);
      (void)heard(talk.object);
      arvik_talk_view view{};
      view.size = sizeof view;
      REQUIRE(arvik_talk_view_now(talk, &view) == 1);
      const arvik_line* shown = arvik_talk_line(talk);
      REQUIRE((shown == nullptr) == (view.text == nullptr));
      REQUIRE((shown == nullptr || view.shown_steps <= arvik_line_steps(shown)));
      arvik_talk_event event{};
      event.size = sizeof event;
      for (std::uint32_t i = 0; arvik_talk_event_at(talk, i, &event) == 1; ++i) {
        REQUIRE(std::strlen(event.kind_name) > 0);
        REQUIRE(event.name != nullptr);
      }
    }
  }
}
