#include "../unicode/characters.hpp"
#include "arvik/font.hpp"

namespace arvik {

namespace {

bool is_common_wide(char32_t c) {
  return unicode::is_plain_wide_letter(c) || unicode::is_cjk_sign(c);
}

}  // namespace

FontMetrics GridFont::metrics(float, std::uint16_t) const { return {}; }

void GridFont::measure(const TextRun& run, std::vector<float>& advances) const {
  const std::size_t before = advances.size();
  advances.resize(before + (run.end_step - run.first_step));
  float* advance = advances.data() + before;
  const Extent* extents = run.steps->extents.data();
  for (std::uint32_t i = run.first_step; i < run.end_step; ++i) {
    const char* step = run.text.data() + extents[i].bytes;
    const std::uint32_t size = extents[i + 1].bytes - extents[i].bytes;
    if (size == 1 && *step >= ' ' && *step < 0x7F) {
      *advance++ = 1;
    } else if (size == 3 && is_common_wide(unicode::decode({step, size}, 0).code_point)) {
      *advance++ = 2;
    } else {
      *advance++ = static_cast<float>(unicode::cell_width({step, size}));
    }
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
