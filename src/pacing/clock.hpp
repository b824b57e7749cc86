#pragma once

#include <cmath>
#include <cstdint>

#include "arvik/units.hpp"

namespace arvik::pacing {

/// How time is stretched or shrunk so that a line, or a piece of it, lasts a given time. Times go
/// in as two parts, intervals and pauses, and come out as one.
///
/// Shares are computed in double: of values below 2^53 a quotient times a whole number, rounded
/// down, never decreases as the value grows, needs no wide integers, and is the same on every
/// machine. Of the whole it returns `target` exactly.
class Stretch {
 public:
  enum class What : std::uint8_t { nothing, all, intervals };

  Stretch() = default;
  /// `intervals` and `pauses` are those of the whole piece.
  Stretch(What what, Nanoseconds intervals, Nanoseconds pauses, Nanoseconds target)
      : what_(what), intervals_(intervals), pauses_(pauses), target_(target) {}

  [[nodiscard]] Nanoseconds operator()(Nanoseconds intervals, Nanoseconds pauses) const {
    switch (what_) {
      case What::nothing:
        break;
      case What::all:
        return share(add_saturated(intervals, pauses), add_saturated(intervals_, pauses_), target_);
      case What::intervals:
        return pauses + share(intervals, intervals_, target_ - pauses_);
    }
    return add_saturated(intervals, pauses);
  }

 private:
  static Nanoseconds share(Nanoseconds part, Nanoseconds whole, Nanoseconds target) {
    if (part >= whole) return whole > Nanoseconds::zero() ? target : Nanoseconds::zero();
    const double quotient = static_cast<double>(part.count()) / static_cast<double>(whole.count());
    const double time = std::floor(quotient * static_cast<double>(target.count()));
    return Nanoseconds(static_cast<std::int64_t>(time));
  }

  What what_ = What::nothing;
  Nanoseconds intervals_{};
  Nanoseconds pauses_{};
  Nanoseconds target_{};
};

/// A piece of a line between two anchors: how it is stretched, where it begins in the line's own
/// time, and when it begins in the schedule.
struct Piece {
  Stretch stretch{};
  Nanoseconds intervals{};
  Nanoseconds pauses{};
  Nanoseconds begin{};
};

/// The time cursor of a line while it is scheduled.
class Clock {
 public:
  explicit Clock(const Piece& piece) : piece_(piece) {}

  /// From here on another piece; the cursor stands where it begins.
  void enter(const Piece& piece) { piece_ = piece; }

  void pass_interval(Nanoseconds time) { intervals_ = add_saturated(intervals_, time); }
  void pass_pause(Nanoseconds time) { pauses_ = add_saturated(pauses_, time); }
  /// What happens now happens so much earlier or later; the time that passes stays the same.
  void shift(Nanoseconds by) { shift_ = by; }

  [[nodiscard]] Nanoseconds now() const {
    return add_saturated(piece_.begin, piece_.stretch(intervals_ + shift_ - piece_.intervals,
                                                      pauses_ - piece_.pauses));
  }
  [[nodiscard]] Nanoseconds intervals() const { return intervals_; }
  [[nodiscard]] Nanoseconds pauses() const { return pauses_; }

 private:
  Piece piece_;
  Nanoseconds intervals_{};
  Nanoseconds pauses_{};
  Nanoseconds shift_{};
};

}  // namespace arvik::pacing
