#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "arvik/boundaries.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/markup.hpp"
#include "arvik/units.hpp"

namespace arvik {

/// The longest that a blank may take, times a letter.
inline constexpr double max_blank = 10;

/// What becomes of the pauses where a line is made to last a given time.
enum class FitPauses : std::uint8_t {
  scale,  ///< pauses and intervals shrink or grow alike
  keep    ///< pauses stay as they are; the intervals share what is left
};

/// The profile that turns characters into time: the rate, and how long the reveal rests after
/// punctuation. Copied where it is needed, never kept by reference.
///
/// Rests follow the meaning of the text, not single characters: a run of punctuation rests once,
/// after its last character, with the longest of its classes; full stops and commas inside numbers
/// and names do not rest. docs/pacing.md has the rules.
struct Pace {
  /// Steps per second, of letters of an alphabet; min_rate to max_rate.
  double rate = 30.0;

  // Pauses, 0 to one hour each.
  Nanoseconds sentence = std::chrono::milliseconds(240);  ///< after `.` `!` `?` `。` `؟` `।` …
  Nanoseconds clause = std::chrono::milliseconds(120);    ///< after `,` `;` `:` `、` `،` …
  Nanoseconds dash = std::chrono::milliseconds(160);      ///< after dashes, `--` and ` - `
  Nanoseconds ellipsis = std::chrono::milliseconds(360);   ///< after `…`, `...` and `. . .`
  Nanoseconds row_end = std::chrono::milliseconds(200);    ///< after a written row end
  Nanoseconds paragraph = std::chrono::milliseconds(400);  ///< after an empty row
  Nanoseconds space{};                                     ///< after a run of blanks

  /// Whether scripts that say more in a character take longer for it (step_weights()), so that a
  /// line's translations last about as long as the line. Otherwise each step takes the same.
  bool by_script = true;
  /// How long a blank takes, times a letter: 0 to max_blank. 0: it comes together with the letter
  /// behind it.
  double blank = 1;

  /// Abbreviations that the language's list lacks, each with its full stop ("Adm."). Compared
  /// exactly, case and all.
  std::vector<std::string> abbreviations = {};

  /// Characters that rest in a way of their own ("after ♪ wait 300ms"); the last of one counts.
  std::vector<CharacterPause> characters = {};

  /// What appears at once. The time of a unit is that of its steps, so that words and rows keep
  /// the rate; `line` takes no time at all.
  RevealUnit unit = RevealUnit::step;

  /// The exact duration of the line, 1 ns to one hour. Not together with least and most.
  std::optional<Nanoseconds> fit = {};
  /// The shortest and the longest duration of the line, 1 ns to one hour.
  std::optional<Nanoseconds> least = {};
  std::optional<Nanoseconds> most = {};
  FitPauses fit_pauses = FitPauses::scale;  ///< for fit, least and most

  /// How uneven the intervals are, 0 to 1: moves each onset by at most ±jitter/2 of its interval.
  /// Steps that follow a pause, an event or another rate come on time, and so does the finish: the
  /// mean rate and the duration do not change.
  double jitter = 0;
  /// The same seed gives the same unevenness of the same text.
  std::uint64_t seed = 0;
};

/// A pace that many lines share. Made from a Pace, read as one; never changes.
class SharedPace {
 public:
  SharedPace() = default;  ///< the default pace
  SharedPace(Pace pace)    // NOLINT: a pace is one
      : pace_(std::make_shared<const Pace>(std::move(pace))) {}

  [[nodiscard]] const Pace& operator*() const { return pace_ != nullptr ? *pace_ : standard(); }
  const Pace* operator->() const { return &**this; }
  operator const Pace&() const { return **this; }  // NOLINT: and is read as one

 private:
  ARVIK_API static const Pace& standard();

  std::shared_ptr<const Pace> pace_;
};

/// The first value of a pace that is out of its range, as a bad_pace diagnostic; nothing if the
/// pace is good.
[[nodiscard]] ARVIK_API std::optional<Diagnostic> find_problem(const Pace& pace);

/// The pace for a player who asked for less motion: without jitter.
[[nodiscard]] ARVIK_API Pace with_reduced_motion(Pace pace);

}  // namespace arvik
