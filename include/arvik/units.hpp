#pragma once

#include <chrono>
#include <cstdint>
#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "arvik/export.hpp"

/// Units as people write them in markup and files: times (`400ms`, `1.5s`) and rates (`20cps`,
/// `x0.5`). Everything computed from them is in integer nanoseconds.
namespace arvik {

using Nanoseconds = std::chrono::nanoseconds;

/// The longest single time that a person can write: one hour.
inline constexpr Nanoseconds max_written_time = std::chrono::hours(1);
/// Where sums of times stop growing (about 146 years), so that no input overflows.
inline constexpr Nanoseconds max_duration{std::int64_t{1} << 62};

/// The slowest and the fastest rate, in steps per second.
inline constexpr double min_rate = 0.01;
inline constexpr double max_rate = 100'000.0;

/// How far a sound's pitch may be moved, up or down, in semitones (four octaves).
inline constexpr double max_semitones = 48;
/// The least and the greatest gain of a sound, in decibels.
inline constexpr double min_decibels = -96;
inline constexpr double max_decibels = 24;

/// A rate as a writer gives it: absolute, in steps per second (`20cps`), or relative to what
/// surrounds it (`x0.5` is half as fast).
struct RateChange {
  double value = 1.0;
  bool relative = true;
  friend bool operator==(const RateChange&, const RateChange&) = default;
};

/// Reads a time: a decimal number and a unit, `ms` or `s`, without a blank between; 0 to one hour.
/// Fails with a readable message.
[[nodiscard]] ARVIK_API tl::expected<Nanoseconds, std::string> parse_time(std::string_view word);

/// Reads an absolute rate, `30cps`, min_rate to max_rate. Fails with a readable message.
[[nodiscard]] ARVIK_API tl::expected<double, std::string> parse_rate(std::string_view word);

/// Reads an absolute or a relative rate; a factor is 0.01 to 100. Fails with a readable message.
[[nodiscard]] ARVIK_API tl::expected<RateChange, std::string> parse_rate_change(
    std::string_view word);

/// Reads a percentage, `120%`: 0 to 100000. Fails with a readable message.
[[nodiscard]] ARVIK_API tl::expected<double, std::string> parse_percent(std::string_view word);

/// Reads a musical interval, `-2st` or `+0.5st` (semitones): -48 to 48. Fails with a readable
/// message.
[[nodiscard]] ARVIK_API tl::expected<double, std::string> parse_semitones(std::string_view word);

/// Reads a gain, `-6dB` or `+3dB`: -96 to 24. Fails with a readable message.
[[nodiscard]] ARVIK_API tl::expected<double, std::string> parse_decibels(std::string_view word);

/// Reads a plain decimal number: digits, at most one point, no sign and no exponent.
[[nodiscard]] ARVIK_API tl::expected<double, std::string> parse_decimal(std::string_view word);

/// `a + b`, both at least 0, stopping at max_duration.
[[nodiscard]] constexpr Nanoseconds add_saturated(Nanoseconds a, Nanoseconds b) {
  return a > max_duration - b ? max_duration : a + b;
}

/// A time in seconds, for people and for formulas.
[[nodiscard]] constexpr double in_seconds(Nanoseconds time) {
  return std::chrono::duration<double>(time).count();
}

/// A time in whole microseconds, rounded to the nearest, as exported files have it.
[[nodiscard]] constexpr std::int64_t in_microseconds(Nanoseconds time) {
  return std::chrono::round<std::chrono::microseconds>(time).count();
}

/// The interval of one step at `steps_per_second`, rounded to the nearest nanosecond. The rate is
/// first brought into min_rate to max_rate.
[[nodiscard]] ARVIK_API Nanoseconds interval_of(double steps_per_second);

}  // namespace arvik
