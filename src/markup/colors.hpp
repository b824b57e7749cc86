#pragma once

#include <optional>
#include <string_view>

#include "arvik/markup.hpp"

namespace arvik::markup {

/// `#rrggbb`, `#rrggbbaa` or a name of CSS Color Module Level 4, case-insensitive.
[[nodiscard]] std::optional<Rgba> parse_color(std::string_view word);

/// The CSS colour name nearest to a misspelt one, or empty.
[[nodiscard]] std::string_view nearest_color_name(std::string_view word);

}  // namespace arvik::markup
