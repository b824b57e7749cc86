// Guarded by tests/pacing/rhythm_test.cpp.

#include "pauses.hpp"

#include <array>

namespace arvik::pacing {

void find_pauses(const std::vector<Boundary>& boundaries, const Pace& pace,
                 std::vector<StepPause>& out) {
  // By kind; characters have times of their own.
  const std::array<Nanoseconds, 9> times{Nanoseconds(), pace.space,     pace.clause,
                                         pace.dash,     pace.row_end,   pace.sentence,
                                         pace.ellipsis, pace.paragraph, Nanoseconds()};
  out.clear();
  for (const Boundary& boundary : boundaries) {
    StepPause pause{.step = boundary.step};
    for (std::size_t kind = 1; kind < times.size(); ++kind) {
      if (!boundary.has(static_cast<BoundaryKind>(kind))) continue;
      const bool own = static_cast<BoundaryKind>(kind) == BoundaryKind::character &&
                       boundary.character < pace.characters.size();
      const Nanoseconds time = own ? pace.characters[boundary.character].pause : times[kind];
      if (time < pause.automatic) continue;
      pause.automatic = time;
      pause.reason = static_cast<BoundaryKind>(kind);
    }
    if (pause.automatic > Nanoseconds::zero()) out.push_back(pause);
  }
}

}  // namespace arvik::pacing
