#pragma once

#include <cstddef>
#include <string_view>
#include <vector>

#include "spoken_units.hpp"

namespace arvik::audio {

/// A sound of a word in Latin letters.
struct LatinSound {
  SoundClass sound{};
  float factor = 1;        ///< of the length that such sounds have
  std::size_t letter = 0;  ///< of the word, that it begins with
};

/// The sounds of a word: its letters small and without marks, and the same as they are written; as
/// long as each other. `language` is a primary subtag; those without rules of their own are read as
/// most languages of the script are.
[[nodiscard]] std::vector<LatinSound> latin_sounds(std::u32string_view word,
                                                   std::u32string_view written,
                                                   std::string_view language);

/// Whether any of `letters` is this one.
[[nodiscard]] inline bool is_one_of(char32_t letter, std::u32string_view letters) {
  return letter != 0 && letters.find(letter) != std::u32string_view::npos;
}

}  // namespace arvik::audio
