// A dialogue box in a window, in one file to start from: a script, a real font, a box with name and
// portrait, an indicator, answers, keys, saving and loading. docs/conversation.md walks through it.
//
// Usage: dialogue_window SCRIPT CONVERSATION FONT
//
// Space or Return goes on; up and down and Return, or a digit, choose; F5 saves, F9 loads; Escape
// leaves.

#include <SDL.h>
#include <ft2build.h>
#include FT_FREETYPE_H

#include <algorithm>
#include <arvik/arvik.hpp>
#include <arvik/font_set.hpp>
#include <arvik/place_file.hpp>
#include <arvik/read_file.hpp>
#include <arvik/script_player.hpp>
#include <cstdio>
#include <map>
#include <stdexcept>

#include "../tools/live/frame_clock.hpp"  // your engine's clock; this one lets a test drive it

namespace {

constexpr float font_size = 28;
constexpr SDL_FRect window_box{60, 360, 840, 200};  // where the dialogue box stands
constexpr float padding = 24;
constexpr float portrait_size = 130;

template <typename Value, typename Problem>
Value or_throw(tl::expected<Value, Problem> result) {
  if (result) {
    if constexpr (std::is_void_v<Value>)
      return;
    else
      return std::move(*result);
  }
  if constexpr (std::is_same_v<Problem, arvik::Diagnostic>) {
    throw std::runtime_error(result.error().message);
  } else {
    throw std::runtime_error(result.error()[0].message);  // load_script() tells all; one will do
  }
}

// The layout says which glyph of which face stands where; this makes its bitmap, once.
class GlyphPictures {
 public:
  GlyphPictures(SDL_Renderer* renderer, const std::string& font) : renderer_(renderer) {
    if (FT_Init_FreeType(&library_) != 0 || FT_New_Face(library_, font.c_str(), 0, &face_) != 0) {
      throw std::runtime_error("cannot read the font " + font);
    }
  }

  void draw(const arvik::Layout& layout, const arvik::Frame& frame, float x, float y) {
    for (const arvik::FrameGlyph& now : frame.glyphs) {
      const arvik::Glyph& glyph = layout.glyphs[now.glyph];
      if (glyph.face == arvik::icon_face) continue;
      const auto [found, is_new] = pictures_.try_emplace({glyph.id, glyph.size});
      if (is_new) found->second = make(glyph.id, glyph.size);
      const Picture& picture = found->second;
      if (picture.texture == nullptr) continue;
      const arvik::TextStyle& style = layout.styles[glyph.style].style;
      if (style.has_color) {
        SDL_SetTextureColorMod(picture.texture, style.color.red, style.color.green,
                               style.color.blue);
      }
      SDL_SetTextureAlphaMod(picture.texture, static_cast<Uint8>(now.opacity * 255));
      const SDL_FRect place{std::round(x + glyph.x) + static_cast<float>(picture.left),
                            std::round(y + glyph.y + now.dy) - static_cast<float>(picture.top),
                            static_cast<float>(picture.width), static_cast<float>(picture.height)};
      SDL_RenderCopyF(renderer_, picture.texture, nullptr, &place);
      SDL_SetTextureColorMod(picture.texture, 255, 255, 255);
    }
  }

 private:
  struct Picture {
    SDL_Texture* texture = nullptr;
    int left = 0, top = 0, width = 0, height = 0;  // from the origin on the baseline
  };

  Picture make(std::uint32_t id, float size) {
    FT_Set_Char_Size(face_, 0, static_cast<FT_F26Dot6>(font_size * size * 64), 72, 72);
    if (FT_Load_Glyph(face_, id, FT_LOAD_RENDER | FT_LOAD_NO_HINTING) != 0) return {};
    const FT_Bitmap& bitmap = face_->glyph->bitmap;
    if (bitmap.width == 0) return {};
    std::vector<std::uint32_t> pixels(std::size_t{bitmap.width} * bitmap.rows);
    for (std::size_t i = 0; i < pixels.size(); ++i) {
      const auto row = static_cast<int>(i / bitmap.width);
      const auto column = static_cast<int>(i % bitmap.width);
      pixels[i] = std::uint32_t{bitmap.buffer[row * bitmap.pitch + column]} << 24U | 0xFFFFFFU;
    }
    Picture picture{
        .texture = SDL_CreateTexture(renderer_, SDL_PIXELFORMAT_ARGB8888, SDL_TEXTUREACCESS_STATIC,
                                     static_cast<int>(bitmap.width), static_cast<int>(bitmap.rows)),
        .left = face_->glyph->bitmap_left,
        .top = face_->glyph->bitmap_top,
        .width = static_cast<int>(bitmap.width),
        .height = static_cast<int>(bitmap.rows)};
    SDL_UpdateTexture(picture.texture, nullptr, pixels.data(), picture.width * 4);
    SDL_SetTextureBlendMode(picture.texture, SDL_BLENDMODE_BLEND);
    return picture;
  }

  SDL_Renderer* renderer_;
  FT_Library library_ = nullptr;
  FT_Face face_ = nullptr;
  std::map<std::pair<std::uint32_t, float>, Picture> pictures_;
};

// The box takes the space of name and portrait off the text; they are drawn into that space.
arvik::Box dialogue_box() {
  return {.width = window_box.w,
          .height = window_box.h,
          .padding = {padding, padding, padding, padding},
          .picture_width = portrait_size,
          .picture_gap = padding};
}

class Window {
 public:
  Window(SDL_Renderer* renderer, const std::string& script, const std::string& conversation,
         const std::string& font_file)
      : renderer_(renderer),
        pictures_(renderer, font_file),
        font_(or_throw(arvik::FontSet::make(
            {{.data = std::make_shared<const std::string>(or_throw(arvik::read_file(font_file)))}},
            font_size))),
        player_(or_throw(arvik::ScriptPlayer::open(
            std::make_shared<const arvik::Script>(or_throw(arvik::load_script(script))), font_,
            {.box = dialogue_box(),
             .settings = {.opening = std::chrono::milliseconds(200),
                          .closing = std::chrono::milliseconds(200)}}))),
        talk_(player_.conversation()) {
    or_throw(player_.start(conversation));
  }

  void run() {
    arvik::Nanoseconds last = clock_.now();
    while (talk_.state() != arvik::ConversationState::closed && !clock_.has_ended()) {
      for (SDL_Event event; SDL_PollEvent(&event) != 0;) {
        if (event.type == SDL_QUIT) return;
        if (event.type == SDL_KEYDOWN && event.key.keysym.sym == SDLK_ESCAPE) return;
        if (event.type == SDL_KEYDOWN && event.key.repeat == 0) press(event.key.keysym.sym);
      }
      const arvik::Nanoseconds now = clock_.now();
      const Uint8* keys = SDL_GetKeyboardState(nullptr);
      const bool advance =
          tapped_ || keys[SDL_SCANCODE_SPACE] != 0 || keys[SDL_SCANCODE_RETURN] != 0;
      tapped_ = false;
      for (const arvik::ConversationEvent& event : talk_.tick(now - last, {.advance = advance})) {
        if (event.event == nullptr) continue;  // here the game answers to [mark NAME] and the like
        std::printf("%s %s\n", event_kind_name(event.event->kind).data(),
                    event.event->name.c_str());
      }
      last = now;
      draw();
      clock_.wait(std::chrono::milliseconds(16));
    }
  }

 private:
  void press(SDL_Keycode key) {
    const std::size_t answers = talk_.view().choices.size();
    if (key == SDLK_SPACE || key == SDLK_RETURN) tapped_ = answers == 0;
    if (key == SDLK_F5) saved_ = write_place(talk_.place());
    if (key == SDLK_F9 && !saved_.empty()) {
      talk_.stop();
      or_throw(player_.start_at(or_throw(arvik::read_place(saved_))));
    }
    if (answers == 0) return;
    if (key == SDLK_UP) answer_ = (answer_ + answers - 1) % answers;
    if (key == SDLK_DOWN) answer_ = (answer_ + 1) % answers;
    if (key >= SDLK_1 && key <= SDLK_9) answer_ = static_cast<std::size_t>(key - SDLK_1);
    // An answer that cannot be given now is refused, and stays on the screen.
    const bool taken = key == SDLK_RETURN || (key >= SDLK_1 && key <= SDLK_9);
    if (taken && talk_.choose(answer_)) answer_ = 0;
  }

  void fill(const SDL_FRect& area, SDL_Color color) {
    SDL_SetRenderDrawColor(renderer_, color.r, color.g, color.b, color.a);
    SDL_RenderFillRectF(renderer_, &area);
  }

  // A text that does not appear, but stands.
  void draw_text(const arvik::Layout& layout, float x, float y) {
    label_steps_.resize(layout.steps.size(), {.at = arvik::long_ago});
    make_frame(layout, label_steps_, {}, {}, frame_);
    pictures_.draw(layout, frame_, x, y);
  }

  void draw() {
    fill({0, 0, 960, 600}, {24, 30, 36, 255});
    const arvik::ConversationView view = talk_.view();
    if (view.block != nullptr && view.openness > 0) draw_box(view);
    SDL_RenderPresent(renderer_);
  }

  void draw_box(const arvik::ConversationView& view) {
    SDL_FRect box = window_box;
    box.w = view.block->layout.box_width;  // its final size, while it opens, too
    box.h *= view.openness;
    box.y += (window_box.h - box.h) / 2;
    fill(box, {52, 66, 74, 255});
    if (view.openness < 1) return;
    const arvik::Speaker* speaker = player_.script().find_speaker(std::string(view.speaker));
    if (speaker != nullptr) {
      const arvik::Rgba color = speaker->color.value_or(arvik::Rgba{200, 200, 200, 255});
      // In a game, the picture of the portrait; here a plate in the speaker's colour.
      fill({box.x + padding, box.y + padding, portrait_size, portrait_size},
           {color.red, color.green, color.blue, 255});
      fill({box.x + padding, box.y - 44, 260, 44}, {52, 66, 74, 255});
      draw_text(label(speaker->name), box.x + padding + 12, box.y - 40);
    }
    make_frame(view.block->layout, view.steps, view.now,
               {.entrance = arvik::Entrance::fade, .entrance_time = std::chrono::milliseconds(90)},
               frame_);
    pictures_.draw(view.block->layout, frame_, box.x, box.y);
    float y = 60;
    for (std::size_t i = 0; i < view.choices.size(); ++i) {
      const arvik::ChoiceText& choice = view.choices[i];
      const SDL_FRect row{180, y, 600, choice.layout.box_height + 16};
      fill(row, i == answer_ ? SDL_Color{96, 118, 110, 255} : SDL_Color{40, 50, 56, 255});
      draw_text(choice.layout, row.x + 16, row.y + 8);
      if (!choice.available) fill(row, {24, 30, 36, 150});
      y += row.h + 8;
    }
    if (view.indicator) {
      const float bob = view.phase < 0.5F ? 0 : 4;
      fill({box.x + box.w - 36, box.y + box.h - 30 + bob, 14, 14}, {224, 164, 88, 255});
    }
  }

  // Names are lines like any others, all of which is shown.
  const arvik::Layout& label(const std::string& text) {
    const auto [found, is_new] = labels_.try_emplace(text);
    if (is_new) {
      found->second =
          or_throw(player_.typesetter().prepare(arvik::escape(text), {}, font_, {})).layout;
    }
    return found->second;
  }

  SDL_Renderer* renderer_;
  arvik::live::FrameClock clock_;
  GlyphPictures pictures_;
  arvik::FontSet font_;
  arvik::ScriptPlayer player_;
  arvik::Conversation& talk_;  // the player's
  arvik::Frame frame_;
  std::vector<arvik::Appearance> label_steps_;
  std::map<std::string, arvik::Layout> labels_;
  std::string saved_;
  std::size_t answer_ = 0;
  bool tapped_ = false;  // a press may begin and end between two frames
};

}  // namespace

int main(int argc, char** argv) {
  if (argc != 4) {
    std::fprintf(stderr, "usage: dialogue_window SCRIPT CONVERSATION FONT\n");
    return 2;
  }
  try {
    if (SDL_Init(SDL_INIT_VIDEO) != 0) throw std::runtime_error(SDL_GetError());
    SDL_Window* window =
        SDL_CreateWindow("Dialogue", SDL_WINDOWPOS_CENTERED, SDL_WINDOWPOS_CENTERED, 960, 600, 0);
    SDL_Renderer* renderer = SDL_CreateRenderer(window, -1, 0);
    if (renderer == nullptr) throw std::runtime_error(SDL_GetError());
    SDL_SetRenderDrawBlendMode(renderer, SDL_BLENDMODE_BLEND);
    Window(renderer, argv[1], argv[2], argv[3]).run();
  } catch (const std::exception& problem) {
    std::fprintf(stderr, "dialogue_window: %s\n", problem.what());
    return 1;
  }
  SDL_Quit();
}
