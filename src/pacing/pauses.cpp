// Guarded by tests/pacing/rhythm_test.cpp.

#include "pauses.hpp"

#include <array>
#include <bit>

namespace arvik::pacing {

void find_pauses(const std::vector<Boundary>& boundaries, const Pace& pace,
                 std::vector<StepPause>& out) {
  // By kind; characters have times of their own.
  const std::array<Nanoseconds, 9> times{Nanoseconds(), pace.space,     pace.clause,
                                         pace.dash,     pace.row_end,   pace.sentence,
                                         pace.ellipsis, pace.paragraph, Nanoseconds()};
  out.clear();
  constexpr std::uint16_t only_space = 1U << static_cast<unsigned>(BoundaryKind::space);
  const bool spaces_rest = pace.space > Nanoseconds::zero();
  for (const Boundary& boundary : boundaries) {
    if (boundary.kinds == only_space && !spaces_rest) continue;  // mostly
    StepPause pause{.step = boundary.step};
    for (unsigned left = boundary.kinds; left != 0; left &= left - 1) {  // bit by bit, rising
      const auto kind = static_cast<std::size_t>(std::countr_zero(left));
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
