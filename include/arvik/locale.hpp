#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/language.hpp"

/// Locales: a language as it is used somewhere, by its BCP 47 tag ("pt-BR").
namespace arvik {

/// The tag as it is usually written ("zh-Hant-TW" for "ZH-hant-tw"). Nothing if it is no BCP 47 tag
/// or if no language has its code, by ICU's list of ISO 639.
[[nodiscard]] ARVIK_API std::optional<std::string> canonical_locale(std::string_view tag);

/// The locale and those whose texts its players can read, nearest first: "de-AT" goes on to "de".
/// By the rules of CLDR (UTS #35, Locale Inheritance): a text in another script than the locale's
/// is never taken ("zh-TW" goes on to "zh-Hant", and not to "zh"), and some have parents of their
/// own ("es-MX" goes on to "es-419", "es") where ICU's data have CLDR's supplement. Empty if
/// canonical_locale() refuses the tag.
[[nodiscard]] ARVIK_API std::vector<std::string> locale_chain(std::string_view tag);

/// The direction in which the language of a locale is written, by its script.
[[nodiscard]] ARVIK_API Direction direction_of(std::string_view tag);

/// The script in which the language of a locale is usually written; common_script if nobody knows.
[[nodiscard]] ARVIK_API ScriptCode script_of(std::string_view tag);

/// "zero", "one", …
[[nodiscard]] ARVIK_API std::string_view plural_category_name(PluralCategory category);
[[nodiscard]] ARVIK_API std::optional<PluralCategory> plural_category_of(std::string_view name);

}  // namespace arvik
