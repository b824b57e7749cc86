// The buttons are looked at once, at the begin of a tick. A press is used up by the first state
// that sees it. Guarded by tests/conversation/machine_test.cpp.

#include "machine.hpp"

namespace arvik::conversation {

void Machine::start() {
  now_ = {};
  now_.state = ConversationState::opening;
  forget_press();
}

void Machine::start_at(const ConversationTimes& times) {
  now_ = times;
  last_ = {true, true};
  forget_press();
}

void Machine::enter(ConversationState state) {
  now_.state = state;
  now_.since = {};
}

void Machine::begin_line() {
  now_.line_time = now_.part_time = {};
  now_.part_shown = 0;
  forget_press();
  enter(ConversationState::revealing);
}

void Machine::begin_part(std::uint32_t shown) {
  now_.part_time = {};
  now_.part_shown = shown;
  pressed_in_reveal_ = false;
  enter(ConversationState::revealing);
}

void Machine::showed_rest(Nanoseconds grace) {
  now_.grace_left = grace;
  pressed_in_reveal_ = false;
}

void Machine::look_at_paused(Buttons buttons) {
  last_ = buttons;
  forget_press();
}

void Machine::forget_press() {
  armed_ = pressed_in_reveal_ = false;
  held_for_ = {};
}

}  // namespace arvik::conversation
