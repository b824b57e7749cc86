// Steps, row breaks and words, by Unicode's own test files and against ICU alone.

#include <unicode/ubrk.h>
#include <unicode/uchar.h>
#include <unicode/utext.h>
#include <catch2/catch.hpp>
#include <fstream>
#include <optional>
#include <sstream>

#include "arvik/language.hpp"
#include "support/generator.hpp"

using namespace arvik;

namespace {

using Boundaries = std::vector<std::size_t>;

Boundaries boundaries_of(const Steps& steps) {
  Boundaries result;
  for (std::size_t i = 1; i < steps.extents.size(); ++i) result.push_back(steps.extents[i].bytes);
  return result;
}

// ICU alone, over UTF-8, without any fast path.
class Icu {
 public:
  explicit Icu(UBreakIteratorType type, const char* locale = "en") {
    UErrorCode status = U_ZERO_ERROR;
    iterator_ = ubrk_open(type, locale, nullptr, 0, &status);
    REQUIRE(U_SUCCESS(status));
  }
  Icu(const Icu&) = delete;
  Icu& operator=(const Icu&) = delete;
  ~Icu() { ubrk_close(iterator_); }

  Boundaries boundaries(const std::string& text) {
    UErrorCode status = U_ZERO_ERROR;
    UText* source =
        utext_openUTF8(nullptr, text.data(), static_cast<int64_t>(text.size()), &status);
    ubrk_setUText(iterator_, source, &status);
    Boundaries result;
    for (int32_t at = ubrk_next(iterator_); at != UBRK_DONE; at = ubrk_next(iterator_)) {
      result.push_back(static_cast<std::size_t>(at));
    }
    utext_close(source);
    if (U_FAILURE(status)) FAIL(u_errorName(status));
    return result;
  }

 private:
  UBreakIterator* iterator_ = nullptr;
};

Boundaries icu_boundaries(const std::string& text, UBreakIteratorType type) {
  return Icu(type).boundaries(text);
}

// Ends of rows that ICU allows, as far as they are between steps and not at the end.
Boundaries icu_row_ends(Icu& icu, const std::string& text, const Steps& steps) {
  const Boundaries of_steps = boundaries_of(steps);
  Boundaries result;
  for (const std::size_t at : icu.boundaries(text)) {
    const bool at_step = std::binary_search(of_steps.begin(), of_steps.end(), at);
    const bool at_end = at == text.size() && steps.kinds.back() != StepKind::row_end;
    if (at_step && !at_end) result.push_back(at);
  }
  return result;
}

Boundaries row_ends(Language& language, const std::string& text, const Steps& steps) {
  std::vector<RowBreak> breaks;
  language.row_breaks(text, steps, breaks);
  Boundaries result;
  for (std::uint32_t i = 0; i < steps.size(); ++i) {
    if (breaks[i] != RowBreak::none) result.push_back(steps.end_byte(i));
  }
  return result;
}

// Calls `check` with every text of three of the characters.
template <typename Check>
void for_triples(const std::vector<std::string>& characters, Check check) {
  for (const std::string& a : characters) {
    for (const std::string& b : characters) {
      for (const std::string& c : characters) check(a + b + c);
    }
  }
}

// One or more characters of every class that matters to graphemes: letters, marks of all kinds,
// viramas and the consonants that they link, joiners, jamo, syllables, flags, emoji, controls.
const std::vector<std::string> of_graphemes{
    "a",      "\u0301", "\u0903", "\u0e33", "\u093c", "\u094d", "\u0915",    "\u0937", "\u09cd",
    "\u0995", "\u0d4d", "\u0d15", "\u1039", "\u1000", "\u17d2", "\u1780",    "\u0bcd", "\u0b95",
    "\u200d", "\u200c", "\u1100", "\u1161", "\u11a8", "\uac00", "\uac01",    "🇦",      "👍",
    "🏽",   "☂",      "\ufe0f", "\u20e3", "\u0600", "\u0d4e", "\r",        "\n",     "\u200b",
    "\x01",   "水",     "\u3099", "\u05b0", "\u0e01", "\u0e48", "\U000e0061"};

// The same for rows: every class of UAX #14.
const std::vector<std::string> of_rows{
    "a",      "7",      "\u05d0", " ",      "  ",     ".",      ",",      ":",      "!",
    "?",      "'",      "\u2019", "\u201c", "\u201d", "\"",     "\u00ab", "-",      "\u2010",
    "\u2014", "\u2026", "(",      ")",      "]",      "/",      "%",      "$",      "\u20ac",
    "\u00a0", "\u2060", "\u200b", "\u200d", "\u0301", "\n",     "\u2028", "水",     "ア",
    "ァ",     "ー",     "、",     "。",     "，",     "！",     "？",     "「",     "」",
    "・",     "\uac00", "\u1100", "\u0e01", "\u0e48", "🇦",      "☂",      "👍",      "🏽",
    "\ufffc", "\u0915", "\u094d", "\u0967", "\u00ad", "\t",     "\u201e", "\u2018", "\u00bb",
    "\u2013", "\u2003", "\u0964", "：",     "〜",     "\u203c", "\uff62", "（",     "\u202f",
    "№",      "\u17d4", "["};

}  // namespace

TEST_CASE("steps agree with Unicode's GraphemeBreakTest.txt, as far as ICU does") {
  std::ifstream file("/usr/share/unicode/auxiliary/GraphemeBreakTest.txt");
  REQUIRE(file);
  Language language = Language::open("en").value();
  int cases = 0;
  int failed_by_icu = 0;
  for (std::string row; std::getline(file, row);) {
    std::istringstream words(row.substr(0, row.find('#')));
    std::string text;
    Boundaries expected;
    for (std::string word; words >> word;) {
      if (word == "÷") {
        if (!text.empty()) expected.push_back(text.size());
      } else if (word != "×") {
        text += test::utf8(static_cast<std::uint32_t>(std::stoul(word, nullptr, 16)));
      }
    }
    if (text.empty()) continue;
    ++cases;
    if (icu_boundaries(text, UBRK_CHARACTER) != expected) {
      ++failed_by_icu;
      continue;
    }
    INFO(row);
    CHECK(boundaries_of(language.segment(text)) == expected);
  }
  CHECK(cases > 600);
  CHECK(failed_by_icu == 0);
}

TEST_CASE("the fast path gives the answer of ICU on generated text") {
  Language language = Language::open("en").value();
  test::Random random(1);
  for (int i = 0; i < 3000; ++i) {
    const std::string text = test::random_text(random, 1 + test::below(random, 30));
    INFO(text);
    REQUIRE(boundaries_of(language.segment(text)) == icu_boundaries(text, UBRK_CHARACTER));
  }
  Icu icu(UBRK_CHARACTER);
  for_triples(of_graphemes, [&](const std::string& text) {
    if (boundaries_of(language.segment(text)) == icu.boundaries(text)) return;
    INFO(text);
    REQUIRE(boundaries_of(language.segment(text)) == icu.boundaries(text));
  });
  for (int i = 0; i < 20'000; ++i) {
    std::string text;
    for (std::uint64_t length = 4 + test::below(random, 8); length > 0; --length) {
      text += of_graphemes[test::below(random, of_graphemes.size())];
    }
    INFO(text);
    REQUIRE(boundaries_of(language.segment(text)) == icu.boundaries(text));
  }
  std::string ascii;
  for (int i = 0; i < 20'000; ++i) ascii += static_cast<char>(test::below(random, 128));
  CHECK(boundaries_of(language.segment(ascii)) == icu_boundaries(ascii, UBRK_CHARACTER));
}

TEST_CASE("extents count bytes, code points and UTF-16 units") {
  Language language = Language::open("en").value();
  const Steps steps = language.segment("aé👍🏽\r\nz");
  REQUIRE(steps.size() == 5);
  CHECK(steps.extents[2] == Extent{3, 2, 2});
  CHECK(steps.extents[3] == Extent{11, 4, 6});
  CHECK(steps.extents[4] == Extent{13, 6, 8});
  CHECK(steps.kinds[3] == StepKind::row_end);
  CHECK(steps.kinds[2] == StepKind::symbol);
  CHECK(language.segment("").size() == 0);
}

TEST_CASE("kinds of steps") {
  Language language = Language::open("en").value();
  struct Row {
    const char* text;
    StepKind kind;
  };
  const Row rows[] = {
      {"a", StepKind::letter},       {"水", StepKind::letter},      {"३", StepKind::digit},
      {"☂", StepKind::symbol},       {"1️⃣", StepKind::symbol}, {"\t", StepKind::blank},
      {"\u3000", StepKind::blank},   {"\u00a0", StepKind::blank},   {"\n", StepKind::row_end},
      {"\u2029", StepKind::row_end}, {"\u200b", StepKind::unseen},  {"\u200f", StepKind::unseen},
      {"\u00ad", StepKind::unseen},  {"\x01", StepKind::unseen},    {".", StepKind::full_stop},
      {"。", StepKind::stop},        {"?", StepKind::terminal},     {"؟", StepKind::terminal},
      {"।", StepKind::terminal},     {",", StepKind::comma},        {"،", StepKind::comma},
      {"、", StepKind::clause},      {";", StepKind::clause},       {"—", StepKind::dash},
      {"-", StepKind::hyphen},       {"…", StepKind::ellipsis},     {"・", StepKind::middle_dot},
      {")", StepKind::closer},       {"」", StepKind::closer},      {"”", StepKind::closer},
      {"“", StepKind::quote},        {"\"", StepKind::quote},       {"(", StepKind::opener},
      {"〜", StepKind::symbol},      {" \u0301", StepKind::letter}, {"\u0600", StepKind::symbol}};
  for (const Row& row : rows) {
    INFO(row.text);
    const Steps steps = language.segment(row.text);
    REQUIRE(steps.size() == 1);
    CHECK(static_cast<int>(steps.kinds[0]) == static_cast<int>(row.kind));
  }
}

TEST_CASE("kinds follow Unicode's properties for every character") {
  // The slow way, by ICU's properties; what the project sorts by hand is left out.
  const auto expected = [](UChar32 c) -> std::optional<StepKind> {
    const bool ignorable = u_hasBinaryProperty(c, UCHAR_DEFAULT_IGNORABLE_CODE_POINT) != 0;
    switch (u_charType(c)) {
      case U_DECIMAL_DIGIT_NUMBER:
        return StepKind::digit;
      case U_SPACE_SEPARATOR:
        return StepKind::blank;
      case U_LINE_SEPARATOR:
      case U_PARAGRAPH_SEPARATOR:
        return StepKind::row_end;
      case U_LETTER_NUMBER:
        return StepKind::letter;
      case U_CONTROL_CHAR:
      case U_SURROGATE:
        return std::nullopt;
      default:
        break;
    }
    if (u_isalpha(c) != 0) return ignorable ? StepKind::unseen : StepKind::letter;
    if (u_ispunct(c) == 0) return std::nullopt;
    if (u_charType(c) == U_START_PUNCTUATION) return StepKind::opener;
    if (u_charType(c) == U_END_PUNCTUATION) return StepKind::closer;
    return std::nullopt;
  };
  Language language = Language::open("en").value();
  int compared = 0;
  for (UChar32 c = 0; c <= 0x10FFFF; ++c) {
    const auto kind = expected(c);
    if (!kind) continue;
    std::string text;
    text += test::utf8(static_cast<std::uint32_t>(c));
    const Steps steps = language.segment(text);
    if (steps.kinds.size() == 1 && steps.kinds[0] == *kind) {
      ++compared;
      continue;
    }
    INFO("U+" << std::hex << c);
    REQUIRE(steps.kinds.size() == 1);
    REQUIRE(static_cast<int>(steps.kinds[0]) == static_cast<int>(*kind));
  }
  CHECK(compared > 130'000);
}

bool at_icu_break(const std::string& text, std::size_t at) {
  const Boundaries breaks = icu_boundaries(text, UBRK_LINE);
  return std::find(breaks.begin(), breaks.end(), at) != breaks.end();
}

TEST_CASE("row breaks are those of ICU, and follow the language") {
  Language english = Language::open("en").value();
  Language thai = Language::open("th").value();
  std::vector<RowBreak> breaks;
  const auto allowed = [&](Language& language, const std::string& text) {
    return row_ends(language, text, language.segment(text));
  };
  CHECK(allowed(english, "a b-c d") == Boundaries{2, 4, 6});
  CHECK(allowed(english, "水門の") == Boundaries{3, 6});
  CHECK(allowed(english, "a\nb") == Boundaries{2});
  CHECK(allowed(english, "a\n") == Boundaries{2});
  english.row_breaks("a\n", english.segment("a\n"), breaks);
  CHECK(breaks[1] == RowBreak::required);
  CHECK(allowed(english, "").empty());
  CHECK(allowed(thai, "สวัสดีครับ").size() == 1);  // two words without a blank

  test::Random random(2);
  for (int i = 0; i < 500; ++i) {
    const std::string text = test::random_text(random, 1 + test::below(random, 20));
    const Steps steps = english.segment(text);
    INFO(text);
    Icu icu(UBRK_LINE);
    REQUIRE(allowed(english, text) == icu_row_ends(icu, text, steps));
    english.row_breaks(text, steps, breaks);
    for (std::uint32_t step = 0; step < steps.size(); ++step) {
      const bool required = breaks[step] == RowBreak::required;
      REQUIRE(required ==
              (steps.kinds[step] == StepKind::row_end && at_icu_break(text, steps.end_byte(step))));
    }
  }
}

TEST_CASE("what is not asked about rows is what ICU would answer, in every language") {
  {
    Language language = Language::open("en").value();
    Icu icu(UBRK_LINE);
    for_triples(of_rows, [&](const std::string& text) {
      const Steps steps = language.segment(text);
      if (row_ends(language, text, steps) == icu_row_ends(icu, text, steps)) return;
      INFO(text);
      REQUIRE(row_ends(language, text, steps) == icu_row_ends(icu, text, steps));
    });
  }
  struct Tag {
    const char* bcp47;
    const char* icu;
  };
  for (const Tag tag : {Tag{"en", "en"},
                        {"ja", "ja"},
                        {"zh", "zh"},
                        {"ko", "ko"},
                        {"th", "th"},
                        {"he", "he"},
                        {"ar", "ar"},
                        {"fr", "fr"},
                        {"hi", "hi"},
                        {"fi", "fi"},
                        {"ja-u-lb-strict", "ja@lb=strict"},
                        {"zh-u-lb-loose", "zh@lb=loose"},
                        {"ja-U-lw-phrase", "ja@lw=phrase"}}) {
    Language language = Language::open(tag.bcp47).value();
    Icu icu(UBRK_LINE, tag.icu);
    test::Random random(3);
    for (int i = 0; i < 4000; ++i) {
      std::string text;
      for (std::uint64_t length = 4 + test::below(random, 12); length > 0; --length) {
        text += of_rows[test::below(random, of_rows.size())];
      }
      const Steps steps = language.segment(text);
      INFO(tag.bcp47 << ": " << text);
      REQUIRE(row_ends(language, text, steps) == icu_row_ends(icu, text, steps));
    }
  }
}

TEST_CASE("abbreviations have grades, and spoken words are none") {
  const Language english = Language::open("en-GB").value();
  CHECK(english.abbreviation("Mr.") == Abbreviation::always);
  CHECK(english.abbreviation("Dr.") == Abbreviation::always);
  CHECK(english.abbreviation("No.") == Abbreviation::before_digit);
  CHECK(english.abbreviation("p.m.") == Abbreviation::unless_capital);
  for (const char* spoken : {"Is.", "In.", "Go.", "OK.", "Ok.", "I.", "All.", "clock.", ""}) {
    INFO(spoken);
    CHECK(english.abbreviation(spoken) == Abbreviation::none);
  }
  const Language german = Language::open("de").value();
  CHECK(german.abbreviation("z.B.") == Abbreviation::always);
  CHECK(german.abbreviation("Dir.") == Abbreviation::none);
  const Language polish = Language::open("pl").value();
  CHECK(polish.abbreviation("np.") == Abbreviation::always);
  CHECK(polish.abbreviation("Approx.") == Abbreviation::none);  // not the default language's list
  CHECK(english.is_one_letter_word("I"));
  CHECK_FALSE(english.is_one_letter_word("J"));
}

TEST_CASE("languages that cannot be served are refused") {
  for (const char* wrong : {"", "not a tag", "en_", "x", "e", "toolongsubtag-x", "en\n"}) {
    INFO(wrong);
    const auto language = Language::open(wrong);
    REQUIRE_FALSE(language.has_value());
    CHECK(language.error().code == DiagnosticCode::language_unavailable);
  }
  CHECK(Language::open("tlh").has_value());  // well-formed, unknown to ICU: root rules
  CHECK(Language::open("pt-BR")->tag() == "pt-BR");
}

TEST_CASE("what a language does does not depend on how many others were used before") {
  const std::string text = "ภาษาไทยไม่มีช่องว่าง";
  const auto breaks_in_thai = [&](Language& language) {
    Language& thai = language.other("th");
    CHECK(thai.tag() == "th");
    const Steps steps = thai.segment(text);
    std::vector<RowBreak> breaks;
    thai.row_breaks(text, steps, breaks);
    return breaks;
  };
  Language fresh = Language::open("en").value();
  Language used = Language::open("en").value();
  for (int i = 0; i < 40; ++i) {
    const std::string tag =
        std::string("en-x-") + static_cast<char>('a' + i % 26) + std::to_string(i);
    CHECK(used.other(tag).tag() == tag);
  }
  CHECK(breaks_in_thai(used) == breaks_in_thai(fresh));
}
