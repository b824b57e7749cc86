// Where rows may end, and where words begin.
//
// The answers are ICU's (UAX #14 with the language's tailoring, UAX #29, dictionaries), but most of
// the questions need not be asked: within a word of letters there is no row end, behind a space
// between two words there is one, between two ideographs, too. ICU's iterator begins anew behind
// every boundary that it finds, so what stands between two sure ends of rows can be asked about
// alone. Such stretches, mostly a word with quotes, hyphens or digits and its neighbour, go to ICU
// in one buffer, a row end between them; the rest is never converted to UTF-16.
//
// Language tags that ask for rules of their own ("ja-u-lb-strict") are asked about whole.
//
// Guarded by tests/unicode/language_test.cpp: generated text of all scripts, in many languages,
// against ICU alone.

#include <unicode/utf16.h>

#include <algorithm>
#include <array>

#include "characters.hpp"
#include "language_impl.hpp"

namespace arvik {
namespace {

using unicode::decode;
using unicode::row_class_of;
using unicode::RowClass;

// The first three as in RowBreak.
enum class Here : std::uint8_t { none, allowed, required, ask = 4 };

constexpr bool is_one_of(RowClass what, std::initializer_list<RowClass> some) {
  return std::find(some.begin(), some.end(), what) != some.end();
}

// What a row may do between two steps, as far as they alone tell; `ask` where they do not. The
// rules are those of UAX #14.
constexpr Here between(RowClass before, RowClass after) {
  using enum RowClass;
  if (before == row_end) return Here::required;               // LB4, LB5
  if (after == row_end || after == space) return Here::none;  // LB6, LB7
  if (before == open || after == open || before == space || before == mark || after == mark) {
    return Here::ask;
  }
  if (before == small_kana || after == small_kana) return Here::ask;
  if (before == opening) return Here::none;  // LB14
  if (after == opening) {                    // LB31
    return before == ideograph || before == closing ? Here::allowed : Here::ask;
  }
  if (is_one_of(after, {closing, exclamation, full_stop})) {  // LB13
    return before == apostrophe ? Here::ask : Here::none;
  }
  if (after == apostrophe) return before == word ? Here::none : Here::ask;  // LB19
  const bool is_word = before == word || before == apostrophe;
  if (after == word && is_word) return Here::none;  // LB19, LB28, LB23, LB25
  if (before == closing) return Here::allowed;      // LB31
  const bool is_letter = before == word || before == ideograph;
  return is_letter ? Here::allowed : Here::ask;  // LB31
}

// Whether no rule looks over spaces behind it.
constexpr bool is_plain(RowClass before) {
  using enum RowClass;
  return is_one_of(before, {word, ideograph, full_stop, exclamation, closing});
}

// Behind spaces that stand behind something plain or not.
constexpr Here behind_space(bool plain, RowClass after) {
  using enum RowClass;
  if (after == row_end || after == space) return Here::none;
  const bool begins = after == word || after == ideograph || after == opening;
  return begins && plain ? Here::allowed : Here::ask;  // LB18
}

// All of it as a machine: its state is the class of the step before, and of spaces also whether
// what stands before them is plain. One entry holds what happens and the next state.
constexpr unsigned classes = static_cast<unsigned>(RowClass::row_end) + 1;
constexpr unsigned behind_plain_space = classes;
constexpr unsigned states = 16;
static_assert(behind_plain_space < states);

// Small kana are as other kana, or have to be asked about.
using Machine = std::array<std::uint8_t, std::size_t{states} * states>;

constexpr Machine machine_of(bool small_kana_are_ideographs) {
  const auto meant = [&](unsigned row) {
    const bool small = row == static_cast<unsigned>(RowClass::small_kana);
    return static_cast<RowClass>(
        small && small_kana_are_ideographs ? static_cast<unsigned>(RowClass::ideograph) : row);
  };
  Machine table{};
  for (unsigned state = 0; state <= behind_plain_space; ++state) {
    for (unsigned next = 0; next < classes; ++next) {
      const RowClass after = meant(next);
      Here here = Here::ask;
      bool plain = false;  // what stands before spaces
      if (state == behind_plain_space || state == static_cast<unsigned>(RowClass::space)) {
        plain = state == behind_plain_space;
        here = behind_space(plain, after);
      } else {
        const RowClass before = meant(state);
        plain = is_plain(before);
        here = between(before, after);
      }
      const bool to_plain_space = after == RowClass::space && plain;
      const unsigned to = to_plain_space ? behind_plain_space : next;
      table[state * states + next] =
          static_cast<std::uint8_t>(to * states | static_cast<unsigned>(here));
    }
  }
  return table;
}

constexpr Machine machine = machine_of(false);
constexpr Machine machine_with_small_kana = machine_of(true);

}  // namespace

void Language::Impl::append_utf16(std::string_view text) {
  std::size_t size = buffer.size();
  buffer.resize(size + text.size());  // no character has more units than bytes
  unicode::Decoded now;
  for (std::size_t at = 0; at < text.size(); at += now.size) {
    now = decode(text, at);
    if (now.code_point > 0xFFFF) {
      buffer[size++] = static_cast<char16_t>(U16_LEAD(now.code_point));
      buffer[size++] = static_cast<char16_t>(U16_TRAIL(now.code_point));
    } else {
      buffer[size++] = static_cast<char16_t>(now.code_point);
    }
  }
  buffer.resize(size);
}

// Rows may begin with small kana, or not, as the language's tailoring has it: ICU is asked once.
void Language::Impl::look_at_small_kana() {
  constexpr std::u16string_view text = u"\u3042\u3063";
  UErrorCode status = U_ZERO_ERROR;
  ubrk_setText(rows.getAlias(), text.data(), static_cast<int32_t>(text.size()), &status);
  check_memory(status);
  small_kana_are_ideographs = ubrk_next(rows.getAlias()) == 1;
}

void Language::Impl::ask_about(std::string_view text, const Steps& steps, std::uint32_t first,
                               std::uint32_t end) {
  if (!stretches.empty()) buffer.push_back(u'\n');  // no rule looks over it
  stretches.push_back({first, end, static_cast<std::uint32_t>(buffer.size())});
  append_utf16(
      text.substr(steps.begin_byte(first), steps.extents[end].bytes - steps.begin_byte(first)));
}

void Language::row_breaks(std::string_view text, const Steps& steps, std::vector<RowBreak>& out) {
  out.resize(steps.size());
  row_breaks(text, steps, 0, steps.size(), out);
  if (steps.size() == 0) return;
  const bool ends_row = steps.kinds.back() == StepKind::row_end;
  out.back() = ends_row ? RowBreak::required : RowBreak::none;
}

void Language::row_breaks(std::string_view text, const Steps& steps, std::uint32_t first,
                          std::uint32_t end, std::vector<RowBreak>& out) {
  if (first >= end) return;
  impl_->buffer.clear();
  impl_->stretches.clear();
  const std::uint8_t* traits = steps.traits.data();
  RowBreak* breaks = out.data();
  const Machine& table = impl_->small_kana_are_ideographs ? machine_with_small_kana : machine;
  unsigned entry = static_cast<unsigned>(row_class_of(traits[first])) * states;
  std::uint32_t begin = first;  // of what may have to be asked about
  constexpr auto ask = static_cast<unsigned>(Here::ask);
  unsigned asked = impl_->tailored ? ask : 0;
  for (std::uint32_t i = first + 1; i < end; ++i) {
    entry = table[(entry & ~(states - 1)) | (traits[i] >> 2U & 15U)];
    breaks[i - 1] = static_cast<RowBreak>(entry & 3U);
    asked |= entry;
    if ((entry & 3U) == 0) continue;
    if (impl_->tailored) {  // ICU alone says
      breaks[i - 1] = RowBreak::none;
      continue;
    }
    if ((asked & ask) != 0) impl_->ask_about(text, steps, begin, i);
    asked = 0;
    begin = i;
  }
  if ((asked & ask) != 0) impl_->ask_about(text, steps, begin, end);
  impl_->find_boundaries(impl_->rows.getAlias(), steps, [&](std::uint32_t step) {
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
    impl_->words = unicode::open_iterator(UBRK_WORD, impl_->locale.c_str(), status);
    check_memory(status);
  }
  std::fill(out.begin() + first, out.begin() + end, std::uint8_t{0});
  impl_->buffer.clear();
  impl_->stretches.clear();
  impl_->ask_about(text, steps, first, end);
  impl_->find_boundaries(impl_->words.getAlias(), steps,
                         [&](std::uint32_t step) { out[step + 1] = 1; });
  for (std::uint32_t i = first + 1; i < end; ++i) {
    out[i] = begins_word(text, steps, i, end, out[i] != 0) ? 1 : 0;
  }
  out[first] = 1;
}

}  // namespace arvik
