#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "arvik/language.hpp"
#include "language_table.hpp"

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

/// The abbreviations of a language ("en", "de", …; the bare language code), which has a table or
/// not. Empty for a language that neither ICU nor the project has a list for.
[[nodiscard]] AbbreviationTable load_abbreviations(std::string_view language,
                                                   const LanguageTable* table);

/// The habits of a language: bit 1 << habit.
[[nodiscard]] unsigned habits_of(const LanguageTable* table);

/// Which bytes end any of the words, as bits by their value modulo 64.
[[nodiscard]] std::uint64_t last_bytes_of(std::string_view words);

}  // namespace arvik::unicode
