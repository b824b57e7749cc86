// Guarded by tests/check/cases_test.cpp.

#include "written.hpp"

#include <unicode/uchar.h>
#include <unicode/unorm2.h>

#include "characters.hpp"

namespace arvik::unicode {
namespace {

// Composes; its data are compiled into ICU, so that it is always there.
const UNormalizer2* composer() {
  UErrorCode status = U_ZERO_ERROR;
  return unorm2_getNFCInstance(&status);
}

}  // namespace

TextRange find_decomposed(std::string_view text) {
  const UNormalizer2* normalizer = composer();
  char32_t before = 0;
  std::size_t begin = 0;
  for (std::size_t at = 0; at < text.size();) {
    const Decoded next = decode(text, at);
    if (before != 0 && next.code_point >= 0x300 &&
        unorm2_composePair(normalizer, static_cast<UChar32>(before),
                           static_cast<UChar32>(next.code_point)) >= 0) {
      return {begin, at + next.size};
    }
    before = next.code_point;
    begin = at;
    at += next.size;
  }
  return {};
}

bool has_composed(std::string_view text) {
  const UNormalizer2* normalizer = composer();
  for (std::size_t at = 0; at < text.size();) {
    const Decoded next = decode(text, at);
    at += next.size;
    if (next.code_point < 0xC0) continue;
    UErrorCode status = U_ZERO_ERROR;
    UChar parts[8];
    const auto letter = static_cast<UChar32>(next.code_point);
    if (unorm2_getRawDecomposition(normalizer, letter, parts, 8, &status) > 1) return true;
  }
  return false;
}

int digit_value(char32_t code_point) { return u_charDigitValue(static_cast<UChar32>(code_point)); }

LetterCase case_of(char32_t code_point) {
  if (is_small(code_point)) return LetterCase::small;
  return is_capital(code_point) ? LetterCase::capital : LetterCase::none;
}

char32_t small_letter(char32_t code_point) {
  return static_cast<char32_t>(u_tolower(static_cast<UChar32>(code_point)));
}

bool is_spoken(char32_t code_point) {
  const StepKind kind = kind_of(code_point);
  return kind == StepKind::letter || kind == StepKind::digit;
}

bool asks(char32_t code_point) { return is_question_mark(code_point); }

}  // namespace arvik::unicode
