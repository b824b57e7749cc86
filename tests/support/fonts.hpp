#pragma once

#include "arvik/font_set.hpp"

namespace arvik::test {

/// The fonts that the tests use, from Debian's packages: Noto Sans for Latin (regular, bold,
/// italic), and its families for Arabic, Hebrew, Devanagari, Thai, Japanese, and colour emoji.
[[nodiscard]] FontSet noto(float pixel_size);
/// DejaVu Sans alone, which has many ligatures.
[[nodiscard]] FontSet dejavu(float pixel_size);

}  // namespace arvik::test
