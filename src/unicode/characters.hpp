#pragma once

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

#include "arvik/export.hpp"
#include "arvik/steps.hpp"
#include "properties.hpp"

/// Single characters: decoding, repair and properties. Everything here is a pure function.
namespace arvik::unicode {

inline constexpr char32_t replacement = 0xFFFD;

/// One decoded code point.
struct Decoded {
  char32_t code_point = 0;
  std::uint32_t size = 0;  ///< bytes taken; for wrong bytes, those of one maximal subpart
  bool valid = true;       ///< false: code_point is U+FFFD for bytes that are not UTF-8
};

/// Decodes at `at`, which must lie inside `text`. Exported: arvik::fonts uses it. Wrong bytes give
/// one U+FFFD per maximal subpart (The Unicode Standard, chapter 3, "U+FFFD Substitution of Maximal
/// Subparts").
[[nodiscard]] ARVIK_API Decoded decode_any(std::string_view text, std::size_t at);

/// The same; common valid sequences of one to three bytes are read in place.
[[nodiscard]] inline Decoded decode(std::string_view text, std::size_t at) {
  const auto byte = [&](std::size_t i) -> std::uint32_t {
    return static_cast<unsigned char>(text[at + i]);
  };
  const auto continues = [&](std::size_t i) { return (byte(i) & 0xC0U) == 0x80U; };
  const std::uint32_t lead = byte(0);
  if (lead < 0x80) return {lead, 1, true};
  const std::size_t left = text.size() - at;
  if (lead >= 0xE0 && lead < 0xF0 && left > 2 && continues(1) && continues(2)) {
    const char32_t c = (lead & 0xFU) << 12U | (byte(1) & 0x3FU) << 6U | (byte(2) & 0x3FU);
    // Too long a form and surrogates are for the slow way.
    if (c >= 0x800 && (c < 0xD800 || c > 0xDFFF)) return {c, 3, true};
  }
  if (lead > 0xC1 && lead < 0xE0 && left > 1 && continues(1)) {
    return {(lead & 0x1FU) << 6U | (byte(1) & 0x3FU), 2, true};
  }
  return decode_any(text, at);
}

/// Appends valid UTF-8 for a scalar value.
void append(std::string& out, char32_t code_point);

[[nodiscard]] inline StepKind kind_of(char32_t code_point) {
  return properties_of(code_point).kind;
}

/// The text, or as much of it as is ever read: whole characters of its first max_text_bytes.
[[nodiscard]] std::string_view cut_to_limit(std::string_view text);

/// How many bytes at `at` and behind it are valid UTF-8.
[[nodiscard]] std::size_t valid_run(std::string_view text, std::size_t at);

/// Whether all of it is valid UTF-8.
[[nodiscard]] inline bool is_valid(std::string_view text) {
  return valid_run(text, 0) == text.size();
}

/// The text as valid UTF-8: wrong bytes become U+FFFD, one for each maximal subpart.
[[nodiscard]] std::string repaired(std::string_view text);

/// How many bytes at `at` and behind it are ASCII.
[[nodiscard]] std::size_t ascii_run(std::string_view text, std::size_t at);

/// Upper or title case.
[[nodiscard]] inline bool is_capital(char32_t code_point) {
  return properties_of(code_point).has(Flag::capital);
}
/// Lower case.
[[nodiscard]] inline bool is_small(char32_t code_point) {
  return properties_of(code_point).has(Flag::small);
}
/// Of a script that has cases.
[[nodiscard]] inline bool is_cased(char32_t code_point) {
  return properties_of(code_point).has(Flag::cased);
}

/// The letter that a grapheme cluster is, without case and marks: the first character of its
/// canonical decomposition (UAX #15), case-folded. "É" and "é" are "e", "が" is "か".
[[nodiscard]] ARVIK_API char32_t bare_letter(std::string_view cluster);
/// A question mark of any script.
[[nodiscard]] inline bool is_question_mark(char32_t code_point) {
  return properties_of(code_point).has(Flag::question);
}
/// Takes two columns: East_Asian_Width is W or F (UAX #11).
[[nodiscard]] inline bool is_wide(char32_t code_point) {
  return cells_of(properties_of(code_point).traits) == 2;
}

/// Columns that a grapheme cluster takes in a terminal or another monospace grid: 0, 1 or 2 for
/// common clusters. Wide characters and emoji take 2, nonspacing marks and unseen characters 0,
/// spacing marks 1 more. Blanks, the tab included, take 1; row ends 0.
[[nodiscard]] int cell_width(std::string_view cluster);

}  // namespace arvik::unicode
