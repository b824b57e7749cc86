#pragma once

#include <cstdint>
#include <limits>
#include <span>

#include "arvik/export.hpp"
#include "arvik/schedule.hpp"
#include "arvik/steps.hpp"

namespace arvik {

/// What one call of tick() or skip() has shown and delivered. `events` points into the schedule and
/// is valid as long as it.
struct Progress {
  std::uint32_t first_step = 0;   ///< the steps that appeared: from first_step …
  std::uint32_t end_step = 0;     ///< … to before end_step
  std::span<const Event> events;  ///< the events that happened, in order
  /// True if a skip passed them over. The hold or finish that ended the skip is among them.
  bool skipped = false;
};

enum class RevealState : std::uint8_t {
  revealing,  ///< time brings more
  holding,    ///< at a hold, until release_hold()
  finished    ///< the finish event was delivered
};

/// The state of a reveal, for saving it. Valid for the same schedule only. The speed is not part of
/// it.
struct RevealPlace {
  Nanoseconds position{};        ///< time of the line
  std::int32_t remainder = 0;    ///< thousandths of a nanosecond, carried
  std::uint32_t shown = 0;       ///< steps
  std::uint32_t next_event = 0;  ///< index in the schedule
  RevealState state = RevealState::finished;
  friend bool operator==(const RevealPlace&, const RevealPlace&) = default;
};

/// The playback of one schedule: holds the clock, tells how far it is and what happens now.
///
/// Nothing is shown and nothing happens before the first tick; a tick of 0 delivers what is due at
/// 0. However the same time is cut into ticks, the events, their times and the shown count at any
/// shared moment are the same. Every event is delivered once, in order, by tick() or by skip().
///
/// A Reveal is a small value. A copy goes on independently and delivers the same events, so that a
/// game can keep one and return to it. It keeps pointers: steps and schedule must outlive it and
/// all its copies, and must not change. No function allocates, fails or throws. One thread at a
/// time for each Reveal; any number of them may share a schedule.
class ARVIK_API Reveal {
 public:
  /// An empty reveal: finished, without events.
  Reveal() = default;

  /// `steps` and `schedule` must be of the same line; if their sizes differ, the reveal is empty.
  Reveal(const Steps& steps, const Schedule& schedule);
  Reveal(Steps&&, const Schedule&) = delete;
  Reveal(const Steps&, Schedule&&) = delete;
  Reveal(Steps&&, Schedule&&) = delete;

  /// Lets real time pass; the player's speed turns it into time of the line. A negative time counts
  /// as 0; the longest possible one runs to the next hold or to the finish. Time left over when a
  /// hold or the finish is reached is dropped. Cost: proportional to what appeared.
  Progress tick(Nanoseconds real_time);

  /// Goes to a time of the line, mostly the position of a recorded voice, so that the text keeps
  /// step with a sound that stalls or is moved. Delivers everything in between, as a tick does,
  /// whatever the speed. A time that has passed already delivers nothing: what is shown stays
  /// shown. Stops at holds, and at the finish.
  Progress advance_to(Nanoseconds line_time);

  /// Shows the rest at once, up to the next hold or to the finish. Works while paused, too, and
  /// does not resume. While holding or finished it does nothing.
  Progress skip();

  /// Releases the hold at which the reveal waits; the next tick goes on after it. Returns whether
  /// there was one.
  bool release_hold();

  /// Stops the clock; ticks bring nothing until resume(). Both may be called at any time.
  void pause();
  void resume();
  [[nodiscard]] bool paused() const { return paused_; }

  static constexpr std::int32_t normal_speed = 1000;
  static constexpr std::int32_t max_speed = 1'000'000;
  /// The player's speed in thousandths: 1000 is as written, 2000 twice as fast, 0 stops. Clamped to
  /// 0 to max_speed. Fractions of a nanosecond are carried, so that no speed drifts.
  void set_speed(std::int32_t thousandths);
  [[nodiscard]] std::int32_t speed() const { return speed_; }

  /// Whether every tick shows the rest at once, as skip() does, up to the next hold. For players
  /// who want no reveal. Overrides the speed.
  void set_instant(bool instant);
  [[nodiscard]] bool instant() const { return instant_; }

  [[nodiscard]] RevealState state() const { return state_; }

  /// How many steps are shown.
  [[nodiscard]] std::uint32_t shown_steps() const { return shown_; }
  /// The same as a prefix of the plain text, in bytes, code points and UTF-16 units.
  [[nodiscard]] Extent shown() const {
    return steps_ != nullptr ? steps_->extents[shown_] : Extent{};
  }

  /// The time of the line that has passed, 0 to the schedule's duration.
  [[nodiscard]] Nanoseconds position() const;

  /// How much real time must pass at the present speed until the line has come to `time`; 0 if it
  /// is there, max_duration if it never gets there (speed 0). Exact: a tick of this length delivers
  /// what is due then, one a nanosecond shorter does not.
  [[nodiscard]] Nanoseconds real_time_to(Nanoseconds time) const;

  /// When a step of the schedule appears, in time of the line; 0 if it has no such step.
  [[nodiscard]] Nanoseconds onset(std::uint32_t step) const {
    const bool known = schedule_ != nullptr && step < schedule_->onsets.size();
    return known ? schedule_->onsets[step] : Nanoseconds::zero();
  }

  [[nodiscard]] RevealPlace place() const;
  /// Goes to a place of the same schedule, without delivering anything. Returns false, and changes
  /// nothing, if no reveal of the schedule can be there.
  bool go_to(const RevealPlace& place);

 private:
  Progress advance(Nanoseconds real_time);
  Progress deliver_until(Nanoseconds position);
  void settle();
  void find_due();

  const Steps* steps_ = nullptr;
  const Schedule* schedule_ = nullptr;

  // Real time until anything is due, and how much of it has been used up. An idle tick does no more
  // than add to the second and compare. due_in_ is 0 whenever the slow way must look closer.
  std::int64_t due_in_ = 0;
  std::int64_t waited_ = 0;

  std::int64_t position_ = 0;  // time of the line, up to the last look, in nanoseconds
  std::uint32_t shown_ = 0;
  std::uint32_t next_event_ = 0;
  std::int32_t speed_ = normal_speed;
  std::int16_t remainder_ = 0;  // thousandths of a nanosecond of the line, carried
  RevealState state_ = RevealState::finished;
  bool paused_ = false;
  bool instant_ = false;
};

inline Progress Reveal::tick(Nanoseconds real_time) {
  // One unsigned comparison also sends negative times the slow way.
  const auto left = static_cast<std::uint64_t>(due_in_ - waited_);
  if (static_cast<std::uint64_t>(real_time.count()) < left) {
    waited_ += real_time.count();
    return {shown_, shown_, {}, false};
  }
  return advance(real_time);
}

}  // namespace arvik
