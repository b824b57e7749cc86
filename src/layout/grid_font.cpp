#include "../unicode/characters.hpp"
#include "arvik/font.hpp"

namespace arvik {

FontMetrics GridFont::metrics() const { return {}; }

void GridFont::measure(const TextRun& run, std::vector<float>& advances) const {
  const std::size_t before = advances.size();
  advances.resize(before + (run.end_step - run.first_step));
  float* advance = advances.data() + before;
  for (std::uint32_t i = run.first_step; i < run.end_step; ++i) {
    const std::string_view step = run.steps->text(run.text, i);
    const bool plain = step.size() == 1 && step[0] >= ' ' && step[0] < 0x7F;
    *advance++ = plain ? 1.0F : static_cast<float>(unicode::cell_width(step));
  }
}

}  // namespace arvik
