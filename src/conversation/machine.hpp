#pragma once

#include <algorithm>

#include "arvik/conversation.hpp"

namespace arvik::conversation {

/// The states, buttons and times of a conversation. It knows nothing of text, layout and sound: it
/// is told when the line reaches something, and answers what happens.
class Machine {
 public:
  /// What a press asks for.
  enum class Wish : std::uint8_t { nothing, show_rest, go_on };

  [[nodiscard]] ConversationState state() const { return now_.state; }
  [[nodiscard]] Nanoseconds clock() const { return now_.clock; }
  [[nodiscard]] Nanoseconds since() const { return now_.since; }
  [[nodiscard]] const ConversationTimes& times() const { return now_; }

  /// A button that is held now was pressed for something else.
  void start();
  /// Goes on at these times.
  void start_at(const ConversationTimes& times);

  /// The state changes; time in it begins.
  void enter(ConversationState state);
  /// A line begins: what was pressed before is not meant for it.
  void begin_line();
  /// A hold lets go.
  void begin_part(std::uint32_t shown);
  /// The rest was shown at once.
  void showed_rest(Nanoseconds grace);

  /// Looks at the buttons at the begin of a tick. `skippable`: whether the line may be skipped;
  /// `hurry_after`: 0 where holding does not hurry.
  [[nodiscard]] Wish look_at(Buttons buttons, bool skippable, Nanoseconds hurry_after);
  /// While paused, presses count for nothing, nor does what was pressed before.
  void look_at_paused(Buttons buttons);
  void forget_press();

  [[nodiscard]] bool hurries(Nanoseconds hurry_after) const {
    return will_hurry() && held_for_ >= hurry_after;
  }
  /// How long until it hurries, if the button stays down; max_duration if it will not.
  [[nodiscard]] Nanoseconds until_hurry(Nanoseconds hurry_after) const {
    return will_hurry() && held_for_ < hurry_after ? hurry_after - held_for_ : max_duration;
  }

  /// Lets time pass in the state.
  void pass(Nanoseconds time);
  /// Lets as much of `time` pass as is left until it has been in the state for `whole`; returns
  /// what is left of `time`. `reached` says whether it has.
  Nanoseconds pass_until(Nanoseconds whole, Nanoseconds time, bool& reached);

 private:
  [[nodiscard]] bool is_graceless() const { return now_.grace_left <= Nanoseconds::zero(); }
  [[nodiscard]] bool will_hurry() const { return armed_ && pressed_in_reveal_; }

  ConversationTimes now_;
  Buttons last_{};
  bool armed_ = false;              // the button that is held was pressed in this line
  Nanoseconds held_for_{};          // how long, while armed
  bool pressed_in_reveal_ = false;  // a press that will hurry, or show the rest when it ends
};

// What runs in every tick.

inline Machine::Wish Machine::look_at(Buttons buttons, bool skippable, Nanoseconds hurry_after) {
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

inline void Machine::pass(Nanoseconds time) {
  now_.clock = add_saturated(now_.clock, time);
  now_.since = add_saturated(now_.since, time);
  now_.line_time = add_saturated(now_.line_time, time);
  now_.part_time = add_saturated(now_.part_time, time);
  now_.grace_left = std::max(now_.grace_left - time, Nanoseconds::zero());
  if (armed_) held_for_ = add_saturated(held_for_, time);
}

inline Nanoseconds Machine::pass_until(Nanoseconds whole, Nanoseconds time, bool& reached) {
  const Nanoseconds part = std::clamp(whole - now_.since, Nanoseconds::zero(), time);
  pass(part);
  reached = now_.since >= whole;
  return time - part;
}

[[nodiscard]] constexpr bool is_in_line(ConversationState state) {
  return state == ConversationState::revealing || state == ConversationState::holding ||
         state == ConversationState::waiting || state == ConversationState::choosing;
}

}  // namespace arvik::conversation
