#pragma once

#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/script_file.hpp"

/// Part of arvik::script: the way of a script's texts to translators and back.
namespace arvik {

/// How far the translation of one text is.
enum class TranslationState : std::uint8_t {
  missing,  ///< there is none
  changed,  ///< the text was changed since it was translated
  done
};

/// A text of a script that is to be translated.
struct TranslationUnit {
  std::string key{};
  std::string conversation{};  ///< empty for names of speakers
  std::string source{};        ///< markup
  std::string target{};        ///< markup; empty where it is missing
  bool has_target = false;     ///< an empty one may be so on purpose
  TranslationState state = TranslationState::missing;
  std::string speaker{};                   ///< as shown; empty: nobody
  std::string before{};                    ///< what is said before it, plain; empty: nothing
  std::vector<std::string> notes{};        ///< of the table's columns for people
  std::optional<std::uint32_t> longest{};  ///< characters, of a column `#longest`
};

/// The texts of a script with their translations into a locale, in the script's order: names of
/// speakers, lines, answers; then what its tables have besides, the game's own words. Lines without
/// an id and empty texts are left out. `locale` as it is usually written.
[[nodiscard]] ARVIK_API std::vector<TranslationUnit> translation_units(const Script& script,
                                                                       std::string_view locale);

/// The header of the column that holds, for the translations of a locale, which text each was made
/// from: eight hexadecimal digits. Where it is empty, the translation counts as done.
[[nodiscard]] ARVIK_API std::string made_from_header(std::string_view locale);
[[nodiscard]] ARVIK_API std::string fingerprint_of(std::string_view source);

/// How tags stand in XLIFF.
enum class TagForm : std::uint8_t {
  /// `<g>` around the content of a span, `<x/>` for a point, with the tag's source as `equiv-text`:
  /// what translation tools protect best.
  elements,
  /// `<ph>` around each head and each closing bracket, with the source inside, and brackets of the
  /// text doubled: it survives tools that know no other elements, or none at all.
  placeholders
};

/// The texts of a script for the translators of one locale, as XLIFF 1.2 (OASIS). Plural branches
/// are those of the target language. Each text has its key as id, its state, and notes: who speaks,
/// what is said before. Only XML characters: others become U+FFFD.
[[nodiscard]] ARVIK_API std::string write_xliff(const Script& script, std::string_view locale,
                                                TagForm form = TagForm::elements);

/// A translation that came back.
struct Translation {
  std::string key{};
  std::string text{};       ///< markup
  std::string made_from{};  ///< fingerprint of the text that it was made from
};

struct Translations {
  std::string locale{};
  std::vector<Translation> texts{};
  /// What is doubtful: changed_tags for tags that were lost, invented or broken, and for keys that
  /// the script does not have. Nothing of it was left out of the texts.
  std::vector<Diagnostic> diagnostics{};
};

/// Reads what write_xliff() wrote, after translators and their tools had it. Of elements tags are
/// found again by their ids, so that tools may leave everything else out; of placeholders (if
/// `form` or the file says so) in the text itself, so that tools may leave even the elements out.
/// Fails with bad_xliff, with its place, for what is no XLIFF 1.2, has a document type (entities
/// are never followed), or is of another source locale. Linear in the file.
[[nodiscard]] ARVIK_API tl::expected<Translations, std::vector<Diagnostic>> read_xliff(
    std::string_view xliff, const Script& script, TagForm form = TagForm::elements);

/// Puts translations into the tables of a script: each key where it stands, new ones into the first
/// table; with what they were made from. Returns the tables that have changed. Fails with bad_value
/// if the script has no table.
[[nodiscard]] ARVIK_API tl::expected<std::vector<StringsTable>, Diagnostic> put_translations(
    const Script& script, const Translations& translations);

/// Brings what the script has and no table has into its first table: keys and, where the script
/// says them itself, the texts of the source locale, anew where they were changed. Returns the
/// table, or nothing if all is there. Fails like put_translations().
[[nodiscard]] ARVIK_API tl::expected<std::optional<StringsTable>, Diagnostic> add_strings(
    const Script& script);

/// The two locales that try a game before any translation exists, named as CLDR does: in_locale()
/// makes them of the source locale where no table has them.
inline constexpr std::string_view accented_locale = "en-XA";  ///< Wíıth áccéénts, 40 % longer
inline constexpr std::string_view right_to_left_locale = "ar-XB";  ///< each word from the right
/// A text as it is in one of them: letters changed, tags and values kept.
[[nodiscard]] ARVIK_API std::string pseudo_text(std::string_view markup, std::string_view locale,
                                                const Vocabulary& vocabulary = {});

}  // namespace arvik
