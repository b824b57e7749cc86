#pragma once

#include <SDL.h>
#include <ft2build.h>
#include FT_FREETYPE_H

#include <arvik/arvik.hpp>
#include <arvik/font_set.hpp>
#include <map>
#include <memory>
#include <tuple>
#include <vector>

/// The game's text renderer: one texture a glyph, made when it is first drawn, copied to where the
/// layout says. Arvik never draws.
class GlyphRenderer {
 public:
  GlyphRenderer(SDL_Renderer* renderer, const arvik::FontSet& fonts);
  GlyphRenderer(const GlyphRenderer&) = delete;
  GlyphRenderer& operator=(const GlyphRenderer&) = delete;

  /// The glyphs of a frame: each at its place, as opaque and as far as its entrance has come.
  void draw(const arvik::Layout& layout, const arvik::Frame& frame, float x, float y,
            SDL_Color text_color);

 private:
  struct FreeFace {
    void operator()(FT_Face face) const { FT_Done_Face(face); }
  };
  struct FreeLibrary {
    void operator()(FT_Library library) const { FT_Done_FreeType(library); }
  };
  struct FreeTexture {
    void operator()(SDL_Texture* texture) const { SDL_DestroyTexture(texture); }
  };
  struct Picture {
    std::unique_ptr<SDL_Texture, FreeTexture> texture{};  // null for blanks
    int left = 0, top = 0, width = 0, height = 0;         // from the origin on the baseline
  };

  const Picture& picture_of(const arvik::Glyph& glyph);
  void copy_part(const Picture& picture, float x, float y, float from, float to, float opacity);

  SDL_Renderer* renderer_;
  arvik::FontSet fonts_;
  std::unique_ptr<FT_LibraryRec_, FreeLibrary> library_;
  std::vector<std::unique_ptr<FT_FaceRec_, FreeFace>> faces_;
  std::map<std::tuple<std::uint16_t, std::uint32_t, int>, Picture> pictures_;
};
