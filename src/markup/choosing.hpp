#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/markup.hpp"

/// Words that values choose: `[plural NAME: [one: …][other: …]]`, `[select NAME: [VALUE: …]]`.
namespace arvik::markup {

/// One of the texts that can be chosen.
struct Branch {
  std::string_view name;  ///< in the source
  TextRange head{};       ///< in the source
  std::size_t piece = 0;  ///< where it begins among the pieces of the text
};

/// A choice whose branches are read.
struct Choosing {
  std::size_t piece = 0;  ///< where it begins
  TextRange source{};     ///< its head
  bool is_plural = false;
  std::optional<TextValue> value{};  ///< none if the game gives none
  std::vector<Branch> branches{};
};

/// A problem of a choice, with the range that is meant.
struct BranchProblem {
  DiagnosticCode code{};
  Severity severity = Severity::error;
  TextRange range{};
  std::string message;
  std::string hint{};
};

/// A number as the language writes it; of a text of digits its category. Nothing for other texts.
[[nodiscard]] std::optional<NumberForm> number_of(const TextValue& value, Language* language);

/// The branch that is shown: that of the value, else `other`, else the last. Null without branches.
[[nodiscard]] const Branch* choose(const Choosing& choice, Language* language);

/// What is wrong with the branches of a choice, in the order of the source; of categories that a
/// language has not or needs only where a language is given.
[[nodiscard]] std::vector<BranchProblem> find_problems(const Choosing& choice, Language* language);

}  // namespace arvik::markup
