#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>

#include "arvik/export.hpp"
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
  // E0 and ED have forbidden ranges behind them; those are for the slow way.
  if (lead > 0xE0 && lead < 0xF0 && lead != 0xED && left > 2 && continues(1) && continues(2)) {
    return {(lead & 0xFU) << 12U | (byte(1) & 0x3FU) << 6U | (byte(2) & 0x3FU), 3, true};
  }
  if (lead > 0xC1 && lead < 0xE0 && left > 1 && continues(1)) {
    return {(lead & 0x1FU) << 6U | (byte(1) & 0x3FU), 2, true};
  }
  return decode_any(text, at);
}

/// Appends valid UTF-8 for a scalar value.
void append(std::string& out, char32_t code_point);

/// The kinds of ASCII, spelt out so that looking one up costs nothing.
[[nodiscard]] constexpr std::array<StepKind, 128> make_ascii_kinds() {
  std::array<StepKind, 128> kinds{};
  kinds.fill(StepKind::symbol);
  for (std::size_t c = 0; c < 0x20; ++c) kinds[c] = StepKind::unseen;
  for (std::size_t c = '\n'; c <= '\r'; ++c) kinds[c] = StepKind::row_end;  // LF VT FF CR
  for (std::size_t c = 'a'; c <= 'z'; ++c) kinds[c] = StepKind::letter;
  for (std::size_t c = 'A'; c <= 'Z'; ++c) kinds[c] = StepKind::letter;
  for (std::size_t c = '0'; c <= '9'; ++c) kinds[c] = StepKind::digit;
  kinds['\t'] = kinds[' '] = StepKind::blank;
  kinds['.'] = StepKind::full_stop;
  kinds['!'] = kinds['?'] = StepKind::terminal;
  kinds[','] = StepKind::comma;
  kinds[':'] = StepKind::colon;
  kinds[';'] = StepKind::clause;
  kinds['-'] = StepKind::hyphen;
  kinds['"'] = kinds['\''] = StepKind::quote;
  kinds['('] = kinds['['] = kinds['{'] = StepKind::opener;
  kinds[')'] = kinds[']'] = kinds['}'] = StepKind::closer;
  kinds[0x7F] = StepKind::unseen;
  return kinds;
}
inline constexpr std::array<StepKind, 128> ascii_kinds = make_ascii_kinds();

/// Letters that are wide, stand alone and fill most East Asian text: unified ideographs, hiragana,
/// katakana. Known without asking ICU; false says nothing.
[[nodiscard]] constexpr bool is_plain_wide_letter(char32_t c) {
  return (c >= 0x4E00 && c <= 0x9FFF) || (c >= 0x3041 && c <= 0x3096) ||
         (c >= 0x30A1 && c <= 0x30FA);
}

/// CJK punctuation, which is wide and stands alone, too: U+3000 to U+3029 and their kinds.
inline constexpr char32_t first_cjk_sign = 0x3000;
[[nodiscard]] constexpr std::array<StepKind, 0x2A> make_cjk_sign_kinds() {
  std::array<StepKind, 0x2A> kinds{};
  kinds.fill(StepKind::symbol);
  kinds[0x00] = StepKind::blank;
  kinds[0x01] = StepKind::clause;
  kinds[0x02] = StepKind::stop;
  for (std::size_t letter = 0x05; letter <= 0x07; ++letter) kinds[letter] = StepKind::letter;
  for (std::size_t pair = 0x08; pair <= 0x1A; pair += 2) {
    if (pair == 0x12) continue;  // two symbols among the pairs of brackets
    kinds[pair] = StepKind::opener;
    kinds[pair + 1] = StepKind::closer;
  }
  kinds[0x1D] = StepKind::opener;
  kinds[0x1E] = kinds[0x1F] = StepKind::closer;
  for (std::size_t numeral = 0x21; numeral <= 0x29; ++numeral) kinds[numeral] = StepKind::letter;
  return kinds;
}
inline constexpr auto cjk_sign_kinds = make_cjk_sign_kinds();
[[nodiscard]] constexpr bool is_cjk_sign(char32_t c) {
  return c >= first_cjk_sign && c < first_cjk_sign + cjk_sign_kinds.size();
}

[[nodiscard]] StepKind kind_of(char32_t code_point);

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
[[nodiscard]] bool is_capital(char32_t code_point);
/// Lower case.
[[nodiscard]] bool is_small(char32_t code_point);
/// Of a script that has cases.
[[nodiscard]] bool is_cased(char32_t code_point);

/// The letter that a grapheme cluster is, without case and marks: the first character of its
/// canonical decomposition (UAX #15), case-folded. "É" and "é" are "e", "が" is "か".
[[nodiscard]] char32_t bare_letter(std::string_view cluster);
/// A question mark of any script.
[[nodiscard]] bool is_question_mark(char32_t code_point);

/// East_Asian_Width is W or F (UAX #11).
[[nodiscard]] bool is_wide(char32_t code_point);

/// Columns that a grapheme cluster takes in a terminal or another monospace grid: 0, 1 or 2 for
/// common clusters. Wide characters and emoji take 2, nonspacing marks and unseen characters 0,
/// spacing marks 1 more. Blanks, the tab included, take 1; row ends 0.
[[nodiscard]] int cell_width(std::string_view cluster);

}  // namespace arvik::unicode
