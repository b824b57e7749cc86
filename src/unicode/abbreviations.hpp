#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "arvik/language.hpp"

namespace arvik::unicode {

/// Sorted by word.
using AbbreviationTable = std::vector<std::pair<std::string, Abbreviation>>;

/// The abbreviations of a language ("en", "de", …; the bare language code). Empty for a language
/// that neither ICU nor the project has a list for.
[[nodiscard]] AbbreviationTable load_abbreviations(std::string_view language);

/// See Language::is_numbered_by_letters.
[[nodiscard]] bool is_numbered_by_letters(std::string_view language, std::string_view noun);

/// See Language::is_one_letter_word.
[[nodiscard]] bool is_one_letter_word(std::string_view language, std::string_view letter);

/// The habits of a language: bit 1 << habit.
[[nodiscard]] unsigned habits_of(std::string_view language);

/// See Language::is_ordinal_before.
[[nodiscard]] bool is_ordinal_before(std::string_view language, std::string_view next_word);

}  // namespace arvik::unicode
