#pragma once

#include <vector>

#include "anchors.hpp"
#include "arvik/boundaries.hpp"
#include "arvik/pace.hpp"
#include "arvik/schedule.hpp"

namespace arvik::pacing {

/// Memory that one schedule leaves to the next.
struct Scratch {
  std::vector<StepPause> automatic;
  std::vector<std::uint8_t> word_starts;  // empty where no word appears at once
  std::vector<std::uint16_t> weights;     // of the steps, in thousandths; empty where all are alike
  std::vector<LanguageRun> others;
  std::vector<Boundary> boundaries;
  std::vector<Cut> cuts;
  std::vector<Piece> pieces;
};

/// See arvik::schedule.
tl::expected<void, Diagnostic> schedule(const MarkedText& marked, const Steps& steps,
                                        Language& language, const Pace& pace,
                                        const RowStarts& starts,
                                        const std::vector<Boundary>* boundaries,
                                        std::span<const Anchor> anchors, Scratch& scratch,
                                        Schedule& out);

/// What a pace adds to the reading of a text.
[[nodiscard]] inline BoundaryOptions options_of(const Pace& pace) {
  return {.abbreviations = pace.abbreviations, .characters = pace.characters};
}

/// The automatic pauses that a pace makes of boundaries, by step: of each the longest of its kinds,
/// and of equal ones the later kind. Boundaries were read with options_of(pace).
void find_pauses(const std::vector<Boundary>& boundaries, const Pace& pace,
                 std::vector<StepPause>& out);

}  // namespace arvik::pacing
