#pragma once

#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/boundaries.hpp"
#include "arvik/box.hpp"
#include "arvik/export.hpp"
#include "arvik/font.hpp"
#include "arvik/language.hpp"
#include "arvik/markup.hpp"
#include "arvik/steps.hpp"
#include "arvik/style.hpp"

namespace arvik {

/// A row of this page is not shown: it did not fit, and the box clips.
inline constexpr std::uint32_t no_page = 0xFFFFFFFF;

/// One row: the steps from first_step to before end_step. Blanks and row ends at its end belong to
/// it but hang: they have a position and count for no width.
struct Row {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  std::uint32_t end_ink_step = 0;  ///< where the hanging blanks begin
  std::uint32_t first_glyph = 0;
  std::uint32_t end_glyph = 0;
  std::uint32_t page = 0;
  float x = 0;         ///< the left edge of its text, from the left of the box
  float y = 0;         ///< its top, from the top of the box
  float width = 0;     ///< without what hangs
  float height = 0;    ///< without row spacing
  float baseline = 0;  ///< from the top of the box
};

/// Where one step stands: its left edge from the left of the box, its advance, its row. Steps that
/// share a glyph (a ligature) share its advance in equal parts.
struct StepPosition {
  float x = 0;
  float width = 0;
  std::uint32_t row = 0;
};

/// The face of glyphs that are inline pictures.
inline constexpr std::uint16_t icon_face = 0xFFFF;

/// A glyph in its position. Glyphs stand row by row and in each row from left to right, and behind
/// them those of the row's readings, each with the step of the base with which it appears.
struct Glyph {
  std::uint32_t id = 0;          ///< in its face; of an icon, its index in Layout::icons
  std::uint16_t face = 0;        ///< of the font, or icon_face
  bool right_to_left = false;    ///< the direction in which its steps appear
  bool reading = false;          ///< of a reading (`[ruby …]`) above its steps
  std::uint32_t first_step = 0;  ///< the steps that it stands for
  std::uint32_t end_step = 0;
  float x = 0;  ///< its origin, from the top left of the box; y is on the baseline
  float y = 0;
  float left = 0;           ///< the left edge of its cluster
  float width = 0;          ///< the advance of its cluster
  float size = 1;           ///< factor of the font's size
  std::uint32_t style = 0;  ///< index in Layout::styles
};

/// The rows that are in the box at once.
struct Page {
  std::uint32_t first_row = 0;
  std::uint32_t end_row = 0;
  std::uint32_t first_step = 0;
};

/// Where everything in a line stands, complete before the first step shows. Nothing in it depends
/// on how much of the line is shown.
struct Layout {
  std::vector<Row> rows;  ///< one at least, from top to bottom, page by page
  std::vector<StepPosition> steps;
  std::vector<Page> pages;  ///< one at least
  /// Empty for fonts whose steps stand alone: there each step is its own glyph.
  std::vector<Glyph> glyphs;
  std::vector<StyleRun> styles;    ///< covering all steps
  std::vector<std::string> icons;  ///< the names of the inline pictures, in order
  float width = 0;                 ///< of the widest row
  float height = 0;                ///< of the rows of the highest page
  float box_width = 0;             ///< of the whole box, padding, picture and name included
  float box_height = 0;
  float scale = 1;                                 ///< below 1 where text was made smaller to fit
  Direction direction = Direction::left_to_right;  ///< of the line
  /// Warnings: word_broken, step_too_wide, missing_glyph, text_overflows. Places are in the plain
  /// text.
  std::vector<Diagnostic> diagnostics;
};

/// The size of an inline picture in the font's units. It stands on the baseline.
struct IconSize {
  float width = 1;
  float height = 1;
};
/// Returns the size of an icon by its name. Empty: icons are as wide and high as the font's ascent.
using IconSizes = std::function<IconSize(std::string_view name)>;

/// Lays out a line: rows with as many steps as fit, ending where the language allows it, on pages.
/// A word longer than a row is broken between steps, with a warning; a step wider than the box
/// stands alone in its row, with a warning. `[br]`, `[page]`, `[keep: …]`, `[icon …]`, styles and
/// sizes of the markup count. `steps` must be the steps of `marked.text`.
///
/// A page ends at the end of a sentence if one lies in its last third, else at a row end. Sentences
/// end where `boundaries` say; null: they are read here, if pages need them.
///
/// Fails with bad_box (a size that is not more than 0, a box narrower or lower than its padding,
/// picture and name) and text_overflows (Overflow::refuse); `out` then holds nothing of use. Linear
/// in the text, but for `shrink` and `balanced`, which try several sizes.
[[nodiscard]] ARVIK_API tl::expected<void, Diagnostic> lay_out(
    const MarkedText& marked, const Steps& steps, Language& language, const Font& font,
    const Box& box, Layout& out, const IconSizes& icon_sizes = {},
    const std::vector<Boundary>* boundaries = nullptr);
[[nodiscard]] ARVIK_API tl::expected<Layout, Diagnostic> lay_out(
    const MarkedText& marked, const Steps& steps, Language& language, const Font& font,
    const Box& box, const IconSizes& icon_sizes = {},
    const std::vector<Boundary>* boundaries = nullptr);

/// The steps that begin the second and all further rows and pages, for schedule().
[[nodiscard]] ARVIK_API RowStarts row_starts(const Layout& layout);
ARVIK_API void row_starts(const Layout& layout, RowStarts& out);

/// A line as one string with its rows cut by newlines, for engines that draw strings: no prefix of
/// it ever wraps again.
struct RowText {
  std::string text;  ///< rows without their hanging blanks, joined by '\n'
  /// extents[n] is the size of the prefix that shows the first n steps; size() + 1 entries.
  std::vector<Extent> extents;
};

[[nodiscard]] ARVIK_API RowText row_text(const MarkedText& marked, const Steps& steps,
                                         const Layout& layout);

}  // namespace arvik
