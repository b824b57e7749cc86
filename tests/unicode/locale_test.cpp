// Tags, parents, directions, numbers and plural categories of locales.

#include <unicode/unumberformatter.h>
#include <unicode/upluralrules.h>

#include <catch2/catch.hpp>

#include "arvik/locale.hpp"

using namespace arvik;

namespace {

std::string chain_of(std::string_view tag) {
  std::string chain;
  for (const std::string& locale : locale_chain(tag)) chain += (chain.empty() ? "" : " ") + locale;
  return chain;
}

// ICU's own answer, asked in another way.
std::string icu_category(const char* locale, double number) {
  UErrorCode status = U_ZERO_ERROR;
  UPluralRules* rules = uplrules_open(locale, &status);
  UChar keyword[16];
  const int32_t size = uplrules_select(rules, number, keyword, 16, &status);
  uplrules_close(rules);
  REQUIRE(U_SUCCESS(status));
  return {keyword, keyword + size};
}

}  // namespace

TEST_CASE("a locale goes on to those that its readers can read") {
  struct Row {
    const char* tag;
    const char* chain;
  };
  for (const Row& row : {Row{"de", "de"},
                         {"de-AT", "de-AT de"},
                         {"DE-at", "de-AT de"},
                         {"zh-TW", "zh-TW zh-Hant"},
                         {"zh-Hant-TW", "zh-Hant-TW zh-Hant"},
                         {"zh-Hant", "zh-Hant"},
                         {"zh-CN", "zh-CN zh"},
                         {"zh-Hans-CN", "zh-Hans-CN zh-Hans zh"},
                         {"zh-Hant-HK", "zh-Hant-HK zh-Hant"},
                         {"sr-Latn-RS", "sr-Latn-RS sr-Latn"},
                         {"sr-RS", "sr-RS sr"},
                         {"es-MX", "es-MX es-419 es"},
                         {"pt-AO", "pt-AO pt-PT pt"},
                         {"pt-BR", "pt-BR pt"},
                         {"en-AU", "en-AU en-001 en"},
                         {"en-XA", "en-XA en"},
                         {"ar-XB", "ar-XB ar"},
                         {"ja-u-lb-strict", "ja-u-lb-strict ja"},
                         {"", ""},
                         {"no such tag", ""},
                         {"xx", ""},
                         {"en_US", ""}}) {
    INFO(row.tag);
    CHECK(chain_of(row.tag) == row.chain);
  }
  CHECK(canonical_locale("PT-br") == "pt-BR");
  CHECK_FALSE(canonical_locale("#note").has_value());
  CHECK(direction_of("ar-EG") == Direction::right_to_left);
  CHECK(direction_of("he") == Direction::right_to_left);
  CHECK(direction_of("az-Arab") == Direction::right_to_left);
  CHECK(direction_of("ja") == Direction::left_to_right);
}

TEST_CASE("plural categories are those of ICU") {
  for (const char* tag : {"ar", "pl", "ru", "ja", "en", "de", "cs", "fr", "he", "lv", "cy", "ga"}) {
    Language language = Language::open(tag).value();
    INFO(tag);
    for (int number = 0; number <= 1200; ++number) {
      INFO(number);
      const NumberForm form = language.write_number(std::int64_t{number});
      REQUIRE(plural_category_name(form.category) == icu_category(tag, number));
    }
    for (const double number : {0.5, 1.5, 2.25, 1'000'000.0}) {
      INFO(number);
      CHECK(plural_category_name(language.write_number(number).category) ==
            icu_category(tag, number));
    }
  }
  CHECK(plural_category_of("few") == PluralCategory::few);
  CHECK_FALSE(plural_category_of("some").has_value());
}

TEST_CASE("what a language needs") {
  struct Row {
    const char* tag;
    const char* needed;
  };
  for (const Row& row : {Row{"en", "one other "},
                         {"ja", "other "},
                         {"pl", "one few many other "},
                         {"ru", "one few many other "},
                         {"ar", "zero one two few many other "},
                         {"fr", "one other "},
                         {"cs", "one few other "}}) {
    Language language = Language::open(row.tag).value();
    std::string needed;
    for (const PluralCategory category : language.needed_categories()) {
      needed += std::string(plural_category_name(category)) + ' ';
    }
    CHECK(needed == row.needed);
  }
  CHECK(Language::open("cs").value().has_category(PluralCategory::many));
  CHECK_FALSE(Language::open("en").value().has_category(PluralCategory::few));
}

TEST_CASE("numbers are written as the language writes them") {
  const auto written = [](const char* tag, auto number) {
    return Language::open(tag).value().write_number(number).text;
  };
  CHECK(written("en", std::int64_t{1234567}) == "1,234,567");
  CHECK(written("de", std::int64_t{1234567}) == "1.234.567");
  CHECK(written("de", 3.5) == "3,5");
  CHECK(written("hi", std::int64_t{1234567}) == "12,34,567");
  CHECK(written("ar-EG", std::int64_t{42}) == "٤٢");
  CHECK(written("en", std::int64_t{-3}) == "-3");
  CHECK(written("en", std::numeric_limits<std::int64_t>::min()) == "-9,223,372,036,854,775,808");
}
