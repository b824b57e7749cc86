// What ICU and CLDR know about locales. Guarded by tests/unicode/locale_test.cpp.

#include "arvik/locale.hpp"

#include <unicode/uloc.h>
#include <unicode/ures.h>

#include <algorithm>
#include <array>

#include "../base/memory.hpp"
#include "arvik/units.hpp"

namespace arvik {
namespace {

using IcuName = std::array<char, ULOC_FULLNAME_CAPACITY>;

// Nothing for what is no BCP 47 tag.
std::optional<std::string> icu_name(std::string_view tag) {
  UErrorCode status = U_ZERO_ERROR;
  IcuName name{};
  int32_t parsed = 0;
  uloc_forLanguageTag(std::string(tag).c_str(), name.data(), static_cast<int32_t>(name.size()),
                      &parsed, &status);
  if (U_FAILURE(status) || status == U_STRING_NOT_TERMINATED_WARNING || tag.empty() ||
      static_cast<std::size_t>(parsed) != tag.size()) {
    return std::nullopt;
  }
  return name.data();
}

std::string tag_of(const std::string& icu) {
  UErrorCode status = U_ZERO_ERROR;
  IcuName tag{};
  uloc_toLanguageTag(icu.c_str(), tag.data(), static_cast<int32_t>(tag.size()), 0, &status);
  if (U_FAILURE(status)) base::out_of_memory();
  return tag.data();
}

using Part = int32_t (*)(const char*, char*, int32_t, UErrorCode*);

std::string part_of(const std::string& icu, Part part) {
  UErrorCode status = U_ZERO_ERROR;
  IcuName out{};
  part(icu.c_str(), out.data(), static_cast<int32_t>(out.size()), &status);
  return U_FAILURE(status) ? "" : out.data();
}

// The script that a locale without one is written in; empty if nobody knows.
std::string likely_script(const std::string& icu) {
  return part_of(part_of(icu, uloc_addLikelySubtags), uloc_getScript);
}

// Parents that are no shorter names; those of scripts are found without a list.
std::string listed_parent(const std::string& icu) {
  UErrorCode status = U_ZERO_ERROR;
  const icu::LocalUResourceBundlePointer data(
      ures_openDirect(nullptr, "supplementalData", &status));
  const icu::LocalUResourceBundlePointer parents(
      ures_getByKey(data.getAlias(), "parentLocales", nullptr, &status));
  std::string found;
  if (U_FAILURE(status)) return found;  // ICU's data were cut down
  const auto has_child = [&](UResourceBundle* children) {
    for (int32_t i = 0; i < ures_getSize(children); ++i) {
      int32_t length = 0;
      const UChar* child = ures_getStringByIndex(children, i, &length, &status);
      if (U_SUCCESS(status) && std::equal(icu.begin(), icu.end(), child, child + length))
        return true;
    }
    return false;
  };
  while (ures_hasNext(parents.getAlias()) != 0 && found.empty()) {
    const icu::LocalUResourceBundlePointer children(
        ures_getNextResource(parents.getAlias(), nullptr, &status));
    if (U_FAILURE(status)) break;
    const std::string_view parent = ures_getKey(children.getAlias());
    if (parent != "root" && has_child(children.getAlias())) found = parent;
  }
  return found;
}

// Empty where nothing is left to go on to.
std::string parent_of(const std::string& icu) {
  std::string shorter = part_of(icu, uloc_getParent);
  const std::string script = part_of(icu, uloc_getScript);
  if (std::string listed = listed_parent(icu); !listed.empty()) return listed;
  if (shorter.empty()) return "";
  if (!script.empty()) {
    const bool drops_script = part_of(shorter, uloc_getScript).empty();
    return drops_script && script != likely_script(shorter) ? "" : shorter;
  }
  const std::string likely = likely_script(icu);
  if (likely.empty() || likely == likely_script(shorter)) return shorter;
  return part_of(icu, uloc_getLanguage) + "_" + likely;
}

constexpr std::array<std::string_view, 6> category_names{"zero", "one",  "two",
                                                         "few",  "many", "other"};

}  // namespace

std::optional<std::string> canonical_locale(std::string_view tag) {
  const auto icu = icu_name(tag);
  if (!icu || *uloc_getISO3Language(icu->c_str()) == '\0') return std::nullopt;
  return tag_of(*icu);
}

std::vector<std::string> locale_chain(std::string_view tag) {
  std::vector<std::string> chain;
  const auto canonical = canonical_locale(tag);
  if (!canonical) return chain;
  std::string icu = *icu_name(*canonical);
  // Keywords and variants change how a language is written down, not what is read.
  if (const std::size_t keywords = icu.find('@'); keywords != std::string::npos) {
    chain.push_back(*canonical);
    icu.resize(keywords);
  }
  for (; !icu.empty(); icu = parent_of(icu)) chain.push_back(tag_of(icu));
  return chain;
}

Direction direction_of(std::string_view tag) {
  const auto icu = icu_name(tag);
  return icu && uloc_isRightToLeft(icu->c_str()) != 0 ? Direction::right_to_left
                                                      : Direction::left_to_right;
}

ScriptCode script_of(std::string_view tag) {
  const auto icu = icu_name(tag);
  if (!icu) return common_script;
  UErrorCode status = U_ZERO_ERROR;
  std::array<char, ULOC_FULLNAME_CAPACITY> likely{};
  std::array<char, ULOC_SCRIPT_CAPACITY> script{};
  uloc_addLikelySubtags(icu->c_str(), likely.data(), likely.size(), &status);
  uloc_getScript(likely.data(), script.data(), script.size(), &status);
  if (U_FAILURE(status) != 0 || std::string_view(script.data()).size() != 4) return common_script;
  ScriptCode code = 0;
  for (std::size_t i = 0; i < 4; ++i) code = code << 8 | static_cast<unsigned char>(script[i]);
  return code;
}

std::string_view plural_category_name(PluralCategory category) {
  return category_names[static_cast<std::size_t>(category)];
}

std::optional<PluralCategory> plural_category_of(std::string_view name) {
  const auto* found = std::find(category_names.begin(), category_names.end(), name);
  if (found == category_names.end()) return std::nullopt;
  return static_cast<PluralCategory>(found - category_names.begin());
}

}  // namespace arvik
