#pragma once

#include <cstddef>
#include <string>
#include <vector>

/// Speech whose words begin at known times, from synthesisers that tell them.
namespace voices {

struct SpokenWord {
  std::size_t byte = 0;  ///< where it begins in the text
  double begin = 0;      ///< in seconds
};

struct Speech {
  int rate = 0;  ///< frames per second
  std::vector<float> samples{};
  std::vector<SpokenWord> words{};
};

/// espeak-ng. `voice` as it names them ("en-us", "pl+f2"); `words_per_minute` 80 to 450.
[[nodiscard]] Speech speak(const std::string& text, const std::string& voice, int words_per_minute);
/// flite, in English. `voice`: "slt", "rms", "awb" or "kal"; `stretch` 1 is its own rate, 2 half.
[[nodiscard]] Speech speak_otherwise(const std::string& text, const std::string& voice,
                                     float stretch);
/// Adds white noise so many decibels below the speech's mean power. The same for the same seed.
void add_noise(Speech& speech, double decibels_below, unsigned seed);

}  // namespace voices
