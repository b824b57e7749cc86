#pragma once

#include <cstdint>
#include <string_view>

/// Numbers that look random and are the same for the same input, on every machine.
namespace arvik::base {

/// SplitMix64's output function.
[[nodiscard]] constexpr std::uint64_t mixed(std::uint64_t x) {
  x += 0x9E3779B97F4A7C15;
  x = (x ^ (x >> 30U)) * 0xBF58476D1CE4E5B9;
  x = (x ^ (x >> 27U)) * 0x94D049BB133111EB;
  return x ^ (x >> 31U);
}

/// 0 to less than 1.
[[nodiscard]] constexpr double uniform(std::uint64_t mixed) {
  constexpr double to_one = 1.0 / (std::uint64_t{1} << 53U);
  return static_cast<double>(mixed >> 11U) * to_one;
}

/// FNV-1a, so that different texts begin differently. `hash` is that of what stands before.
[[nodiscard]] constexpr std::uint64_t hash_of(std::string_view text,
                                              std::uint64_t hash = 0xCBF29CE484222325) {
  for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001B3;
  return hash;
}

}  // namespace arvik::base
