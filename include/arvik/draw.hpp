#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/font_set.hpp"
#include "arvik/frame.hpp"

/// Part of arvik::draw: paints frames with Cairo, for pictures, tests and tools. A game draws with
/// its own renderer.
namespace arvik {

struct DrawColors {
  Rgba paper{20, 33, 43, 255};    ///< the picture's ground
  Rgba box{31, 48, 61, 255};      ///< the box's fill
  Rgba edge{92, 116, 128, 255};   ///< the box's edge
  Rgba text{226, 232, 224, 255};  ///< text without a colour of its own
  Rgba debug{224, 164, 88, 255};  ///< debug marks
};

enum class CanvasKind : std::uint8_t {
  pixels,  ///< becomes a PNG file
  svg      ///< shapes without pixels; becomes an SVG file
};

/// A picture that frames are painted on. 1 to 20,000 pixels in each direction.
class ARVIK_API Canvas {
 public:
  /// Fails with bad_box for a size out of range.
  [[nodiscard]] static tl::expected<Canvas, Diagnostic> make(int width, int height, Rgba paper,
                                                             CanvasKind kind = CanvasKind::pixels);
  Canvas(Canvas&&) noexcept;
  Canvas& operator=(Canvas&&) noexcept;
  ~Canvas();

  [[nodiscard]] int width() const;
  [[nodiscard]] int height() const;
  /// The pixels row by row, 0xAARRGGBB each, alpha premultiplied; none of an SVG.
  [[nodiscard]] std::vector<std::uint32_t> pixels() const;
  /// The picture as the bytes of a file. Nothing can be painted on an SVG afterwards.
  [[nodiscard]] std::string file();

  struct Impl;

 private:
  explicit Canvas(std::unique_ptr<Impl> impl);
  std::unique_ptr<Impl> impl_;
};

/// Paints with the faces of one font set. Opening the faces costs; keep a painter for many frames.
class ARVIK_API Painter {
 public:
  explicit Painter(const FontSet& fonts, const DrawColors& colors = {});
  Painter(Painter&&) noexcept;
  Painter& operator=(Painter&&) noexcept;
  ~Painter();

  /// The box itself, its top left at x, y.
  void paint_box(Canvas& canvas, const Layout& layout, float x, float y) const;
  /// The glyphs of a frame, with underlines and strikes, the box's top left at x, y.
  void paint_frame(Canvas& canvas, const Layout& layout, const Frame& frame, float x,
                   float y) const;
  /// The outline of a glyph at the font's size, from its origin, as the path data of SVG (y grows
  /// downwards); empty of blanks, pictures and icons.
  [[nodiscard]] std::string outline(std::uint16_t face, std::uint32_t glyph) const;
  /// Row boxes, baselines and step numbers of a page.
  void paint_debug(Canvas& canvas, const Layout& layout, std::uint32_t page, float x,
                   float y) const;

  struct Impl;

 private:
  std::unique_ptr<Impl> impl_;
};

/// Short texts beside pictures, laid out and painted like any line.
class ARVIK_API LabelPainter {
 public:
  /// With the faces of a font set, at a size of its own in pixels, 1 to 2000.
  LabelPainter(const FontSet& fonts, float pixels);

  [[nodiscard]] float width(std::string_view text);
  [[nodiscard]] float height() const;
  /// `x` is where the text begins, ends or has its middle, as `align` says; `y` is its top.
  void paint(Canvas& canvas, std::string_view text, float x, float y, Rgba color,
             Align align = Align::start);

 private:
  const Layout& lay_out_label(std::string_view text);

  FontSet fonts_;
  Painter painter_;
  Language language_;
  MarkedText marked_;
  Layout layout_;
};

}  // namespace arvik
