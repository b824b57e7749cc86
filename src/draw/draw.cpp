// Glyphs are filled as paths, so that they stand where the layout put them to a fraction of a
// pixel; Cairo would round the places of its own glyphs. Faces of pictures (emoji) have no paths
// and are drawn by Cairo.

#include "arvik/draw.hpp"

#include <cairo-svg.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include "cairo.hpp"

namespace arvik {

using namespace draw;

namespace {

constexpr int most_pixels = 20'000;

cairo_status_t append_bytes(void* target, const unsigned char* bytes, unsigned size) {
  static_cast<std::string*>(target)->append(reinterpret_cast<const char*>(bytes), size);
  return CAIRO_STATUS_SUCCESS;
}

// To a hundredth.
void put_number(double number, std::string& out) {
  std::array<char, 32> digits{};
  const auto end = std::to_chars(digits.data(), digits.data() + digits.size(),
                                 std::round(number * 100) / 100, std::chars_format::general, 6);
  out.append(digits.data(), end.ptr);
}

}  // namespace

tl::expected<Canvas, Diagnostic> Canvas::make(int width, int height, Rgba paper, CanvasKind kind) {
  if (width < 1 || height < 1 || width > most_pixels || height > most_pixels) {
    return tl::unexpected(
        Diagnostic{.code = DiagnosticCode::bad_box,
                   .severity = Severity::error,
                   .message = "a picture must be 1 to 20000 pixels wide and high"});
  }
  auto impl = std::make_unique<Impl>();
  impl->kind = kind;
  impl->width = width;
  impl->height = height;
  impl->surface.reset(
      kind == CanvasKind::svg
          ? cairo_svg_surface_create_for_stream(append_bytes, &impl->svg, width, height)
          : cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, height));
  if (cairo_surface_status(impl->surface.get()) != CAIRO_STATUS_SUCCESS) base::out_of_memory();
  impl->cairo.reset(cairo_create(impl->surface.get()));
  set_color(impl->cairo.get(), paper);
  cairo_set_operator(impl->cairo.get(), CAIRO_OPERATOR_SOURCE);
  cairo_paint(impl->cairo.get());
  cairo_set_operator(impl->cairo.get(), CAIRO_OPERATOR_OVER);
  return Canvas(std::move(impl));
}

Canvas::Canvas(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}
Canvas::Canvas(Canvas&&) noexcept = default;
Canvas& Canvas::operator=(Canvas&&) noexcept = default;
Canvas::~Canvas() = default;

int Canvas::width() const { return impl_->width; }
int Canvas::height() const { return impl_->height; }

std::vector<std::uint32_t> Canvas::pixels() const {
  if (impl_->kind != CanvasKind::pixels) return {};
  cairo_surface_flush(impl_->surface.get());
  const unsigned char* data = cairo_image_surface_get_data(impl_->surface.get());
  const auto stride =
      static_cast<std::size_t>(cairo_image_surface_get_stride(impl_->surface.get()));
  const auto rows = static_cast<std::size_t>(height());
  std::vector<std::uint32_t> pixels;
  for (std::size_t y = 0; y < rows; ++y) {
    const auto* row = reinterpret_cast<const std::uint32_t*>(data + y * stride);
    pixels.insert(pixels.end(), row, row + width());
  }
  return pixels;
}

std::string Canvas::file() {
  if (impl_->kind == CanvasKind::svg) {
    cairo_surface_finish(impl_->surface.get());
    return impl_->svg;
  }
  std::string png;
  const auto status = cairo_surface_write_to_png_stream(impl_->surface.get(), append_bytes, &png);
  if (status != CAIRO_STATUS_SUCCESS) base::out_of_memory();
  return png;
}

void Painter::Impl::paint_shape(cairo_t* cairo, const Glyph& glyph, Rgba color,
                                float opacity) const {
  set_color(cairo, color, opacity);
  const float em = fonts.pixel_size() * glyph.size;
  if (glyph.face == icon_face) {  // the game has the picture; here stands a sign for it
    cairo_rectangle(cairo, static_cast<double>(glyph.left) + 1,
                    static_cast<double>(glyph.y - em * 0.8F), static_cast<double>(glyph.width) - 2,
                    static_cast<double>(em * 0.8F));
    cairo_set_line_width(cairo, 1.5);
    cairo_stroke(cairo);
    return;
  }
  const Face& face = faces[glyph.face];
  cairo_set_font_face(cairo, face.cairo.get());
  cairo_set_font_size(cairo, static_cast<double>(em));
  cairo_set_font_options(cairo, options.get());
  const cairo_glyph_t place{glyph.id, static_cast<double>(glyph.x), static_cast<double>(glyph.y)};
  if (face.pictures) {
    cairo_show_glyphs(cairo, &place, 1);
  } else {
    cairo_glyph_path(cairo, &place, 1);
    cairo_fill(cairo);
  }
}

void Painter::Impl::paint_lines(cairo_t* cairo, const Glyph& glyph, const TextStyle& style,
                                Rgba color, float opacity) const {
  const float em = fonts.pixel_size() * glyph.size;
  const auto line = [&](float above) {
    cairo_rectangle(cairo, static_cast<double>(glyph.left), static_cast<double>(glyph.y - above),
                    static_cast<double>(glyph.width),
                    static_cast<double>(std::max(em * 0.06F, 1.0F)));
    set_color(cairo, color, opacity);
    cairo_fill(cairo);
  };
  if (style.underline) line(-em * 0.12F);
  if (style.strike) line(em * 0.28F);
}

void Painter::Impl::paint_glyph(cairo_t* cairo, const Layout& layout,
                                const FrameGlyph& frame) const {
  const Glyph& glyph = layout.glyphs[frame.glyph];
  const TextStyle& style = layout.styles[glyph.style].style;
  const Rgba color = style.has_color ? style.color : colors.text;
  cairo_save(cairo);
  cairo_translate(cairo, 0, static_cast<double>(frame.dy));
  if (frame.clipped) {
    const Row& row = layout.rows[layout.steps[glyph.first_step].row];
    cairo_rectangle(cairo, static_cast<double>(frame.clip_left),
                    static_cast<double>(row.y - row.height),
                    static_cast<double>(frame.clip_right - frame.clip_left),
                    static_cast<double>(3 * row.height));
    cairo_clip(cairo);
  }
  const bool soft = frame.clipped && frame.softness > 0;
  if (soft) cairo_push_group(cairo);
  paint_shape(cairo, glyph, color, frame.opacity);
  if (!glyph.reading) paint_lines(cairo, glyph, style, color, frame.opacity);
  if (soft) {
    cairo_pop_group_to_source(cairo);
    const auto edge = static_cast<double>(glyph.right_to_left ? frame.clip_left : frame.clip_right);
    const auto inner =
        edge + static_cast<double>(glyph.right_to_left ? frame.softness : -frame.softness);
    const Cairo<cairo_pattern_t> fade(cairo_pattern_create_linear(inner, 0, edge, 0));
    cairo_pattern_add_color_stop_rgba(fade.get(), 0, 0, 0, 0, 1);
    cairo_pattern_add_color_stop_rgba(fade.get(), 1, 0, 0, 0, 0);
    cairo_mask(cairo, fade.get());
  }
  cairo_restore(cairo);
}

Painter::Painter(const FontSet& fonts, const DrawColors& colors)
    : impl_(std::make_unique<Impl>(fonts, colors)) {}
Painter::Painter(Painter&&) noexcept = default;
Painter& Painter::operator=(Painter&&) noexcept = default;
Painter::~Painter() = default;

void Painter::paint_box(Canvas& canvas, const Layout& layout, float x, float y) const {
  cairo_t* cairo = Canvas::Impl::of(canvas);
  const auto left = static_cast<double>(x);
  const auto top = static_cast<double>(y);
  const auto width = static_cast<double>(layout.box_width);
  const auto height = static_cast<double>(layout.box_height);
  cairo_rectangle(cairo, left, top, width, height);
  set_color(cairo, impl_->colors.box);
  cairo_fill(cairo);
  cairo_rectangle(cairo, left + 0.5, top + 0.5, width - 1, height - 1);
  set_color(cairo, impl_->colors.edge);
  cairo_set_line_width(cairo, 1);
  cairo_stroke(cairo);
}

void Painter::paint_frame(Canvas& canvas, const Layout& layout, const Frame& frame, float x,
                          float y) const {
  cairo_t* cairo = Canvas::Impl::of(canvas);
  cairo_save(cairo);
  cairo_translate(cairo, static_cast<double>(x), static_cast<double>(y));
  for (const FrameGlyph& glyph : frame.glyphs) impl_->paint_glyph(cairo, layout, glyph);
  cairo_restore(cairo);
}

std::string Painter::outline(std::uint16_t face, std::uint32_t glyph) const {
  if (face >= impl_->faces.size() || impl_->faces[face].pictures) return {};
  const Cairo<cairo_surface_t> surface(cairo_image_surface_create(CAIRO_FORMAT_A8, 1, 1));
  const Cairo<cairo_t> cairo(cairo_create(surface.get()));
  cairo_set_font_face(cairo.get(), impl_->faces[face].cairo.get());
  cairo_set_font_size(cairo.get(), static_cast<double>(impl_->fonts.pixel_size()));
  cairo_set_font_options(cairo.get(), impl_->options.get());
  const cairo_glyph_t place{glyph, 0, 0};
  cairo_glyph_path(cairo.get(), &place, 1);
  const std::unique_ptr<cairo_path_t, decltype(&cairo_path_destroy)> path(
      cairo_copy_path(cairo.get()), &cairo_path_destroy);
  std::string data;
  for (int i = 0; i < path->num_data; i += path->data[i].header.length) {
    const cairo_path_data_t& head = path->data[i];
    data += "MLCZ"[head.header.type];
    for (int point = 1; point < head.header.length; ++point) {
      const auto [x, y] = path->data[i + point].point;
      if (point > 1) data += ' ';
      put_number(x, data);
      data += ' ';
      put_number(y, data);
    }
  }
  return data == "MZ" ? "" : data;
}

void Painter::paint_debug(Canvas& canvas, const Layout& layout, std::uint32_t page, float x,
                          float y) const {
  cairo_t* cairo = Canvas::Impl::of(canvas);
  cairo_save(cairo);
  cairo_translate(cairo, static_cast<double>(x), static_cast<double>(y));
  cairo_set_line_width(cairo, 1);
  cairo_set_font_face(cairo, impl_->faces[0].cairo.get());
  cairo_set_font_size(cairo, 8);
  cairo_set_font_options(cairo, impl_->options.get());
  for (const Row& row : layout.rows) {
    if (row.page != page) continue;
    set_color(cairo, impl_->colors.debug, 0.5F);
    cairo_rectangle(cairo, static_cast<double>(row.x) + 0.5, static_cast<double>(row.y) + 0.5,
                    static_cast<double>(row.width), static_cast<double>(row.height) - 1);
    cairo_stroke(cairo);
    cairo_move_to(cairo, static_cast<double>(row.x), static_cast<double>(row.baseline) + 0.5);
    cairo_rel_line_to(cairo, static_cast<double>(row.width), 0);
    cairo_stroke(cairo);
    for (std::uint32_t i = row.first_step; i < row.end_step; ++i) {
      const StepPosition& step = layout.steps[i];
      set_color(cairo, impl_->colors.debug, 0.35F);
      cairo_move_to(cairo, static_cast<double>(step.x) + 0.5, static_cast<double>(row.y));
      cairo_rel_line_to(cairo, 0, static_cast<double>(row.height));
      cairo_stroke(cairo);
      if (i % 5 != 0 || step.width <= 0) continue;
      set_color(cairo, impl_->colors.debug);
      cairo_move_to(cairo, static_cast<double>(step.x) + 2, static_cast<double>(row.y) + 8);
      cairo_show_text(cairo, std::to_string(i).c_str());
    }
  }
  cairo_restore(cairo);
}

}  // namespace arvik
