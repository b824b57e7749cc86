// Several that speak at once: one clock, one pause, one player's settings.
#include <catch2/catch.hpp>

#include "arvik/stage.hpp"
#include "support/english.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::grid;
using test::typesetter;

namespace {

StageEntry entry(const std::string& target, const std::string& text,
                 WhenBusy when_busy = WhenBusy::end_first) {
  DialogueLine line{.text = text, .pace = Pace{.rate = 10}, .typing = "t"};
  return {.target = target,
          .lines = std::make_shared<const std::vector<DialogueLine>>(1, line),
          .box = {.width = 40},
          .settings = {.sounds = {{.name = "t", .samples = {"s"}, .loop = true}}},
          .when_busy = when_busy};
}

std::string told(const Stage& stage) {
  std::string all;
  for (const StageEvent& event : stage.events()) {
    all += std::string(event.target) + ':' +
           std::string(conversation_event_name(event.event.kind)) + ' ';
  }
  return all;
}

std::size_t loops(const Stage& stage, SoundEventKind kind, std::string_view target) {
  std::size_t count = 0;
  for (const StageSound& sound : stage.sounds()) {
    count += sound.target == target && sound.sound.kind == kind ? 1U : 0U;
  }
  return count;
}

}  // namespace

TEST_CASE("bubbles, a sign and a line in the corner run side by side") {
  Stage stage(typesetter(), grid());
  REQUIRE(stage.start(entry("odrun", "abcdefgh")));
  REQUIRE(stage.start(entry("pell", "abc")));
  stage.tick(250ms);
  CHECK(stage.targets() == std::vector<std::string>{"odrun", "pell"});
  CHECK(stage.find("odrun")->view().shown == 3);
  CHECK(stage.find("pell")->state() == ConversationState::waiting);
  CHECK(told(stage) ==
        "odrun:opened odrun:line_started pell:opened pell:line_started pell:revealed "
        "pell:line_finished pell:waiting ");
  CHECK(stage.find("nobody") == nullptr);
  // The buttons are for whoever is in focus.
  stage.tick(1ms, {.advance = true});
  CHECK(stage.events().empty());
  stage.set_focus({"pell"});
  stage.tick(1ms);
  stage.tick(1ms, {.advance = true});
  CHECK(told(stage) == "pell:line_left pell:closed ");
  CHECK(stage.find("pell") == nullptr);
  CHECK(stage.find("odrun")->view().shown == 3);
}

TEST_CASE("one target has one conversation: a second ends the first, or is refused") {
  Stage stage(typesetter(), grid());
  REQUIRE(stage.start(entry("box", "abcdefgh")));
  REQUIRE(stage.start(entry("corner", "abcdefgh")));
  stage.tick(250ms);
  CHECK(loops(stage, SoundEventKind::loop_begin, "box") == 1);
  CHECK(loops(stage, SoundEventKind::loop_begin, "corner") == 1);
  const auto busy = stage.start(entry("box", "x", WhenBusy::refuse));
  REQUIRE_FALSE(busy.has_value());
  CHECK(busy.error().code == DiagnosticCode::target_busy);
  CHECK(stage.find("box")->view().shown == 3);
  // What cannot begin ends nothing.
  StageEntry bad = entry("box", "x");
  bad.box.width = 0;
  CHECK(stage.start(bad).error().code == DiagnosticCode::bad_box);
  CHECK(stage.find("box")->view().shown == 3);
  stage.tick(1ms);
  REQUIRE(stage.start(entry("box", "new one")));
  CHECK(told(stage) == "box:line_left box:closed ");
  // Ending one ends no other's sound.
  CHECK(loops(stage, SoundEventKind::loop_end, "box") == 1);
  CHECK(loops(stage, SoundEventKind::loop_end, "corner") == 0);
  stage.tick(100ms);
  CHECK(stage.find("box")->view().block->marked.text == "new one");
  stage.stop("box");
  stage.stop_all();
  CHECK(stage.targets().empty());
}

TEST_CASE("pause and text speed count at once and everywhere") {
  Stage stage(typesetter(), grid());
  REQUIRE(stage.start(entry("a", std::string(40, 'x'))));
  stage.tick(100ms);
  stage.pause();
  REQUIRE(stage.start(entry("b", std::string(40, 'x'))));
  stage.tick(10s);
  CHECK(stage.clock() == 100ms);
  CHECK(stage.find("a")->view().shown == 2);
  CHECK(stage.find("b")->view().shown == 0);
  stage.resume();
  PlayerSettings fast;
  fast.speed = 2;  // x1.8
  REQUIRE(stage.set_player(fast));
  stage.tick(1s);
  CHECK(stage.find("a")->view().shown == 2 + 18);
  CHECK(stage.find("b")->view().shown == 19);
  REQUIRE(stage.start(entry("c", std::string(40, 'x'))));
  stage.tick(1s);
  CHECK(stage.find("c")->view().shown == 19);
  PlayerSettings bad;
  bad.speeds[0].thousandths = -1;
  CHECK_FALSE(stage.set_player(bad));
  CHECK(stage.player().speed == 2);
}

TEST_CASE("a stage's conversations are saved and loaded one by one") {
  Stage stage(typesetter(), grid());
  REQUIRE(stage.start(entry("a", "abcdefgh")));
  stage.tick(350ms);
  const ConversationPlace place = stage.find("a")->place();
  Stage later(typesetter(), grid());
  REQUIRE(later.start_at(entry("a", "abcdefgh"), place));
  CHECK(later.find("a")->view().shown == 4);
}
