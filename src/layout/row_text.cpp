#include "arvik/layout.hpp"

namespace arvik {

RowText row_text(const MarkedText& marked, const Steps& steps, const Layout& layout) {
  RowText result;
  result.text.reserve(marked.text.size() + layout.rows.size());
  result.extents.reserve(steps.size() + 1);
  Extent extent;
  result.extents.push_back(extent);
  for (const Row& row : layout.rows) {
    const bool last_row = &row == &layout.rows.back();
    for (std::uint32_t i = row.first_step; i < row.end_step; ++i) {
      if (i < row.end_ink_step) {
        result.text += steps.text(marked.text, i);
        extent.bytes += steps.extents[i + 1].bytes - steps.extents[i].bytes;
        extent.code_points += steps.extents[i + 1].code_points - steps.extents[i].code_points;
        extent.utf16_units += steps.extents[i + 1].utf16_units - steps.extents[i].utf16_units;
      }
      result.extents.push_back(extent);
    }
    if (last_row) break;
    // The newline shows with the first step of the next row.
    result.text += '\n';
    ++extent.bytes;
    ++extent.code_points;
    ++extent.utf16_units;
  }
  return result;
}

}  // namespace arvik
