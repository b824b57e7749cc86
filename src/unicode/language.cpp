// Steps and row-break opportunities of one text.
//
// ICU's grapheme iterator costs some fifty times as much as looking at a character, and in most
// text it finds the obvious. So segment() looks at neighbours first: between two characters that
// neither join to what follows nor to what precedes (Grapheme_Cluster_Break = Other or Control on
// both sides, and Hangul syllables before anything but jamo) there is always a boundary, whatever
// stands around them (UAX #29, rules GB3 to GB5 and GB999). Only runs between two such sure
// boundaries go to ICU. Cutting at a boundary changes nothing inside the pieces, because no rule
// looks back across one.
//
// ICU reads UTF-16 faster than UTF-8, by a factor of about 1.5 in Japanese, so what goes to it is
// converted, once.
//
// Guarded by tests/unicode/language_test.cpp: GraphemeBreakTest.txt, and generated text against
// ICU alone.

#include "arvik/language.hpp"

#include <unicode/ubrk.h>
#include <unicode/uchar.h>
#include <unicode/uloc.h>
#include <unicode/ustring.h>
#include <unicode/utf16.h>

#include <algorithm>
#include <array>
#include <map>

#include "../base/memory.hpp"
#include "abbreviations.hpp"
#include "bidi.hpp"
#include "characters.hpp"

namespace arvik {
namespace {

using unicode::decode;
using unicode::Decoded;

// After opening, ICU's break iterators fail for want of memory only.
void check_memory(UErrorCode status) {
  if (U_FAILURE(status)) base::out_of_memory();
}

icu::LocalUBreakIteratorPointer open_iterator(UBreakIteratorType type, const char* locale,
                                              UErrorCode& status) {
  return icu::LocalUBreakIteratorPointer(ubrk_open(type, locale, nullptr, 0, &status));
}

enum class Joining : std::uint8_t {
  alone,    // Grapheme_Cluster_Break = Other: joins to nothing by itself
  control,  // a boundary on both sides, but for CR LF
  cr,
  lf,
  syllable,  // Hangul LV and LVT: may take jamo behind it
  open       // ask ICU
};

Joining joining_of(char32_t code_point) {
  if (code_point >= 0x20 && code_point < 0x7F) return Joining::alone;
  if (unicode::is_plain_wide_letter(code_point) || unicode::is_cjk_sign(code_point) ||
      (code_point >= 0x2010 && code_point <= 0x2027)) {  // dashes, quotes, dots
    return Joining::alone;
  }
  if (code_point == U'\r') return Joining::cr;
  if (code_point == U'\n') return Joining::lf;
  switch (u_getIntPropertyValue(static_cast<UChar32>(code_point), UCHAR_GRAPHEME_CLUSTER_BREAK)) {
    case U_GCB_OTHER:
      return Joining::alone;
    case U_GCB_CONTROL:
      return Joining::control;
    case U_GCB_LV:
    case U_GCB_LVT:
      return Joining::syllable;
    default:
      return Joining::open;
  }
}

bool is_sure_boundary(Joining before, Joining after) {
  return before != Joining::open && after != Joining::open &&
         !(before == Joining::cr && after == Joining::lf);
}

struct Character {
  Decoded decoded;
  Joining joining = Joining::alone;
};

Character character_at(std::string_view text, std::size_t at) {
  const Decoded decoded = decode(text, at);
  return {decoded, joining_of(decoded.code_point)};
}

std::uint32_t utf16_size(char32_t code_point) { return code_point > 0xFFFF ? 2 : 1; }

// A cluster is what its first character is, unless that has no ink and a later one has; a keycap or
// an emoji style makes it a picture.
StepKind kind_of_cluster(std::string_view cluster) {
  StepKind kind = unicode::kind_of(decode(cluster, 0).code_point);
  Decoded now;
  for (std::size_t at = 0; at < cluster.size(); at += now.size) {
    now = decode(cluster, at);
    if (now.code_point == 0x20E3 || now.code_point == 0xFE0F) return StepKind::symbol;
    if (!has_ink(kind) && kind != StepKind::row_end) kind = unicode::kind_of(now.code_point);
  }
  return kind;
}

// The Greek question mark is canonically equal to the semicolon and written as such.
void mark_greek_questions(std::string_view text, Steps& steps) {
  for (std::uint32_t i = 0; i < steps.size(); ++i) {
    if (steps.text(text, i) == ";") steps.kinds[i] = StepKind::terminal;
  }
}

std::string_view cut_to_limit(std::string_view text) {
  if (text.size() <= max_text_bytes) return text;
  std::size_t size = max_text_bytes;
  while (size > 0 && (static_cast<unsigned char>(text[size]) & 0xC0U) == 0x80U) --size;
  return text.substr(0, size);
}

// Fills Steps whose arrays are as long as they can become from the start.
class StepWriter {
 public:
  StepWriter(std::string_view text, Steps& out) : out_(out) {
    const auto starts = [](char c) { return (static_cast<unsigned char>(c) & 0xC0U) != 0x80U; };
    resize(static_cast<std::size_t>(std::count_if(text.begin(), text.end(), starts)));
    out_.extents[0] = {};
    out_.right_to_left = false;
  }
  StepWriter(const StepWriter&) = delete;
  StepWriter& operator=(const StepWriter&) = delete;
  ~StepWriter() { resize(size_); }

  // Notes what direction a character brings in.
  void see(char32_t code_point) {
    if (code_point < 0x590) return;
    switch (u_charDirection(static_cast<UChar32>(code_point))) {
      case U_RIGHT_TO_LEFT:
      case U_RIGHT_TO_LEFT_ARABIC:
      case U_ARABIC_NUMBER:
      case U_RIGHT_TO_LEFT_EMBEDDING:
      case U_RIGHT_TO_LEFT_OVERRIDE:
      case U_RIGHT_TO_LEFT_ISOLATE:
        out_.right_to_left = true;
        break;
      default:
        break;
    }
  }

  void add(StepKind kind, std::uint32_t bytes, std::uint32_t code_points,
           std::uint32_t utf16_units) {
    if (size_ == out_.kinds.size()) resize(2 * size_ + 16);  // of bytes that are not UTF-8
    last_.bytes += bytes;
    last_.code_points += code_points;
    last_.utf16_units += utf16_units;
    out_.kinds[size_] = kind;
    out_.extents[++size_] = last_;
  }

  void add(const Decoded& decoded) {
    see(decoded.code_point);
    add(unicode::kind_of(decoded.code_point), decoded.size, 1, utf16_size(decoded.code_point));
  }

 private:
  void resize(std::size_t size) {
    out_.kinds.resize(size);
    out_.extents.resize(size + 1);
  }

  Steps& out_;
  std::size_t size_ = 0;
  Extent last_;
};

}  // namespace

struct Language::Impl {
  std::string tag;
  std::string language;  // the bare code, "en" of "en-GB"
  std::string locale;    // what ICU calls it
  icu::LocalUBreakIteratorPointer graphemes;
  icu::LocalUBreakIteratorPointer rows;
  unicode::AbbreviationTable abbreviations;
  unsigned habits = 0;
  unicode::BidiEngine bidi;
  icu::LocalUBreakIteratorPointer words;  // opened when first asked for
  struct Other {
    Language language;
    std::uint64_t used = 0;  // when it was last asked for
  };
  std::map<std::string, Other, std::less<>> others;
  std::uint64_t asked_for_others = 0;
  std::u16string buffer;  // what the iterators read

  // Goes from the character `now` at `at` to the next sure boundary, and leaves the character
  // behind it in `now`. Returns whether it passed one character only.
  static bool find_boundary(std::string_view text, std::size_t& at, Character& now);
  void segment_run(std::string_view text, std::size_t begin, std::size_t end, StepWriter& out);
  // Puts the text into the buffer; `units` is at least its length in UTF-16.
  void read_utf16(std::string_view text, std::size_t units);
  // Calls `put` with the last step before each boundary that the iterator finds between the steps
  // from `first` to before `end`, and with end - 1.
  template <typename Put>
  void find_boundaries(UBreakIterator* iterator, std::string_view text, const Steps& steps,
                       std::uint32_t first, std::uint32_t end, Put put);
};

namespace {

Diagnostic unavailable(std::string_view tag, std::string_view why) {
  return {.code = DiagnosticCode::language_unavailable,
          .severity = Severity::error,
          .message = "no rules for language " + quoted_word(tag) + ": " + std::string(why)};
}

}  // namespace

void Language::Impl::read_utf16(std::string_view text, std::size_t units) {
  buffer.resize(units);
  UErrorCode status = U_ZERO_ERROR;  // "not terminated" is what is asked for
  int32_t length = 0;
  u_strFromUTF8WithSub(buffer.data(), static_cast<int32_t>(units), &length, text.data(),
                       static_cast<int32_t>(text.size()),
                       static_cast<UChar32>(unicode::replacement), nullptr, &status);
  buffer.resize(std::min(static_cast<std::size_t>(length), units));
}

bool Language::Impl::find_boundary(std::string_view text, std::size_t& at, Character& now) {
  for (bool single = true;; single = false) {
    at += now.decoded.size;
    if (at == text.size()) return single;
    const Joining before = now.joining;
    now = character_at(text, at);
    if (is_sure_boundary(before, now.joining)) return single;
  }
}

void Language::Impl::segment_run(std::string_view text, std::size_t begin, std::size_t end,
                                 StepWriter& out) {
  buffer.clear();
  Decoded now;
  for (std::size_t at = begin; at < end; at += now.size) {
    now = decode(text, at);
    if (now.code_point > 0xFFFF) {
      buffer.push_back(static_cast<char16_t>(U16_LEAD(now.code_point)));
      buffer.push_back(static_cast<char16_t>(U16_TRAIL(now.code_point)));
    } else {
      buffer.push_back(static_cast<char16_t>(now.code_point));
    }
  }
  UErrorCode status = U_ZERO_ERROR;
  ubrk_setText(graphemes.getAlias(), buffer.data(), static_cast<int32_t>(buffer.size()), &status);
  check_memory(status);
  std::size_t at = begin;
  std::uint32_t units = 0;
  for (int32_t boundary = ubrk_next(graphemes.getAlias()); boundary != UBRK_DONE;
       boundary = ubrk_next(graphemes.getAlias())) {
    const std::size_t first = at;
    const std::uint32_t first_unit = units;
    std::uint32_t code_points = 0;
    for (; units < static_cast<std::uint32_t>(boundary); at += now.size, ++code_points) {
      now = decode(text, at);
      out.see(now.code_point);
      units += utf16_size(now.code_point);
    }
    const auto size = static_cast<std::uint32_t>(at - first);
    out.add(kind_of_cluster(text.substr(first, size)), size, code_points, units - first_unit);
  }
}

tl::expected<Language, Diagnostic> Language::open(std::string_view tag) {
  UErrorCode status = U_ZERO_ERROR;
  std::array<char, ULOC_FULLNAME_CAPACITY> locale{};
  int32_t parsed = 0;
  const std::string name(tag);
  uloc_forLanguageTag(name.c_str(), locale.data(), static_cast<int32_t>(locale.size()), &parsed,
                      &status);
  if (U_FAILURE(status) || status == U_STRING_NOT_TERMINATED_WARNING || tag.empty() ||
      static_cast<std::size_t>(parsed) != tag.size()) {
    return tl::unexpected(unavailable(tag, "not a BCP 47 language tag"));
  }
  auto impl = std::make_unique<Impl>();
  impl->tag = name;
  impl->language = name.substr(0, name.find('-'));
  impl->locale = locale.data();
  impl->graphemes = open_iterator(UBRK_CHARACTER, locale.data(), status);
  impl->rows = open_iterator(UBRK_LINE, locale.data(), status);
  if (U_FAILURE(status)) return tl::unexpected(unavailable(tag, u_errorName(status)));
  impl->abbreviations = unicode::load_abbreviations(impl->language);
  impl->habits = unicode::habits_of(impl->language);
  return Language(std::move(impl));
}

Language::Language(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}
Language::Language(Language&&) noexcept = default;
Language& Language::operator=(Language&&) noexcept = default;
Language::~Language() = default;

const std::string& Language::tag() const { return impl_->tag; }

Steps Language::segment(std::string_view text) {
  Steps steps;
  segment(text, steps);
  return steps;
}

namespace {

// ASCII, which is mostly what there is: every character is a step, but for CR LF. Stops before the
// last ASCII character, which a mark may follow, and before a CR. Returns where it stopped.
std::size_t segment_ascii(std::string_view text, std::size_t at, StepWriter& out) {
  std::size_t count = unicode::ascii_run(text, at);
  if (count > 0 && at + count < text.size()) --count;
  count = std::min(text.substr(at, count).find('\r'), count);
  for (const char c : text.substr(at, count)) {
    out.add(unicode::ascii_kinds[static_cast<unsigned char>(c)], 1, 1, 1);
  }
  return at + count;
}

// The same for a run of common wide characters, of three bytes each.
std::size_t segment_wide(std::string_view text, std::size_t at, StepWriter& out) {
  std::size_t end = at;
  StepKind kind{};  // of the character before `end`
  for (; end < text.size(); end += 3) {
    const char32_t c = decode(text, end).code_point;
    const bool letter = unicode::is_plain_wide_letter(c);
    if (!letter && !unicode::is_cjk_sign(c)) break;
    if (end > at) out.add(kind, 3, 1, 1);
    kind = letter ? StepKind::letter : unicode::cjk_sign_kinds[c - unicode::first_cjk_sign];
  }
  return end > at ? end - 3 : at;
}

}  // namespace

void Language::segment(std::string_view text, Steps& out) {
  text = cut_to_limit(text);
  {
    StepWriter writer(text, out);
    std::size_t at = segment_ascii(text, 0, writer);
    Character now = at < text.size() ? character_at(text, at) : Character{};
    while (at < text.size()) {
      const std::size_t begin = at;
      const Decoded first = now.decoded;
      const bool single = impl_->find_boundary(text, at, now);
      if (single) {
        writer.add(first);
      } else {
        impl_->segment_run(text, begin, at, writer);
      }
      if (at == text.size()) break;
      const bool ascii = now.decoded.code_point < 0x80;
      const bool wide = unicode::is_plain_wide_letter(now.decoded.code_point) ||
                        unicode::is_cjk_sign(now.decoded.code_point);
      if (!ascii && !wide) continue;
      const std::size_t end =
          ascii ? segment_ascii(text, at, writer) : segment_wide(text, at, writer);
      if (end == at) continue;
      at = end;
      if (at < text.size()) now = character_at(text, at);
    }
  }
  if (impl_->language == "el") mark_greek_questions(text, out);
}

template <typename Put>
void Language::Impl::find_boundaries(UBreakIterator* iterator, std::string_view text,
                                     const Steps& steps, std::uint32_t first, std::uint32_t end,
                                     Put put) {
  if (first >= end) return;
  const Extent from = steps.extents[first];
  const Extent to = steps.extents[end];
  const std::uint32_t units = to.utf16_units - from.utf16_units;
  read_utf16(text.substr(from.bytes, to.bytes - from.bytes), units);
  UErrorCode status = U_ZERO_ERROR;
  ubrk_setText(iterator, buffer.data(), static_cast<int32_t>(buffer.size()), &status);
  check_memory(status);
  const bool unit_is_step = units == end - first;  // as in most text
  std::uint32_t step = first;
  for (int32_t boundary = ubrk_next(iterator); boundary != UBRK_DONE;
       boundary = ubrk_next(iterator)) {
    if (unit_is_step) {
      put(first + static_cast<std::uint32_t>(boundary) - 1);
      continue;
    }
    const std::uint32_t unit = from.utf16_units + static_cast<std::uint32_t>(boundary);
    while (step + 1 < end && steps.extents[step + 1].utf16_units < unit) ++step;
    if (steps.extents[step + 1].utf16_units == unit) put(step);  // else inside a step
  }
}

void Language::row_breaks(std::string_view text, const Steps& steps, std::vector<RowBreak>& out) {
  out.assign(steps.size(), RowBreak::none);
  row_breaks(text, steps, 0, steps.size(), out);
  if (steps.size() == 0) return;
  const bool ends_row = steps.kinds.back() == StepKind::row_end;
  out.back() = ends_row ? RowBreak::required : RowBreak::none;
}

void Language::row_breaks(std::string_view text, const Steps& steps, std::uint32_t first,
                          std::uint32_t end, std::vector<RowBreak>& out) {
  if (first >= end) return;
  std::fill(out.begin() + first, out.begin() + end - 1, RowBreak::none);
  impl_->find_boundaries(impl_->rows.getAlias(), text, steps, first, end, [&](std::uint32_t step) {
    if (step + 1 == end) return;
    // The characters after which UAX #14 requires a break (LB4, LB5) are just those of this kind.
    out[step] = steps.kinds[step] == StepKind::row_end ? RowBreak::required : RowBreak::allowed;
  });
}

namespace {

// Stands behind the word that it belongs to, even after a blank.
bool trails(StepKind kind) {
  switch (kind) {
    case StepKind::full_stop:
    case StepKind::stop:
    case StepKind::terminal:
    case StepKind::comma:
    case StepKind::colon:
    case StepKind::clause:
    case StepKind::dash:
    case StepKind::hyphen:
    case StepKind::ellipsis:
    case StepKind::middle_dot:
    case StepKind::closer:
      return true;
    default:
      return false;
  }
}

bool is_empty(StepKind kind) { return !has_ink(kind); }

// Whether a word begins at step `i`, which has one before it, at a boundary of UAX #29 or not.
// Blanks part words; characters that are written without blanks part where the dictionary says.
bool begins_word(std::string_view text, const Steps& steps, std::uint32_t i, std::uint32_t end,
                 bool boundary) {
  const StepKind now = steps.kinds[i];
  const StepKind before = steps.kinds[i - 1];
  if (is_empty(now)) return false;
  const auto code_point = [&](std::uint32_t step) {
    return decode(text, steps.begin_byte(step)).code_point;
  };
  if (is_empty(before)) {
    if (before == StepKind::unseen) return boundary && !trails(now);
    std::uint32_t next = i;
    while (next < end && trails(steps.kinds[next])) ++next;
    return next == i || (next < end && !is_empty(steps.kinds[next]));  // `a — b`, but `a —b`
  }
  if (!boundary || trails(now) || before == StepKind::opener) return false;
  const auto alphanumeric = [](StepKind kind) {
    return kind == StepKind::letter || kind == StepKind::digit;
  };
  if (alphanumeric(before) && alphanumeric(now)) return true;
  if (before == StepKind::quote) return false;
  return unicode::is_wide(code_point(i)) || unicode::is_wide(code_point(i - 1));
}

}  // namespace

void Language::word_starts(std::string_view text, const Steps& steps,
                           std::vector<std::uint8_t>& out) {
  out.assign(steps.size(), 0);
  word_starts(text, steps, 0, steps.size(), out);
}

void Language::word_starts(std::string_view text, const Steps& steps, std::uint32_t first,
                           std::uint32_t end, std::vector<std::uint8_t>& out) {
  if (first >= end) return;
  if (impl_->words.isNull()) {
    UErrorCode status = U_ZERO_ERROR;
    impl_->words = open_iterator(UBRK_WORD, impl_->locale.c_str(), status);
    check_memory(status);
  }
  std::fill(out.begin() + first, out.begin() + end, std::uint8_t{0});
  impl_->find_boundaries(impl_->words.getAlias(), text, steps, first, end, [&](std::uint32_t step) {
    if (step + 1 < end) out[step + 1] = 1;
  });
  for (std::uint32_t i = first + 1; i < end; ++i) {
    out[i] = begins_word(text, steps, i, end, out[i] != 0) ? 1 : 0;
  }
  out[first] = 1;
}

Language& Language::other(std::string_view tag) {
  if (tag == impl_->tag) return *this;
  auto& others = impl_->others;
  auto found = others.find(tag);
  if (found == others.end()) {
    auto opened = open(tag);
    if (!opened) return *this;
    if (others.size() >= max_other_languages) {
      others.erase(std::min_element(others.begin(), others.end(), [](const auto& a, const auto& b) {
        return a.second.used < b.second.used;
      }));
    }
    found = others.emplace(std::string(tag), Impl::Other{std::move(*opened)}).first;
  }
  found->second.used = ++impl_->asked_for_others;
  return found->second.language;
}

Direction Language::bidi_levels(std::string_view text, std::optional<Direction> base,
                                std::vector<std::uint8_t>& out) {
  text = cut_to_limit(text);
  impl_->read_utf16(text, text.size());
  return impl_->bidi.levels(impl_->buffer, base, out);
}

Abbreviation Language::abbreviation(std::string_view word) const {
  const auto& table = impl_->abbreviations;
  const auto found =
      std::lower_bound(table.begin(), table.end(), word,
                       [](const auto& entry, std::string_view w) { return entry.first < w; });
  return found != table.end() && found->first == word ? found->second : Abbreviation::none;
}

bool Language::has(Habit habit) const {
  return (impl_->habits >> static_cast<unsigned>(habit) & 1U) != 0;
}

bool Language::begins_abbreviation(std::string_view parts) const {
  const auto& table = impl_->abbreviations;
  const auto found =
      std::lower_bound(table.begin(), table.end(), parts,
                       [](const auto& entry, std::string_view w) { return entry.first < w; });
  return found != table.end() && found->first.starts_with(parts);
}

bool Language::is_ordinal_before(std::string_view next_word) const {
  return unicode::is_ordinal_before(impl_->language, next_word);
}

bool Language::is_numbered_by_letters(std::string_view noun) const {
  return unicode::is_numbered_by_letters(impl_->language, noun);
}

bool Language::is_one_letter_word(std::string_view letter) const {
  return unicode::is_one_letter_word(impl_->language, letter);
}

}  // namespace arvik
