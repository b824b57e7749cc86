#pragma once

#include <vector>

#include "arvik/boundaries.hpp"
#include "arvik/pace.hpp"
#include "arvik/schedule.hpp"

namespace arvik::pacing {

/// What a pace adds to the reading of a text.
[[nodiscard]] inline BoundaryOptions options_of(const Pace& pace) {
  return {.abbreviations = pace.abbreviations, .characters = pace.characters};
}

/// The automatic pauses that a pace makes of boundaries, by step: of each the longest of its kinds,
/// and of equal ones the later kind. Boundaries were read with options_of(pace).
void find_pauses(const std::vector<Boundary>& boundaries, const Pace& pace,
                 std::vector<StepPause>& out);

}  // namespace arvik::pacing
