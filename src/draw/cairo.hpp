#pragma once

#include <cairo-ft.h>
#include <cairo.h>

#include <memory>
#include <string>
#include <vector>

#include "../base/memory.hpp"
#include "arvik/draw.hpp"

/// What the files of this room share: Cairo's objects, and the inside of Canvas and Painter.
namespace arvik {
namespace draw {

struct CairoDeleter {
  void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
  void operator()(cairo_t* context) const { cairo_destroy(context); }
  void operator()(cairo_font_face_t* face) const { cairo_font_face_destroy(face); }
  void operator()(cairo_font_options_t* options) const { cairo_font_options_destroy(options); }
  void operator()(cairo_pattern_t* pattern) const { cairo_pattern_destroy(pattern); }
};
template <typename Object>
using Cairo = std::unique_ptr<Object, CairoDeleter>;

inline void set_color(cairo_t* cairo, Rgba color, float opacity = 1) {
  constexpr double full = 255;
  cairo_set_source_rgba(cairo, color.red / full, color.green / full, color.blue / full,
                        color.alpha / full * static_cast<double>(opacity));
}

struct Face {
  FT_Face face = nullptr;
  Cairo<cairo_font_face_t> cairo;
  bool pictures = false;
};

}  // namespace draw

struct Canvas::Impl {
  CanvasKind kind = CanvasKind::pixels;
  int width = 0;
  int height = 0;
  std::string svg;  // what Cairo has written so far
  draw::Cairo<cairo_surface_t> surface;
  draw::Cairo<cairo_t> cairo;

  [[nodiscard]] static cairo_t* of(const Canvas& canvas) { return canvas.impl_->cairo.get(); }
};

struct Painter::Impl {
  FontSet fonts;
  DrawColors colors;
  FT_Library library = nullptr;
  std::vector<draw::Face> faces;
  draw::Cairo<cairo_font_options_t> options{cairo_font_options_create()};

  Impl(const FontSet& set, const DrawColors& palette) : fonts(set), colors(palette) {
    if (FT_Init_FreeType(&library) != 0) base::out_of_memory();
    for (const FontSource& source : fonts.sources()) {
      draw::Face face;
      // The font set has opened the same bytes before.
      if (FT_New_Memory_Face(library, reinterpret_cast<const FT_Byte*>(source.data->data()),
                             static_cast<FT_Long>(source.data->size()), source.index,
                             &face.face) != 0) {
        base::out_of_memory();
      }
      face.pictures = !FT_IS_SCALABLE(face.face);
      const int flags = face.pictures ? FT_LOAD_COLOR : FT_LOAD_NO_HINTING;
      face.cairo.reset(cairo_ft_font_face_create_for_ft_face(face.face, flags));
      faces.push_back(std::move(face));
    }
    cairo_font_options_set_hint_style(options.get(), CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(options.get(), CAIRO_HINT_METRICS_OFF);
    cairo_font_options_set_antialias(options.get(), CAIRO_ANTIALIAS_GRAY);
  }
  Impl(const Impl&) = delete;
  Impl& operator=(const Impl&) = delete;
  ~Impl() {
    for (draw::Face& face : faces) {
      face.cairo.reset();
      FT_Done_Face(face.face);
    }
    FT_Done_FreeType(library);
  }

  [[nodiscard]] static const Impl& of(const Painter& painter) { return *painter.impl_; }

  void paint_glyph(cairo_t* cairo, const Layout& layout, const FrameGlyph& frame) const;
  void paint_shape(cairo_t* cairo, const Glyph& glyph, Rgba color, float opacity) const;
  void paint_lines(cairo_t* cairo, const Glyph& glyph, const TextStyle& style, Rgba color,
                   float opacity) const;
};

}  // namespace arvik
