#pragma once

#include <cstdint>
#include <string_view>
#include <vector>

#include "arvik/boundaries.hpp"
#include "arvik/language_runs.hpp"
#include "arvik/steps.hpp"

namespace arvik::audio {

/// What a stretch of speech sounds like, as far as the letters tell.
enum class SoundClass : std::uint8_t {
  open,       ///< a, o, e: the loudest
  close,      ///< i, u
  nasal,      ///< m, n
  liquid,     ///< l, r, w, j
  sibilant,   ///< s, sh, z, ts
  fricative,  ///< f, h, th, v: weak noise
  voiceless,  ///< p, t, k: a closure and a burst
  voiced,     ///< b, d, g
  speech,     ///< anything that is spoken: digits, letters that no table knows
  silence     ///< nothing; its length is free
};
inline constexpr std::size_t sound_classes = 10;
[[nodiscard]] constexpr bool is_vowel(SoundClass sound) {
  return sound == SoundClass::open || sound == SoundClass::close;
}

/// A sound that a text leads one to expect. Lengths are relative: only their ratios count.
struct SpokenUnit {
  SoundClass sound = SoundClass::speech;
  BoundaryKind before{};  ///< of silence: the boundary that it stands at
  bool begins_word = false;
  float length = 0;        ///< expected, in milliseconds of speech at an ordinary rate
  float spread = 0.4F;     ///< how uncertain the length is: standard deviation of its logarithm
  std::uint32_t step = 0;  ///< that it belongs to; of silence: the step that follows it
};

/// Steps that are spoken otherwise than they are written: a ruby reading.
struct Reading {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  std::string_view text{};
};

/// What a text sounds like, as far as its letters tell: by tables of the scripts, with the habits
/// of spelling of some languages. `word_starts` as Language::word_starts() returns them.
/// Before, between and behind the words stand silences, whose lengths are free. Linear.
class UnitReader {
 public:
  UnitReader(std::string_view text, const Steps& steps, const std::vector<Boundary>& boundaries,
             const std::vector<std::uint8_t>& word_starts, std::string_view language,
             const std::vector<LanguageRun>& others, const std::vector<Reading>& readings)
      : text_(text),
        steps_(steps),
        boundaries_(boundaries),
        word_starts_(word_starts),
        language_(language),
        others_(others),
        readings_(readings) {}
  [[nodiscard]] std::vector<SpokenUnit> read();

 private:
  struct Letter {
    char32_t small = 0;  // without its marks
    char32_t whole = 0;  // with them
    std::uint32_t step = 0;
  };
  void read_word(std::uint32_t first, std::uint32_t end, std::string_view language);
  [[nodiscard]] bool is_short_form(std::uint32_t first, std::uint32_t end) const;
  void take_letters(std::uint32_t first, std::uint32_t end);
  void take_reading(const Reading& reading, std::uint32_t step);
  void put_silence(std::uint32_t step, BoundaryKind before);
  void put(SoundClass sound, float length, std::uint32_t step, float spread = 0.4F);
  void read_latin(std::string_view language);
  void read_cyrillic();
  void read_greek();
  void read_kana();
  void read_hangul();
  void read_others();
  void stretch_end(std::size_t first);

  std::string_view text_;
  const Steps& steps_;
  const std::vector<Boundary>& boundaries_;
  const std::vector<std::uint8_t>& word_starts_;
  std::string_view language_;
  const std::vector<LanguageRun>& others_;
  const std::vector<Reading>& readings_;
  std::size_t next_reading_ = 0;
  std::vector<SpokenUnit> units_;
  std::vector<Letter> letters_;
};

}  // namespace arvik::audio
