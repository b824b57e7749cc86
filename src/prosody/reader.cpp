// How a text rests for its reader.
//
// The text is walked once. Punctuation comes in runs: `?!`, `...`, `,—`, `.”)`. A run is collected
// from its first character on, each character giving its own kind by what stands around it, and is
// one boundary, behind its last character. Closing quotes and brackets lengthen a run but have no
// kind. Row ends that follow join the run, so that a row that ends in a full stop does not rest
// twice.
//
// What makes a character no rest at all is decided for that character alone, so that `etc.,` rests
// as a comma and `U.S.?` as a question.
//
// Nothing here knows how long anything lasts. A boundary keeps all kinds that meet in it, and the
// pace chooses; so one reading serves every pace, the pages, and the melody. What a pace adds
// (abbreviations, characters that rest in a way of their own) comes in before the walk, because it
// changes where runs begin and sentences end.
//
// A rule holds where one reader in a hundred would object: each has cases in
// tests/pacing/languages/ that it must catch, and others that it must leave alone. What differs by
// language is data (src/unicode/languages), not code.
//
// Tried and dropped: ICU's sentence iterator for sentence ends. It knows nothing of clauses and
// dashes, costs about as much as the grapheme pass, and finds no sentence end before a lower-case
// letter, which dialogue is full of ("wait. what. no."). Times instead of kinds, as the first
// version had it: then a pace whose commas do not rest read other sentences than one whose do.
//
// Guarded by tests/pacing/pauses_test.cpp and tests/prosody/boundaries_test.cpp.

#include <algorithm>
#include <array>

#include "../base/bytes.hpp"
#include "full_stops.hpp"

namespace arvik {
namespace {

using prosody::is_alphanumeric;

bool is_no_break_blank(char32_t c) { return c == 0xA0 || c == 0x202F || c == 0x2007; }

// What a run of punctuation asks for so far.
struct Rest {
  std::uint16_t kinds = 0;
  std::uint16_t character = Boundary::no_character;
  SentenceKind sentence = SentenceKind::none;

  [[nodiscard]] BoundaryKind kind() const { return Boundary{.kinds = kinds}.kind(); }
  void take(BoundaryKind kind) {
    kinds = static_cast<std::uint16_t>(kinds | 1U << static_cast<unsigned>(kind));
  }
  /// The sentence around a quote goes on: only the quote ends, which may ask.
  void weaken() {
    kinds = 0;
    take(BoundaryKind::clause);
    sentence = asked();
  }
  /// A question is one also where it ends no sentence: `“Why?”, he said.`
  [[nodiscard]] SentenceKind asked() const {
    return sentence == SentenceKind::asks ? sentence : SentenceKind::none;
  }
};

class Reader : private prosody::FullStops {
 public:
  Reader(std::string_view text, const Steps& steps, Language& language,
         std::span<const LanguageRun> others, const BoundaryOptions& options,
         std::vector<Boundary>& out)
      : FullStops(text, steps, language, others, options.abbreviations),
        options_(options),
        has_own_pauses_(!options.characters.empty()),
        out_(out) {}

  void run() {
    for (std::uint32_t i = 0; (i = first_that_may_rest(i)) < size_;) {
      if (has_own_pause(i)) {
        i = read_run(i);
        continue;
      }
      if (i == direction_end_) {
        put(i, BoundaryKind::clause);
        ++i;
        continue;
      }
      switch (kinds_[i]) {
        case StepKind::letter:
        case StepKind::digit:
        case StepKind::unseen:
          ++i;
          break;
        case StepKind::opener:
          look_for_direction(i++);
          break;
        case StepKind::symbol:
          look_for_direction(i);
          i = is_typed_danda(i) ? read_run(i) : i + 1;
          break;
        case StepKind::colon:
        case StepKind::clause:
          i = emoticon_end(i) > i ? emoticon_end(i) : std::max(read_run(i), i + 1);
          break;
        case StepKind::dash:
          speech_ = speech_ || begins_row(i);
          i = is_attached_dash(i) ? put_before_dash(i) : std::max(read_run(i), i + 1);
          break;
        case StepKind::blank:
          i = read_blanks(i);
          break;
        default:
          i = std::max(read_run(i), i + 1);
          break;
      }
      if (kinds_[i - 1] == StepKind::row_end) speech_ = false;
    }
  }

 private:
  // Nothing happens at letters, mostly, and between words there is a blank.
  std::uint32_t first_that_may_rest(std::uint32_t i) {
    if (has_own_pauses_) return i;
    static_assert(StepKind::letter < StepKind::symbol && StepKind::digit < StepKind::symbol);
    const auto* bytes = reinterpret_cast<const unsigned char*>(kinds_);
    for (;; ++i) {
      i = static_cast<std::uint32_t>(
          base::find_at_least(bytes, size_, static_cast<unsigned>(StepKind::symbol), i));
      const bool parts_words = kind(i) == StepKind::blank && is_alphanumeric(kind(i + 1)) &&
                               !may_be_south_east_asian(i + 1);
      if (!parts_words) return i;
      out_.push_back({i, 1U << static_cast<unsigned>(BoundaryKind::space)});
    }
  }

  std::uint32_t read_blanks(std::uint32_t i) {
    const std::uint32_t first = i;
    while (kind(i) == StepKind::blank && !has_own_pause(i)) ++i;
    if (kind(i) == StepKind::row_end) return i;
    // Thai, Lao, Khmer and Burmese write no blanks between words: one is a comma.
    const bool is_comma = first > 0 && is_south_east_asian(first - 1) && is_south_east_asian(i);
    constexpr std::uint16_t space = 1U << static_cast<unsigned>(BoundaryKind::space);
    if (is_comma) {
      put(i - 1, BoundaryKind::clause, space);
    } else {
      out_.push_back({i - 1, space});
    }
    return i;
  }

  [[nodiscard]] bool is_south_east_asian(std::uint32_t i) const {
    if (kind(i) != StepKind::letter) return false;
    if (!may_be_south_east_asian(i)) return false;
    const char32_t c = code_point(i);
    return (c >= 0x0E00 && c <= 0x0EFF) || (c >= 0x1000 && c <= 0x109F) ||
           (c >= 0x1780 && c <= 0x17FF);
  }

  // The first byte tells all other alphabets apart.
  [[nodiscard]] bool may_be_south_east_asian(std::uint32_t i) const {
    constexpr char lead = '\xE0';
    const char byte = text_[steps_.begin_byte(i)];
    return byte == lead || byte == lead + 1;
  }

  // A stage direction that opens a row, `(sigh) I have` or `*sigh* Fine`, rests as a clause, unless
  // it is a sentence of its own.
  void look_for_direction(std::uint32_t open) {
    constexpr std::uint32_t longest = 60;
    const char32_t opening = code_point(open);
    const char32_t closing = opening == U'(' ? U')' : opening == 0xFF08 ? 0xFF09 : opening;
    if (opening == closing && opening != U'*') return;
    // The letter is looked for first: brackets in a row are walked back over only once.
    if (kind(open + 1) != StepKind::letter || !begins_row(open)) return;
    const std::uint32_t end = std::min(size_, open + longest);
    for (std::uint32_t i = open + 1; i < end && kind(i) != StepKind::row_end; ++i) {
      if (code_point(i) != closing) continue;
      const StepKind next = kind(i + 1);
      const bool goes_on =
          next == StepKind::blank || (closing == 0xFF09 && next == StepKind::letter);
      if (kind(i - 1) == StepKind::letter && goes_on) direction_end_ = i;
      return;
    }
  }

  // A vertical line typed for the danda, behind a word.
  [[nodiscard]] bool is_typed_danda(std::uint32_t i) const {
    if (code_point(i) != U'|') return false;
    std::uint32_t before = i;
    while (before > 0 && kind_before(before) == StepKind::blank) --before;
    if (before == 0 || kind_before(before) != StepKind::letter) return false;
    const char32_t c = code_point(before - 1);
    return (c >= 0x0900 && c <= 0x0DFF) && kind(i + 1) != StepKind::letter;
  }

  // Behind `:)`, `;-)` and the like, standing alone; `i` where there is none.
  [[nodiscard]] std::uint32_t emoticon_end(std::uint32_t i) const {
    const StepKind before = kind_before(i);
    if (before != StepKind::blank && before != StepKind::row_end) return i;
    std::uint32_t end = i + 1;
    if (end < size_ && step_text(end) == "-") ++end;
    constexpr std::string_view mouths = ")(]DPpOo3/|*";
    if (end >= size_ || step_text(end).size() != 1 ||
        mouths.find(step_text(end)[0]) == std::string_view::npos) {
      return i;
    }
    ++end;
    const bool alone = kind(end) == StepKind::blank || kind(end) == StepKind::row_end;
    return alone ? end : i;
  }

  // A dash that is attached to what follows, as Spanish and its neighbours set off who speaks:
  // `—Sí —dijo él`. The reader rests before it.
  [[nodiscard]] bool is_attached_dash(std::uint32_t i) const {
    if (kind_before(i) != StepKind::blank || !is_alphanumeric(kind(i + 1))) return false;
    return language_at(i).has(Habit::attached_dash) && !begins_row(i);
  }

  std::uint32_t put_before_dash(std::uint32_t i) {
    if (!stands_behind_rest(i)) {
      if (!out_.empty() && out_.back().step == i - 1) out_.pop_back();  // the blank's own
      put(i - 1, BoundaryKind::dash);
    }
    return i + 1;
  }

  void put(std::uint32_t step, BoundaryKind kind, std::uint16_t others = 0) {
    Rest rest{.kinds = others};
    rest.take(kind);
    put(step, rest);
  }

  void put(std::uint32_t step, const Rest& rest) {
    if (rest.kinds == 0) return;
    const BoundaryKind kind = rest.kind();
    const bool ends = kind == BoundaryKind::sentence || kind == BoundaryKind::ellipsis ||
                      kind == BoundaryKind::paragraph;
    const SentenceKind sentence =
        ends && rest.sentence == SentenceKind::none ? SentenceKind::states : rest.sentence;
    out_.push_back({step, rest.kinds, rest.character, sentence});
    if (kind != BoundaryKind::space) behind_last_rest_ = step + 1;
  }

  // What the pace says of this very character: its index, or no_character.
  [[nodiscard]] std::uint16_t own_pause(std::uint32_t i) const {
    if (i >= size_) return Boundary::no_character;
    for (std::size_t own = options_.characters.size(); own-- > 0;) {
      if (options_.characters[own].character == step_text(i)) {
        return static_cast<std::uint16_t>(std::min<std::size_t>(own, Boundary::no_character - 1));
      }
    }
    return Boundary::no_character;
  }

  [[nodiscard]] bool has_own_pause(std::uint32_t i) const {
    return has_own_pauses_ && own_pause(i) != Boundary::no_character;
  }

  // Of several in one run the longest counts.
  void take_character(std::uint16_t own, Rest& rest) const {
    rest.take(BoundaryKind::character);
    const auto& all = options_.characters;
    if (rest.character == Boundary::no_character || all[own].pause >= all[rest.character].pause) {
      rest.character = own;
    }
  }

  // Collects the run that begins at `begin`, puts its pause, and returns the step behind it.
  std::uint32_t read_run(std::uint32_t begin) {
    Rest rest;
    std::uint32_t last = begin;
    std::uint32_t i = begin;
    bool closed = false;  // a closing quote or bracket was read
    while (i < size_) {
      // Behind a closing quote a comma says that the sentence goes on: `(twice!), then`.
      if (closed && is_clause(kind(i))) rest = {.sentence = rest.asked()};
      const std::uint32_t next = read_member(i, rest);
      if (next == i) {
        // `… ?`: the mark behind the blank belongs to the ellipsis.
        const bool asks_on = kind(i) == StepKind::blank && kind(i + 1) == StepKind::terminal &&
                             rest.kind() == BoundaryKind::ellipsis;
        if (!asks_on) break;
        ++i;
        continue;
      }
      closed = closed || kind(i) == StepKind::closer || kind(i) == StepKind::quote;
      i = next;
      last = i - 1;
      while (kind(i) == StepKind::unseen)
        ++i;  // direction marks and the like hide no closing quote
    }
    if (rest.kinds != 0 && continues_behind_blank(i)) {
      while (is_closing(i + 1)) ++i;
      last = i;
      ++i;
      closed = true;
    }
    if (rest.kind() == BoundaryKind::sentence && rest.character == Boundary::no_character) {
      const bool goes_on =
          closed ? sentence_goes_on(i) : attribution_follows(i) || said_in_speech(i, rest);
      if (goes_on) rest.weaken();
    }
    i = read_row_ends(i, rest, last);
    put(last, rest);
    return i;
  }

  // Whether the sentence around a quote that has just been closed before `i` goes on there:
  // `“Is it?” she asked`, `「本当？」と尋ねた`, `（二度も！）呼んだ`. Only where cases or particles
  // tell.
  [[nodiscard]] bool sentence_goes_on(std::uint32_t i) const {
    const std::uint32_t next = first_of_other_kind(i, StepKind::blank);
    if (next > i && attribution_follows(i)) return true;
    if (kind(next) != StepKind::letter) return false;
    const char32_t c = code_point(next);
    if (unicode::is_cased(c)) return next > i && unicode::is_small(c);
    // と, って; Korean attaches 라고, 하고, 며.
    const bool quotative = c == 0x3068 || c == 0x3063 || is_hangul(next);
    return (next == i && quotative) || said_follows(next) || closes_aside(i);
  }

  // Whether text in a script without capitals that follows a quote says who said it, within a few
  // words or, where no blanks part them, characters: `“好。”他说`, `「行け。」彼は言った`.
  [[nodiscard]] bool said_follows(std::uint32_t begin) const {
    constexpr std::uint32_t most_characters = 8;
    constexpr int most_words = 4;
    const Language& language = language_at(begin);
    if (unicode::is_wide(code_point(begin)) && !is_hangul(begin)) {
      for (std::uint32_t at = begin; at < begin + most_characters; ++at) {
        if (kind(at) != StepKind::letter) return false;
        if (language.is_saying(step_text(at))) return true;
      }
      return false;
    }
    if (is_south_east_asian(begin)) return says_within(begin, language);
    for (int words = 0; words < most_words; ++words) {
      const std::string_view word = word_at(begin);
      if (word.empty()) return false;
      if (language.is_saying(word)) return true;
      begin = steps_.step_from(steps_.begin_byte(begin) + word.size());
      if (kind(begin) != StepKind::blank) return false;
      ++begin;
    }
    return false;
  }

  // The same among words that no blanks part: `“ใคร?” เธอถาม`.
  [[nodiscard]] bool says_within(std::uint32_t begin, const Language& language) const {
    constexpr std::uint32_t farthest = 12;
    constexpr std::uint32_t longest = 6;
    for (std::uint32_t first = begin; first < begin + farthest; ++first) {
      if (kind(first) != StepKind::letter) return false;
      for (std::uint32_t last = first; last < first + longest; ++last) {
        if (kind(last) != StepKind::letter) break;
        const std::size_t from = steps_.begin_byte(first);
        if (language.is_saying(text_.substr(from, steps_.end_byte(last) - from))) return true;
      }
    }
    return false;
  }

  // `（二度も！）呼んだ`: a bracket that closes before `i` behind a mark, and has opened inside a
  // sentence.
  [[nodiscard]] bool closes_aside(std::uint32_t i) const {
    constexpr std::uint32_t longest = 60;
    while (i > 0 && kind_before(i) == StepKind::blank) --i;
    if (i < 2 || kind(i - 2) != StepKind::terminal) return false;
    const char32_t closing = code_point(i - 1);
    if (closing != U')' && closing != 0xFF09) return false;
    const char32_t opening = closing == U')' ? U'(' : 0xFF08;
    const std::uint32_t end = i > longest ? i - longest : 0;
    for (std::uint32_t open = i - 1; open > end; --open) {
      if (kind(open - 1) != StepKind::opener || code_point(open - 1) != opening) continue;
      return !begins_row(open - 1) && !stands_behind_rest(open - 1) &&
             behind_last_rest_ != open - 1;
    }
    return false;
  }

  // `– Is it? – she asked.`: a dash that parts what was said from who said it.
  [[nodiscard]] bool attribution_follows(std::uint32_t i) const {
    const std::uint32_t dash = first_of_other_kind(i, StepKind::blank);
    if (dash == i || kind(dash) != StepKind::dash) return false;
    const std::uint32_t next = first_of_other_kind(dash + 1, StepKind::blank);
    return kind(next) == StepKind::letter && unicode::is_small(code_point(next));
  }

  // `– Vem är där? frågade han.`: in a row that a dash opens as speech, a small letter behind a
  // question or an exclamation says who spoke.
  [[nodiscard]] bool said_in_speech(std::uint32_t i, const Rest& rest) const {
    if (!speech_ ||
        (rest.sentence != SentenceKind::asks && rest.sentence != SentenceKind::exclaims)) {
      return false;
    }
    const std::uint32_t next = first_of_other_kind(i, StepKind::blank);
    return next > i && kind(next) == StepKind::letter && unicode::is_small(code_point(next));
  }

  // A question mark makes a question of a run, whatever else stands in it.
  void take_mark(std::uint32_t i, Rest& rest) const {
    rest.take(BoundaryKind::sentence);
    const char32_t mark = code_point(i);  // a semicolon is one in Greek, where alone it stands here
    if (unicode::is_question_mark(mark) || mark == U';') {
      rest.sentence = SentenceKind::asks;
    } else if (rest.sentence == SentenceKind::none) {
      rest.sentence = SentenceKind::exclaims;
    }
  }

  // Reads what may stand in a run at `i`; returns the step behind it, or `i` if nothing does.
  std::uint32_t read_member(std::uint32_t i, Rest& rest) const {
    if (has_own_pauses_) {
      const std::uint16_t own = own_pause(i);
      if (own != Boundary::no_character) {
        take_character(own, rest);
        return i + 1;
      }
    }
    switch (kind(i)) {
      case StepKind::full_stop:
      case StepKind::stop:
      case StepKind::middle_dot:
        return read_dots(i, rest);
      case StepKind::terminal:
        if (!is_inside_token(i)) take_mark(i, rest);
        return i + 1;
      case StepKind::ellipsis:
        if (!stands_behind_rest(i)) rest.take(BoundaryKind::ellipsis);
        return i + 1;
      case StepKind::clause:
        rest.take(BoundaryKind::clause);
        return i + 1;
      case StepKind::comma:
        if (!is_inside_number(i)) rest.take(BoundaryKind::clause);
        return i + 1;
      case StepKind::colon:
        if (!is_inside_number(i) && !is_inside_word(i)) rest.take(BoundaryKind::clause);
        return i + 1;
      case StepKind::dash:
      case StepKind::hyphen:
        return read_dashes(i, rest);
      case StepKind::closer:
      case StepKind::quote:
        return rest.kinds != 0 && is_closing(i) ? i + 1 : i;
      case StepKind::symbol:
        if (is_typed_danda(i)) {
          rest.take(BoundaryKind::sentence);
          return i + 1;
        }
        return rest.kinds != 0 && is_closing_asterisk(i) ? i + 1 : i;
      default:
        return i;
    }
  }

  // `*He stops.* Then`: asterisks belong to what they close.
  [[nodiscard]] bool is_closing_asterisk(std::uint32_t i) const {
    const char32_t c = code_point(i);
    return (c == U'*' || c == U'_') && !is_alphanumeric(kind(i + 1));
  }

  // A mark inside an address (`/find?tide`) or among swearing signs (`@#$!%`).
  [[nodiscard]] bool is_inside_token(std::uint32_t i) const {
    if (kind_before(i) == StepKind::symbol && kind(i + 1) == StepKind::symbol) return true;
    if (!begins_word_tightly(i + 1)) return false;
    constexpr std::uint32_t longest = 64;
    for (std::uint32_t at = i; at > 0 && i - at < longest; --at) {
      if (!has_ink(kind_before(at))) return false;
      if (step_text(at - 1) == "/") return true;
    }
    return false;
  }

  // A run of one kind of dot, blanks between ASCII ones allowed (`. . .`): three are an ellipsis.
  std::uint32_t read_dots(std::uint32_t i, Rest& rest) const {
    const std::string_view dot = step_text(i);
    const StepKind dot_kind = kind(i);
    std::uint32_t count = 1;
    std::uint32_t end = i + 1;
    for (;;) {
      std::uint32_t next = end;
      if (dot_kind == StepKind::full_stop && kind(next) == StepKind::blank) ++next;
      if (next >= size_ || step_text(next) != dot) break;
      ++count;
      end = next + 1;
    }
    if (count >= 3) {
      if (!stands_behind_rest(i)) rest.take(BoundaryKind::ellipsis);
    } else if (dot_kind == StepKind::middle_dot) {
      // The Greek ano teleia, as keyboards have it.
      if (count == 1 && dot == "\u00B7" && language_at(i).has(Habit::ano_teleia)) {
        rest.take(BoundaryKind::clause);
      }
    } else if (dot_kind == StepKind::stop) {
      rest.take(BoundaryKind::sentence);
    } else if (dot_kind == StepKind::full_stop) {
      if (count == 2 || is_sentence_end(i)) rest.take(BoundaryKind::sentence);
      if (count == 2 && end != i + 2) return i + 1;  // `. .` is no run
    }
    return end;
  }

  // Two hyphens are a dash; one is, between blanks. A dash that begins a row opens speech, and one
  // behind a rest and a blank opens what follows: `“Who?” — “Only me.”`.
  std::uint32_t read_dashes(std::uint32_t i, Rest& rest) const {
    std::uint32_t end = i;
    while (kind(end) == kind(i)) ++end;
    const bool single = end == i + 1;
    bool rests = !begins_row(i) && !stands_behind_rest(i);
    if (kind(i) == StepKind::hyphen) {
      const bool free = kind_before(i) == StepKind::blank && kind(end) == StepKind::blank;
      rests = rests && (!single || free || is_cut_off(i));
    } else if (const char32_t c = code_point(i); single && (c == 0x2012 || c == 0x2013)) {
      const bool inside = is_alphanumeric(kind_before(i)) && is_alphanumeric(kind(end));
      rests = rests && !inside;
    }
    if (rests) rest.take(BoundaryKind::dash);
    return end;
  }

  // `No- No- Wait`: a word cut off before a capital. German leaves parts of words so: `Haupt- und`.
  [[nodiscard]] bool is_cut_off(std::uint32_t hyphen) const {
    const std::uint32_t next = first_of_other_kind(hyphen + 1, StepKind::blank);
    return kind_before(hyphen) == StepKind::letter && next > hyphen + 1 &&
           kind(next) == StepKind::letter && unicode::is_capital(code_point(next)) &&
           !language_at(hyphen).has(Habit::hanging_hyphen);
  }

  [[nodiscard]] bool stands_behind_rest(std::uint32_t i) const {
    const bool behind_blank = kind_before(i) == StepKind::blank;
    while (i > 0 && kind_before(i) == StepKind::blank) --i;
    return behind_blank && i > 0 && behind_last_rest_ == i;
  }

  // Quotes that can open or close (`"`, and `“`, which opens in English and closes in German) close
  // here unless a word begins right behind them.
  [[nodiscard]] bool is_closing(std::uint32_t i) const {
    if (kind(i) == StepKind::closer) return true;
    if (kind(i) != StepKind::quote) return false;
    if (!is_alphanumeric(kind(i + 1))) return true;
    const char32_t c = code_point(i);
    // Korean attaches particles: `'그래.'라고`.
    if (c == U'\'') return kind(i + 1) == StepKind::letter && is_hangul(i + 1);
    return c == U'"' && has_open_quote(i);
  }

  // Whether an odd number of straight quotes stands before `i` in its row: `"가자!"라고`.
  [[nodiscard]] bool has_open_quote(std::uint32_t i) const {
    constexpr std::uint32_t farthest = 256;
    bool open = false;
    for (std::uint32_t at = i; at > 0 && i - at < farthest; --at) {
      if (kind_before(at) == StepKind::row_end) break;
      open = open != (kind_before(at) == StepKind::quote && code_point(at - 1) == U'"');
    }
    return open;
  }

  // French sets a blank before a closing guillemet, a no-break one where the keyboard has it.
  [[nodiscard]] bool continues_behind_blank(std::uint32_t i) const {
    if (kind(i) != StepKind::blank || kind(i + 1) != StepKind::closer) return false;
    const char32_t closing = code_point(i + 1);
    // Where they point the other way, » opens.
    const bool french = (closing == 0xBB || closing == 0x203A) && !is_alphanumeric(kind(i + 2));
    return is_no_break_blank(code_point(i)) || french;
  }

  std::uint32_t read_row_ends(std::uint32_t i, Rest& rest, std::uint32_t& last) const {
    std::uint32_t row_ends = 0;
    std::uint32_t end = i;
    for (; end < size_; ++end) {
      if (kind(end) == StepKind::row_end) {
        row_ends += code_point(end) == 0x2029 ? 2 : 1;  // paragraph separator
        last = end;
      } else if (kind(end) != StepKind::blank && kind(end) != StepKind::unseen) {
        break;
      }
    }
    if (row_ends == 0) return i;
    rest.take(row_ends > 1 ? BoundaryKind::paragraph : BoundaryKind::row_end);
    return end;
  }

  [[nodiscard]] bool is_inside_number(std::uint32_t i) const {
    return kind_before(i) == StepKind::digit && kind(i + 1) == StepKind::digit;
  }

  [[nodiscard]] bool is_inside_word(std::uint32_t colon) const {
    if (begins_word_tightly(colon + 1)) return is_alphanumeric(kind_before(colon));
    return kind(colon + 1) == StepKind::symbol && step_text(colon + 1) == "/";  // https://
  }

  const BoundaryOptions& options_;
  bool has_own_pauses_;
  std::vector<Boundary>& out_;
  std::uint32_t direction_end_ = 0xFFFFFFFF;  // where a stage direction closes
  bool speech_ = false;                       // the row was opened by a dash
};

}  // namespace

std::string_view boundary_name(BoundaryKind kind) {
  static constexpr std::array<std::string_view, 9> names{
      "", "space", "clause", "dash", "row end", "sentence", "ellipsis", "paragraph", "character"};
  return names[static_cast<std::size_t>(kind)];
}

std::string_view sentence_name(SentenceKind kind) {
  static constexpr std::array<std::string_view, 4> names{"", "states", "asks", "exclaims"};
  return names[static_cast<std::size_t>(kind)];
}

void read_boundaries(std::string_view text, const Steps& steps, Language& language,
                     std::span<const LanguageRun> others, const BoundaryOptions& options,
                     std::vector<Boundary>& out) {
  out.clear();
  out.reserve(steps.size() / 4 + 4);  // about what dialogue has, blanks included
  Reader(text, steps, language, others, options, out).run();
}

std::vector<Boundary> read_boundaries(std::string_view text, const Steps& steps,
                                      Language& language) {
  std::vector<Boundary> out;
  read_boundaries(text, steps, language, {}, {}, out);
  return out;
}

}  // namespace arvik
