#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "arvik/language.hpp"
#include "arvik/script_file.hpp"

/// Tags of texts on their way to translators.
namespace arvik::script {

/// The script's styles, and a value for every name: for looking at texts that no game shows.
[[nodiscard]] Vocabulary any_vocabulary(const Script& script);

/// A piece of a text: words, or a tag as it stands.
struct TextPart {
  MarkupPieceKind kind{};
  std::string text{};   ///< of words: as they are shown; of tags: the tag, brackets included
  std::size_t tag = 0;  ///< of point, open and close: which of the text's tags, from 1
};

/// A text in parts; neighbouring words are one part.
[[nodiscard]] std::vector<TextPart> parts_of(std::string_view markup, const Vocabulary& vocabulary);

/// A text whose plural choices have just the branches that a language needs: those that are missing
/// begin as copies of `other`.
[[nodiscard]] std::string with_branches_of(std::string_view markup, Language& language,
                                           const Vocabulary& vocabulary);

}  // namespace arvik::script
