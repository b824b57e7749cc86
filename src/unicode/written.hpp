#pragma once

#include <string_view>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/language.hpp"

/// What other libraries than the core ask about characters: how they were typed and are spoken, not
/// how they are shown.
namespace arvik::unicode {

/// The first letter that is written in several characters though Unicode has it in one (NFC, UAX
/// #15): "e" with U+0301 for "é". An empty range if there is none.
[[nodiscard]] ARVIK_API TextRange find_decomposed(std::string_view text);
/// Whether any letter is written in one character that could be written in several.
[[nodiscard]] ARVIK_API bool has_composed(std::string_view text);

/// The value of a decimal digit of any script; -1 for what is none.
[[nodiscard]] ARVIK_API int digit_value(char32_t code_point);

/// What a letter is by its case; `none` of scripts without cases and of what is no letter.
enum class LetterCase : std::uint8_t { none, small, capital };
[[nodiscard]] ARVIK_API LetterCase case_of(char32_t code_point);
/// In small letters.
[[nodiscard]] ARVIK_API char32_t small_letter(char32_t code_point);
/// A letter or a digit of any script: what is spoken.
[[nodiscard]] ARVIK_API bool is_spoken(char32_t code_point);
/// A question mark of any script.
[[nodiscard]] ARVIK_API bool asks(char32_t code_point);

}  // namespace arvik::unicode
