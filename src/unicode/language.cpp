// Steps and row-break opportunities of one text.
//
// ICU's grapheme iterator costs some fifty times as much as looking at a character, and in most
// text it answers the obvious. So segment() looks at neighbours first: between two characters that
// neither join to what follows nor to what precedes (Grapheme_Cluster_Break = Other or Control on
// both sides, and Hangul syllables before anything but jamo) there is always a boundary, whatever
// stands around them (UAX #29, rules GB3 to GB5 and GB999). Only runs between two such sure
// boundaries go to ICU. Cutting at a boundary changes nothing inside the pieces, because no rule
// looks back across one.
//
// ICU reads UTF-16 faster than UTF-8, by a factor of about 1.5 in Japanese, so what goes to it is
// converted, once.
//
// Guarded by tests/unicode_language_test.cpp: GraphemeBreakTest.txt, and generated text against
// ICU alone.

#include "arvik/language.hpp"

#include <unicode/ubrk.h>
#include <unicode/uchar.h>
#include <unicode/uloc.h>
#include <unicode/ustring.h>
#include <unicode/utf16.h>

#include <algorithm>
#include <array>
#include <new>

#include "abbreviations.hpp"
#include "characters.hpp"

namespace arvik {
namespace {

using unicode::decode;
using unicode::Decoded;

// After opening, ICU's break iterators fail for want of memory only.
void check_memory(UErrorCode status) {
  if (U_FAILURE(status)) throw std::bad_alloc();
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
  if (unicode::is_plain_wide_letter(code_point)) return Joining::alone;
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

}  // namespace

struct Language::Impl {
  std::string tag;
  std::string language;  // the bare code, "en" of "en-GB"
  icu::LocalUBreakIteratorPointer graphemes;
  icu::LocalUBreakIteratorPointer rows;
  unicode::AbbreviationTable abbreviations;
  std::u16string buffer;  // what the iterators read

  void segment_run(std::string_view text, std::size_t begin, std::size_t end, Steps& out);
};

namespace {

void add_step(Steps& out, StepKind kind, std::uint32_t bytes, std::uint32_t code_points,
              std::uint32_t utf16_units) {
  const Extent last = out.extents.back();
  out.extents.push_back(
      {last.bytes + bytes, last.code_points + code_points, last.utf16_units + utf16_units});
  out.kinds.push_back(kind);
}

void add_character(Steps& out, const Decoded& decoded) {
  const StepKind kind = unicode::kind_of(decoded.code_point);
  add_step(out, kind, decoded.size, 1, utf16_size(decoded.code_point));
}

Diagnostic unavailable(std::string_view tag, std::string_view why) {
  return {.code = DiagnosticCode::language_unavailable,
          .severity = Severity::error,
          .message = "no rules for language " + quoted_word(tag) + ": " + std::string(why)};
}

}  // namespace

void Language::Impl::segment_run(std::string_view text, std::size_t begin, std::size_t end,
                                 Steps& out) {
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
      units += utf16_size(now.code_point);
    }
    const auto size = static_cast<std::uint32_t>(at - first);
    add_step(out, kind_of_cluster(text.substr(first, size)), size, code_points, units - first_unit);
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
  impl->graphemes = open_iterator(UBRK_CHARACTER, locale.data(), status);
  impl->rows = open_iterator(UBRK_LINE, locale.data(), status);
  if (U_FAILURE(status)) return tl::unexpected(unavailable(tag, u_errorName(status)));
  impl->abbreviations = unicode::load_abbreviations(impl->language);
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

// ASCII, which is mostly what there is: every character is a step, but for CR LF. Stops before the
// last ASCII character, which a mark may follow, and before a CR. Answers where it stopped.
static std::size_t segment_ascii(std::string_view text, std::size_t at, Steps& out) {
  std::size_t end = at + unicode::ascii_run(text, at);
  if (end > at && end < text.size()) --end;
  end = std::min(std::min(text.find('\r', at), text.size()), end);
  const std::size_t count = end - at;
  Extent extent = out.extents.back();
  const std::size_t first = out.kinds.size();
  out.extents.resize(first + 1 + count);
  out.kinds.resize(first + count);
  Extent* extents = out.extents.data() + first + 1;
  StepKind* kinds = out.kinds.data() + first;
  for (std::size_t i = 0; i < count; ++i) {
    ++extent.bytes;
    ++extent.code_points;
    ++extent.utf16_units;
    extents[i] = extent;
    kinds[i] = unicode::ascii_kinds[static_cast<unsigned char>(text[at + i])];
  }
  return end;
}

void Language::segment(std::string_view text, Steps& out) {
  text = cut_to_limit(text);
  out.extents.assign(1, Extent{});
  out.kinds.clear();
  out.extents.reserve(text.size() / 2);
  out.kinds.reserve(text.size() / 2);

  for (std::size_t at = segment_ascii(text, 0, out); at < text.size();) {
    const std::size_t begin = at;
    Character now = character_at(text, at);
    const Decoded first = now.decoded;
    bool single = true;
    for (;;) {
      at += now.decoded.size;
      if (at == text.size()) break;
      const Character next = character_at(text, at);
      if (is_sure_boundary(now.joining, next.joining)) break;
      now = next;
      single = false;
    }
    if (single) {
      add_character(out, first);
    } else {
      impl_->segment_run(text, begin, at, out);
    }
    at = segment_ascii(text, at, out);
  }
  if (impl_->language == "el") mark_greek_questions(text, out);
}

void Language::row_breaks(std::string_view text, const Steps& steps, std::vector<RowBreak>& out) {
  out.assign(steps.size(), RowBreak::none);
  if (steps.size() == 0) return;
  const Extent whole = steps.extents.back();
  std::u16string& buffer = impl_->buffer;
  buffer.resize(whole.utf16_units);
  UErrorCode status = U_ZERO_ERROR;
  int32_t length = 0;
  u_strFromUTF8WithSub(buffer.data(), static_cast<int32_t>(buffer.size()), &length, text.data(),
                       static_cast<int32_t>(whole.bytes),
                       static_cast<UChar32>(unicode::replacement), nullptr, &status);
  status = U_ZERO_ERROR;  // "not terminated" is what was asked for
  UBreakIterator* rows = impl_->rows.getAlias();
  length = std::min(length, static_cast<int32_t>(buffer.size()));
  ubrk_setText(rows, buffer.data(), length, &status);
  check_memory(status);
  std::uint32_t step = 0;
  for (int32_t boundary = ubrk_next(rows); boundary != UBRK_DONE; boundary = ubrk_next(rows)) {
    const auto unit = static_cast<std::uint32_t>(boundary);
    while (step + 1 < steps.size() && steps.extents[step + 1].utf16_units < unit) ++step;
    if (steps.extents[step + 1].utf16_units != unit) continue;  // inside a step
    out[step] = ubrk_getRuleStatus(rows) >= UBRK_LINE_HARD ? RowBreak::required : RowBreak::allowed;
  }
  if (steps.kinds.back() != StepKind::row_end) out.back() = RowBreak::none;
}

Abbreviation Language::abbreviation(std::string_view word) const {
  const auto& table = impl_->abbreviations;
  const auto found =
      std::lower_bound(table.begin(), table.end(), word,
                       [](const auto& entry, std::string_view w) { return entry.first < w; });
  return found != table.end() && found->first == word ? found->second : Abbreviation::none;
}

bool Language::is_one_letter_word(std::string_view letter) const {
  return unicode::is_one_letter_word(impl_->language, letter);
}

}  // namespace arvik
