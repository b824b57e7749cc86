#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/typesetter.hpp"
#include "rules.hpp"

namespace arvik::checking {

/// A text of the script in one locale, as the pipeline has it.
struct TextView {
  std::string_view source;  ///< as it is written
  const MarkedText* marked = nullptr;
  const Steps* steps = nullptr;
  const std::vector<Boundary>* boundaries = nullptr;
  /// The source cut up, once in_source() has been asked.
  mutable std::optional<std::vector<MarkupPiece>> pieces{};

  [[nodiscard]] std::string_view plain() const { return marked->text; }
  [[nodiscard]] std::string_view step(std::uint32_t at) const {
    return steps->text(marked->text, at);
  }
  /// The first character of a step.
  [[nodiscard]] char32_t character(std::uint32_t at) const;
  /// The bytes of steps in the plain text.
  [[nodiscard]] TextRange bytes(std::uint32_t begin, std::uint32_t end) const {
    return {steps->extents[begin].bytes, steps->extents[end].bytes};
  }
};

/// Where a range of the plain text is written in the source. What tags put into the plain text is
/// where the tag stands. `vocabulary` is that of the text, in every call.
[[nodiscard]] TextRange in_source(const TextView& text, TextRange plain,
                                  const Vocabulary& vocabulary);

/// A part of a text: of its source, or of what is shown of it. An empty one means all of it.
struct TextPart {
  TextRange range{};
  bool is_shown = false;
};
[[nodiscard]] inline TextPart shown_part(TextRange range) { return {range, true}; }

/// Hears what a rule has found in a text.
using Tell = std::function<void(Rule rule, TextPart part, std::string message, std::string hint)>;

/// Whether a byte of the plain text was put in by `[value …]`, so that it is no writer's.
[[nodiscard]] bool is_value(const TextView& text, std::size_t byte);

}  // namespace arvik::checking
