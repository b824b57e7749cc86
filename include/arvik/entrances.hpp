#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/layout.hpp"
#include "arvik/reveal.hpp"
#include "arvik/schedule.hpp"

namespace arvik {

/// When a step appeared.
struct Appearance {
  Nanoseconds at{};  ///< on a clock of real time that never goes back
  /// How much later the next step was due then; 0 if nothing is due, as behind a skip. A `wipe`
  /// takes so long, so that one edge moves through the row.
  Nanoseconds spacing{};
  friend bool operator==(const Appearance&, const Appearance&) = default;
};

/// The moment of a step that has been there for longer than any entrance lasts.
inline constexpr Nanoseconds long_ago = -2 * max_written_time;

/// Remembers when each step of a text appeared, beside a reveal. The age of a step decides how far
/// its entrance is: real time, which goes on through holds, page turns, skips and changes of speed,
/// so that what is shown never shows less later.
///
///     const arvik::Reveal before = reveal;
///     const arvik::Progress progress = reveal.tick(time);
///     entrances.follow(before, progress, time);
///     make_frame(layout, entrances.shown(), entrances.now(), options, frame);
///
/// Allocates in begin() alone. One thread at a time.
class ARVIK_API Entrances {
 public:
  /// A text of this many steps begins; none is shown. The clock goes on.
  void begin(std::size_t steps);

  /// After a tick or a skip of the reveal: `before` is a copy of it taken before, `time` the real
  /// time of the tick, 0 for a skip. Steps of the reveal are those of the text from `first_step`
  /// on.
  void follow(const Reveal& before, const Progress& progress, Nanoseconds time,
              std::uint32_t first_step = 0);

  /// Lets time pass without a reveal, as at a hold. While the game is paused, nothing need be
  /// called.
  void pass(Nanoseconds time) { now_ = add_saturated(now_, time); }

  /// The first `steps` are shown and their entrances are over: after loading, or in another
  /// language.
  void put(std::uint32_t steps);

  [[nodiscard]] Nanoseconds now() const { return now_; }
  /// One a step that is shown.
  [[nodiscard]] std::span<const Appearance> shown() const { return steps_; }

 private:
  std::vector<Appearance> steps_;
  Nanoseconds now_{};
};

/// The appearances of a line that is played without a hold, at the speed that it was written for:
/// those of its first `shown` steps, on the line's own clock.
[[nodiscard]] ARVIK_API std::vector<Appearance> appearances(const Schedule& schedule,
                                                            std::uint32_t shown);

/// For putting a line on the GPU and drawing any moment of it from one number, the clock's
/// (docs/drawing.md): when each glyph of the layout begins to show, in seconds behind `origin`. For
/// glyphs that are shown this is known; for others it is what the reveal will do if nothing
/// changes; those after its next hold get infinity. Call it anew after a hold, a skip, a pause, a
/// change of speed or of the layout. `now` is the entrances' clock.
ARVIK_API void glyph_onsets(const Layout& layout, std::span<const Appearance> shown,
                            const Schedule& schedule, const Reveal& reveal, Nanoseconds now,
                            Nanoseconds origin, std::vector<float>& out,
                            std::uint32_t first_step = 0);

}  // namespace arvik
