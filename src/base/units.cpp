#include "arvik/units.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>

#include "arvik/diagnostic.hpp"

namespace arvik {
namespace {

constexpr double nanoseconds_per_second = 1e9;
constexpr double min_factor = 0.01;
constexpr double max_factor = 100.0;

}  // namespace

tl::expected<double, std::string> parse_decimal(std::string_view word) {
  // from_chars alone would also take a sign, an exponent, "inf" and "nan".
  const bool plain = !word.empty() && word.find_first_not_of("0123456789.") == word.npos;
  double value = 0;
  const auto [end, failure] = std::from_chars(word.data(), word.data() + word.size(), value);
  if (!plain || failure != std::errc{} || end != word.data() + word.size()) {
    return tl::unexpected(quoted_word(word) + " is not a number");
  }
  return value;
}

tl::expected<double, std::string> parse_percent(std::string_view word) {
  constexpr double most = 100'000;
  const bool percent = word.ends_with('%');
  const auto value = parse_decimal(percent ? word.substr(0, word.size() - 1) : word);
  if (!percent || !value || *value > most) {
    return tl::unexpected(quoted_word(word) + " is not a percentage: write it like 120%");
  }
  return *value;
}

namespace {

// A number with a sign or none, and a unit.
std::optional<double> parse_signed(std::string_view word, std::string_view unit) {
  if (!word.ends_with(unit)) return std::nullopt;
  word.remove_suffix(unit.size());
  const bool negative = word.starts_with('-');
  if (negative || word.starts_with('+')) word.remove_prefix(1);
  const auto value = parse_decimal(word);
  if (!value) return std::nullopt;
  return negative ? -*value : *value;
}

}  // namespace

tl::expected<double, std::string> parse_semitones(std::string_view word) {
  const auto value = parse_signed(word, "st");
  if (!value || std::abs(*value) > max_semitones) {
    return tl::unexpected(quoted_word(word) +
                          " is no pitch: write it in semitones like -2st or 0.5st, -48 to 48");
  }
  return *value;
}

tl::expected<double, std::string> parse_decibels(std::string_view word) {
  const auto value = parse_signed(word, "dB");
  if (!value || *value < min_decibels || *value > max_decibels) {
    return tl::unexpected(quoted_word(word) +
                          " is no gain: write it in decibels like -6dB, -96 to 24");
  }
  return *value;
}

tl::expected<Nanoseconds, std::string> parse_time(std::string_view word) {
  double unit = 0;
  std::string_view number = word;
  if (word.ends_with("ms")) {
    unit = nanoseconds_per_second / 1000;
    number.remove_suffix(2);
  } else if (word.ends_with('s')) {
    unit = nanoseconds_per_second;
    number.remove_suffix(1);
  }
  const auto value = parse_decimal(number);
  if (unit == 0 || !value) {
    return tl::unexpected(quoted_word(word) + " is not a time: write it like 400ms or 1.5s");
  }
  const double nanoseconds = *value * unit;
  if (nanoseconds > static_cast<double>(max_written_time.count())) {
    return tl::unexpected(quoted_word(word) + " is too long: a time is one hour at most");
  }
  return Nanoseconds(std::llround(nanoseconds));
}

tl::expected<double, std::string> parse_rate(std::string_view word) {
  if (!word.ends_with("cps")) {
    return tl::unexpected(quoted_word(word) +
                          " is not a rate: write it like 30cps (characters per second)");
  }
  const auto value = parse_decimal(word.substr(0, word.size() - 3));
  if (!value) {
    return tl::unexpected(quoted_word(word) +
                          " is not a rate: write it like 30cps (characters per second)");
  }
  if (*value < min_rate || *value > max_rate) {
    return tl::unexpected(quoted_word(word) + " is out of range: a rate is 0.01cps to 100000cps");
  }
  return *value;
}

tl::expected<RateChange, std::string> parse_rate_change(std::string_view word) {
  if (word.starts_with('x')) {
    const auto factor = parse_decimal(word.substr(1));
    if (!factor) {
      return tl::unexpected(quoted_word(word) + " is not a rate: write it like x0.5 or 20cps");
    }
    if (*factor < min_factor || *factor > max_factor) {
      return tl::unexpected(quoted_word(word) + " is out of range: a factor is x0.01 to x100");
    }
    return RateChange{*factor, true};
  }
  auto rate = parse_rate(word);
  if (!rate && !word.ends_with("cps")) {
    return tl::unexpected(quoted_word(word) + " is not a rate: write it like x0.5 or 20cps");
  }
  return std::move(rate).map([](double value) { return RateChange{value, false}; });
}

Nanoseconds interval_of(double steps_per_second) {
  const double rate = std::clamp(steps_per_second, min_rate, max_rate);
  return Nanoseconds(std::llround(nanoseconds_per_second / rate));
}

}  // namespace arvik
