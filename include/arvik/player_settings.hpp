#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "arvik/box.hpp"
#include "arvik/export.hpp"
#include "arvik/frame.hpp"
#include "arvik/pace.hpp"
#include "arvik/reveal.hpp"
#include "arvik/schedule.hpp"

/// What the player chooses, in one place. It never changes what the writer timed: speeds act while
/// a line is played, reduced motion when it is prepared and drawn.
namespace arvik {

/// One entry of the text speed setting.
struct PlayerSpeed {
  std::string name{};                               ///< for the game's menu; the game translates it
  std::int32_t thousandths = Reveal::normal_speed;  ///< as Reveal::set_speed takes it
  bool instant = false;                             ///< no reveal at all
};

/// slow (x0.6), normal, fast (x1.8), instant.
[[nodiscard]] ARVIK_API std::vector<PlayerSpeed> default_speeds();

struct PlayerSettings {
  std::vector<PlayerSpeed> speeds = default_speeds();  ///< the game may change it
  std::size_t speed = 1;                               ///< index in speeds; beyond: the last
  bool reduced_motion = false;                         ///< entrances are cuts, and intervals even
  bool ruby = true;                                    ///< readings stand above their base text
};

/// The first value that is out of its range (speeds are 0 to Reveal::max_speed), as a bad_settings
/// diagnostic; nothing if all are good.
[[nodiscard]] ARVIK_API std::optional<Diagnostic> find_problem(const PlayerSettings& settings);

/// Sets the speed of a reveal; call it when a line starts and when the player changes the setting.
ARVIK_API void apply(const PlayerSettings& settings, Reveal& reveal);
/// The pace, the box and the frame options that these settings make of the game's.
[[nodiscard]] ARVIK_API Pace adjusted(const PlayerSettings& settings, Pace pace);
[[nodiscard]] ARVIK_API Box adjusted(const PlayerSettings& settings, Box box);
[[nodiscard]] ARVIK_API FrameOptions adjusted(const PlayerSettings& settings, FrameOptions options);

/// Characters a minute of a reader of so many words a minute. A word counts as six characters, its
/// blank included, the usual measure for English; give your language's own for others.
[[nodiscard]] ARVIK_API double characters_per_minute(double words_per_minute,
                                                     double characters_per_word = 6);

/// The rate at which `sample` lasts as long as a reader needs for it; the time that the pauses
/// leave goes to the letters. Take a long sample, a scene or more, at the pace in question.
/// Characters count as many letters as they weigh (step_weights()). min_rate to max_rate; max_rate
/// where the pauses alone take longer than reading.
[[nodiscard]] ARVIK_API double suggested_rate(const Schedule& sample, double characters_per_minute);

}  // namespace arvik
