// The states and buttons of a conversation without any text.
#include <catch2/catch.hpp>

#include "conversation/machine.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using conversation::Machine;
using Wish = Machine::Wish;

namespace {

Machine in_state(ConversationState state) {
  Machine machine;
  machine.start();
  machine.begin_line();
  if (state != ConversationState::revealing) machine.enter(state);
  return machine;
}

constexpr Buttons advance{.advance = true, .skip = false};
constexpr Buttons skip{.advance = false, .skip = true};

}  // namespace

TEST_CASE("what a press asks for depends on the state alone") {
  struct Row {
    ConversationState state;
    Wish on_advance;
    Wish on_skip;
  };
  for (const Row& row : {Row{ConversationState::opening, Wish::nothing, Wish::nothing},
                         Row{ConversationState::revealing, Wish::show_rest, Wish::show_rest},
                         Row{ConversationState::holding, Wish::go_on, Wish::nothing},
                         Row{ConversationState::waiting, Wish::go_on, Wish::nothing},
                         Row{ConversationState::choosing, Wish::nothing, Wish::nothing},
                         Row{ConversationState::closing, Wish::nothing, Wish::nothing}}) {
    INFO(conversation_state_name(row.state));
    Machine pressed = in_state(row.state);
    CHECK(pressed.look_at(advance, true, 0ms) == row.on_advance);
    CHECK(pressed.look_at(advance, true, 0ms) == Wish::nothing);  // it is held
    Machine skipped = in_state(row.state);
    CHECK(skipped.look_at(skip, true, 0ms) == row.on_skip);
  }
  Machine unskippable = in_state(ConversationState::revealing);
  CHECK(unskippable.look_at(advance, false, 0ms) == Wish::nothing);
}

TEST_CASE("the grace time swallows presses, and time ends it") {
  Machine machine = in_state(ConversationState::revealing);
  machine.showed_rest(100ms);
  machine.enter(ConversationState::waiting);
  CHECK(machine.look_at(advance, true, 0ms) == Wish::nothing);
  machine.pass(99ms);
  CHECK(machine.look_at({}, true, 0ms) == Wish::nothing);
  CHECK(machine.look_at(advance, true, 0ms) == Wish::nothing);
  machine.pass(1ms);
  CHECK(machine.look_at({}, true, 0ms) == Wish::nothing);
  CHECK(machine.look_at(advance, true, 0ms) == Wish::go_on);
}

TEST_CASE("holding hurries after a while, and a tap shows the rest when it ends") {
  Machine machine = in_state(ConversationState::revealing);
  CHECK(machine.until_hurry(200ms) == max_duration);
  CHECK(machine.look_at(advance, true, 200ms) == Wish::nothing);
  CHECK(machine.until_hurry(200ms) == 200ms);
  machine.pass(150ms);
  CHECK(machine.until_hurry(200ms) == 50ms);
  CHECK(machine.look_at({}, true, 200ms) == Wish::show_rest);
  CHECK(machine.look_at(advance, true, 200ms) == Wish::nothing);
  machine.pass(200ms);
  CHECK(machine.hurries(200ms));
  CHECK(machine.look_at({}, true, 200ms) == Wish::nothing);
  CHECK_FALSE(machine.hurries(200ms));
}

TEST_CASE("what was pressed before a line, a pause or a loaded game counts for nothing") {
  Machine machine = in_state(ConversationState::revealing);
  (void)machine.look_at(advance, true, 100ms);
  machine.begin_line();
  machine.pass(500ms);
  CHECK_FALSE(machine.hurries(100ms));
  CHECK(machine.look_at({}, true, 100ms) == Wish::nothing);

  (void)machine.look_at(advance, true, 100ms);
  machine.look_at_paused({});
  machine.pass(500ms);
  CHECK_FALSE(machine.hurries(100ms));

  ConversationTimes times = in_state(ConversationState::waiting).times();
  Machine loaded;
  loaded.start_at(times);
  CHECK(loaded.look_at(advance, true, 0ms) == Wish::nothing);
  CHECK(loaded.look_at({}, true, 0ms) == Wish::nothing);
  CHECK(loaded.look_at(advance, true, 0ms) == Wish::go_on);
}

TEST_CASE("times add up, and a state ends exactly when it has lasted") {
  Machine machine = in_state(ConversationState::holding);
  bool reached = false;
  CHECK(machine.pass_until(100ms, 60ms, reached) == 0ms);
  CHECK_FALSE(reached);
  CHECK(machine.pass_until(100ms, 60ms, reached) == 20ms);
  CHECK(reached);
  CHECK(machine.since() == 100ms);
  machine.begin_part(7);
  CHECK(machine.state() == ConversationState::revealing);
  machine.pass(5ms);
  CHECK(machine.times().line_time == 105ms);
  CHECK(machine.times().part_time == 5ms);
  CHECK(machine.times().part_shown == 7);
  CHECK(machine.clock() == 105ms);
}
