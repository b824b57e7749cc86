#pragma once

#include <unicode/ubrk.h>
#include <unicode/unumberformatter.h>
#include <unicode/upluralrules.h>

#include <array>
#include <cstdint>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "../base/memory.hpp"
#include "abbreviations.hpp"
#include "arvik/language.hpp"
#include "bidi.hpp"
#include "properties.hpp"

namespace arvik {

/// Steps that ICU is asked about, and where they stand in the buffer.
struct Stretch {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  std::uint32_t first_unit = 0;
};

struct Language::Impl {
  std::string tag;
  std::string language;   // the bare code, "en" of "en-GB"
  std::string locale;     // what ICU calls it
  bool tailored = false;  // the tag asks for rules of its own ("ja-u-lb-strict")
  const std::uint16_t* row_machine = nullptr;  // breaks.cpp
  icu::LocalUBreakIteratorPointer graphemes;
  icu::LocalUBreakIteratorPointer rows;
  unicode::AbbreviationTable abbreviations;
  const unicode::LanguageTable* table = nullptr;  // null: it has none
  unsigned habits = 0;
  std::uint64_t saying = 0;  // the last bytes of such words
  unicode::BidiEngine bidi;
  icu::LocalUBreakIteratorPointer words;  // opened when first asked for
  struct Other {
    Language language;
    std::uint64_t used = 0;  // when it was last asked for
  };
  std::map<std::string, Other, std::less<>> others;
  std::uint64_t asked_for_others = 0;
  // Numbers, opened when first asked for.
  icu::LocalUNumberFormatterPointer number_format;
  icu::LocalUFormattedNumberPointer number;
  icu::LocalUPluralRulesPointer plural_rules;
  bool numbers_tried = false;
  std::vector<PluralCategory> needed_categories;
  std::u16string buffer;  // what the iterators read
  std::vector<Stretch> stretches;

  // What ICU has said of short stretches: their bytes, and a bit for each byte that ends a cluster.
  struct KnownClusters {
    static constexpr std::size_t longest = 39;
    std::uint64_t ends = 0;
    std::uint8_t size = 0;
    std::array<char, longest> bytes{};
  };
  std::array<KnownClusters, 128> known_clusters;

  template <typename Put>
  void find_clusters(std::string_view stretch, Put put);

  // Puts text into the buffer, behind what is there. Wrong bytes count as U+FFFD.
  void append_utf16(std::string_view text);
  void look_at_tailoring();
  // Whether ICU has the numbers of this language.
  bool open_numbers();
  NumberForm form(UErrorCode status);
  // Puts a stretch into the buffer, behind a row end.
  void ask_about(std::string_view text, const Steps& steps, std::uint32_t first, std::uint32_t end);

  // Goes over the boundaries that an iterator finds in the stretches, which are in the buffer;
  // calls `put` with the last step before each, but for those between stretches.
  template <typename Put>
  void find_boundaries(UBreakIterator* iterator, const Steps& steps, Put put);
};

namespace unicode {
[[nodiscard]] inline icu::LocalUBreakIteratorPointer open_iterator(UBreakIteratorType type,
                                                                   const char* locale,
                                                                   UErrorCode& status) {
  return icu::LocalUBreakIteratorPointer(ubrk_open(type, locale, nullptr, 0, &status));
}
}  // namespace unicode

/// After opening, ICU's break iterators fail for want of memory only.
inline void check_memory(UErrorCode status) {
  if (U_FAILURE(status)) base::out_of_memory();
}

template <typename Put>
void Language::Impl::find_boundaries(UBreakIterator* iterator, const Steps& steps, Put put) {
  if (stretches.empty()) return;
  UErrorCode status = U_ZERO_ERROR;
  ubrk_setText(iterator, buffer.data(), static_cast<int32_t>(buffer.size()), &status);
  check_memory(status);
  auto next = ubrk_next(iterator);
  for (const Stretch& stretch : stretches) {
    const std::uint32_t origin = steps.extents[stretch.first_step].utf16_units;
    const std::uint32_t units = steps.extents[stretch.end_step].utf16_units - origin;
    const std::uint32_t count = stretch.end_step - stretch.first_step;
    std::uint32_t step = stretch.first_step;
    for (; next != UBRK_DONE; next = ubrk_next(iterator)) {
      const std::uint32_t unit = static_cast<std::uint32_t>(next) - stretch.first_unit;
      if (static_cast<std::uint32_t>(next) <= stretch.first_unit) continue;
      if (unit >= units) break;
      if (units == count) {  // as in most text
        put(stretch.first_step + unit - 1);
        continue;
      }
      while (step + 1 < stretch.end_step && steps.extents[step + 1].utf16_units - origin < unit) {
        ++step;
      }
      if (steps.extents[step + 1].utf16_units - origin == unit) put(step);  // else inside a step
    }
  }
}

}  // namespace arvik
