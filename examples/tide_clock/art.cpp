#include "art.hpp"

#include <cairo.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <stdexcept>

namespace {

constexpr double pi = 3.14159265358979;

struct Color {
  double red, green, blue, alpha = 1;
};
constexpr Color gray{0.74, 0.75, 0.73};
constexpr Color brown{0.23, 0.15, 0.11};

void fill(cairo_t* cairo, Color color) {
  cairo_set_source_rgba(cairo, color.red, color.green, color.blue, color.alpha);
  cairo_fill(cairo);
}

void circle(cairo_t* cairo, double x, double y, double radius) {
  cairo_new_path(cairo);
  cairo_arc(cairo, x, y, radius, 0, 2 * pi);
}

void rounded(cairo_t* cairo, double x, double y, double width, double height, double radius) {
  cairo_new_path(cairo);
  cairo_arc(cairo, x + width - radius, y + radius, radius, -pi / 2, 0);
  cairo_arc(cairo, x + width - radius, y + height - radius, radius, 0, pi / 2);
  cairo_arc(cairo, x + radius, y + height - radius, radius, pi / 2, pi);
  cairo_arc(cairo, x + radius, y + radius, radius, pi, 3 * pi / 2);
  cairo_close_path(cairo);
}

// Cairo's colours are multiplied by their alpha; SDL's software renderer knows only plain ones.
void unmultiply(unsigned char* bytes, int size) {
  for (int i = 0; i < size; i += 4) {
    const unsigned alpha = bytes[i + 3];  // blue, green, red, alpha on little-endian machines
    for (int channel = 0; alpha != 0 && channel < 3; ++channel) {
      bytes[i + channel] = static_cast<unsigned char>(
          std::min(255U, (bytes[i + channel] * 255U + alpha / 2) / alpha));
    }
  }
}

SDL_Texture* paint(SDL_Renderer* renderer, int width, int height,
                   const std::function<void(cairo_t*)>& draw) {
  cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, height);
  cairo_t* cairo = cairo_create(surface);
  draw(cairo);
  cairo_destroy(cairo);
  cairo_surface_flush(surface);
  unmultiply(cairo_image_surface_get_data(surface),
             cairo_image_surface_get_stride(surface) * height);
  SDL_Texture* texture = SDL_CreateTexture(renderer, SDL_PIXELFORMAT_ARGB8888,
                                           SDL_TEXTUREACCESS_STATIC, width, height);
  if (texture == nullptr) throw std::runtime_error(SDL_GetError());
  SDL_UpdateTexture(texture, nullptr, cairo_image_surface_get_data(surface),
                    cairo_image_surface_get_stride(surface));
  SDL_SetTextureBlendMode(texture, SDL_BLENDMODE_BLEND);
  cairo_surface_destroy(surface);
  return texture;
}

void gradient(cairo_t* cairo, double y0, double y1, Color above, Color below) {
  cairo_pattern_t* pattern = cairo_pattern_create_linear(0, y0, 0, y1);
  cairo_pattern_add_color_stop_rgba(pattern, 0, above.red, above.green, above.blue, above.alpha);
  cairo_pattern_add_color_stop_rgba(pattern, 1, below.red, below.green, below.blue, below.alpha);
  cairo_set_source(cairo, pattern);
  cairo_fill(cairo);
  cairo_pattern_destroy(pattern);
}

// The upper half of a head, and a fringe.
void paint_hair(cairo_t* cairo, double x, double y, double radius, Color hair) {
  cairo_new_path(cairo);
  cairo_arc(cairo, x, y, radius * 1.08, pi * 0.98, pi * 2.02);
  cairo_curve_to(cairo, x + radius * 0.5, y - radius * 0.75, x - radius * 0.2, y - radius * 0.2,
                 x - radius * 1.08, y);
  fill(cairo, hair);
}

void paint_figure(cairo_t* cairo, double x, double head_y, double scale, Color coat, Color skin,
                  Color hair) {
  cairo_save(cairo);
  cairo_translate(cairo, x, head_y);
  cairo_scale(cairo, scale, scale);
  cairo_new_path(cairo);  // a coat
  cairo_move_to(cairo, -22, 34);
  cairo_curve_to(cairo, -44, 80, -50, 150, -54, 210);
  cairo_line_to(cairo, 54, 210);
  cairo_curve_to(cairo, 50, 150, 44, 80, 22, 34);
  cairo_close_path(cairo);
  fill(cairo, coat);
  circle(cairo, 0, 10, 28);
  fill(cairo, skin);
  paint_hair(cairo, 0, 10, 28, hair);
  cairo_restore(cairo);
}

// The sea at night, the clock, and who stands before it.
void paint_background(cairo_t* cairo) {
  cairo_rectangle(cairo, 0, 0, Art::screen_width, Art::screen_height);
  gradient(cairo, 0, 520, {0.05, 0.09, 0.15}, {0.20, 0.31, 0.38});
  for (int i = 0; i < 90; ++i) {  // stars where a plain sum of sines puts them
    const double x = std::fmod(i * 211.7, Art::screen_width);
    const double y = std::fmod(i * i * 37.3, 340);
    circle(cairo, x, y, 0.8 + 0.6 * std::fmod(i * 0.37, 1));
    fill(cairo, {0.9, 0.92, 0.86, 0.25 + 0.5 * std::fmod(i * 0.61, 1)});
  }
  cairo_save(cairo);  // a crescent: what of the moon lies outside its shadow
  cairo_rectangle(cairo, 0, 0, Art::screen_width, Art::screen_height);
  cairo_new_sub_path(cairo);
  cairo_arc_negative(cairo, 1072, 108, 44, 2 * pi, 0);
  cairo_clip(cairo);
  circle(cairo, 1090, 120, 46);
  fill(cairo, {0.91, 0.88, 0.76, 0.92});
  cairo_restore(cairo);
  cairo_rectangle(cairo, 0, 500, Art::screen_width, 300);
  gradient(cairo, 500, 800, {0.10, 0.22, 0.28}, {0.03, 0.08, 0.12});
  for (int i = 0; i < 26; ++i) {  // glints
    cairo_rectangle(cairo, std::fmod(i * 173.0, 1240), 512 + std::fmod(i * 29.0, 90),
                    30 + i % 5 * 14, 1.6);
    fill(cairo, {0.75, 0.84, 0.80, 0.16});
  }
  cairo_new_path(cairo);  // the pier
  cairo_move_to(cairo, 250, 560);
  cairo_line_to(cairo, 1010, 560);
  cairo_line_to(cairo, 1060, 620);
  cairo_line_to(cairo, 200, 620);
  cairo_close_path(cairo);
  gradient(cairo, 560, 620, {0.24, 0.21, 0.19}, {0.13, 0.11, 0.11});
  rounded(cairo, 560, 90, 170, 470, 16);  // the tower
  gradient(cairo, 90, 560, {0.36, 0.33, 0.30}, {0.19, 0.18, 0.18});
  circle(cairo, 645, 190, 66);
  fill(cairo, {0.86, 0.80, 0.64});
  circle(cairo, 645, 190, 58);
  fill(cairo, {0.95, 0.92, 0.82});
  for (int hour = 0; hour < 12; ++hour) {
    const double angle = hour * pi / 6;
    circle(cairo, 645 + 49 * std::cos(angle), 190 + 49 * std::sin(angle), hour % 3 == 0 ? 3.6 : 2);
    fill(cairo, {0.25, 0.22, 0.20});
  }
  cairo_set_source_rgb(cairo, 0.2, 0.17, 0.16);  // a quarter past four
  cairo_set_line_cap(cairo, CAIRO_LINE_CAP_ROUND);
  for (const auto& [angle, length, width] :
       {std::tuple{0.0, 44.0, 4.0}, std::tuple{37.5 * pi / 180, 30.0, 6.0}}) {
    cairo_set_line_width(cairo, width);
    cairo_move_to(cairo, 645, 190);
    cairo_line_to(cairo, 645 + length * std::cos(angle), 190 + length * std::sin(angle));
    cairo_stroke(cairo);
  }
  paint_figure(cairo, 430, 340, 1.05, {0.33, 0.40, 0.34}, {0.80, 0.66, 0.54}, gray);
  paint_figure(cairo, 838, 392, 0.82, {0.72, 0.48, 0.24}, {0.66, 0.48, 0.36}, brown);
}

struct Face {
  Color coat, skin, hair;
  double eyes;   // how open
  double mouth;  // up or down
};

void paint_portrait(cairo_t* cairo, const Face& face) {
  rounded(cairo, 0, 0, 150, 150, 18);
  gradient(cairo, 0, 150, {0.16, 0.25, 0.31}, {0.09, 0.14, 0.19});
  cairo_save(cairo);
  rounded(cairo, 0, 0, 150, 150, 18);
  cairo_clip(cairo);
  circle(cairo, 75, 178, 72);
  fill(cairo, face.coat);
  circle(cairo, 75, 72, 42);
  fill(cairo, face.skin);
  paint_hair(cairo, 75, 72, 42, face.hair);
  for (const double side : {-15.0, 15.0}) {
    cairo_save(cairo);
    cairo_translate(cairo, 75 + side, 68);
    cairo_scale(cairo, 1, face.eyes);
    circle(cairo, 0, 0, 5);
    cairo_restore(cairo);
    fill(cairo, {0.1, 0.1, 0.12});
  }
  cairo_new_path(cairo);
  cairo_move_to(cairo, 61, 90);
  cairo_curve_to(cairo, 68, 90 + face.mouth, 82, 90 + face.mouth, 89, 90);
  cairo_set_source_rgb(cairo, 0.25, 0.12, 0.1);
  cairo_set_line_width(cairo, 3);
  cairo_stroke(cairo);
  cairo_restore(cairo);
}

void paint_engine(cairo_t* cairo, bool alarm) {
  rounded(cairo, 0, 0, 150, 150, 18);
  gradient(cairo, 0, 150, {0.20, 0.27, 0.32}, {0.09, 0.12, 0.15});
  rounded(cairo, 26, 40, 98, 96, 12);
  fill(cairo, {0.42, 0.50, 0.55});
  circle(cairo, 75, 82, 34);
  fill(cairo, {0.93, 0.92, 0.86});
  cairo_set_line_width(cairo, 4);
  cairo_set_source_rgb(cairo, 0.7, 0.2, 0.16);
  const double angle = alarm ? -0.3 : -2.2;
  cairo_move_to(cairo, 75, 82);
  cairo_line_to(cairo, 75 + 26 * std::cos(angle), 82 + 26 * std::sin(angle));
  cairo_stroke(cairo);
  circle(cairo, 75, 26, 9);
  fill(cairo, alarm ? Color{0.95, 0.35, 0.22} : Color{0.35, 0.42, 0.4});
}

void paint_frame(cairo_t* cairo, Color inside, Color edge, Color stud) {
  rounded(cairo, 3, 3, 66, 66, 16);
  fill(cairo, inside);
  rounded(cairo, 3, 3, 66, 66, 16);
  cairo_set_source_rgba(cairo, edge.red, edge.green, edge.blue, edge.alpha);
  cairo_set_line_width(cairo, 3);
  cairo_stroke(cairo);
  for (const double x : {14.0, 58.0}) {
    for (const double y : {14.0, 58.0}) {
      circle(cairo, x, y, 2.6);
      fill(cairo, stud);
    }
  }
}

}  // namespace

Art::Art(SDL_Renderer* renderer) : renderer_(renderer) {
  background_ = paint(renderer, screen_width, screen_height, paint_background);
  const int size = static_cast<int>(frame_size);
  box_ = paint(renderer, size, size, [](cairo_t* cairo) {
    paint_frame(cairo, {0.05, 0.09, 0.12, 0.93}, {0.72, 0.56, 0.33}, {0.72, 0.56, 0.33});
  });
  bubble_ = paint(renderer, size, size, [](cairo_t* cairo) {
    paint_frame(cairo, {0.95, 0.92, 0.83, 0.97}, {0.35, 0.29, 0.22}, {0, 0, 0, 0});
  });
  tip_ = paint(renderer, 36, 24, [](cairo_t* cairo) {
    cairo_move_to(cairo, 2, 0);
    cairo_line_to(cairo, 18, 22);
    cairo_line_to(cairo, 34, 0);
    cairo_set_source_rgba(cairo, 0.95, 0.92, 0.83, 1);
    cairo_fill_preserve(cairo);
    cairo_set_source_rgb(cairo, 0.35, 0.29, 0.22);
    cairo_set_line_width(cairo, 3);
    cairo_stroke(cairo);
  });
  indicator_ = paint(renderer, 30, 20, [](cairo_t* cairo) {
    cairo_move_to(cairo, 3, 3);
    cairo_line_to(cairo, 27, 3);
    cairo_line_to(cairo, 15, 18);
    cairo_close_path(cairo);
    fill(cairo, {0.88, 0.64, 0.34});
  });
  mouth_ = paint(renderer, 32, 32, [](cairo_t* cairo) {
    circle(cairo, 16, 16, 15);
    fill(cairo, {0.25, 0.08, 0.08});
  });
  const Color green{0.33, 0.40, 0.34};
  const Color old{0.80, 0.66, 0.54};
  const Color amber{0.72, 0.48, 0.24};
  const Color young{0.66, 0.48, 0.36};
  const std::map<std::string, Face> faces{{"odrun/calm", {green, old, gray, 0.25, 2}},
                                          {"odrun/awake", {green, old, gray, 0.9, -2}},
                                          {"odrun/dread", {green, old, gray, 1.3, -9}},
                                          {"pell/running", {amber, young, brown, 1.1, 12}},
                                          {"pell/still", {amber, young, brown, 0.8, -4}},
                                          {"pell/proud", {amber, young, brown, 0.5, 10}}};
  for (const auto& [name, face] : faces) {
    portraits_[name] =
        paint(renderer, 150, 150, [&face = face](cairo_t* cairo) { paint_portrait(cairo, face); });
  }
  for (const bool alarm : {false, true}) {
    portraits_[alarm ? "engine/alarm" : "engine/gauge"] =
        paint(renderer, 150, 150, [alarm](cairo_t* cairo) { paint_engine(cairo, alarm); });
  }
}

Art::~Art() {
  for (SDL_Texture* texture : {background_, box_, bubble_, tip_, indicator_, mouth_}) {
    SDL_DestroyTexture(texture);
  }
  for (const auto& [name, texture] : portraits_) SDL_DestroyTexture(texture);
}

void Art::draw_background() const { SDL_RenderCopy(renderer_, background_, nullptr, nullptr); }

void Art::draw_frame(const arvik::Rect& target, bool bubble) const {
  const arvik::Padding borders{frame_border, frame_border, frame_border, frame_border};
  const auto slices =
      arvik::nine_slices(frame_size, frame_size, borders, target, arvik::SliceFill::stretch);
  for (const arvik::Slice& slice : slices) {
    const SDL_Rect source{static_cast<int>(slice.source.x), static_cast<int>(slice.source.y),
                          static_cast<int>(slice.source.width),
                          static_cast<int>(slice.source.height)};
    // Edges on whole pixels, so that no seam shows between the parts.
    const auto left = std::lround(slice.target.x);
    const auto top = std::lround(slice.target.y);
    const SDL_Rect place{static_cast<int>(left), static_cast<int>(top),
                         static_cast<int>(std::lround(slice.target.x + slice.target.width) - left),
                         static_cast<int>(std::lround(slice.target.y + slice.target.height) - top)};
    SDL_RenderCopy(renderer_, bubble ? bubble_ : box_, &source, &place);
  }
}

void Art::draw_tip(arvik::Point2 at, bool below) const {
  const SDL_FRect place{at.x - 18, below ? at.y - 2 : at.y - 22, 36, 24};
  SDL_RenderCopyExF(renderer_, tip_, nullptr, &place, 0, nullptr,
                    below ? SDL_FLIP_NONE : SDL_FLIP_VERTICAL);
}

void Art::draw_portrait(const std::string& speaker, const std::string& name, float x, float y,
                        float size) const {
  const auto found = portraits_.find(speaker + "/" + name);
  if (found == portraits_.end()) return;
  const SDL_FRect place{x, y, size, size};
  SDL_RenderCopyF(renderer_, found->second, nullptr, &place);
}

void Art::draw_mouth(float x, float y, float size, float open) const {
  if (open <= 0) return;
  const float width = size * (0.17F - 0.04F * open);
  const float height = size * 0.13F * open;
  const SDL_FRect place{x + (size - width) / 2, y + size * 0.605F - height / 4, width, height};
  SDL_RenderCopyF(renderer_, mouth_, nullptr, &place);
}

void Art::draw_indicator(float x, float y, float phase) const {
  const float bob = 4 * std::sin(phase * 2 * static_cast<float>(pi));
  const SDL_FRect place{x, y + bob, 30, 20};
  SDL_RenderCopyF(renderer_, indicator_, nullptr, &place);
}

void Art::darken(Uint8 alpha) const {
  SDL_SetRenderDrawBlendMode(renderer_, SDL_BLENDMODE_BLEND);
  SDL_SetRenderDrawColor(renderer_, 5, 9, 13, alpha);
  SDL_RenderFillRect(renderer_, nullptr);
}
