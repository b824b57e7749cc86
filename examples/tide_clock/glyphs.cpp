#include "glyphs.hpp"

#include <algorithm>
#include <cmath>

namespace {
constexpr int soft_parts = 4;  // of the soft edge of a wipe
}

GlyphRenderer::GlyphRenderer(SDL_Renderer* renderer, const arvik::FontSet& fonts)
    : renderer_(renderer), fonts_(fonts) {
  FT_Library library = nullptr;
  if (FT_Init_FreeType(&library) != 0) throw std::bad_alloc();
  library_.reset(library);
  for (const arvik::FontSource& source : fonts_.sources()) {
    FT_Face face = nullptr;
    FT_New_Memory_Face(library, reinterpret_cast<const FT_Byte*>(source.data->data()),
                       static_cast<FT_Long>(source.data->size()), source.index, &face);
    faces_.emplace_back(face);  // the font set has opened it before, so it is a font
  }
}

const GlyphRenderer::Picture& GlyphRenderer::picture_of(const arvik::Glyph& glyph) {
  // Sizes in quarters of a pixel are near enough.
  const int size = static_cast<int>(std::lround(fonts_.pixel_size() * glyph.size * 4));
  const auto [found, is_new] = pictures_.try_emplace({glyph.face, glyph.id, size});
  Picture& picture = found->second;
  if (!is_new || glyph.face >= faces_.size()) return picture;
  FT_Face face = faces_[glyph.face].get();
  FT_Set_Char_Size(face, 0, FT_F26Dot6{size} * 16, 72, 72);
  if (FT_Load_Glyph(face, glyph.id, FT_LOAD_RENDER | FT_LOAD_NO_HINTING) != 0) return picture;
  const FT_Bitmap& bitmap = face->glyph->bitmap;
  if (bitmap.pixel_mode != FT_PIXEL_MODE_GRAY || bitmap.width == 0) return picture;
  picture.left = face->glyph->bitmap_left;
  picture.top = -face->glyph->bitmap_top;
  picture.width = static_cast<int>(bitmap.width);
  picture.height = static_cast<int>(bitmap.rows);
  // White, as transparent as the letter says; colours come when it is drawn.
  std::vector<std::uint32_t> pixels(std::size_t{bitmap.width} * bitmap.rows);
  for (unsigned row = 0; row < bitmap.rows; ++row) {
    for (unsigned column = 0; column < bitmap.width; ++column) {
      const std::uint32_t alpha =
          bitmap.buffer[static_cast<int>(row) * bitmap.pitch + static_cast<int>(column)];
      pixels[row * bitmap.width + column] = alpha << 24U | 0xFFFFFFU;
    }
  }
  picture.texture.reset(SDL_CreateTexture(renderer_, SDL_PIXELFORMAT_ARGB8888,
                                          SDL_TEXTUREACCESS_STATIC, picture.width, picture.height));
  SDL_UpdateTexture(picture.texture.get(), nullptr, pixels.data(), picture.width * 4);
  SDL_SetTextureBlendMode(picture.texture.get(), SDL_BLENDMODE_BLEND);
  return picture;
}

// What of a picture at x, y lies between two edges of the screen.
void GlyphRenderer::copy_part(const Picture& picture, float x, float y, float from, float to,
                              float opacity) {
  const float left = std::max(x, from);
  const float right = std::min(x + static_cast<float>(picture.width), to);
  if (right <= left) return;
  SDL_Rect source{static_cast<int>(left - x), 0, static_cast<int>(std::ceil(right - left)),
                  picture.height};
  source.w = std::min(source.w, picture.width - source.x);
  const SDL_FRect target{x + static_cast<float>(source.x), y, static_cast<float>(source.w),
                         static_cast<float>(picture.height)};
  SDL_SetTextureAlphaMod(picture.texture.get(), static_cast<Uint8>(opacity * 255));
  SDL_RenderCopyF(renderer_, picture.texture.get(), &source, &target);
}

void GlyphRenderer::draw(const arvik::Layout& layout, const arvik::Frame& frame, float x, float y,
                         SDL_Color text_color) {
  for (const arvik::FrameGlyph& now : frame.glyphs) {
    const arvik::Glyph& glyph = layout.glyphs[now.glyph];
    const arvik::TextStyle& style = layout.styles[glyph.style].style;
    const SDL_Color color = style.has_color ? SDL_Color{style.color.red, style.color.green,
                                                        style.color.blue, style.color.alpha}
                                            : text_color;
    if ((style.underline || style.strike) && !glyph.reading) {
      const float em = fonts_.pixel_size() * glyph.size;
      const SDL_FRect line{x + glyph.left, y + glyph.y + em * (style.underline ? 0.12F : -0.28F),
                           glyph.width, std::max(em * 0.06F, 1.0F)};
      SDL_SetRenderDrawColor(renderer_, color.r, color.g, color.b,
                             static_cast<Uint8>(now.opacity * 255));
      SDL_RenderFillRectF(renderer_, &line);
    }
    if (glyph.face == arvik::icon_face) {  // the game has one icon: a valve
      const SDL_FRect wheel{x + glyph.left + 2, y + glyph.y - glyph.width * 0.8F,
                            glyph.width * 0.8F, glyph.width * 0.8F};
      SDL_SetRenderDrawColor(renderer_, 90, 150, 210, static_cast<Uint8>(now.opacity * 255));
      SDL_RenderFillRectF(renderer_, &wheel);
      continue;
    }
    const Picture& picture = picture_of(glyph);
    if (picture.texture == nullptr) continue;
    SDL_SetTextureColorMod(picture.texture.get(), color.r, color.g, color.b);
    // Whole pixels: letters stay sharp, and nothing moves anyway.
    const float left = std::round(x + glyph.x) + static_cast<float>(picture.left);
    const float top = std::round(y + glyph.y + now.dy) + static_cast<float>(picture.top);
    if (!now.clipped) {
      copy_part(picture, left, top, left, left + static_cast<float>(picture.width), now.opacity);
      continue;
    }
    // The moving edge is soft inside the clip: a few strips, less and less opaque.
    const float from = x + now.clip_left;
    const float to = x + now.clip_right;
    const float soft = std::min(now.softness, to - from);
    const bool backwards = glyph.right_to_left;
    copy_part(picture, left, top, backwards ? from + soft : from, backwards ? to : to - soft,
              now.opacity);
    for (int part = 0; part < soft_parts; ++part) {
      const float width = soft / soft_parts;
      const float near = static_cast<float>(part) * width;  // from the solid side
      const float opacity =
          now.opacity * (1 - (static_cast<float>(part) + 0.5F) / static_cast<float>(soft_parts));
      const float begin = backwards ? from + soft - near - width : to - soft + near;
      copy_part(picture, left, top, begin, begin + width, opacity);
    }
  }
}
