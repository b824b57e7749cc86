#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/reveal.hpp"
#include "arvik/schedule.hpp"

namespace arvik {

/// An event of the writer that has happened.
struct PassedEvent {
  EventKind kind{};
  std::string name{};
  friend bool operator==(const PassedEvent&, const PassedEvent&) = default;
};

/// Where a line stands, in terms that outlive its prepared form: in the same text it is found again
/// to the nanosecond, whatever the box and the font; in another text (another language, a changed
/// script) by the events that have passed and the share that is shown.
struct LinePlace {
  std::uint64_t text = 0;   ///< fingerprint of the plain text
  std::uint64_t times = 0;  ///< fingerprint of the schedule's onsets
  RevealState state = RevealState::revealing;
  Nanoseconds position{};             ///< exact; used if both fingerprints are the same
  std::int32_t remainder = 0;         ///< thousandths of a nanosecond, carried; the same
  std::uint32_t shown = 0;            ///< steps
  std::vector<PassedEvent> passed{};  ///< the writer's events that have happened, in order
  std::uint32_t steps = 0;            ///< of the line
  std::uint32_t part_begin = 0;       ///< where the last of the passed events stands
  std::uint32_t part_end = 0;         ///< where the next event of the writer stands, or the end
  /// How many events of the layout stand before the step that comes next and have happened.
  std::uint32_t of_layout = 0;
  Nanoseconds behind_step{};  ///< time of the line since the last step that is shown
  friend bool operator==(const LinePlace&, const LinePlace&) = default;
};

/// The writer's events that happened before a schedule was relocated, and are no longer in it.
struct PassedBefore {
  std::vector<PassedEvent> events{};
  std::uint32_t last_step = 0;  ///< where the last of them stands
};

/// The place of a reveal of this text and schedule.
[[nodiscard]] ARVIK_API LinePlace place_of(const Reveal& reveal, std::string_view text,
                                           const Schedule& schedule,
                                           const PassedBefore& before = {});

/// What relocate() returns.
struct Relocation {
  RevealPlace place{};    ///< in the schedule as relocate() left it
  PassedBefore before{};  ///< what is no longer in the schedule
  /// Events that have not happened but lie inside the shown text: deliver them now. They are no
  /// longer in the schedule either.
  std::vector<Event> overdue{};
};

/// Finds a place again in a line with this text and schedule, and takes out of the schedule what
/// has passed: events that have happened do not come again, every other one comes exactly once. In
/// the same text the same steps are shown; in another one the same share between the same events. A
/// line that was complete stays complete. Never fails: numbers that contradict each other are
/// clamped to their ranges. Holds that were passed no longer stop the reveal.
[[nodiscard]] ARVIK_API Relocation relocate(const LinePlace& place, std::string_view text,
                                            Schedule& schedule);

}  // namespace arvik
