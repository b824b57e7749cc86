// Lines that keep step with a recorded voice: by its timing, by its position, and on skips.
#include <catch2/catch.hpp>

#include "arvik/arvik.hpp"
#include "support/english.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::typesetter;

namespace {

DialogueLine spoken() {
  const std::string text = "One two. [mark go]Three";
  DialogueLine line{.text = text, .pace = Pace{.rate = 10}, .voice = "v"};
  const VoiceTiming timing{
      .text = text_fingerprint("One two. Three"),
      .length = 4s,
      .begin = 500ms,
      .end = 3s,
      .confidence = 1,
      .anchors = {{0, 500ms, 0.9F}, {4, 1s, 0.9F}, {7, 1500ms, 0.9F}, {9, 2500ms, 0.9F}}};
  line.timing = std::make_shared<const VoiceTiming>(timing);
  return line;
}

const ConversationSettings with_voices{
    .voice_length = [](std::string_view) { return Nanoseconds(4s); }};

Conversation started(DialogueLine line, ConversationSettings settings = with_voices) {
  static const GridFont font;
  Conversation talk(typesetter(), font, {.width = 40}, std::move(settings));
  REQUIRE(talk.start(std::vector<DialogueLine>{std::move(line)}));
  return talk;
}

std::string events_of(std::span<const ConversationEvent> events) {
  std::string all;
  for (const ConversationEvent& event : events) {
    all += std::to_string(event.time / 1ms) + " " +
           std::string(event.event != nullptr ? event.event->name
                                              : conversation_event_name(event.kind)) +
           "; ";
  }
  return all;
}

// The sounds of the last tick, without typing.
std::string voices_of(const Conversation& talk) {
  std::string all;
  for (const SoundEvent& event : talk.sounds()) {
    all += std::string(sound_event_name(event.kind)) + "@" + std::to_string(event.time / 1ms) + " ";
  }
  return all;
}

}  // namespace

TEST_CASE("a spoken line appears as it is spoken") {
  struct Row {
    VoiceSync sync;
    Nanoseconds before, at;
    std::uint32_t shown;
  };
  for (const Row& row :
       {Row{VoiceSync::align, 2499ms, 2500ms, 10}, Row{VoiceSync::align, 499ms, 500ms, 1},
        Row{VoiceSync::fit, 2999ms, 3s, 14}, Row{VoiceSync::fit, 499ms, 500ms, 1},
        Row{VoiceSync::free, -1ns, 0s, 1}}) {
    DialogueLine line = spoken();
    line.voice_sync = row.sync;
    Conversation talk = started(line);
    CAPTURE(row.at, static_cast<int>(row.sync));
    if (row.before >= 0ns) {
      talk.tick(row.before);
      CHECK(talk.view().shown == row.shown - 1);
      talk.tick(row.at - row.before);
    } else {
      talk.tick(row.at);
    }
    CHECK(talk.view().shown == row.shown);
  }
}

TEST_CASE("a clip that stalls or is sought takes the text along") {
  Conversation talk = started(spoken());
  CHECK(events_of(talk.tick(0ns)) == "0 opened; 0 line_started; ");
  CHECK(voices_of(talk) == "voice_begin@0 ");
  talk.set_voice_position(0ns);  // the sound has not begun yet
  talk.tick(900ms);
  CHECK(talk.view().shown == 0);
  talk.set_voice_position(1s);
  talk.tick(100ms);
  CHECK(talk.view().shown == 5);
  talk.set_voice_position(600ms);  // sought backwards: what is shown stays shown
  talk.tick(100ms);
  CHECK(talk.view().shown == 5);
  talk.set_voice_position(2500ms);  // sought forwards, over a mark
  const auto events = talk.tick(200ms);
  CHECK(talk.view().shown == 10);
  REQUIRE(events.size() == 1);
  CHECK(events[0].event->name == "go");
  CHECK(events[0].time >= 1100ms);  // within the tick
  CHECK(events[0].time <= 1300ms);
  for (const Appearance& step : talk.view().steps) CHECK(step.at <= talk.clock());
  talk.tick(10s);  // without a position by the clock
  CHECK(talk.state() == ConversationState::waiting);
}

TEST_CASE("a jump farther than any speed passes over what lies between") {
  Conversation talk = started(spoken());
  talk.tick(0ns);
  talk.set_voice_position(3s);
  const auto events = talk.tick(1us);
  REQUIRE(events.size() >= 1);
  CHECK(events[0].skipped);
  CHECK(talk.view().shown >= 10);
}

TEST_CASE("however the clip's position is cut into ticks, the same is shown then") {
  test::Random random(4);
  for (int run = 0; run < 50; ++run) {
    Conversation talk = started(spoken());
    talk.tick(0ns);
    Nanoseconds position{};
    std::size_t marks = 0;
    while (position < 3s) {
      const Nanoseconds step(1 + test::below(random, 90'000'000));
      position += step;
      talk.set_voice_position(position);
      for (const ConversationEvent& event : talk.tick(step)) {
        if (event.event != nullptr && event.event->name == "go") {
          ++marks;
          CHECK(event.time == talk.view().block->line(0).part.schedule.events[0].time);
        }
      }
      const auto& onsets = talk.view().block->line(0).part.schedule.onsets;
      const auto due = std::count_if(onsets.begin(), onsets.end(),
                                     [&](Nanoseconds onset) { return onset <= position; });
      CHECK(talk.view().shown == static_cast<std::uint32_t>(due));
    }
    CHECK(marks == 1);
  }
}

TEST_CASE("a skip fades the voice out, unless the game wants it to go on") {
  Conversation talk = started(spoken());
  talk.tick(1s);
  talk.tick(0ns, {.skip = true});
  CHECK(voices_of(talk) == "voice_end@1000 ");
  CHECK(talk.state() == ConversationState::waiting);

  ConversationSettings lasting = with_voices;
  lasting.skip_ends_voice = false;
  Conversation other = started(spoken(), lasting);
  other.tick(1s);
  other.tick(0ns, {.skip = true});
  CHECK(voices_of(other).empty());
}

TEST_CASE("a line that goes on by itself does not wait for a voice that a skip has ended") {
  for (const bool ends : {true, false}) {
    DialogueLine line = spoken();
    line.automatic = AutoAdvance{.after = 200ms};
    ConversationSettings settings = with_voices;
    settings.skip_ends_voice = ends;
    Conversation talk = started(line, settings);
    talk.tick(1s);
    talk.tick(0ns, {.skip = true});
    const std::string events = events_of(talk.tick(10s));
    CHECK(events.substr(0, events.find(';')) == (ends ? "1200 line_left" : "4000 line_left"));
  }
}

TEST_CASE("the player's speed leaves spoken lines alone, if the game says so") {
  for (const bool own : {false, true}) {
    ConversationSettings settings = with_voices;
    settings.player.speed = 2;  // x1.8
    settings.voices_set_speed = own;
    Conversation talk = started(spoken(), settings);
    talk.tick(1s);
    CHECK(talk.view().shown == (own ? 5U : 8U));
    DialogueLine silent = spoken();
    silent.voice_sync = VoiceSync::free;
    Conversation free = started(silent, settings);
    free.tick(500ms);
    CHECK(free.view().shown == 8);  // 0.9 s of its own time: in the rest behind "two."
  }
}

TEST_CASE("while paused no position counts") {
  Conversation talk = started(spoken());
  talk.tick(600ms);
  const std::uint32_t shown = talk.view().shown;
  talk.pause();
  talk.set_voice_position(3s);
  talk.tick(1s);
  CHECK(talk.view().shown == shown);
  talk.resume();
  talk.tick(0ns);
  CHECK(talk.view().shown == shown);
}
