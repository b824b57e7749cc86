#pragma once

#include <algorithm>
#include <span>
#include <string>
#include <string_view>

namespace arvik::unicode {

/// What one language writes in ways of its own: the rows of its file in src/unicode/languages,
/// words parted by blanks. docs/languages.md says what each holds.
struct LanguageTable {
  std::string_view tag;
  std::string_view always;
  std::string_view before_digit;
  std::string_view unless_capital;
  std::string_view spoken;
  std::string_view one_letter;
  std::string_view numbered;
  std::string_view ordinals;
  std::string_view ordinal_articles;
  std::string_view saying;
  std::string_view habits;
};

/// All of them; written by cmake/LanguageTables.cmake.
extern const std::span<const LanguageTable> language_tables;

/// That of a language (the bare code); null if it has none.
[[nodiscard]] const LanguageTable* find_language_table(std::string_view tag);

/// Whether a list of words, parted by blanks, has one.
[[nodiscard]] bool contains_word(std::string_view words, std::string_view word);

/// The word with its letters of ASCII small.
[[nodiscard]] std::string lower_ascii(std::string_view word);

/// Calls visit for each word of such a list.
template <typename Visit>
void for_each_word(std::string_view words, Visit visit) {
  while (!words.empty()) {
    const std::size_t blank = std::min(words.find(' '), words.size());
    if (blank > 0) visit(words.substr(0, blank));
    words.remove_prefix(std::min(blank + 1, words.size()));
  }
}

}  // namespace arvik::unicode
