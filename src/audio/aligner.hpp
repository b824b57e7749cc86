#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "arvik/speech.hpp"
#include "spoken_units.hpp"

namespace arvik::audio {

/// Where a unit was found, in slices.
struct PlacedUnit {
  std::uint32_t begin = 0;
  std::uint32_t end = 0;
  float fit = 0;  ///< mean cost of its slices: the less, the better
};

/// Most cells that are looked at: some seconds of work.
inline constexpr std::size_t max_cells = 30'000'000;

/// Finds the cheapest way to lay units over a recording. Empty if it cannot be: too few slices for
/// the units, or more than max_cells.
[[nodiscard]] std::vector<PlacedUnit> place_units(const std::vector<SpokenUnit>& units,
                                                  const SpeechTrack& track);

}  // namespace arvik::audio
