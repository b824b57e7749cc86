#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/steps.hpp"

namespace arvik {

/// Whether a row may end after a step (UAX #14, with the tailoring of the language).
enum class RowBreak : std::uint8_t { none, allowed, required };

/// When a word with a full stop behind it is an abbreviation, so that its stop is no sentence end.
enum class Abbreviation : std::uint8_t {
  none,
  always,         ///< "Mr."
  before_digit,   ///< "No. 5", but "No. Never."
  unless_capital  ///< "at 6 p.m. on Friday", but "at 6 p.m. Then …"
};

/// What a language writes in a way of its own.
enum class Habit : std::uint8_t {
  attached_dash,   ///< a dash attached to what follows tells who speaks: "—Sí —dijo él"
  hanging_hyphen,  ///< parts of words keep their hyphen: "Haupt- und Nebentor"
  ordinal_years,   ///< a year with a full stop is an ordinal: "1890. május"
  ano_teleia,      ///< a dot in the middle of the row parts clauses
  elision          ///< short words lean on the next one with an apostrophe: "l’ing."
};

/// The terms of Unicode's plural rules (UTS #35, Language Plural Rules).
enum class PluralCategory : std::uint8_t { zero, one, two, few, many, other };

/// A number as a language writes it, and which words go with it.
struct NumberForm {
  std::string text{};
  PluralCategory category = PluralCategory::other;
};

enum class Direction : std::uint8_t { left_to_right, right_to_left };

/// Rule L2 of UAX #9: the steps of a row in visual order, from left to right, as indices.
/// `levels` are those of the row, in logical order.
ARVIK_API void visual_order(std::span<const std::uint8_t> levels, std::vector<std::uint32_t>& out);

/// A script as its four-letter code (ISO 15924), "Latn" being 0x4C61746E.
using ScriptCode = std::uint32_t;
inline constexpr ScriptCode common_script = 0x5A797979;  // "Zyyy"

/// Steps of one script.
struct ScriptRun {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  ScriptCode script = common_script;
  friend bool operator==(const ScriptRun&, const ScriptRun&) = default;
};

/// The scripts of the steps of `text`, as runs that cover them all: of each step by its first
/// character that has one. Punctuation and blanks (Common, Inherited) take that of the step before
/// them, or of the first step that has one.
ARVIK_API void find_scripts(std::string_view text, const Steps& steps, std::vector<ScriptRun>& out);

/// What Unicode and CLDR know about one language: grapheme clusters, row-break opportunities,
/// abbreviations. Opening one loads ICU's rules and costs about a millisecond: open it once and use
/// it for every line. The work functions change inner state: one Language per thread at a time.
/// Moved-from objects can only be assigned to or destroyed.
class ARVIK_API Language {
 public:
  /// How many other languages stay open; the one that was not used for longest makes room.
  static constexpr std::size_t max_other_languages = 32;

  /// `tag` is a BCP 47 language tag ("en", "ja", "pt-BR"). Fails with language_unavailable when the
  /// tag is malformed or ICU lacks its data. A well-formed tag that ICU does not know gets the root
  /// rules.
  [[nodiscard]] static tl::expected<Language, Diagnostic> open(std::string_view tag = "en");

  Language(Language&&) noexcept;
  Language& operator=(Language&&) noexcept;
  ~Language();

  [[nodiscard]] const std::string& tag() const;

  /// Cuts `text` into steps, replacing what `out` held and reusing its memory. `text` must be valid
  /// UTF-8 of at most max_text_bytes (as MarkedText::text is); of longer text only the first
  /// max_text_bytes are read, and wrong bytes count as U+FFFD. Linear in the text.
  void segment(std::string_view text, Steps& out);
  [[nodiscard]] Steps segment(std::string_view text);

  /// For every step whether a row may end after it. `steps` must be the steps of `text`. The last
  /// entry is `none` unless the text ends with a written row end.
  void row_breaks(std::string_view text, const Steps& steps, std::vector<RowBreak>& out);
  /// The same for the steps from `first` to before `end`, looked at as if there were nothing around
  /// them, for stretches in another language. Changes `out` between them only.
  void row_breaks(std::string_view text, const Steps& steps, std::uint32_t first, std::uint32_t end,
                  std::vector<RowBreak>& out);

  /// For every step 1 if a word begins there, with what opens before it (UAX #29, with ICU's
  /// dictionaries for languages written without blanks), else 0. Punctuation and blanks behind a
  /// word belong to it. The first step always begins one.
  void word_starts(std::string_view text, const Steps& steps, std::vector<std::uint8_t>& out);
  /// The same for the steps from `first` to before `end`, as if there were nothing around them.
  void word_starts(std::string_view text, const Steps& steps, std::uint32_t first,
                   std::uint32_t end, std::vector<std::uint8_t>& out);

  /// Another language, for a stretch of a line: opened when it is first asked for and kept. Returns
  /// this one if ICU has no rules for the other. The reference is good until the next call.
  [[nodiscard]] Language& other(std::string_view tag);

  /// The embedding levels of the bidirectional algorithm (UAX #9, rules P2 to I2 and L1), one a
  /// code point of `text`. `base` is the direction of the line; without one it is that of the first
  /// strong character. Returns the direction used.
  Direction bidi_levels(std::string_view text, std::optional<Direction> base,
                        std::vector<std::uint8_t>& out);

  /// The number in the language's own digits, with its grouping and decimal point, and its plural
  /// category. Where ICU's data have no numbers: plain digits, `other`.
  [[nodiscard]] NumberForm write_number(std::int64_t value);
  [[nodiscard]] NumberForm write_number(double value);
  /// The plural categories of its whole numbers from 0 to 200, and `other`, in the enum's order:
  /// those that a text with plural forms cannot do without.
  [[nodiscard]] const std::vector<PluralCategory>& needed_categories();
  /// Whether any number has this category.
  [[nodiscard]] bool has_category(PluralCategory category);

  /// Looks up a word that ends with a full stop, case and all.
  [[nodiscard]] Abbreviation abbreviation(std::string_view word) const;

  [[nodiscard]] bool has(Habit habit) const;

  /// Whether an abbreviation of several parts begins so: "z.B." with "z.", "EE.UU." with "EE.".
  [[nodiscard]] bool begins_abbreviation(std::string_view parts) const;

  /// Whether a single capital letter is a word of its own ("I" in English), so that "I." may end a
  /// sentence; other single capitals are initials.
  [[nodiscard]] bool is_one_letter_word(std::string_view letter) const;

  /// Whether letters number this noun, given in small letters ("plan", as in "plan B."), so that
  /// the full stop behind the letter ends a sentence.
  [[nodiscard]] bool is_numbered_by_letters(std::string_view noun) const;

  /// Whether a word tells who said what stands in a quote before it ("said"). Known for scripts
  /// without capitals, where nothing else tells.
  [[nodiscard]] bool is_saying(std::string_view word) const;

  /// Whether a number with a full stop is an ordinal before this word ("am 3. Mai", "3. maja"), so
  /// that the stop ends no sentence.
  [[nodiscard]] bool is_ordinal_before(std::string_view next_word) const;
  /// The same behind this word ("der 2. Weltkrieg"), given in any case of letters.
  [[nodiscard]] bool is_ordinal_behind(std::string_view word) const;

 private:
  struct Impl;
  explicit Language(std::unique_ptr<Impl> impl);
  std::unique_ptr<Impl> impl_;
};

}  // namespace arvik
