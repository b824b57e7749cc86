#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "arvik/entrances.hpp"
#include "arvik/export.hpp"
#include "arvik/layout.hpp"

namespace arvik {

/// How steps come in where the markup does not say.
struct FrameOptions {
  Entrance entrance = Entrance::cut;
  /// In real time: the player's text speed does not shorten it.
  Nanoseconds entrance_time = std::chrono::milliseconds(160);
  float rise = 8;       ///< how far below its position a step begins to `rise`, in the font's units
  float softness = 12;  ///< how wide the soft edge of a `wipe` is, in the font's units
  bool reduced_motion = false;  ///< every entrance is a cut
};

/// One glyph of a frame: what differs from the layout.
struct FrameGlyph {
  std::uint32_t glyph = 0;  ///< index in Layout::glyphs
  float dy = 0;             ///< offset by its entrance; y grows downwards
  float opacity = 1;        ///< 0 to 1
  bool clipped = false;     ///< only what lies between the clip edges is shown
  float clip_left = 0;      ///< from the left of the box
  float clip_right = 0;
  float softness = 0;  ///< of the moving edge: it fades out over this width, inside the clip
};

/// What to draw at one moment. Reuse one object: it then allocates only when a line is longer than
/// every line before.
struct Frame {
  std::uint32_t page = 0;
  std::vector<FrameGlyph> glyphs;  ///< in the order of the layout
};

/// The frame at the moment `now`, in which the steps of `shown` have appeared (Entrances::shown(),
/// ConversationView::shown_steps, appearances()), both on the same clock. A step that is shown
/// never shows less later.
///
/// The page is that of the last step shown. A glyph that stands for several steps shows by its
/// share: it is clipped, never another glyph. Costs in proportion to the glyphs of the page.
ARVIK_API void make_frame(const Layout& layout, std::span<const Appearance> shown, Nanoseconds now,
                          const FrameOptions& options, Frame& out);

}  // namespace arvik
