#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <string_view>
#include <vector>

/// Steps: the smallest things revealed, one extended grapheme cluster each (UAX #29), numbered
/// from 0 in logical order. Schedule, layout and playback are keyed by step index.
namespace arvik {

/// The longest text that is taken: 16 MiB. Longer input is cut there with text_too_long.
inline constexpr std::size_t max_text_bytes = std::size_t{16} << 20;

/// What a step is, as far as timing, layout and sound care. From Unicode's General_Category,
/// Sentence_Terminal, Terminal_Punctuation, Dash and Default_Ignorable_Code_Point.
enum class StepKind : std::uint8_t {
  letter,      ///< letters, syllables, ideographs, and marks that stand alone
  digit,       ///< decimal digits of any script
  symbol,      ///< everything else that is seen: symbols, emoji, icons, punctuation that never ends
  blank,       ///< white space within a row
  row_end,     ///< a row end that was written: LF, CR LF, U+2028, …
  unseen,      ///< nothing to see: soft hyphen, direction mark, zero-width space, control
  full_stop,   ///< `.` and its wide forms: may also stand inside a number or name
  stop,        ///< a stop that stands nowhere else: `。` `۔`
  terminal,    ///< other sentence ends: `!` `?` `।` `؟` …
  comma,       ///< `,` `，` `،`: may also stand inside a number
  colon,       ///< `:` and its wide form: may also stand inside a time or a word
  clause,      ///< other punctuation that ends a clause: `;` `、` …
  dash,        ///< en, em and longer dashes
  hyphen,      ///< hyphens, the ASCII one included
  ellipsis,    ///< `…` `‥` `⋯`
  middle_dot,  ///< `・` `·`: three of them are an ellipsis
  closer,      ///< closing brackets and final quotes
  quote,       ///< quotes that open or close, as their neighbours tell: `"` `'` `“` `«`
  opener,      ///< opening brackets
};

/// Sizes of a prefix of the plain text, in the units that engines count in.
struct Extent {
  std::uint32_t bytes = 0;
  std::uint32_t code_points = 0;
  std::uint32_t utf16_units = 0;
  friend bool operator==(const Extent&, const Extent&) = default;
};

/// The steps of one plain text. Owns its arrays; stays valid without the text.
struct Steps {
  /// extents[n] is the size of the first n steps; size() + 1 entries, the first all zero.
  std::vector<Extent> extents{Extent{}};
  /// One entry a step.
  std::vector<StepKind> kinds;
  /// One entry a step: what layout asks of it, found together with its kind. The lowest two bits
  /// are the columns that it takes on a grid, 3 standing for more than two; the others are the
  /// library's.
  std::vector<std::uint8_t> traits;
  /// Whether any character is of a right-to-left class (UAX #9: R, AL, AN, or an explicit
  /// right-to-left control). Without one, visual order is logical order.
  bool right_to_left = false;
  /// Whether any character runs from left to right, directs or ends a paragraph (UAX #9: L,
  /// explicit controls, B), and whether any is a digit (EN, AN). Text from right to left with
  /// neither is a single run.
  bool left_to_right = false;
  bool numbers = false;

  [[nodiscard]] std::uint32_t size() const { return static_cast<std::uint32_t>(kinds.size()); }
  [[nodiscard]] std::uint32_t begin_byte(std::uint32_t step) const { return extents[step].bytes; }
  [[nodiscard]] std::uint32_t end_byte(std::uint32_t step) const { return extents[step + 1].bytes; }
  /// The first step, from `first` on, that begins at this byte or behind it; size() if none does.
  [[nodiscard]] std::uint32_t step_from(std::size_t byte, std::uint32_t first = 0) const {
    const auto by_bytes = [](const Extent& extent, std::size_t at) { return extent.bytes < at; };
    const auto found = std::lower_bound(extents.begin() + first, extents.end(), byte, by_bytes);
    return std::min(static_cast<std::uint32_t>(found - extents.begin()), size());
  }
  /// The bytes of one step in `text`, which must be the text that was segmented.
  [[nodiscard]] std::string_view text(std::string_view text, std::uint32_t step) const {
    return text.substr(begin_byte(step), end_byte(step) - begin_byte(step));
  }
};

/// Which steps begin a row or a page of a laid-out line, rising; the first of the line is not among
/// them. row_starts() of a layout fills it, and a schedule reads it.
struct RowStarts {
  std::vector<std::uint32_t> rows{};
  std::vector<std::uint32_t> pages{};
};

/// Whether a step takes ink: neither white space nor row end nor unseen.
[[nodiscard]] constexpr bool has_ink(StepKind kind) {
  return kind != StepKind::blank && kind != StepKind::row_end && kind != StepKind::unseen;
}

}  // namespace arvik
