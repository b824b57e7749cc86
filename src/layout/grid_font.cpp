#include "../unicode/characters.hpp"
#include "arvik/font.hpp"

namespace arvik {

namespace {

bool is_common_wide(char32_t c) {
  return unicode::is_plain_wide_letter(c) || unicode::is_cjk_sign(c);
}

}  // namespace

FontMetrics GridFont::metrics() const { return {}; }

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

}  // namespace arvik
