// The buttons are looked at once, at the begin of a tick. A press is used up by the first state
// that sees it. Guarded by tests/conversation/machine_test.cpp.

#include "machine.hpp"

#include <algorithm>

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

Machine::Wish Machine::look_at(Buttons buttons, bool skippable, Nanoseconds hurry_after) {
  const bool pressed = buttons.advance && !last_.advance;
  const bool released = !buttons.advance && last_.advance;
  const bool skip_pressed = buttons.skip && !last_.skip;
  last_ = buttons;
  if (pressed) {
    armed_ = true;
    held_for_ = {};
  }
  const bool tap_ended = released && will_hurry() && held_for_ < hurry_after;
  if (released) armed_ = false;
  if (now_.state == ConversationState::revealing) {
    const bool hurrying_is_on = hurry_after > Nanoseconds::zero();
    const bool counts = is_graceless();
    if (hurrying_is_on && pressed && counts && skippable) pressed_in_reveal_ = true;
    if (released) pressed_in_reveal_ = false;
    const bool tapped = hurrying_is_on ? tap_ended : pressed && counts;
    return (tapped || (skip_pressed && counts)) && skippable ? Wish::show_rest : Wish::nothing;
  }
  const bool waits =
      now_.state == ConversationState::holding || now_.state == ConversationState::waiting;
  return waits && pressed && is_graceless() ? Wish::go_on : Wish::nothing;
}

void Machine::look_at_paused(Buttons buttons) {
  last_ = buttons;
  forget_press();
}

void Machine::forget_press() {
  armed_ = pressed_in_reveal_ = false;
  held_for_ = {};
}

void Machine::pass(Nanoseconds time) {
  now_.clock = add_saturated(now_.clock, time);
  now_.since = add_saturated(now_.since, time);
  now_.line_time = add_saturated(now_.line_time, time);
  now_.part_time = add_saturated(now_.part_time, time);
  now_.grace_left = std::max(now_.grace_left - time, Nanoseconds::zero());
  if (armed_) held_for_ = add_saturated(held_for_, time);
}

Nanoseconds Machine::pass_until(Nanoseconds whole, Nanoseconds time, bool& reached) {
  const Nanoseconds part = std::clamp(whole - now_.since, Nanoseconds::zero(), time);
  pass(part);
  reached = now_.since >= whole;
  return time - part;
}

}  // namespace arvik::conversation
