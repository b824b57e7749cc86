// Numbers as a language writes them, and the words that go with them: ICU's formatter and CLDR's
// plural rules, opened when they are first asked for. Guarded by tests/unicode/locale_test.cpp.

#include <unicode/utf16.h>

#include <algorithm>
#include <array>
#include <charconv>

#include "arvik/locale.hpp"
#include "characters.hpp"
#include "language_impl.hpp"

namespace arvik {
namespace {

// Where ICU's data have no numbers of any language: their digits alone, of the category `other`.
NumberForm plain_form(std::string digits) { return {std::move(digits), PluralCategory::other}; }

}  // namespace

bool Language::Impl::open_numbers() {
  if (number_format.isValid()) return plural_rules.isValid();
  if (numbers_tried) return false;
  numbers_tried = true;
  UErrorCode status = U_ZERO_ERROR;
  number_format = icu::LocalUNumberFormatterPointer(
      unumf_openForSkeletonAndLocale(u"", 0, locale.c_str(), &status));
  number = icu::LocalUFormattedNumberPointer(unumf_openResult(&status));
  plural_rules = icu::LocalUPluralRulesPointer(uplrules_open(locale.c_str(), &status));
  if (U_FAILURE(status)) plural_rules.adoptInstead(nullptr);
  return plural_rules.isValid();
}

// Of what was formatted last.
NumberForm Language::Impl::form(UErrorCode status) {
  int32_t length = 0;
  const UChar* text =
      ufmtval_getString(unumf_resultAsValue(number.getAlias(), &status), &length, &status);
  check_memory(status);
  NumberForm form;
  for (int32_t at = 0; at < length;) {
    UChar32 code_point = 0;
    U16_NEXT(text, at, length, code_point);
    unicode::append(form.text, static_cast<char32_t>(code_point));
  }
  std::array<UChar, 16> keyword{};
  const int32_t size =
      uplrules_selectFormatted(plural_rules.getAlias(), number.getAlias(), keyword.data(),
                               static_cast<int32_t>(keyword.size()), &status);
  check_memory(status);
  const std::string name(keyword.begin(), keyword.begin() + size);
  form.category = plural_category_of(name).value_or(PluralCategory::other);
  return form;
}

NumberForm Language::write_number(std::int64_t value) {
  if (!impl_->open_numbers()) return plain_form(std::to_string(value));
  UErrorCode status = U_ZERO_ERROR;
  unumf_formatInt(impl_->number_format.getAlias(), value, impl_->number.getAlias(), &status);
  return impl_->form(status);
}

NumberForm Language::write_number(double value) {
  if (!impl_->open_numbers()) {
    std::array<char, 32> digits{};
    const auto end = std::to_chars(digits.data(), digits.data() + digits.size(), value).ptr;
    return plain_form({digits.data(), end});
  }
  UErrorCode status = U_ZERO_ERROR;
  unumf_formatDouble(impl_->number_format.getAlias(), value, impl_->number.getAlias(), &status);
  return impl_->form(status);
}

// Those of other numbers (French millions, Czech fractions) may be said, but need not.
const std::vector<PluralCategory>& Language::needed_categories() {
  constexpr int most = 200;
  auto& needed = impl_->needed_categories;
  if (!needed.empty()) return needed;
  needed.push_back(PluralCategory::other);
  for (int number = 0; number <= most; ++number) {
    const PluralCategory category = write_number(std::int64_t{number}).category;
    if (std::find(needed.begin(), needed.end(), category) == needed.end()) {
      needed.push_back(category);
    }
  }
  std::sort(needed.begin(), needed.end());
  return needed;
}

bool Language::has_category(PluralCategory category) {
  if (category == PluralCategory::other || !impl_->open_numbers()) return true;
  UErrorCode status = U_ZERO_ERROR;
  const icu::LocalUEnumerationPointer keywords(
      uplrules_getKeywords(impl_->plural_rules.getAlias(), &status));
  check_memory(status);
  for (int32_t length = 0; const char* name = uenum_next(keywords.getAlias(), &length, &status);) {
    if (plural_category_of({name, static_cast<std::size_t>(length)}) == category) return true;
  }
  return false;
}

}  // namespace arvik
