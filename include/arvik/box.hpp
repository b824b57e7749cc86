#pragma once

#include <array>
#include <cstdint>
#include <limits>
#include <optional>

#include "arvik/export.hpp"
#include "arvik/language.hpp"

namespace arvik {

/// Where the rows of a box stand between its sides; start and end follow the direction of the line.
enum class Align : std::uint8_t { start, center, end };
/// Where the text of a page stands between the top and the bottom of its box.
enum class VerticalAlign : std::uint8_t { top, middle, bottom };

/// What happens when the text is higher than the box.
enum class Overflow : std::uint8_t {
  pages,   ///< it goes on on further pages; each page turn is a hold in the schedule
  shrink,  ///< the text becomes smaller, down to Box::least_size
  clip,    ///< rows that do not fit are not shown (text_overflows, a warning)
  refuse   ///< no layout (text_overflows, an error)
};

struct Padding {
  float left = 0, top = 0, right = 0, bottom = 0;
  friend bool operator==(const Padding&, const Padding&) = default;
};

enum class Side : std::uint8_t { left, right };

/// The rectangle that text is laid out in, in the font's units. Sizes are of the whole box, padding
/// included.
struct Box {
  /// The greatest width; more than 0. The default never wraps.
  float width = std::numeric_limits<float>::infinity();
  Align align = Align::start;
  /// The greatest height; more than 0.
  float height = std::numeric_limits<float>::infinity();
  /// The greatest number of rows on a page; 0: as many as the height allows.
  std::uint32_t max_rows = 0;
  VerticalAlign vertical_align = VerticalAlign::top;
  Overflow overflow = Overflow::pages;
  /// How small `shrink` may make text: a factor of its size, 0.1 to 1.
  float least_size = 0.5F;
  /// The box becomes as small as its text allows, least_width at least. Otherwise it has its full
  /// width and height, where they are finite.
  bool fit_to_text = false;
  /// Whether readings (`[ruby …]`) stand above their base text. Fonts whose steps stand alone, as
  /// on a grid, have no room for them.
  bool ruby = true;
  float least_width = 0;
  Padding padding{};
  float row_spacing = 0;  ///< between rows, in addition to the row height; 0 or more
  /// Rows of about the same width, so that the last is not a single word. Never more rows.
  bool balanced = false;
  /// The direction of the line; without one, that of its first strong character.
  std::optional<Direction> direction{};

  // A picture beside the text and a name above it take their space off the text. None takes none.
  float picture_width = 0;
  float picture_gap = 0;  ///< between picture and text, if there is a picture
  Side picture_side = Side::left;
  float name_height = 0;

  friend bool operator==(const Box&, const Box&) = default;
};

struct Point2 {
  float x = 0, y = 0;
};
struct Rect {
  float x = 0, y = 0, width = 0, height = 0;
  friend bool operator==(const Rect&, const Rect&) = default;
};

/// Where a box of this size goes so that it stands centred above `anchor` (a speaker's head) by
/// `gap`, moved as little as needed to stay on the screen; below the anchor if there is more room.
[[nodiscard]] ARVIK_API Rect place_over(Point2 anchor, float width, float height,
                                        const Rect& screen, float gap);

/// How the edges and the middle of a nine-slice frame fill their area.
enum class SliceFill : std::uint8_t { stretch, tile };

/// One of the nine parts of a frame picture: what of the picture goes where.
struct Slice {
  Rect source{};  ///< in the picture
  Rect target{};  ///< on the screen; empty parts have no width or height
  /// How often the source is repeated in each direction; not whole where the last one is cut.
  float repeat_x = 1, repeat_y = 1;
};

/// The nine parts of a frame picture of this size with these borders, for a box at `target`, row by
/// row from the top left. Borders that are larger than the box are scaled down together.
[[nodiscard]] ARVIK_API std::array<Slice, 9> nine_slices(float picture_width, float picture_height,
                                                         const Padding& borders, const Rect& target,
                                                         SliceFill fill);

}  // namespace arvik
