#pragma once

#include "arvik/block.hpp"

namespace arvik::conversation {

/// The same, before it is shared.
[[nodiscard]] tl::expected<std::shared_ptr<Block>, Diagnostic> make_block(
    const BlockRequest& request, Typesetter& typesetter);

/// The first line of the block that a line belongs to.
[[nodiscard]] std::uint32_t first_of_block(const std::vector<DialogueLine>& lines,
                                           std::uint32_t line);

}  // namespace arvik::conversation
