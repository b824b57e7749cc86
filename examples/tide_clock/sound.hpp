#pragma once

#include <SDL.h>

#include <arvik/mixer.hpp>
#include <arvik/script_file.hpp>
#include <arvik/speech.hpp>
#include <map>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <vector>

/// The game's sound: SDL's audio thread renders Arvik's mixer, the game hands it mix events.
class Sound {
 public:
  /// Without a sound device the game is silent.
  explicit Sound(bool driven);
  Sound(const Sound&) = delete;
  Sound& operator=(const Sound&) = delete;
  ~Sound();

  /// Loads the script's samples and clips from beside it, each once. Throws std::runtime_error if
  /// one cannot be read.
  void load(const arvik::Script& script, const std::string& script_path);

  /// Where a test drives the clock there is no device: the samples of just the time that passes go
  /// into the file that ARVIK_SOUND names.
  void pass(arvik::Nanoseconds time);

  /// What a frame brought that began at `begin` on the events' clock.
  void play(arvik::Nanoseconds begin, std::span<const arvik::SoundEvent> events);
  void stop();
  /// While the game stands still: voices go on where they stood.
  void pause(bool paused);
  /// Where the voice clip is that plays; nothing where none does.
  [[nodiscard]] std::optional<arvik::Nanoseconds> voice_position();
  /// How far the mouth of who speaks is open, 0 to 1.
  [[nodiscard]] float mouth(std::string_view voice, arvik::Nanoseconds position) const;
  void set_volume(double decibels);
  [[nodiscard]] arvik::Nanoseconds length_of(std::string_view clip) const;

 private:
  static void fill(void* self, Uint8* stream, int bytes);

  arvik::ClipBank bank_;
  std::set<std::string, std::less<>> loaded_;
  std::map<std::string, arvik::SpeechTrack, std::less<>> speech_;  // of voices, by name
  arvik::MixOptions options_{.limited = true};
  std::vector<arvik::MixEvent> mix_events_;  // of one frame
  arvik::Mixer mixer_{options_};             // guarded by the device's lock
  SDL_AudioDeviceID device_ = 0;
  std::FILE* file_ = nullptr;
  std::vector<float> samples_;
};
