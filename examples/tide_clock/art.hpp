#pragma once

#include <SDL.h>

#include <arvik/box.hpp>
#include <map>
#include <string>

/// The game's pictures, drawn once when it starts.
class Art {
 public:
  static constexpr int screen_width = 1280;
  static constexpr int screen_height = 800;
  static constexpr float frame_size = 72;    // of the frame pictures
  static constexpr float frame_border = 26;  // their nine-slice borders
  static constexpr arvik::Point2 odrun_head{430, 318};
  static constexpr arvik::Point2 pell_head{838, 372};

  explicit Art(SDL_Renderer* renderer);
  Art(const Art&) = delete;
  Art& operator=(const Art&) = delete;
  ~Art();

  void draw_background() const;
  /// A nine-slice frame; `bubble` is the light one.
  void draw_frame(const arvik::Rect& target, bool bubble) const;
  /// The tip of a bubble, pointing at somebody.
  void draw_tip(arvik::Point2 at, bool below) const;
  void draw_portrait(const std::string& speaker, const std::string& name, float x, float y,
                     float size) const;
  /// Over the portrait of a person at the same place: a mouth that is open so far, 0 to 1.
  void draw_mouth(float x, float y, float size, float open) const;
  void draw_indicator(float x, float y, float phase) const;
  void darken(Uint8 alpha) const;

 private:
  SDL_Renderer* renderer_;
  SDL_Texture* background_ = nullptr;
  SDL_Texture* box_ = nullptr;
  SDL_Texture* bubble_ = nullptr;
  SDL_Texture* tip_ = nullptr;
  SDL_Texture* indicator_ = nullptr;
  SDL_Texture* mouth_ = nullptr;
  std::map<std::string, SDL_Texture*> portraits_;  // "odrun/calm"
};
