// Where rows may end, and where words begin.
//
// The answers are ICU's (UAX #14 with the language's tailoring, UAX #29, dictionaries), but most of
// the questions need not be asked: in most places two neighbours decide, or two with spaces between
// them. A machine walks over the classes of the steps and finds these answers. ICU's iterator
// begins anew behind every boundary that it finds, so what stands between two sure ends of rows can
// be asked about alone. Such stretches, mostly words with hyphens, currencies, emoji or letters of
// scripts with dictionaries, go to ICU in one buffer, a row end between them; the rest is never
// converted to UTF-16.
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
  if (is_one_of(before, {open, mark, small_kana}) || is_one_of(after, {open, mark, small_kana})) {
    return Here::ask;
  }
  if (is_one_of(before, {glue, bracket, opening})) return Here::none;  // LB12, LB14, LB19
  if (is_one_of(after, {trailing, closing, exclamation, inseparable, hyphen})) {
    return Here::none;  // LB13, LB21, LB22
  }
  if (before == hyphen) return Here::ask;                     // LB21a, LB25
  if (after == glue) return Here::none;                       // LB12a, LB19
  if (before == dash && after == dash) return Here::none;     // LB17
  if (before == word && is_one_of(after, {word, bracket})) {  // LB23, LB25, LB28, LB30
    return Here::none;
  }
  if (before == trailing && after == word) return Here::none;  // LB25, LB29, LB30
  return Here::allowed;                                        // LB31
}

// What stands before spaces, as far as what stands behind them may depend on it.
enum class Base : std::uint8_t { unknown, plain, closing, dash, glue, opening };

constexpr Base base_of(RowClass before) {
  using enum RowClass;
  switch (before) {
    case word:
    case exclamation:
    case inseparable:
    case hyphen:
    case ideograph:
    case row_end:
      return Base::plain;
    case trailing:
    case closing:
      return Base::closing;
    case dash:
      return Base::dash;
    case glue:
      return Base::glue;
    case bracket:
    case opening:
      return Base::opening;
    default:
      return Base::unknown;
  }
}

// What a row may do between spaces and a step behind them.
constexpr Here behind_spaces(Base base, RowClass after) {
  using enum RowClass;
  if (after == row_end || after == space) return Here::none;  // LB6, LB7
  if (base == Base::unknown || is_one_of(after, {open, mark, small_kana, trailing})) {
    return Here::ask;
  }
  if (base == Base::opening || is_one_of(after, {exclamation, closing})) {
    return Here::none;  // LB13, LB14
  }
  if (base == Base::glue && is_one_of(after, {bracket, opening})) return Here::ask;  // LB15
  if (base == Base::closing && after == inseparable) return Here::ask;               // LB16
  if (base == Base::dash && after == dash) return Here::none;                        // LB17
  return Here::allowed;                                                              // LB18
}

// All of it as a machine: its state is the class of the step before, or, behind spaces, what
// stands before those. An entry holds what happens in its lowest bits and the next state above
// them, and is found by the state and the bits of the next step's traits that hold its class.
constexpr unsigned classes = static_cast<unsigned>(RowClass::row_end) + 1;
constexpr unsigned bases = static_cast<unsigned>(Base::opening) + 1;
constexpr unsigned row_class_bits = 0x3C;
constexpr unsigned state_size = row_class_bits + 4;  // in entries

constexpr unsigned state_behind(Base base) {
  return (classes + static_cast<unsigned>(base)) * state_size;
}
constexpr unsigned state_behind(RowClass before) {
  return before == RowClass::space ? state_behind(Base::unknown)
                                   : static_cast<unsigned>(before) * state_size;
}

using RowMachine = std::array<std::uint16_t, std::size_t{classes + bases} * state_size>;

// What the tailoring of a language decides.
struct Tailoring {
  bool small_kana_are_ideographs = false;
  bool quotes_are_plain = true;  // else some of them are brackets
};

constexpr RowClass meant(RowClass row, const Tailoring& tailoring) {
  if (row == RowClass::small_kana && tailoring.small_kana_are_ideographs) {
    return RowClass::ideograph;
  }
  return row == RowClass::glue && !tailoring.quotes_are_plain ? RowClass::open : row;
}

constexpr RowMachine machine_of(const Tailoring& tailoring) {
  RowMachine table{};
  for (unsigned of = 0; of < classes + bases; ++of) {
    for (unsigned next = 0; next < classes; ++next) {
      const auto row = static_cast<RowClass>(next);
      const RowClass after = meant(row, tailoring);
      const bool is_space = row == RowClass::space;
      Here here = Here::ask;
      unsigned to = state_behind(row);
      if (of >= classes) {
        const auto base = static_cast<Base>(of - classes);
        here = behind_spaces(base, after);
        if (is_space) to = state_behind(base);
      } else {
        const RowClass before = meant(static_cast<RowClass>(of), tailoring);
        here = between(before, after);
        if (is_space) to = state_behind(base_of(before));
      }
      table[of * state_size + next * 4] =
          static_cast<std::uint16_t>(to | static_cast<unsigned>(here));
    }
  }
  return table;
}

constexpr std::array<RowMachine, 4> machines{machine_of({false, false}), machine_of({false, true}),
                                             machine_of({true, false}), machine_of({true, true})};

const RowMachine& machine_for(const Tailoring& tailoring) {
  return machines[(tailoring.small_kana_are_ideographs ? 2U : 0U) +
                  (tailoring.quotes_are_plain ? 1U : 0U)];
}

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

// Whether rows may begin with small kana, and whether quotes are brackets, is the language's own:
// ICU is asked once. What versions of Unicode behind that of the table make of quotes is left to
// it, too: they have changed LB15 and LB19.
void Language::Impl::look_at_tailoring() {
  constexpr std::u16string_view text = u"\u3042\u3063\u201C\u3042\u201D\u3042";
  UErrorCode status = U_ZERO_ERROR;
  ubrk_setText(rows.getAlias(), text.data(), static_cast<int32_t>(text.size()), &status);
  check_memory(status);
  Tailoring found{.quotes_are_plain = unicode::icu_has_version_of_table()};
  for (auto at = ubrk_next(rows.getAlias()); at != UBRK_DONE; at = ubrk_next(rows.getAlias())) {
    if (at == 1) found.small_kana_are_ideographs = true;
    if (at > 1 && at < static_cast<int32_t>(text.size())) found.quotes_are_plain = false;
  }
  row_machine = machine_for(found).data();
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
  const std::uint16_t* table = impl_->row_machine;
  unsigned entry = state_behind(row_class_of(traits[first]));
  std::uint32_t begin = first;  // of what may have to be asked about
  constexpr auto ask = static_cast<unsigned>(Here::ask);
  unsigned asked = impl_->tailored ? ask : 0;
  for (std::uint32_t i = first + 1; i < end;) {
    unsigned here = 0;
    do {
      entry = table[(entry & ~(state_size - 1)) | (traits[i] & row_class_bits)];
      asked |= entry;
      here = entry & 3U;
      breaks[i++ - 1] = static_cast<RowBreak>(here);
    } while (here == 0 && i < end);
    if (here == 0) break;
    if (impl_->tailored) {  // ICU alone says
      breaks[i - 2] = RowBreak::none;
      continue;
    }
    if ((asked & ask) != 0) impl_->ask_about(text, steps, begin, i - 1);
    asked = 0;
    begin = i - 1;
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
