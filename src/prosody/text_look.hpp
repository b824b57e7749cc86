#pragma once

#include <algorithm>
#include <cstdint>
#include <span>
#include <string_view>

#include "../unicode/characters.hpp"
#include "arvik/boundaries.hpp"

namespace arvik::prosody {

[[nodiscard]] inline bool is_alphanumeric(StepKind kind) {
  return kind == StepKind::letter || kind == StepKind::digit;
}

/// A segmented text as the rules of this room look at it: step by step, and around them. Keeps
/// references to all that it is made from.
class TextLook {
 public:
  TextLook(std::string_view text, const Steps& steps, Language& language,
           std::span<const LanguageRun> others)
      : text_(text),
        steps_(steps),
        kinds_(steps.kinds.data()),
        size_(steps.size()),
        language_(language),
        others_(others) {}

 protected:
  struct Word {
    std::string_view text{};
    std::uint32_t begin = 0;  // its first step
  };

  // A step beyond the text counts as a row end.
  [[nodiscard]] StepKind kind(std::uint32_t i) const {
    return i < size_ ? kinds_[i] : StepKind::row_end;
  }
  [[nodiscard]] StepKind kind_before(std::uint32_t i) const {
    return i > 0 ? kinds_[i - 1] : StepKind::row_end;
  }
  [[nodiscard]] std::string_view step_text(std::uint32_t i) const { return steps_.text(text_, i); }
  [[nodiscard]] char32_t code_point(std::uint32_t i) const {
    return unicode::decode(text_, steps_.begin_byte(i)).code_point;
  }

  [[nodiscard]] const Language& language_at(std::uint32_t step) const {
    const auto run = std::partition_point(others_.begin(), others_.end(),
                                          [&](const LanguageRun& r) { return r.end_step <= step; });
    const bool inside = run != others_.end() && run->first_step <= step;
    return inside ? language_.other(run->tag) : language_;
  }

  static bool is_clause(StepKind kind) {
    return kind == StepKind::comma || kind == StepKind::colon || kind == StepKind::clause;
  }

  [[nodiscard]] bool is_hangul(std::uint32_t i) const {
    const char32_t c = code_point(i);
    return c >= 0xAC00 && c <= 0xD7A3;
  }

  [[nodiscard]] std::uint32_t first_of_other_kind(std::uint32_t i, StepKind skipped) const {
    while (kind(i) == skipped) ++i;
    return i;
  }

  [[nodiscard]] bool begins_row(std::uint32_t i) const {
    while (i > 0 && (kind_before(i) == StepKind::blank || kind_before(i) == StepKind::unseen ||
                     kind_before(i) == StepKind::quote || kind_before(i) == StepKind::opener)) {
      --i;
    }
    return kind_before(i) == StepKind::row_end;
  }

  // Ideographs and kana are written without blanks, so a neighbour of that kind tells nothing.
  [[nodiscard]] bool begins_word_tightly(std::uint32_t i) const {
    if (!is_alphanumeric(kind(i))) return false;
    const char32_t c = code_point(i);
    const bool full_width_latin = c >= 0xFF10 && c <= 0xFF5A;
    return full_width_latin || !unicode::is_wide(c);
  }

  [[nodiscard]] std::uint32_t word_end(std::uint32_t begin) const {
    constexpr std::uint32_t longest = 24;
    std::uint32_t end = begin;
    while (end - begin < longest && kind(end) == StepKind::letter) ++end;
    return end;
  }

  [[nodiscard]] std::string_view word_at(std::uint32_t begin) const {
    const std::uint32_t end = word_end(begin);
    if (end == begin) return {};
    return text_.substr(steps_.begin_byte(begin),
                        steps_.end_byte(end - 1) - steps_.begin_byte(begin));
  }

  std::string_view text_;
  const Steps& steps_;
  const StepKind* kinds_;  // of the steps
  std::uint32_t size_;
  Language& language_;
  std::span<const LanguageRun> others_;
};

}  // namespace arvik::prosody
