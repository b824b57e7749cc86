#pragma once

#include <cstdint>
#include <string_view>
#include <vector>

#include "arvik/steps.hpp"

namespace arvik {

/// A stretch of a line for a font to measure: some steps of one text.
struct TextRun {
  std::string_view text;  ///< the whole plain text, so that a font sees what stands around the run
  const Steps* steps = nullptr;
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
};

struct FontMetrics {
  float row_height = 1;  ///< from one row's top to the next one's
  float ascent = 1;      ///< from the top of a row to its baseline
  float unit = 1;        ///< positions are whole multiples of this; 1 on a grid of cells
};

/// What measures text for the layout. Lengths are in the font's own units at the chosen size:
/// pixels, or cells of a monospace grid. An implementation answers the same for the same input and
/// may be used from several threads at once.
class Font {
 public:
  Font() = default;
  Font(const Font&) = default;
  Font& operator=(const Font&) = default;
  virtual ~Font() = default;

  [[nodiscard]] virtual FontMetrics metrics() const = 0;

  /// Appends the advance of every step of the run, in logical order; 0 or more each.
  virtual void measure(const TextRun& run, std::vector<float>& advances) const = 0;
};

/// A monospace grid, as in a terminal: wide characters and emoji take two cells, combining marks
/// none. Row ends and unseen characters take none, a tab takes one.
class GridFont final : public Font {
 public:
  [[nodiscard]] FontMetrics metrics() const override;
  void measure(const TextRun& run, std::vector<float>& advances) const override;
};

}  // namespace arvik
