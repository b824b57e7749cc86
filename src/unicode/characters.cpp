#include "characters.hpp"

#include <unicode/uchar.h>
#include <unicode/unorm2.h>
#include <unicode/utf16.h>
#include <unicode/utf8.h>

#include <algorithm>
#include <array>
#include <cstring>

namespace arvik::unicode {
namespace {

UChar32 icu(char32_t code_point) { return static_cast<UChar32>(code_point); }

StepKind kind_of_punctuation(char32_t code_point, int8_t category) {
  switch (code_point) {
    case 0xFF0E:  // fullwidth full stop
    case 0x2024:  // one dot leader
      return StepKind::full_stop;
    case 0xFF61:  // its halfwidth form
    case 0x06D4:  // arabic full stop
      return StepKind::stop;
    case 0xFF0C:  // fullwidth comma
    case 0x060C:  // arabic comma
      return StepKind::comma;
    case 0xFF1A:  // fullwidth colon
      return StepKind::colon;
    case 0x2026:  // horizontal ellipsis
    case 0x2025:  // two dot leader
    case 0xFE19:  // vertical ellipsis form
      return StepKind::ellipsis;
    case 0x201D:  // right double quotation mark
    case 0x2019:  // right single quotation mark, the apostrophe
      return StepKind::closer;
    case 0x30FB:  // katakana middle dot
    case 0xFF65:  // its halfwidth form
    case 0x00B7:  // middle dot
      return StepKind::middle_dot;
    case 0x3030:  // wavy dash
    case 0x30A0:  // katakana double hyphen
      return StepKind::symbol;
    case 0x05BE:  // hebrew maqaf
    case 0x1400:  // canadian syllabics hyphen
    case 0x1806:  // mongolian todo soft hyphen
    case 0x2010:  // hyphen
    case 0x2011:  // non-breaking hyphen
    case 0x058A:  // armenian hyphen
    case 0xFE63:  // small hyphen-minus
    case 0xFF0D:  // fullwidth hyphen-minus
      return StepKind::hyphen;
    default:
      break;
  }
  if (u_hasBinaryProperty(icu(code_point), UCHAR_S_TERM)) return StepKind::terminal;
  if (u_hasBinaryProperty(icu(code_point), UCHAR_TERMINAL_PUNCTUATION)) return StepKind::clause;
  switch (category) {
    case U_DASH_PUNCTUATION:
      return StepKind::dash;
    case U_START_PUNCTUATION:
      return StepKind::opener;
    case U_END_PUNCTUATION:
    case U_FINAL_PUNCTUATION:
      return StepKind::closer;
    case U_INITIAL_PUNCTUATION:
      return StepKind::quote;
    default:
      return StepKind::symbol;
  }
}

// Of characters beyond ASCII.
StepKind classify(char32_t code_point) {
  const int8_t category = u_charType(icu(code_point));
  switch (category) {
    case U_UPPERCASE_LETTER:
    case U_LOWERCASE_LETTER:
    case U_TITLECASE_LETTER:
    case U_MODIFIER_LETTER:
    case U_OTHER_LETTER:
    case U_NON_SPACING_MARK:
    case U_ENCLOSING_MARK:
    case U_COMBINING_SPACING_MARK:
    case U_LETTER_NUMBER:
      return u_hasBinaryProperty(icu(code_point), UCHAR_DEFAULT_IGNORABLE_CODE_POINT)
                 ? StepKind::unseen
                 : StepKind::letter;
    case U_DECIMAL_DIGIT_NUMBER:
      return StepKind::digit;
    case U_LINE_SEPARATOR:
    case U_PARAGRAPH_SEPARATOR:
      return StepKind::row_end;
    case U_SPACE_SEPARATOR:
      return StepKind::blank;
    case U_CONTROL_CHAR:
      return code_point == 0x85 ? StepKind::row_end : StepKind::unseen;  // next line
    case U_DASH_PUNCTUATION:
    case U_START_PUNCTUATION:
    case U_END_PUNCTUATION:
    case U_CONNECTOR_PUNCTUATION:
    case U_OTHER_PUNCTUATION:
    case U_INITIAL_PUNCTUATION:
    case U_FINAL_PUNCTUATION:
      return kind_of_punctuation(code_point, category);
    default:
      break;
  }
  if (code_point == 0x22EF) return StepKind::ellipsis;  // midline ellipsis, a math symbol
  // Box-drawing lines, which Chinese and Japanese texts have for long dashes.
  if (code_point == 0x2500 || code_point == 0x2501) return StepKind::dash;
  return u_hasBinaryProperty(icu(code_point), UCHAR_DEFAULT_IGNORABLE_CODE_POINT)
             ? StepKind::unseen
             : StepKind::symbol;
}

bool is_conjoining_tail(char32_t code_point) {  // Hangul vowels and trailing consonants
  return (code_point >= 0x1160 && code_point <= 0x11FF) ||
         (code_point >= 0xD7B0 && code_point <= 0xD7FF);
}

int cells_of(char32_t code_point) {
  switch (u_charType(icu(code_point))) {
    case U_NON_SPACING_MARK:
    case U_ENCLOSING_MARK:
      return 0;
    default:
      break;
  }
  const StepKind kind = kind_of(code_point);
  if (kind == StepKind::unseen || kind == StepKind::row_end) return 0;
  if (is_conjoining_tail(code_point)) return 0;
  return is_wide(code_point) ? 2 : 1;
}

}  // namespace

Decoded decode_any(std::string_view text, std::size_t at) {
  const auto* bytes = reinterpret_cast<const uint8_t*>(text.data());
  auto next = static_cast<int64_t>(at);
  UChar32 code_point = 0;
  U8_NEXT(bytes, next, static_cast<int64_t>(text.size()), code_point);
  const auto size = static_cast<std::uint32_t>(next - static_cast<int64_t>(at));
  if (code_point < 0) return {replacement, size, false};
  return {static_cast<char32_t>(code_point), size, true};
}

void append(std::string& out, char32_t code_point) {
  std::array<uint8_t, U8_MAX_LENGTH> bytes{};
  std::size_t size = 0;
  U8_APPEND_UNSAFE(bytes.data(), size, icu(code_point));
  out.append(reinterpret_cast<const char*>(bytes.data()), size);
}

StepKind kind_of(char32_t code_point) {
  if (code_point < ascii_kinds.size()) return ascii_kinds[code_point];
  if (is_plain_wide_letter(code_point)) return StepKind::letter;
  if (is_cjk_sign(code_point)) return cjk_sign_kinds[code_point - first_cjk_sign];
  return classify(code_point);
}

std::size_t valid_run(std::string_view text, std::size_t at) {
  const std::size_t begin = at;
  while (at < text.size()) {
    if (static_cast<unsigned char>(text[at]) < 0x80) {
      at += ascii_run(text, at);
      continue;
    }
    const Decoded now = decode(text, at);
    if (!now.valid) break;
    at += now.size;
  }
  return at - begin;
}

std::string repaired(std::string_view text) {
  std::string out;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t good = valid_run(text, at);
    out.append(text, at, good);
    at += good;
    if (at == text.size()) break;
    const Decoded wrong = decode(text, at);
    append(out, wrong.code_point);
    at += wrong.size;
  }
  return out;
}

std::size_t ascii_run(std::string_view text, std::size_t at) {
  const std::size_t begin = at;
  for (std::uint64_t word = 0; at + sizeof word <= text.size(); at += sizeof word) {
    std::memcpy(&word, text.data() + at, sizeof word);
    if ((word & 0x8080808080808080U) != 0) break;
  }
  while (at < text.size() && static_cast<unsigned char>(text[at]) < 0x80) ++at;
  return at - begin;
}

bool is_capital(char32_t code_point) {
  return u_isUUppercase(icu(code_point)) != 0 || u_istitle(icu(code_point)) != 0;
}

bool is_small(char32_t code_point) { return u_isULowercase(icu(code_point)) != 0; }

bool is_cased(char32_t code_point) {
  return u_hasBinaryProperty(icu(code_point), UCHAR_CASED) != 0;
}

char32_t bare_letter(std::string_view cluster) {
  if (cluster.empty()) return 0;
  char32_t letter = decode(cluster, 0).code_point;
  UErrorCode status = U_ZERO_ERROR;
  const UNormalizer2* canonical = unorm2_getNFDInstance(&status);
  std::array<UChar, 32> decomposed{};
  const int32_t size =
      U_FAILURE(status) ? 0
                        : unorm2_getDecomposition(canonical, icu(letter), decomposed.data(),
                                                  static_cast<int32_t>(decomposed.size()), &status);
  if (U_SUCCESS(status) && size > 0) {
    UChar32 first = 0;
    int32_t at = 0;
    U16_NEXT(decomposed.data(), at, size, first);
    letter = static_cast<char32_t>(first);
  }
  return static_cast<char32_t>(u_foldCase(icu(letter), U_FOLD_CASE_DEFAULT));
}

bool is_question_mark(char32_t code_point) {
  // Unicode has no property for it. Latin, Greek, Armenian, Arabic, Ethiopic, Limbu, Coptic, Vai,
  // Bamum, the doubled and the wide ones, and the interrobang.
  static constexpr std::array<char32_t, 17> marks{0x3F,   0x37E,  0x55E,  0x61F,  0x1367, 0x1945,
                                                  0x203D, 0x2047, 0x2048, 0x2049, 0x2CFA, 0x2CFB,
                                                  0x2E2E, 0xA60F, 0xA6F7, 0xFE56, 0xFF1F};
  return std::find(marks.begin(), marks.end(), code_point) != marks.end();
}

bool is_wide(char32_t code_point) {
  if (code_point < 0x1100) return false;
  const int width = u_getIntPropertyValue(icu(code_point), UCHAR_EAST_ASIAN_WIDTH);
  return width == U_EA_WIDE || width == U_EA_FULLWIDTH;
}

int cell_width(std::string_view cluster) {
  if (cluster.empty()) return 0;
  Decoded now = decode(cluster, 0);
  if (now.size == cluster.size()) {
    const bool plain = is_plain_wide_letter(now.code_point) || is_cjk_sign(now.code_point);
    return plain ? 2 : cells_of(now.code_point);
  }

  // A cluster that is shown as an emoji is one picture however many characters it has (UTS #51):
  // a flag, a sequence with U+FE0F, or a base that is an emoji by default.
  const bool pictograph = u_hasBinaryProperty(icu(now.code_point), UCHAR_EMOJI_PRESENTATION) != 0;
  bool text_style = false;
  bool emoji_style = false;
  int sum = 0;
  for (std::size_t at = 0; at < cluster.size(); at += now.size) {
    now = decode(cluster, at);
    text_style = text_style || now.code_point == 0xFE0E;
    emoji_style = emoji_style || now.code_point == 0xFE0F || now.code_point == 0x20E3;
    sum += cells_of(now.code_point);
  }
  if (text_style) return 1;
  return pictograph || emoji_style ? 2 : sum;
}

}  // namespace arvik::unicode
