#pragma once

#include <cstdint>
#include <span>
#include <string_view>

#include "arvik/language.hpp"
#include "arvik/steps.hpp"

/// What the library asks of single characters, in one look-up: a table of two stages that
/// scripts/unicode_table writes from Unicode's data.
namespace arvik::unicode {

/// How a character joins to its neighbours in a grapheme cluster, as far as it alone tells (UAX
/// #29).
enum class Joining : std::uint8_t {
  alone,    ///< Grapheme_Cluster_Break = Other: joins to nothing by itself
  mark,     ///< joins to what precedes, and to nothing behind it
  control,  ///< a boundary on both sides
  cr,       ///< joins to LF
  lf,
  syllable,  ///< Hangul LV and LVT: may take jamo behind it
  open       ///< more than the neighbours decide: viramas, joiners, jamo, flags, unassigned
};

/// What a row may do before and behind a character, as far as its neighbours tell (UAX #14).
enum class RowClass : std::uint8_t {
  open,         ///< more than the neighbours decide
  word,         ///< letters and digits of scripts that write blanks (AL, HL, NU)
  mark,         ///< belongs to what precedes (CM)
  space,        ///< U+0020
  trailing,     ///< infix separators (IS) and narrow closing brackets (CP): `.` `,` `:` `;` `)`
  exclamation,  ///< narrow EX: `!` `?`
  inseparable,  ///< IN, and punctuation of NS: `…` `：` `・`
  dash,         ///< B2: `—`
  hyphen,       ///< HY and BA: `-` `–` `।`, the tab, blanks of fixed widths
  glue,         ///< GL, and QU, which Chinese tailors: no-break blanks, `'` `"` `“` `’` `«`
  ideograph,    ///< ideographs, kana but the small ones, Hangul syllables
  small_kana,   ///< small kana and `ー` (CJ): as ideographs or not, as the language has it
  bracket,      ///< narrow opening brackets and low quotes (OP): `(` `[` `„`
  opening,      ///< wide opening brackets
  closing,      ///< wide closing brackets, `、` `。` `，` `．` `！` `？`
  row_end
};

enum class Flag : std::uint8_t {
  capital,    ///< upper or title case
  small,      ///< lower case
  cased,      ///< of a script that has cases
  emoji,      ///< shown as a picture by default (UTS #51)
  question,   ///< a question mark of any script
  backwards,  ///< brings in text from right to left (UAX #9)
  number,     ///< a digit of Europe or Arabia (UAX #9)
  forwards    ///< runs from left to right, directs, or ends a paragraph (UAX #9)
};

/// How much a letter says beside one of an alphabet (step_weights()).
enum class Weight : std::uint8_t { letter, kana, syllable, ideograph };

/// Steps::traits: the columns in the lowest two bits, above them the row class, above it the
/// weight.
[[nodiscard]] constexpr std::uint8_t traits_of(int cells, RowClass row, Weight weight) {
  return static_cast<std::uint8_t>((cells < 3 ? cells : 3) | static_cast<int>(row) << 2 |
                                   static_cast<int>(weight) << 6);
}
[[nodiscard]] constexpr int cells_of(std::uint8_t traits) { return traits & 3; }
[[nodiscard]] constexpr RowClass row_class_of(std::uint8_t traits) {
  return static_cast<RowClass>(traits >> 2 & 15);
}
[[nodiscard]] constexpr Weight weight_of(std::uint8_t traits) {
  return static_cast<Weight>(traits >> 6);
}

struct Properties {
  StepKind kind;
  Joining joining;
  std::uint8_t traits;  ///< of a step that is this character alone
  std::uint8_t flags;

  [[nodiscard]] constexpr bool has(Flag flag) const {
    return (flags >> static_cast<unsigned>(flag) & 1U) != 0;
  }
};

namespace table {

struct Range {
  std::uint32_t first;
  std::uint32_t value;
};
struct ScriptRange {
  std::uint32_t first;
  ScriptCode script;
};

inline constexpr char32_t limit = 0x32400;  // behind it, ranges
inline constexpr unsigned shift = 7;
// Up to here, which is as far as two bytes of UTF-8 reach, blocks stand in the order of their code
// points.
inline constexpr char32_t near_limit = 0x800;

extern const Properties pool[];
extern const std::uint16_t first[];          // the block of every 128 code points
extern const std::uint8_t second[];          // blocks of indices into the pool; see near_limit
extern const std::span<const Range> ranges;  // rising, to the end of Unicode
extern const std::span<const ScriptRange> scripts;
extern const std::string_view version;  // of Unicode
}  // namespace table

/// Whether ICU is of the version of Unicode that the table was made from (major and minor).
[[nodiscard]] bool icu_has_version_of_table();

/// Of a code point below table::near_limit.
[[nodiscard]] inline const Properties& near_properties_of(char32_t code_point) {
  return table::pool[table::second[code_point]];
}

/// For what lies beyond the blocks.
[[nodiscard]] const Properties& far_properties_of(char32_t code_point);

[[nodiscard]] inline const Properties& properties_of(char32_t code_point) {
  if (code_point >= table::limit) return far_properties_of(code_point);
  const std::uint32_t block = table::first[code_point >> table::shift];
  return table::pool[table::second[block << table::shift |
                                   (code_point & ((1U << table::shift) - 1))]];
}

/// Finds the scripts of characters; common_script of one that belongs to several or to none. Quick
/// where neighbours are of one script.
class ScriptFinder {
 public:
  [[nodiscard]] ScriptCode script_of(char32_t code_point) {
    if (code_point < first_ || code_point >= end_) find(code_point);
    return script_;
  }

 private:
  void find(char32_t code_point);

  // The last range that was found.
  char32_t first_ = 0;
  char32_t end_ = 0;
  ScriptCode script_ = common_script;
};

}  // namespace arvik::unicode
