#pragma once

#include <cstdint>
#include <vector>

#include "arvik/speech.hpp"
#include "spoken_units.hpp"

namespace arvik::audio {

/// Where a unit was found, in slices.
struct PlacedUnit {
  std::uint32_t begin = 0;
  std::uint32_t end = 0;
  float fit = 0;  ///< mean cost of its slices: the less, the better
  float off = 0;  ///< how far its length is from what was expected: logarithm of the ratio
};

/// Finds the cheapest way to lay units over a recording: each over at least one slice, silences
/// over three or none. Empty if there is no way: nobody speaks, there are more units than slices,
/// or the recording is too long for the work to be bounded (about twelve minutes).
[[nodiscard]] std::vector<PlacedUnit> place_units(const std::vector<SpokenUnit>& units,
                                                  const SpeechTrack& track);

}  // namespace arvik::audio
