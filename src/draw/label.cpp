#include "cairo.hpp"

namespace arvik {

LabelPainter::LabelPainter(const FontSet& fonts, float pixels)
    : fonts_(FontSet::make(fonts.sources(), pixels).value_or(fonts)),
      painter_(fonts_),
      language_(Language::open("en").value()) {}

const Layout& LabelPainter::lay_out_label(std::string_view text) {
  marked_.text = text;
  const Steps steps = language_.segment(text);
  // A box without limits holds any text.
  (void)lay_out(marked_, steps, language_, fonts_, Box{}, layout_);
  return layout_;
}

float LabelPainter::width(std::string_view text) { return lay_out_label(text).width; }

float LabelPainter::height() const { return fonts_.metrics(1, 0).row_height; }

void LabelPainter::paint(Canvas& canvas, std::string_view text, float x, float y, Rgba color,
                         Align align) {
  const Layout& layout = lay_out_label(text);
  if (align == Align::center) x -= layout.width / 2;
  if (align == Align::end) x -= layout.width;
  cairo_t* cairo = Canvas::Impl::of(canvas);
  cairo_save(cairo);
  cairo_translate(cairo, static_cast<double>(x), static_cast<double>(y));
  for (const Glyph& glyph : layout.glyphs) {
    Painter::Impl::of(painter_).paint_shape(cairo, glyph, color, 1);
  }
  cairo_restore(cairo);
}

}  // namespace arvik
