#pragma once

#include <string>

#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/markup.hpp"
#include "arvik/schedule.hpp"
#include "arvik/steps.hpp"

/// Part of arvik::script. Captions as WebVTT (W3C), which browsers and video players reveal in the
/// same time.
namespace arvik {

/// How a line becomes a cue.
struct CueOptions {
  RevealUnit unit = RevealUnit::step;  ///< what has a timestamp of its own; `line`: none
  std::string speaker{};               ///< the voice; empty: none
  Nanoseconds begin{};                 ///< of the line in the file; 0 or more
  Nanoseconds stay{};                  ///< how long the text stays after the line has finished
};

/// What a WebVTT file begins with.
[[nodiscard]] ARVIK_API std::string vtt_header();

/// One line as a WebVTT cue with timestamps inside its text, and the empty row behind it. Bold,
/// italic, underline and language are kept; colours, sizes, icons, marks and holds are not, as
/// WebVTT has nothing for them. Times are rounded to milliseconds; what falls into one shares a
/// timestamp. Empty text gives an empty string: there is no cue without text.
[[nodiscard]] ARVIK_API std::string vtt_cue(const MarkedText& marked, const Steps& steps,
                                            const Schedule& schedule, Language& language,
                                            const CueOptions& options = {});

/// When the cue of a line ends: the line's finish and options.stay behind it, at least 1 ms after
/// its begin; in whole milliseconds, so that the next cue may begin just there.
[[nodiscard]] ARVIK_API Nanoseconds cue_end(const Schedule& schedule, const CueOptions& options);

}  // namespace arvik
