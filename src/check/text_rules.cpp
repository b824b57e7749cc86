// What is wrong with a text by itself: blanks, unseen characters, brackets, quotes. Each rule looks
// at the steps that the pipeline has found, so that plain text costs next to nothing. Guarded by
// tests/check/cases_test.cpp.

#include "text_rules.hpp"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <map>
#include <set>

#include "../unicode/characters.hpp"
#include "../unicode/written.hpp"

namespace arvik::checking {
namespace {

constexpr char32_t no_break_space = 0xA0;

bool is_one_of(std::string_view word, std::initializer_list<std::string_view> words) {
  return std::find(words.begin(), words.end(), word) != words.end();
}

std::string name_of(char32_t character) {
  struct Name {
    char32_t character;
    std::string_view name;
  };
  static constexpr std::array<Name, 16> names{{{0xA0, "no-break space"},
                                               {0xAD, "soft hyphen"},
                                               {0x200B, "zero-width space"},
                                               {0x200C, "zero-width non-joiner"},
                                               {0x200D, "zero-width joiner"},
                                               {0x200E, "left-to-right mark"},
                                               {0x200F, "right-to-left mark"},
                                               {0x202A, "left-to-right embedding"},
                                               {0x202B, "right-to-left embedding"},
                                               {0x202C, "end of an embedding"},
                                               {0x2028, "line separator"},
                                               {0x2029, "paragraph separator"},
                                               {0x2060, "word joiner"},
                                               {0x202F, "narrow no-break space"},
                                               {0xFEFF, "byte order mark"},
                                               {0x09, "tab"}}};
  const auto* found = std::find_if(names.begin(), names.end(),
                                   [&](const Name& name) { return name.character == character; });
  const std::string code = fmt::format("U+{:04X}", static_cast<std::uint32_t>(character));
  return found == names.end() ? code : code + ", a " + std::string(found->name);
}

class TextRules {
 public:
  TextRules(const TextView& text, const TextPlace& place, const Wishes& wishes, const Tell& tell)
      : text_(text), place_(place), wishes_(wishes), tell_(tell) {}

  void run() {
    find_out();
    if (wishes_.has(Rule::blank_at_edge)) check_edges();
    if (has_blanks_ && wishes_.has(Rule::double_blank)) check_blanks();
    if (has_odd_ && wishes_.has(Rule::unseen_character)) check_unseen();
    if (has_clusters_ && wishes_.has(Rule::mixed_composition)) check_composition();
    if (!brackets_.empty() && wishes_.has(Rule::unbalanced_bracket)) check_brackets();
    if (!quotes_.empty() && wishes_.has(Rule::unbalanced_quote)) check_quotes();
  }

 private:
  void tell(Rule rule, std::uint32_t begin, std::uint32_t end, std::string message,
            std::string hint = {}) {
    tell_(rule, shown_part(text_.bytes(begin, end)), std::move(message), std::move(hint));
  }

  [[nodiscard]] StepKind kind(std::uint32_t at) const { return text_.steps->kinds[at]; }
  [[nodiscard]] std::uint32_t size() const { return text_.steps->size(); }
  [[nodiscard]] bool is_blank(std::uint32_t at) const { return kind(at) == StepKind::blank; }
  [[nodiscard]] bool is_word(std::uint32_t at) const {
    return kind(at) == StepKind::letter || kind(at) == StepKind::digit;
  }

  // One look at all steps says which rules have anything to do.
  void find_out() {
    const auto& extents = text_.steps->extents;
    for (std::uint32_t i = 0; i < size(); ++i) {
      const std::uint32_t bytes = extents[i + 1].bytes - extents[i].bytes;
      if (extents[i + 1].code_points - extents[i].code_points > 1) has_clusters_ = true;
      switch (kind(i)) {
        case StepKind::blank:
          if (i > 0 && kind(i - 1) == StepKind::blank) has_blanks_ = true;
          if (bytes > 1 || text_.marked->text[extents[i].bytes] == '\t') has_odd_ = true;
          break;
        case StepKind::unseen:
          has_odd_ = true;
          break;
        case StepKind::row_end:
          if (bytes > 2) has_odd_ = true;
          break;
        case StepKind::letter:
          if (bytes > 2) has_odd_ = has_odd_ || has_joiner(i);
          break;
        case StepKind::quote:
        case StepKind::opener:
        case StepKind::closer:
          take_mark(i);
          break;
        default:
          break;
      }
    }
  }

  [[nodiscard]] bool has_joiner(std::uint32_t at) const {
    const std::string_view bytes = text_.step(at);
    return bytes.find("\xE2\x80") != std::string_view::npos ||
           bytes.find("\xEF\xBB\xBF") != std::string_view::npos;
  }

  // --- blanks

  void check_edges() {
    std::uint32_t row = 0;
    for (std::uint32_t i = 0; i <= size(); ++i) {
      if (i < size() && kind(i) != StepKind::row_end) continue;
      check_row(row, i);
      row = i + 1;
    }
  }

  void check_row(std::uint32_t begin, std::uint32_t end) {
    std::uint32_t first = begin, last = end;
    while (first < end && is_blank(first)) ++first;
    while (last > first && is_blank(last - 1)) --last;
    const bool indented = place_.language == "ja" || place_.language == "zh";  // one wide blank
    const bool wide = first == begin + 1 && text_.character(begin) == 0x3000 && indented;
    const bool goes_on = begin == 0 && place_.appended;
    const bool is_followed = end == size() && place_.followed;
    if (first == end && end == size() && begin == 0) {
      if (first > begin) tell(Rule::blank_at_edge, begin, end, "the text is nothing but blanks");
      return;
    }
    if (first > begin && !goes_on && !wide && !around_tag(begin, first)) {
      tell(Rule::blank_at_edge, begin, first,
           begin == 0 ? "the text begins with a blank" : "a row begins with a blank");
    }
    if (last < end && !is_followed && !around_tag(last, end)) {
      tell(Rule::blank_at_edge, last, end,
           end == size() ? "the text ends with a blank" : "a row ends with a blank");
    }
  }

  // Whether a hold or a page stands at a blank, which then parts what is shown at different times.
  [[nodiscard]] bool around_tag(std::uint32_t begin, std::uint32_t end) const {
    const TextRange bytes = text_.bytes(begin, end);
    const auto& points = text_.marked->points;
    auto point =
        std::lower_bound(points.begin(), points.end(), bytes.begin,
                         [](const Point& before, std::size_t at) { return before.at < at; });
    for (; point != points.end() && point->at <= bytes.end; ++point) {
      if (std::holds_alternative<tag::Hold>(point->what) ||
          std::holds_alternative<tag::PageEnd>(point->what) ||
          std::holds_alternative<tag::Pause>(point->what)) {
        return true;
      }
    }
    return false;
  }

  void check_blanks() {
    for (std::uint32_t i = 0; i < size(); ++i) {
      if (!is_blank(i)) continue;
      std::uint32_t end = i + 1;
      while (end < size() && is_blank(end)) ++end;
      const bool at_edge = i == 0 || end == size() || kind(i - 1) == StepKind::row_end ||
                           kind(end) == StepKind::row_end;
      if (end - i > 1 && !at_edge && !around_tag(i, end)) {
        tell(Rule::double_blank, i, end,
             end - i == 2 ? "two blanks stand together"
                          : fmt::format("{} blanks stand together", end - i));
      }
      i = end;
    }
  }

  // --- unseen characters

  void check_unseen() {
    for (std::uint32_t i = 0; i < size(); ++i) {
      std::size_t at = text_.steps->begin_byte(i);
      const std::size_t end = text_.steps->end_byte(i);
      while (at < end) {
        const unicode::Decoded next = unicode::decode(text_.plain(), at);
        if (is_stray(next.code_point, i)) {
          tell_(Rule::unseen_character, shown_part({at, at + next.size}),
                "nobody sees this character: " + name_of(next.code_point), {});
        }
        at += next.size;
      }
    }
  }

  [[nodiscard]] bool is_stray(char32_t c, std::uint32_t step) const {
    const std::string_view language = place_.language;
    const bool backwards = text_.steps->right_to_left;
    static constexpr std::u32string_view stray =
        U"\t\v\f\x85\u2028\u2029\uFEFF\u180E\u00AD\u2060\u2061\u2062\u2063\u2064"
        U"\u3164\uFFF9\uFFFA\uFFFB";
    if (stray.find(c) != std::u32string_view::npos) return true;
    // They direct, where something runs from right to left.
    static constexpr std::u32string_view directing =
        U"\u200E\u200F\u061C\u202A\u202B\u202C\u202D\u202E";
    if (directing.find(c) != std::u32string_view::npos) return !backwards;
    switch (c) {
      case 0x200B:  // where a row may end, in languages written without blanks
        return !is_one_of(language, {"th", "lo", "km", "my", "bo", "dz", "ja", "zh", "jv", "ban"});
      case 0x200C:
      case 0x200D:
        return !joins(step);
      case no_break_space:
        return is_stray_space(step);
      default:
        return c < 0x20 && c != '\n' && c != '\r';
    }
  }

  // Whether a joiner stands among letters that join, or in an emoji.
  [[nodiscard]] bool joins(std::uint32_t step) const {
    struct Range {
      char32_t first, last;
    };
    static constexpr std::array<Range, 8> joining{{{0x600, 0x8FF},        // Arabic, Syriac, N'Ko
                                                   {0x900, 0xDFF},        // scripts of India
                                                   {0xF00, 0x109F},       // Tibetan, Myanmar
                                                   {0x1780, 0x18AF},      // Khmer, Mongolian
                                                   {0x1900, 0x1CFF},      // of South-East Asia
                                                   {0x2190, 0x2BFF},      // symbols
                                                   {0xA800, 0xABFF},      // more of Asia
                                                   {0x11000, 0x1FFFF}}};  // the same, and emoji
    const std::size_t end = text_.steps->end_byte(std::min(step + 1, size() - 1));
    for (std::size_t at = text_.steps->begin_byte(step > 0 ? step - 1 : 0); at < end;) {
      const unicode::Decoded next = unicode::decode(text_.plain(), at);
      const bool found = std::any_of(joining.begin(), joining.end(), [&](const Range& range) {
        return next.code_point >= range.first && next.code_point <= range.last;
      });
      if (found) return true;
      at += next.size;
    }
    return false;
  }

  // A no-break space is meant beside marks, numbers and short words, as typesetting asks for. Two
  // common words are not held together by anybody but a web page.
  [[nodiscard]] bool is_stray_space(std::uint32_t step) const {
    if (step == 0 || step + 1 == size()) return true;
    if (is_blank(step - 1) || is_blank(step + 1)) return true;
    if (kind(step - 1) != StepKind::letter || kind(step + 1) != StepKind::letter) return false;
    if (unicode::case_of(text_.character(step + 1)) == unicode::LetterCase::capital) return false;
    std::uint32_t begin = step, end = step + 1;
    while (begin > 0 && is_word(begin - 1)) --begin;
    while (end < size() && is_word(end)) ++end;
    const bool binds = is_one_of(place_.language, {"cs", "sk", "pl", "uk", "ru", "be"});
    return !binds || (step - begin > 3 && end - step - 1 > 3);
  }

  // --- letters

  void check_composition() {
    const TextRange found = unicode::find_decomposed(text_.plain());
    if (found.begin == found.end) return;
    tell_(Rule::mixed_composition, shown_part(found),
          "this letter is written in several characters; other texts have it in one",
          "write the text in the form NFC");
  }

  // --- brackets and quotes

  struct Mark {
    std::uint32_t step = 0;
    char32_t character = 0;
  };

  void take_mark(std::uint32_t step) {
    if (is_value(text_, text_.steps->begin_byte(step))) return;
    const char32_t c = text_.character(step);
    static constexpr std::u32string_view all = U"()[]{}（）［］｛｝【】〔〕〖〗";
    if (all.find(c) != std::u32string_view::npos) {
      if (!is_face(step) && !is_list_sign(step)) brackets_.push_back({step, c});
    } else if (!is_inside_word(step, c)) {
      quotes_.push_back({step, c});
    }
  }

  // :) and its like.
  [[nodiscard]] bool is_face(std::uint32_t step) const {
    if (step == 0) return false;
    const std::string_view before = text_.step(step - 1);
    const bool nose = before == "-" || before == "'" || before == "^";
    const std::string_view eyes = nose && step > 1 ? text_.step(step - 2) : before;
    return is_one_of(eyes, {":", ";", "=", "：", "；"}) && kind(step) != StepKind::opener
               ? true
               : is_one_of(eyes, {":", ";"}) && (step + 1 == size() || !is_word(step + 1));
  }

  // a) and 1) at the begin of a row.
  [[nodiscard]] bool is_list_sign(std::uint32_t step) const {
    if (kind(step) != StepKind::closer) return false;
    std::uint32_t begin = step;
    while (begin > 0 && is_word(begin - 1)) --begin;
    const bool at_begin = begin == 0 || kind(begin - 1) == StepKind::row_end;
    return at_begin && begin < step && step - begin <= 2 && text_.character(begin) < 0x80;
  }

  // A sign for inches, an abbreviation in Hebrew.
  [[nodiscard]] bool is_inside_word(std::uint32_t step, char32_t c) const {
    if (step == 0 || (c != '"' && c != 0x201D)) return false;
    const char32_t before = text_.character(step - 1);
    if (before >= 0x5D0 && before <= 0x5EA && step + 1 < size()) {
      return is_word(step + 1);
    }
    return false;
  }

  static char32_t partner(char32_t opener) {
    static constexpr std::u32string_view pairs = U"()[]{}（）［］｛｝【】〔〕〖〗「」『』《》〈〉";
    const std::size_t at = pairs.find(opener);
    return at != std::u32string_view::npos && at % 2 == 0 ? pairs[at + 1] : 0;
  }

  // Pairs whose signs tell which is which.
  void check_pairs(const std::vector<Mark>& marks, Rule rule, std::string_view what) {
    std::map<char32_t, std::vector<Mark>> open;  // by what closes them
    for (const Mark& mark : marks) {
      if (const char32_t closer = partner(mark.character); closer != 0) {
        open[closer].push_back(mark);
        continue;
      }
      const auto found = open.find(mark.character);
      if (found == open.end() || found->second.empty()) {
        tell(rule, mark.step, mark.step + 1,
             fmt::format("this {} closes what was never opened", what));
      } else {
        found->second.pop_back();
      }
    }
    for (const auto& [_, left] : open) {
      for (const Mark& mark : left) {
        tell(rule, mark.step, mark.step + 1, fmt::format("this {} is never closed", what));
      }
    }
  }

  void check_brackets() { check_pairs(brackets_, Rule::unbalanced_bracket, "bracket"); }

  // Quotes of which no one sign says whether it opens or closes: Germans write „a“, Swedes ”a”.
  static constexpr std::array<std::u32string_view, 3> families{U"\"“”„‟＂〝〞〟", U"«»", U"‹›"};

  void check_quotes() {
    std::vector<Mark> pairs;
    for (const Mark& mark : quotes_) {
      static constexpr std::u32string_view known = U"「」『』《》〈〉";
      if (known.find(mark.character) != std::u32string_view::npos) pairs.push_back(mark);
    }
    for (const std::u32string_view family : families) check_family(family);
    if (pairs.empty() || is_odd_around(U"「」『』")) return;
    check_pairs(pairs, Rule::unbalanced_quote, "quote");
  }

  void check_family(std::u32string_view family) {
    std::vector<Mark> marks;
    for (const Mark& mark : quotes_) {
      if (family.find(mark.character) == std::u32string_view::npos) continue;
      marks.push_back(mark);
    }
    if (marks.size() % 2 == 0) return;
    // A lone sign behind a number is one of inches or seconds.
    if (marks.size() == 1 && marks[0].character == '"' && marks[0].step > 0 &&
        kind(marks[0].step - 1) == StepKind::digit) {
      return;
    }
    if (is_odd_around(family)) return;
    const std::uint32_t step = find_lone(marks);
    tell(Rule::unbalanced_quote, step, step + 1,
         opens(step) ? "this quote is never closed" : "this quote was never opened");
  }

  static bool is_odd(std::string_view text, std::u32string_view family) {
    std::size_t found = 0;
    for (std::size_t at = 0; at < text.size();) {
      const unicode::Decoded next = unicode::decode(text, at);
      if (family.find(next.code_point) != std::u32string_view::npos) ++found;
      at += next.size;
    }
    return found % 2 == 1;
  }

  // Whether a quote goes over several lines: one beside this has an odd number of signs, too, or
  // the source has.
  [[nodiscard]] bool is_odd_around(std::u32string_view family) const {
    if (is_odd(place_.before, family) || is_odd(place_.behind, family)) return true;
    return place_.source && std::any_of(families.begin(), families.end(),
                                        [&](auto of) { return is_odd(*place_.source, of); });
  }

  // Whether a quote opens, by what stands around it.
  [[nodiscard]] bool opens(std::uint32_t step) const {
    const bool behind_blank =
        step == 0 || is_blank(step - 1) || kind(step - 1) == StepKind::row_end ||
        kind(step - 1) == StepKind::opener || kind(step - 1) == StepKind::dash;
    const bool before_blank =
        step + 1 == size() || is_blank(step + 1) || kind(step + 1) == StepKind::row_end;
    return behind_blank && !before_blank;
  }

  // The quote that has no partner, as far as what stands around them tells.
  [[nodiscard]] std::uint32_t find_lone(const std::vector<Mark>& marks) const {
    std::optional<std::uint32_t> open;
    for (const Mark& mark : marks) {
      if (opens(mark.step)) {
        if (open) return *open;
        open = mark.step;
      } else if (open) {
        open.reset();
      } else {
        return mark.step;
      }
    }
    return open.value_or(marks.back().step);
  }

  const TextView& text_;
  const TextPlace& place_;
  const Wishes& wishes_;
  const Tell& tell_;
  bool has_blanks_ = false;    // several together
  bool has_odd_ = false;       // other blanks than U+0020, or unseen characters
  bool has_clusters_ = false;  // of several characters
  std::vector<Mark> brackets_;
  std::vector<Mark> quotes_;
};

}  // namespace

void check_text(const TextView& text, const TextPlace& place, const Wishes& wishes,
                const Tell& tell) {
  TextRules(text, place, wishes, tell).run();
}

void CommonWords::add(std::string_view source) {
  std::u32string word;
  bool is_small = false;
  bool in_tag = false;
  const auto end_word = [&] {
    if (is_small && word.size() > 1) words_.insert(word);
    word.clear();
  };
  for (std::size_t at = 0; at < source.size();) {
    const unicode::Decoded next = unicode::decode(source, at);
    const char32_t c = next.code_point;
    at += next.size;
    in_tag = c == '[' || (in_tag && c != ']' && c != ':');
    const unicode::LetterCase letter = unicode::case_of(c);
    if (in_tag || letter == unicode::LetterCase::none) {
      end_word();
      continue;
    }
    if (word.empty()) is_small = letter == unicode::LetterCase::small;
    word += unicode::small_letter(c);
  }
  end_word();
}

// Names, cries and single words are often the same in two languages. A text is a copy if it has a
// word in small letters beside another one, or, where the languages have different scripts, any
// word that is no name.
bool is_untranslated(const TextView& text, ScriptCode source_script, ScriptCode script,
                     const CommonWords& common) {
  std::set<std::u32string> words;
  bool has_small = false, has_common = false;
  std::u32string word;
  bool starts_small = false;
  std::size_t letters = 0, uncased = 0;
  const auto end_word = [&] {
    if (word.size() > 1) {
      has_small = has_small || starts_small;
      has_common = has_common || common.has(word);
      words.insert(word);
    }
    word.clear();
  };
  const auto& spans = text.marked->spans;
  std::size_t span = 0, foreign_end = 0;  // up to there it is in a language of its own: `[lang …]`
  for (std::uint32_t i = 0; i < text.steps->size(); ++i) {
    const std::size_t byte = text.steps->begin_byte(i);
    for (; span < spans.size() && spans[span].begin <= byte; ++span) {
      if (std::holds_alternative<tag::Lang>(spans[span].what)) {
        foreign_end = std::max(foreign_end, spans[span].end);
      }
    }
    const bool is_letter =
        text.steps->kinds[i] == StepKind::letter && byte >= foreign_end && !is_value(text, byte);
    if (!is_letter) {
      end_word();
      continue;
    }
    const char32_t c = text.character(i);
    const unicode::LetterCase of = unicode::case_of(c);
    if (word.empty()) starts_small = of == unicode::LetterCase::small;
    if (of == unicode::LetterCase::none) ++uncased;
    ++letters;
    word += unicode::small_letter(c);
  }
  end_word();
  if (uncased * 2 > letters) {  // Chinese names are short
    return letters > (script != source_script ? 2U : 6U);
  }
  if (script != source_script) return has_small || has_common;
  const bool shouted = !has_small && words.size() > 2;
  return (has_small && words.size() > 1) || shouted;
}

}  // namespace arvik::checking
