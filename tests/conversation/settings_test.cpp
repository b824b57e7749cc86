// What a conversation refuses when it is set or gone to, and how a game hears of diagnostics.

#include <catch2/catch.hpp>
#include <cmath>

#include "arvik/conversation.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

DialogueLine line(const std::string& text) { return {.text = text, .pace = Pace{.rate = 10}}; }

Conversation conversation(const ConversationSettings& settings = {}) {
  static Typesetter typesetter(Language::open("en").value());
  static const GridFont font;
  return {typesetter, font, Box{.width = 30}, settings};
}

}  // namespace

TEST_CASE("settings out of their ranges are refused when they are set, and by start()") {
  struct Case {
    const char* name;
    void (*change)(ConversationSettings&);
    const char* message;
  };
  const Case cases[] = {
      {"a reading rate that is no number",
       [](ConversationSettings& s) { s.reading_rate = std::nan(""); },
       "reading_rate is out of range: it must be 0.01 to 100000 characters a second"},
      {"a time at the end of 64 bits",
       [](ConversationSettings& s) { s.opening = Nanoseconds::max(); },
       "opening is out of range: it must be 0 to one hour"},
      {"a negative time", [](ConversationSettings& s) { s.voice_fade = -1ns; },
       "voice_fade is out of range: it must be 0 to one hour"},
      {"a hurry of none", [](ConversationSettings& s) { s.hurry = 0; },
       "hurry is out of range: it must be 1 to 1000000"},
      {"a negative speed", [](ConversationSettings& s) { s.player.speeds[0].thousandths = -5; },
       "a text speed is out of range: it must be 0 to 1000000 thousandths"},
      {"a bad sound", [](ConversationSettings& s) { s.sounds.push_back({.name = "x"}); },
       "\"x\": no samples: a typing sound needs at least one"},
  };
  for (const Case& c : cases) {
    INFO(c.name);
    ConversationSettings wrong;
    c.change(wrong);
    REQUIRE(find_problem(wrong).has_value());
    CHECK(find_problem(wrong)->message == c.message);
    Conversation talk = conversation();
    CHECK(talk.set_settings(wrong).error().message == c.message);
    CHECK(talk.settings().opening == 0ns);
    Conversation bad = conversation(wrong);
    CHECK(bad.start({line("a")}).error().message == c.message);
  }
  Conversation talk = conversation();
  CHECK_FALSE(talk.set_player({.speeds = {{.thousandths = 2'000'000}}}).has_value());
  CHECK(talk.set_player({.speed = 0}).has_value());
  CHECK(talk.settings().player.speed == 0);
}

TEST_CASE("a place with an absurd clock is refused") {
  for (Nanoseconds ConversationTimes::*time :
       {&ConversationTimes::clock, &ConversationTimes::since, &ConversationTimes::line_time,
        &ConversationTimes::part_time, &ConversationTimes::grace_left}) {
    for (const Nanoseconds value : {Nanoseconds::max(), Nanoseconds::min(), Nanoseconds(-1)}) {
      Conversation talk = conversation();
      REQUIRE(talk.start({line("abc")}).has_value());
      talk.tick(100ms);
      ConversationPlace place = talk.place();
      place.times.*time = value;
      talk.stop();
      CHECK(talk.start_at({line("abc")}, place).error().code == DiagnosticCode::bad_place);
    }
  }
}

TEST_CASE("every diagnostic passes through the hook once, and names are repaired") {
  Typesetter setter(Language::open("en").value());
  std::vector<Diagnostic> told;
  setter.set_diagnostic_hook([&](const Diagnostic& d) { told.push_back(d); });
  const GridFont font;
  Conversation talk(setter, font, Box{.width = 6});
  DialogueLine first = line("An [unknown: unbreakable] word");
  first.speaker = "Odr\xFFun";
  first.portrait = "\xC3";
  REQUIRE(talk.start({first, line("fine")}).has_value());
  const std::vector<DiagnosticCode> expected{
      DiagnosticCode::invalid_utf8, DiagnosticCode::invalid_utf8, DiagnosticCode::unknown_tag,
      DiagnosticCode::word_broken, DiagnosticCode::word_broken};
  for (int i = 0; i < 200; ++i) talk.tick(50ms, {.advance = i % 4 == 0});
  REQUIRE(told.size() == expected.size());
  for (std::size_t i = 0; i < expected.size(); ++i) CHECK(told[i].code == expected[i]);
  CHECK(talk.lines()[0].speaker == "Odr\uFFFDun");

  told.clear();
  PreparedLine prepared;
  CHECK_FALSE(setter.prepare("[x]", {.rate = -1}, font, Box{.width = 9}, prepared).has_value());
  REQUIRE(told.size() == 2);
  CHECK(told[1].code == DiagnosticCode::bad_pace);
}
