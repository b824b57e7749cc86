// Time of the line = (real time × speed + what was left over) / 1000, all integers; the remainder
// is carried to the next tick. So the position after any number of ticks is a function of the real
// time alone, and cutting it differently changes nothing.
//
// The slow way runs only when something is due. It leaves behind how much real time may pass before
// the next thing is due (find_due), and until then tick() only adds up.
//
// Steps and events are each sorted by time; a hold at time t stands between the steps that it
// separates, so that of steps with the same onset only those before it show.
//
// Guarded by tests/playback/reveal_test.cpp and tests/whole/promises_test.cpp, against a naive
// reveal.

#include "arvik/reveal.hpp"

#include <algorithm>

namespace arvik {
namespace {

constexpr std::int64_t thousand = 1000;
constexpr std::int64_t endless = std::numeric_limits<std::int64_t>::max();

// The time of the line that `real` nanoseconds bring, and the new remainder; `limit` at the most.
struct Scaled {
  std::int64_t time = 0;
  std::int16_t remainder = 0;
};

// Whether a reveal of the schedule can stand there: what is due has come, nothing else has, and a
// hold or the finish is the last thing that came.
bool has_place(const Schedule& schedule, const RevealPlace& place) {
  const auto& onsets = schedule.onsets;
  const auto& events = schedule.events;
  const bool is_in_range = place.shown <= onsets.size() && place.next_event <= events.size() &&
                           place.position >= Nanoseconds::zero() &&
                           place.position <= schedule.duration && place.remainder >= 0 &&
                           place.remainder < thousand;
  if (!is_in_range) return false;
  const Event* last = place.next_event > 0 ? &events[place.next_event - 1] : nullptr;
  const bool steps_fit = (place.shown == 0 || onsets[place.shown - 1] <= place.position) &&
                         (place.shown == onsets.size() || place.position <= onsets[place.shown]);
  const bool events_fit =
      (last == nullptr || (last->time <= place.position && last->step <= place.shown)) &&
      (place.next_event == events.size() || (place.position <= events[place.next_event].time &&
                                             place.shown <= events[place.next_event].step));
  if (!steps_fit || !events_fit) return false;
  switch (place.state) {
    case RevealState::finished:
      return place.next_event == events.size();
    case RevealState::holding:
      return last != nullptr && last->kind == EventKind::hold && last->step == place.shown &&
             last->time == place.position;
    case RevealState::revealing:
      break;
  }
  return place.next_event < events.size();
}

Scaled scale(std::int64_t real, std::int32_t speed, std::int16_t remainder, std::int64_t limit) {
  if (speed == thousand)
    return {std::min(real, limit), remainder};  // mostly, and without a division
  const std::int64_t whole = real / thousand;
  const std::int64_t part = (real % thousand) * speed + remainder;
  if (speed > 0 && whole > limit / speed) return {limit, 0};
  const std::int64_t time = whole * speed + part / thousand;
  return {time, static_cast<std::int16_t>(part % thousand)};
}

}  // namespace

Reveal::Reveal(const Steps& steps, const Schedule& schedule)
    : steps_(&steps), schedule_(&schedule), state_(RevealState::revealing) {
  const bool same_line = steps.size() == schedule.onsets.size() && !schedule.events.empty() &&
                         schedule.events.back().kind == EventKind::finish;
  if (!same_line) *this = Reveal{};
}

Nanoseconds Reveal::position() const {
  if (waited_ == 0) return Nanoseconds(position_);
  return Nanoseconds(position_ + scale(waited_, speed_, remainder_, endless / 2).time);
}

Progress Reveal::advance(Nanoseconds real_time) {
  const Progress nothing{shown_, shown_, {}, false};
  if (state_ != RevealState::revealing || paused_) return nothing;
  if (instant_) return skip();
  const std::int64_t limit = schedule_->duration.count() - position_ + 1;
  const std::int64_t real = std::max(real_time.count(), std::int64_t{0});
  const std::int64_t all = real > endless - waited_ ? endless : real + waited_;
  const Scaled scaled = scale(all, speed_, remainder_, limit);
  remainder_ = scaled.remainder;
  waited_ = 0;
  Progress progress = deliver_until(Nanoseconds(position_ + std::min(scaled.time, limit)));
  find_due();
  return progress;
}

Progress Reveal::advance_to(Nanoseconds line_time) {
  const Progress nothing{shown_, shown_, {}, false};
  if (state_ != RevealState::revealing || paused_) return nothing;
  if (instant_) return skip();
  if (line_time < position()) return nothing;
  waited_ = 0;
  remainder_ = 0;
  const Progress progress = deliver_until(std::min(line_time, schedule_->duration));
  find_due();
  return progress;
}

Progress Reveal::skip() {
  if (state_ != RevealState::revealing) return {shown_, shown_, {}, false};
  waited_ = 0;
  remainder_ = 0;
  Progress progress = deliver_until(schedule_->duration);
  progress.skipped = true;
  find_due();
  return progress;
}

bool Reveal::release_hold() {
  if (state_ != RevealState::holding) return false;
  state_ = RevealState::revealing;
  return true;
}

void Reveal::pause() {
  settle();
  paused_ = true;
}

void Reveal::resume() { paused_ = false; }

void Reveal::set_speed(std::int32_t thousandths) {
  const std::int32_t speed = std::clamp(thousandths, std::int32_t{0}, max_speed);
  if (speed == speed_) return;  // so that setting it every frame leaves the fast way open
  settle();
  speed_ = speed;
}

void Reveal::set_instant(bool instant) {
  if (instant == instant_) return;
  settle();
  instant_ = instant;
}

// Turns what was waited at the present speed into position. Nothing can be due in it.
void Reveal::settle() {
  const Scaled scaled = scale(waited_, speed_, remainder_, endless / 2);
  position_ += scaled.time;
  remainder_ = scaled.remainder;
  waited_ = 0;
  due_in_ = 0;
}

Nanoseconds Reveal::real_time_to(Nanoseconds time) const {
  // From the last look on, waited_ has passed already.
  const std::int64_t left = time.count() - position_;
  if (left <= 0) return Nanoseconds::zero();
  if (speed_ == 0 || left > max_duration.count() / thousand) return max_duration;
  if (speed_ == normal_speed) return Nanoseconds(std::max(left - waited_, std::int64_t{0}));
  const std::int64_t real = (left * thousand - remainder_ + speed_ - 1) / speed_;
  return Nanoseconds(std::max(real - waited_, std::int64_t{0}));
}

RevealPlace Reveal::place() const {
  Reveal settled = *this;
  settled.settle();
  return {Nanoseconds(settled.position_), settled.remainder_, shown_, next_event_, state_};
}

bool Reveal::go_to(const RevealPlace& place) {
  if (schedule_ == nullptr) return false;
  if (!has_place(*schedule_, place)) return false;
  position_ = place.position.count();
  remainder_ = static_cast<std::int16_t>(place.remainder);
  shown_ = place.shown;
  next_event_ = place.next_event;
  state_ = place.state;
  waited_ = 0;
  due_in_ = 0;
  return true;
}

Progress Reveal::deliver_until(Nanoseconds position) {
  const auto& events = schedule_->events;
  const auto& onsets = schedule_->onsets;
  const std::uint32_t first_step = shown_;
  const std::uint32_t first_event = next_event_;
  while (state_ == RevealState::revealing && next_event_ < events.size() &&
         events[next_event_].time <= position) {
    const Event& event = events[next_event_++];
    if (event.kind == EventKind::hold) state_ = RevealState::holding;
    if (event.kind == EventKind::finish) state_ = RevealState::finished;
    if (state_ != RevealState::revealing) {
      position = event.time;
      remainder_ = 0;
      shown_ = event.step;
    }
  }
  if (state_ == RevealState::revealing) {
    while (shown_ < onsets.size() && onsets[shown_] <= position) ++shown_;
  }
  position_ = position.count();
  const std::span<const Event> all(events);
  return {first_step, shown_, all.subspan(first_event, next_event_ - first_event), false};
}

void Reveal::find_due() {
  due_in_ = 0;
  if (state_ != RevealState::revealing || paused_ || instant_) return;
  if (speed_ == 0) {
    due_in_ = endless;
    return;
  }
  std::int64_t due = schedule_->events[next_event_].time.count();
  if (shown_ < schedule_->onsets.size()) due = std::min(due, schedule_->onsets[shown_].count());
  if (speed_ == normal_speed) {
    due_in_ = due - position_;
    return;
  }
  // A bound that is too low is harmless: the slow way looks again.
  const std::int64_t needed = std::min(due - position_, endless / (2 * thousand)) * thousand;
  due_in_ = (needed - remainder_ + speed_ - 1) / speed_;
}

}  // namespace arvik
