#pragma once

#include <cstdint>
#include <string_view>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/steps.hpp"
#include "arvik/style.hpp"

namespace arvik {

/// A stretch of a line for a font to measure or shape: steps of one direction, script and style.
struct TextRun {
  std::string_view text;  ///< the whole plain text, so that a font sees what stands around the run
  const Steps* steps = nullptr;
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  TextStyle style{};
  Direction direction = Direction::left_to_right;
  ScriptCode script = common_script;
  std::string_view language{};  ///< BCP 47
};

struct FontMetrics {
  float row_height = 1;  ///< from one row's top to the next one's
  float ascent = 1;      ///< from the top of a row to its baseline
  float unit = 1;        ///< rows are placed at whole multiples of this; 1 on a grid of cells
};

/// One shaped glyph. A glyph may stand for several steps (a ligature) and a step may have several
/// glyphs; glyphs of one cluster share first_step and end_step.
struct ShapedGlyph {
  std::uint32_t id = 0;          ///< in its face; 0 is the face's sign for "missing"
  std::uint16_t face = 0;        ///< which face of the font
  bool unsafe_to_break = false;  ///< text cut before this cluster must be shaped anew
  std::uint32_t first_step = 0;  ///< the steps that the cluster stands for
  std::uint32_t end_step = 0;
  float advance = 0;
  float dx = 0;  ///< from where the pen is to the glyph's origin; y grows downwards
  float dy = 0;
};

/// What measures and shapes text for the layout. Lengths are in the font's own units at the chosen
/// size: pixels, or cells of a monospace grid. An implementation returns the same for the same
/// input and may be used from several threads at once.
class ARVIK_API Font {
 public:
  Font() = default;
  Font(const Font&) = default;
  Font& operator=(const Font&) = default;
  virtual ~Font() = default;

  /// Of text in one of the font's faces, 0 being the main one, at `size` times the font's size.
  [[nodiscard]] virtual FontMetrics metrics(float size, std::uint16_t face) const = 0;

  /// Whether every step has an advance of its own, whatever stands around it, as on a grid or in a
  /// bitmap font. The layout then only measures, and makes no glyphs.
  [[nodiscard]] virtual bool steps_stand_alone() const = 0;

  /// Appends the advance of every step of the run, in logical order; 0 or more each. Called for
  /// fonts whose steps stand alone.
  virtual void measure(const TextRun& run, std::vector<float>& advances) const = 0;

  /// Appends the glyphs of the run in visual order, from left to right. Called for other fonts.
  virtual void shape(const TextRun& run, std::vector<ShapedGlyph>& glyphs) const = 0;
};

/// A monospace grid, as in a terminal: wide characters and emoji take two cells, combining marks
/// none. Row ends and unseen characters take none, a tab takes one. Styles and sizes change
/// nothing.
class ARVIK_API GridFont final : public Font {
 public:
  [[nodiscard]] FontMetrics metrics(float size, std::uint16_t face) const override;
  [[nodiscard]] bool steps_stand_alone() const override { return true; }
  void measure(const TextRun& run, std::vector<float>& advances) const override;
  void shape(const TextRun& run, std::vector<ShapedGlyph>& glyphs) const override;
};

}  // namespace arvik
