#pragma once

#include <string>

#include "text_look.hpp"

namespace arvik::prosody {

/// Which full stops end a sentence: none inside a number, a name or a version, none before a comma,
/// none behind an initial, an initialism, an ordinal or an abbreviation. What differs by language
/// is in src/unicode/languages.
class FullStops : public TextLook {
 public:
  /// `abbreviations` are those of the pace.
  FullStops(std::string_view text, const Steps& steps, Language& language,
            std::span<const LanguageRun> others, std::span<const std::string> abbreviations)
      : TextLook(text, steps, language, others), abbreviations_(abbreviations) {}

 protected:
  // Whether the full stop at `i` ends a sentence: not inside a number, name or version, not before
  // a comma, not behind an initial, an initialism, an ordinal or an abbreviation.
  [[nodiscard]] bool is_sentence_end(std::uint32_t i) const {
    if (begins_word_tightly(i + 1) || is_clause(kind(i + 1))) return false;
    if (kind(i + 1) == StepKind::hyphen && kind(i + 2) == StepKind::letter) return false;
    const Language& language = language_at(i);
    const std::uint32_t next = first_behind_blanks(i + 1);
    if (kind_before(i) == StepKind::digit) {
      const std::uint32_t most = language.has(Habit::ordinal_years) ? 9 : 3;
      if (next == i + 1 || !is_short_number(i, most)) return true;
      return !language.is_ordinal_before(word_at(next)) &&
             !language.is_ordinal_behind(word_before_number(i));
    }
    const Word before = word_before(i);
    const std::string_view word = before.text;
    if (word.size() <= 1) return true;
    if (is_roman_ordinal(i, before, next, language)) return false;
    const bool before_digit = kind(next) == StepKind::digit;
    const bool before_letter = kind(next) == StepKind::letter;
    const bool before_capital = before_letter && unicode::is_capital(code_point(next));
    const auto& own = abbreviations_;
    if (std::find(own.begin(), own.end(), word) != own.end()) return false;
    if (begins_spaced_abbreviation(i, word, language)) return false;
    switch (grade_with_parts_before(before, language)) {
      case Abbreviation::always:
        return false;
      case Abbreviation::before_digit:
        if (before_digit) return false;
        break;  // else it may be an initial
      case Abbreviation::unless_capital:
        return before_capital;
      case Abbreviation::none:
        break;
    }
    if (is_initialism(word)) return false;
    const bool among_initials = is_single_capital_stop(next) ||
                                (before.begin > 2 && kind_before(before.begin) == StepKind::blank &&
                                 is_single_capital_stop(before.begin - 3));
    return !is_initial(word, before_letter, among_initials, language) ||
           is_numbered(before.begin, language);
  }

  // `J.`, alone.
  [[nodiscard]] bool is_single_capital_stop(std::uint32_t i) const {
    return kind(i) == StepKind::letter && kind(i + 1) == StepKind::full_stop &&
           kind_before(i) != StepKind::letter && unicode::is_capital(code_point(i));
  }

  // "z. B.": the parts of an abbreviation, written apart. The first is followed by the second …
  [[nodiscard]] bool begins_spaced_abbreviation(std::uint32_t i, std::string_view word,
                                                const Language& language) const {
    if (kind(i + 1) != StepKind::blank) return false;
    const std::uint32_t stop = word_end(i + 2);
    if (stop == i + 2 || kind(stop) != StepKind::full_stop) return false;
    return language.begins_abbreviation(std::string(word) + std::string(word_at(i + 2)) + ".");
  }

  // … and the last is looked up with those before it.
  [[nodiscard]] Abbreviation grade_with_parts_before(const Word& word,
                                                     const Language& language) const {
    std::string joined;
    std::uint32_t begin = word.begin;
    for (int parts = 0; parts < 2 && begin > 1; ++parts) {
      if (kind_before(begin) != StepKind::blank || kind(begin - 2) != StepKind::full_stop) break;
      const Word before = word_before(begin - 2);
      if (before.text.size() <= 1) break;
      if (joined.empty()) joined = word.text;
      joined.insert(0, before.text);
      begin = before.begin;
      const Abbreviation grade = language.abbreviation(joined);
      if (grade != Abbreviation::none) return grade;
    }
    return grade_of(word.text, language);
  }

  // "plan B.": behind a noun that letters number, a capital is no initial.
  [[nodiscard]] bool is_numbered(std::uint32_t begin, const Language& language) const {
    if (begin < 2 || kind_before(begin) != StepKind::blank) return false;
    std::uint32_t first = begin - 1;
    while (first > 0 && begin - first < 24 && kind_before(first) == StepKind::letter) --first;
    std::string noun(text_.substr(steps_.begin_byte(first),
                                  steps_.begin_byte(begin - 1) - steps_.begin_byte(first)));
    if (!noun.empty() && noun[0] >= 'A' && noun[0] <= 'Z') {
      noun[0] = static_cast<char>(noun[0] - 'A' + 'a');
    }
    return !noun.empty() && language.is_numbered_by_letters(noun);
  }

  // "Karel IV. a", and at a sentence's begin "II. Odrun", in languages that write ordinals so.
  [[nodiscard]] bool is_roman_ordinal(std::uint32_t i, const Word& word, std::uint32_t next,
                                      const Language& language) const {
    const std::string_view numeral = word.text.substr(0, word.text.size() - 1);
    if (numeral.find_first_not_of("IVXLCDM") != std::string_view::npos || next == i + 1)
      return false;
    if (language.is_ordinal_before(word_at(next))) return true;
    const bool opens = begins_row(word.begin) || behind_last_rest_ + 1 == word.begin;
    return opens && numeral.size() > 1 && kind(next) == StepKind::letter &&
           language.is_ordinal_before("a");
  }

  // Of a word with hyphens its last part counts, too: "płn.-zach.".
  static Abbreviation grade_of(std::string_view word, const Language& language) {
    const Abbreviation whole = language.abbreviation(word);
    const std::size_t hyphen = word.find_last_of('-');
    if (whole != Abbreviation::none || hyphen == std::string_view::npos) return whole;
    return language.abbreviation(word.substr(hyphen + 1));
  }

  // Up to `most` digits before the full stop at `i`.
  [[nodiscard]] bool is_short_number(std::uint32_t i, std::uint32_t most) const {
    std::uint32_t begin = i;
    while (begin > 0 && i - begin <= most && kind_before(begin) == StepKind::digit) --begin;
    const StepKind before = kind_before(begin);
    return i - begin <= most && !is_alphanumeric(before) && before != StepKind::full_stop &&
           before != StepKind::comma && before != StepKind::colon;
  }

  // That stands before the digits before the full stop at `i`.
  [[nodiscard]] std::string_view word_before_number(std::uint32_t i) const {
    constexpr std::uint32_t longest = 12;
    while (i > 0 && kind_before(i) == StepKind::digit) --i;
    if (kind_before(i) != StepKind::blank) return {};
    const std::uint32_t end = i - 1;
    std::uint32_t begin = end;
    while (begin > 0 && end - begin < longest && kind_before(begin) == StepKind::letter) --begin;
    return text_.substr(steps_.begin_byte(begin),
                        steps_.begin_byte(end) - steps_.begin_byte(begin));
  }

  // The letters and inner full stops before the full stop at `i`, and that full stop.
  [[nodiscard]] Word word_before(std::uint32_t i) const {
    constexpr std::uint32_t longest =
        32;  // no abbreviation is longer, and looking back stays cheap
    std::uint32_t begin = i;
    while (begin > 0 && (kind_before(begin) == StepKind::letter ||
                         (kind_before(begin) == StepKind::full_stop && begin > 1 &&
                          kinds_[begin - 2] == StepKind::letter) ||
                         (kind_before(begin) == StepKind::hyphen && begin < i))) {
      --begin;
      if (i - begin > longest) return {};
    }
    const bool behind_digit = kind_before(begin) == StepKind::digit;
    if (behind_digit || is_behind_apostrophe(begin)) return {};
    const std::size_t size = steps_.end_byte(i) - steps_.begin_byte(begin);
    return {text_.substr(steps_.begin_byte(begin), size), begin};
  }

  // "Das war’s.": what stands behind an apostrophe is the end of a word, but where articles are
  // written so ("l’ing.").
  [[nodiscard]] bool is_behind_apostrophe(std::uint32_t begin) const {
    if (begin < 2 || kind(begin - 2) != StepKind::letter) return false;
    const char32_t c = code_point(begin - 1);
    return (c == U'\'' || c == 0x2019) && !language_at(begin).has(Habit::elision);
  }

  [[nodiscard]] std::uint32_t first_behind_blanks(std::uint32_t i) const {
    while (kind(i) == StepKind::blank || kind(i) == StepKind::quote ||
           kind(i) == StepKind::opener || kind(i) == StepKind::closer) {
      ++i;
    }
    return i;
  }

  // "J. Smith", but "So did I. Then": one capital, alone, before another word. In
  // scripts without cases a single letter is always one: "د. فان".
  [[nodiscard]] static bool is_initial(std::string_view word, bool before_letter,
                                       bool among_initials, const Language& language) {
    if (unicode::decode(word, 0).code_point == 0x0648)
      word.remove_prefix(2);  // "and", written to it
    if (word.size() <= 1) return true;
    const auto letter = unicode::decode(word, 0);
    if (letter.size + 1 != word.size()) return false;
    const char32_t c = letter.code_point;
    if (!unicode::is_cased(c)) return !unicode::is_wide(c);
    return before_letter && unicode::is_capital(c) &&
           (among_initials || !language.is_one_letter_word(word.substr(0, letter.size)));
  }

  // "U.S.", "z.B.", "Ph.D.": full stops inside, and no part of more than two letters.
  [[nodiscard]] static bool is_initialism(std::string_view word) {
    word.remove_suffix(1);
    if (word.find('.') == std::string_view::npos) return false;
    std::size_t letters = 0;
    for (std::size_t at = 0; at < word.size();) {
      const auto now = unicode::decode(word, at);
      letters = now.code_point == U'.' ? 0 : letters + 1;
      if (letters > 2) return false;
      at += now.size;
    }
    return true;
  }

  std::uint32_t behind_last_rest_ = 0;  // the step behind the last pause that no blank asked for

 private:
  std::span<const std::string> abbreviations_;
};

}  // namespace arvik::prosody
