// How long a step takes beside a letter of an alphabet.
//
// One character a fixed time is fair among alphabets alone: the same sentence has 30 letters in
// English, 16 characters in Japanese, 10 in Chinese. The weights make translations of a line last
// about as long as the line, at one rate: an ideograph says as much as three letters, a Hangul
// syllable as two; kana, of which a Japanese sentence has two for each ideograph, as one and a
// third. Together: Chinese about 10 a second where English has 30, Korean and Japanese about 16.
//
// The table of characters knows which letters these are (Steps::traits).
//
// Guarded by tests/pacing/rhythm_test.cpp.

#include <array>

#include "../unicode/properties.hpp"
#include "arvik/schedule.hpp"

namespace arvik {

void step_weights(const Steps& steps, std::vector<std::uint16_t>& out) {
  // By unicode::Weight.
  constexpr std::array<std::uint16_t, 4> weights{letter_weight, kana_weight, syllable_weight,
                                                 ideograph_weight};
  out.clear();
  std::uint8_t any = 0;
  for (const std::uint8_t traits : steps.traits) any |= traits;
  if (unicode::weight_of(any) == unicode::Weight::letter) return;
  out.resize(steps.size());
  for (std::size_t i = 0; i < out.size(); ++i) {
    out[i] = weights[static_cast<std::size_t>(unicode::weight_of(steps.traits[i]))];
  }
}

}  // namespace arvik
