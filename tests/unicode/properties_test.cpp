// The table of properties is Unicode's: every code point, against ICU.

#include <unicode/uchar.h>
#include <unicode/uscript.h>
#include <catch2/catch.hpp>
#include <cstring>
#include <sstream>

#include "unicode/properties.hpp"

using namespace arvik;
using namespace arvik::unicode;

namespace {

bool is(UChar32 c, UProperty property) { return u_hasBinaryProperty(c, property) != 0; }
int of(UChar32 c, UProperty property) { return u_getIntPropertyValue(c, property); }

Joining joining_by_icu(UChar32 c) {
  if (u_charType(c) == U_UNASSIGNED) return Joining::open;
  const int syllabic = of(c, UCHAR_INDIC_SYLLABIC_CATEGORY);
  const bool links = syllabic == U_INSC_VIRAMA || syllabic == U_INSC_INVISIBLE_STACKER;
  switch (of(c, UCHAR_GRAPHEME_CLUSTER_BREAK)) {
    case U_GCB_OTHER:
      return Joining::alone;
    case U_GCB_CONTROL:
      return Joining::control;
    case U_GCB_CR:
      return Joining::cr;
    case U_GCB_LF:
      return Joining::lf;
    case U_GCB_LV:
    case U_GCB_LVT:
      return Joining::syllable;
    case U_GCB_EXTEND:
    case U_GCB_SPACING_MARK:
      return links || c == 0x200C ? Joining::open : Joining::mark;
    default:
      return Joining::open;
  }
}

bool is_row_class(UChar32 c, RowClass row) {
  const int line = of(c, UCHAR_LINE_BREAK);
  const int width = of(c, UCHAR_EAST_ASIAN_WIDTH);
  const bool is_narrow = width != U_EA_WIDE && width != U_EA_FULLWIDTH && width != U_EA_HALFWIDTH;
  switch (row) {
    case RowClass::open:
      return true;  // asks ICU, so nothing can be wrong
    case RowClass::word:
      return line == U_LB_ALPHABETIC || line == U_LB_HEBREW_LETTER || line == U_LB_NUMERIC;
    case RowClass::mark:
      return line == U_LB_COMBINING_MARK;
    case RowClass::space:
      return line == U_LB_SPACE;
    case RowClass::trailing:
      return (line == U_LB_INFIX_NUMERIC || line == U_LB_CLOSE_PARENTHESIS) && is_narrow;
    case RowClass::exclamation:
      return line == U_LB_EXCLAMATION && is_narrow;
    case RowClass::inseparable:
      return line == U_LB_INSEPARABLE || line == U_LB_NONSTARTER;
    case RowClass::dash:
      return line == U_LB_BREAK_BOTH;
    case RowClass::hyphen:
      return line == U_LB_HYPHEN || line == U_LB_BREAK_AFTER;
    case RowClass::glue:
      return line == U_LB_QUOTATION || line == U_LB_GLUE;
    case RowClass::bracket:
      return line == U_LB_OPEN_PUNCTUATION && is_narrow;
    case RowClass::ideograph:
      return line == U_LB_IDEOGRAPHIC || line == U_LB_H2 || line == U_LB_H3;
    case RowClass::small_kana:
      return line == U_LB_CONDITIONAL_JAPANESE_STARTER;
    case RowClass::opening:
      return line == U_LB_OPEN_PUNCTUATION && width != U_EA_NEUTRAL;
    case RowClass::closing:
      return line == U_LB_CLOSE_PUNCTUATION || line == U_LB_EXCLAMATION;
    case RowClass::row_end:
      return line == U_LB_MANDATORY_BREAK || line == U_LB_CARRIAGE_RETURN ||
             line == U_LB_LINE_FEED || line == U_LB_NEXT_LINE;
  }
  return false;
}

int cells_by_icu(UChar32 c, StepKind kind) {
  const int type = u_charType(c);
  if (type == U_NON_SPACING_MARK || type == U_ENCLOSING_MARK) return 0;
  if (kind == StepKind::unseen || kind == StepKind::row_end) return 0;
  if ((c >= 0x1160 && c <= 0x11FF) || (c >= 0xD7B0 && c <= 0xD7FF)) return 0;
  const int width = of(c, UCHAR_EAST_ASIAN_WIDTH);
  return c >= 0x1100 && (width == U_EA_WIDE || width == U_EA_FULLWIDTH) ? 2 : 1;
}

bool in_directions(UChar32 c, std::initializer_list<UCharDirection> some) {
  return std::find(some.begin(), some.end(), u_charDirection(c)) != some.end();
}

ScriptCode script_by_icu(UChar32 c) {
  UErrorCode status = U_ZERO_ERROR;
  const UScriptCode script = uscript_getScript(c, &status);
  if (script <= USCRIPT_INHERITED || script == USCRIPT_UNKNOWN) return common_script;
  ScriptCode code = 0;
  const char* name = uscript_getShortName(script);
  for (int letter = 0; letter < 4; ++letter) {
    code = code << 8U | static_cast<unsigned char>(name[letter]);
  }
  return code;
}

// Empty if the table says of the code point what ICU says.
std::string difference(UChar32 c) {
  const Properties& has = properties_of(static_cast<char32_t>(c));
  if (has.joining != joining_by_icu(c)) return "joining";
  if (!is_row_class(c, row_class_of(has.traits))) return "row class";
  if (cells_of(has.traits) != cells_by_icu(c, has.kind)) return "cells";
  const bool title = u_charType(c) == U_TITLECASE_LETTER;
  if (has.has(Flag::capital) != (is(c, UCHAR_UPPERCASE) || title)) return "capital";
  if (has.has(Flag::small) != is(c, UCHAR_LOWERCASE)) return "small";
  if (has.has(Flag::cased) != is(c, UCHAR_CASED)) return "cased";
  if (has.has(Flag::emoji) != is(c, UCHAR_EMOJI_PRESENTATION)) return "emoji";
  const int hangul = of(c, UCHAR_HANGUL_SYLLABLE_TYPE);
  const bool syllable = hangul == U_HST_LV_SYLLABLE || hangul == U_HST_LVT_SYLLABLE;
  if ((weight_of(has.traits) == Weight::syllable) != syllable) return "weight of a syllable";
  const bool ideograph = is(c, UCHAR_IDEOGRAPHIC) && u_charType(c) == U_OTHER_LETTER;
  if (script_by_icu(c) == 0x48616E69 && (weight_of(has.traits) == Weight::ideograph) != ideograph &&
      c != 0x3005) {
    return "weight of an ideograph";
  }
  if (has.has(Flag::backwards) !=
      in_directions(
          c, {U_RIGHT_TO_LEFT, U_RIGHT_TO_LEFT_ARABIC, U_ARABIC_NUMBER, U_RIGHT_TO_LEFT_EMBEDDING,
              U_RIGHT_TO_LEFT_OVERRIDE, U_RIGHT_TO_LEFT_ISOLATE})) {
    return "backwards";
  }
  if (has.has(Flag::number) != in_directions(c, {U_EUROPEAN_NUMBER, U_ARABIC_NUMBER})) {
    return "number";
  }
  if (u_charType(c) == U_UNASSIGNED) return "";
  if (has.has(Flag::forwards) !=
      in_directions(c, {U_LEFT_TO_RIGHT, U_LEFT_TO_RIGHT_EMBEDDING, U_LEFT_TO_RIGHT_OVERRIDE,
                        U_LEFT_TO_RIGHT_ISOLATE, U_RIGHT_TO_LEFT_EMBEDDING,
                        U_RIGHT_TO_LEFT_OVERRIDE, U_RIGHT_TO_LEFT_ISOLATE, U_FIRST_STRONG_ISOLATE,
                        U_POP_DIRECTIONAL_FORMAT, U_POP_DIRECTIONAL_ISOLATE, U_BLOCK_SEPARATOR})) {
    return "forwards";
  }
  const bool sentence_end = is(c, UCHAR_S_TERM);
  if ((has.kind == StepKind::terminal) && !sentence_end) return "terminal";
  if ((has.kind == StepKind::clause) && !is(c, UCHAR_TERMINAL_PUNCTUATION)) return "clause";
  if (ScriptFinder().script_of(static_cast<char32_t>(c)) != script_by_icu(c)) return "script";
  return "";
}

}  // namespace

TEST_CASE("the table has Unicode's properties for every code point") {
  UVersionInfo version{};
  u_getUnicodeVersion(version);
  std::ostringstream name;
  name << int{version[0]} << '.' << int{version[1]} << '.' << int{version[2]};
  INFO(
      "The table and ICU are of different versions of Unicode. With a newer unicode-data run "
      "scripts/unicode_table and commit what it writes; code points that the table does not know "
      "are left to ICU until then.");
  REQUIRE(name.str() == table::version);
  for (UChar32 c = 0; c <= 0x10FFFF; ++c) {
    const std::string what = difference(c);
    if (what.empty()) continue;
    INFO("U+" << std::hex << c << ": " << what);
    REQUIRE(what == "");
  }
}
