#pragma once

#include <string>
#include <string_view>

#include "arvik/font_set.hpp"

namespace arvik::tool {

/// The family's faces as fontconfig finds them, and faces of other families for the characters of
/// `text` that it lacks. Throws Failure if there is no such family or a font cannot be read.
[[nodiscard]] FontSet load_fonts(const std::string& family, float pixel_size,
                                 std::string_view text);

}  // namespace arvik::tool
