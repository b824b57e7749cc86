#pragma once

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/box.hpp"
#include "arvik/dialogue_line.hpp"
#include "arvik/export.hpp"
#include "arvik/font.hpp"
#include "arvik/typesetter.hpp"

namespace arvik {

/// One answer, laid out for showing it.
struct ChoiceText {
  std::string id{};
  bool available = true;
  MarkedText marked{};
  Steps steps{};
  Layout layout{};
};

/// One line's share of a block.
struct BlockLine {
  PreparedPart part{};
  std::vector<ChoiceText> choices{};
  /// It shows nothing, but has events: it is passed without a press.
  bool silent = false;
  bool heard = false;  ///< it has typing sounds
};

/// The content of the box: a line, or several that were appended to each other, all of them laid
/// out from the start, so that nothing moves when they appear. Never changes once it is prepared:
/// any thread may read it for as long as it holds it.
struct Block {
  DialogueLines source{};        ///< all lines of the conversation
  std::uint32_t first_line = 0;  ///< index of this block's first line in it
  std::vector<BlockLine> lines{};
  MarkedText marked{};  ///< of all its lines
  Steps steps{};
  Layout layout{};
  Box box{};
  const Font* font = nullptr;  ///< not owned
  std::string portrait{};      ///< that was shown when the block replaced another one
  /// Events that were delivered then, because they lie inside the text that was shown (relocate()).
  std::vector<Event> overdue{};
  std::vector<Diagnostic> diagnostics{};

  [[nodiscard]] bool has_line(std::uint32_t line) const {
    return line >= first_line && line - first_line < lines.size();
  }
  /// Of a line that it has.
  [[nodiscard]] const BlockLine& line(std::uint32_t index) const {
    return lines[index - first_line];
  }
  [[nodiscard]] const DialogueLine& source_line(std::uint32_t index) const {
    return (*source)[index];
  }
};

/// All that a block is prepared from. Copies are small; they may go to another thread. The font
/// must outlive it and the block.
struct BlockRequest {
  DialogueLines lines{};
  std::uint32_t first_line = 0;
  const Font* font = nullptr;
  Box box{};
  Box choice_box{};
  TypingSounds sounds{};  ///< may be null: none
  bool reduced_motion = false;
  friend bool operator==(const BlockRequest&, const BlockRequest&) = default;
};

/// Prepares the block that begins at a line: it and all that are appended to it. Mistakes in the
/// markup do not fail; what the box refuses is clipped. Fails with bad_pace, bad_sound, bad_box.
[[nodiscard]] ARVIK_API tl::expected<std::shared_ptr<const Block>, Diagnostic> prepare_block(
    const BlockRequest& request, Typesetter& typesetter);

}  // namespace arvik
