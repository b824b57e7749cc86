#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "arvik/conversation.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"

/// Part of arvik::script. A conversation's place as JSON, for saved games.
namespace arvik {

/// A conversation's place as JSON, and back. Reading fails with bad_json or bad_value.
[[nodiscard]] ARVIK_API std::string write_place(const ConversationPlace& place);
[[nodiscard]] ARVIK_API tl::expected<ConversationPlace, Diagnostic> read_place(
    std::string_view json);

}  // namespace arvik
