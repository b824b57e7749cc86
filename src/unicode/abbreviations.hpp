#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "arvik/language.hpp"

namespace arvik::unicode {

/// Words with their grades.
class AbbreviationTable {
 public:
  using Entry = std::pair<std::string, Abbreviation>;

  AbbreviationTable() = default;
  /// Where a word stands twice, the first counts.
  explicit AbbreviationTable(std::vector<Entry> entries);

  [[nodiscard]] Abbreviation find(std::string_view word) const;
  /// Whether any word begins so.
  [[nodiscard]] bool has_prefix(std::string_view parts) const;

 private:
  static constexpr std::size_t lengths = 32;

  std::vector<Entry> entries_;  // sorted by word
  // Most words are none of them: for each length which letters they begin and end with, as bits.
  struct Edges {
    std::uint64_t first = 0;
    std::uint64_t last = 0;
  };
  std::array<Edges, lengths> edges_{};
};

/// The abbreviations of a language ("en", "de", …; the bare language code). Empty for a language
/// that neither ICU nor the project has a list for.
[[nodiscard]] AbbreviationTable load_abbreviations(std::string_view language);

/// See Language::is_numbered_by_letters.
[[nodiscard]] bool is_numbered_by_letters(std::string_view language, std::string_view noun);

/// See Language::is_one_letter_word.
[[nodiscard]] bool is_one_letter_word(std::string_view language, std::string_view letter);

/// The habits of a language: bit 1 << habit.
[[nodiscard]] unsigned habits_of(std::string_view language);

/// See Language::is_saying.
[[nodiscard]] bool is_saying(std::string_view language, std::string_view word);

/// See Language::is_ordinal_before.
[[nodiscard]] bool is_ordinal_before(std::string_view language, std::string_view next_word);

}  // namespace arvik::unicode
