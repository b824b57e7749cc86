#include <cmath>
#include <memory>

#include "arvik/font_set.hpp"
#include "arvik/typesetter.hpp"
#include "fuzz/targets.hpp"

namespace arvik::fuzz {

std::string fuzz_fonts(Bytes bytes) {
  auto data = std::make_shared<const std::string>(bytes.begin(), bytes.end());
  const auto fonts = FontSet::make({{.data = std::move(data)}}, 20);
  if (!fonts) return {};
  static Typesetter typesetter(Language::open("en").value());
  const auto line = typesetter.prepare("Mind the [b: thin] ice, שלום فن 水門。", {}, *fonts,
                                       {.width = 200, .max_rows = 2});
  if (!line) return {};
  if (line->layout.steps.size() != line->steps.size()) return "steps without places";
  for (const Glyph& glyph : line->layout.glyphs) {
    if (glyph.end_step <= glyph.first_step || glyph.end_step > line->steps.size()) {
      return "a glyph of no steps";
    }
  }
  return {};
}

}  // namespace arvik::fuzz
