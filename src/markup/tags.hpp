#pragma once

#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/markup.hpp"

/// The table of tags: names, kinds, arguments.
namespace arvik::markup {

/// The head of a tag, cut into words. Views into the source.
struct TagHead {
  std::string_view name;
  std::vector<std::string_view> arguments;
  bool is_span = false;
};

/// What is wrong with a tag; the range is that of the word meant.
struct TagProblem {
  DiagnosticCode code{};
  std::string message;
  std::string_view where;
  std::string hint;
};

/// What tags are looked up in. The language may be null.
struct TagContext {
  const Vocabulary& vocabulary;
  Language* language;
};

/// Checks a head against the table and reads its arguments; looks up what the vocabulary has.
[[nodiscard]] tl::expected<Instruction, TagProblem> read_tag(const TagHead& head,
                                                             const TagContext& context);

}  // namespace arvik::markup
