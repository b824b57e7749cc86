#include "../unicode/characters.hpp"
#include "arvik/font.hpp"

namespace arvik {

FontMetrics GridFont::metrics(float, std::uint16_t) const { return {}; }

void GridFont::measure(const TextRun& run, std::vector<float>& advances) const {
  const std::size_t before = advances.size();
  const std::size_t count = run.end_step - run.first_step;
  advances.resize(before + count);
  float* advance = advances.data() + before;
  const std::uint8_t* traits = run.steps->traits.data() + run.first_step;
  // Loops that compilers take many steps at once in.
  for (std::size_t i = 0; i < count; ++i) advance[i] = static_cast<float>(traits[i] & 3U);
  std::uint8_t wider = 0;  // its second bit, if any step takes three or more
  for (std::size_t i = 0; i < count; ++i)
    wider |= traits[i] & static_cast<std::uint8_t>(traits[i] << 1U);
  for (std::uint32_t i = run.first_step; (wider & 2U) != 0 && i < run.end_step; ++i) {
    if (unicode::cells_of(run.steps->traits[i]) < 3) continue;
    const int width = unicode::cell_width(run.steps->text(run.text, i));
    advance[i - run.first_step] = static_cast<float>(width);
  }
}

void GridFont::shape(const TextRun& run, std::vector<ShapedGlyph>& glyphs) const {
  std::vector<float> advances;
  measure(run, advances);
  const std::size_t count = advances.size();
  for (std::size_t n = 0; n < count; ++n) {
    const std::size_t i = run.direction == Direction::right_to_left ? count - 1 - n : n;
    const auto step = run.first_step + static_cast<std::uint32_t>(i);
    const char32_t id = unicode::decode(run.steps->text(run.text, step), 0).code_point;
    glyphs.push_back({.id = id, .first_step = step, .end_step = step + 1, .advance = advances[i]});
  }
}

}  // namespace arvik
