#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "arvik/font_set.hpp"

namespace arvik::tool {

/// The family's faces as fontconfig finds them, and faces of other families for the characters of
/// `text` that it lacks. Throws Failure if there is no such family or a font cannot be read.
[[nodiscard]] FontSet load_fonts(const std::string& family, float pixel_size,
                                 std::string_view text);

/// The faces of these families alone, in their order. Throws Failure like load_fonts().
[[nodiscard]] FontSet load_families(const std::vector<std::string>& families, float pixel_size);

}  // namespace arvik::tool
