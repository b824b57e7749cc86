#pragma once

#include <span>
#include <vector>

#include "arvik/conversation.hpp"

namespace arvik::conversation {

/// One line's share of a text.
struct BlockLine {
  MarkedText marked;  ///< of the line alone
  Steps steps;
  Schedule schedule;
  TypingPlan typing;
  std::uint32_t first_step = 0;  ///< of its steps in the text
  Nanoseconds begin{};           ///< of its time in the text's schedule
};

/// A line and those that are appended to it, prepared together.
struct Block {
  std::uint32_t first_line = 0;
  std::vector<BlockLine> lines;
  ConversationText text;
  std::vector<Diagnostic> diagnostics;
};

/// Prepares the lines, which belong into one box. Mistakes in the markup do not fail; where the box
/// refuses the text, it is clipped, with the reason among the diagnostics.
void prepare_block(std::span<const DialogueLine> lines, Typesetter& typesetter, const Font& font,
                   const Box& box, const ConversationSettings& settings, Block& out);

/// Lays the text out in another box; page turns may come elsewhere then.
void lay_out_again(std::span<const DialogueLine> lines, Typesetter& typesetter, const Font& font,
                   const Box& box, const ConversationSettings& settings, Block& block);

}  // namespace arvik::conversation
