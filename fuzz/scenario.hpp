#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <string>

namespace arvik::fuzz {

/// Builds a whole scenario from bytes (pace, box, language, markup, and what the player does),
/// plays it, and checks the library's promises on the way: nothing leaks, rows are whole, events
/// come exactly once and in order, cutting time differently changes nothing. Returns the first
/// promise that was broken, or an empty string.
[[nodiscard]] std::string broken_promise(std::span<const std::uint8_t> bytes);

/// The same for a markup and a seed for everything else.
[[nodiscard]] std::string broken_promise(const std::string& markup, std::uint64_t seed);

}  // namespace arvik::fuzz
