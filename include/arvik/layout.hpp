#pragma once

#include <cstdint>
#include <limits>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/font.hpp"
#include "arvik/language.hpp"
#include "arvik/markup.hpp"
#include "arvik/steps.hpp"

namespace arvik {

/// Where the rows of a box stand between its sides.
enum class Align : std::uint8_t { start, center, end };

/// The rectangle that text is laid out in.
struct Box {
  /// The greatest width of a row, in the font's units; more than 0. The default never wraps.
  float width = std::numeric_limits<float>::infinity();
  Align align = Align::start;
};

/// One row: the steps from first_step to before end_step. Blanks and row ends at its end belong to
/// it but hang: they have a place and count for no width.
struct Row {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  std::uint32_t end_ink_step = 0;  ///< where the hanging blanks begin
  float x = 0;                     ///< left of its first step, from the left of the box
  float y = 0;                     ///< its top, from the top of the block
  float width = 0;                 ///< without what hangs
};

/// Where one step stands: its left edge from the left of the box, its advance, its row.
struct StepPlace {
  float x = 0;
  float width = 0;
  std::uint32_t row = 0;
};

/// Where everything in a line stands, complete before the first step shows. Nothing in it depends
/// on how much of the line is shown.
struct Layout {
  std::vector<Row> rows{};  ///< one at least, from top to bottom
  std::vector<StepPlace> steps{};
  float width = 0;   ///< of the widest row
  float height = 0;  ///< of all rows
  /// word_broken and step_too_wide warnings. Places are in the plain text.
  std::vector<Diagnostic> diagnostics{};
};

/// Lays out a line in rows: as many steps in each as fit (greedy), ending where the language allows
/// it. A word longer than a row is broken between steps, with a warning; a step wider than the box
/// stands alone in its row, with a warning. `steps` must be the steps of `marked.text`.
///
/// With an infinite box width rows are aligned within the widest one.
///
/// Fails with bad_box; `out` is unchanged then. Linear; reuses the memory of `out`.
[[nodiscard]] tl::expected<void, Diagnostic> lay_out(const MarkedText& marked, const Steps& steps,
                                                     Language& language, const Font& font,
                                                     const Box& box, Layout& out);
[[nodiscard]] tl::expected<Layout, Diagnostic> lay_out(const MarkedText& marked, const Steps& steps,
                                                       Language& language, const Font& font,
                                                       const Box& box);

/// A line as one string with its rows cut by newlines, for engines that draw strings: no prefix of
/// it ever wraps again.
struct RowText {
  std::string text{};  ///< rows without their hanging blanks, joined by '\n'
  /// extents[n] is the size of the prefix that shows the first n steps; size() + 1 entries.
  std::vector<Extent> extents{};
};

[[nodiscard]] RowText row_text(const MarkedText& marked, const Steps& steps, const Layout& layout);

}  // namespace arvik
