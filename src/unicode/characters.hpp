#pragma once

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

#include "arvik/steps.hpp"

/// Single characters: decoding, repair and properties. Everything here is a pure function.
namespace arvik::unicode {

inline constexpr char32_t replacement = 0xFFFD;

/// One decoded code point.
struct Decoded {
  char32_t code_point = 0;
  std::uint32_t size = 0;  ///< bytes taken; for wrong bytes, those of one maximal subpart
  bool valid = true;       ///< false: code_point is U+FFFD for bytes that are not UTF-8
};

/// Decodes at `at`, which must lie inside `text`. Wrong bytes give one U+FFFD per maximal subpart
/// (The Unicode Standard, chapter 3, "U+FFFD Substitution of Maximal Subparts").
[[nodiscard]] Decoded decode(std::string_view text, std::size_t at);

/// Appends valid UTF-8 for a scalar value.
void append(std::string& out, char32_t code_point);

[[nodiscard]] StepKind kind_of(char32_t code_point);

/// Upper or title case.
[[nodiscard]] bool is_capital(char32_t code_point);

/// East_Asian_Width is W or F (UAX #11).
[[nodiscard]] bool is_wide(char32_t code_point);

/// Columns that a grapheme cluster takes in a terminal or another monospace grid: 0, 1 or 2 for
/// common clusters. Wide characters and emoji take 2, nonspacing marks and unseen characters 0,
/// spacing marks 1 more. Blanks, the tab included, take 1; row ends 0.
[[nodiscard]] int cell_width(std::string_view cluster);

}  // namespace arvik::unicode
