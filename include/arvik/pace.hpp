#pragma once

#include <optional>
#include <string>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/units.hpp"

namespace arvik {

/// The profile that turns characters into time: the rate, and how long the reveal rests after
/// punctuation. Copied where it is needed, never kept by reference.
///
/// Rests follow the meaning of the text, not single characters: a run of punctuation rests once,
/// after its last character, with the longest of its classes; full stops and commas inside numbers
/// and names do not rest. docs/pacing.md has the rules.
struct Pace {
  /// Steps per second; min_rate to max_rate.
  double rate = 30.0;

  // Pauses, 0 to one hour each.
  Nanoseconds sentence = std::chrono::milliseconds(240);  ///< after `.` `!` `?` `。` `؟` `।` …
  Nanoseconds clause = std::chrono::milliseconds(120);    ///< after `,` `;` `:` `、` `،` …
  Nanoseconds dash = std::chrono::milliseconds(160);      ///< after dashes, `--` and ` - `
  Nanoseconds ellipsis = std::chrono::milliseconds(360);   ///< after `…`, `...` and `. . .`
  Nanoseconds row_end = std::chrono::milliseconds(200);    ///< after a written row end
  Nanoseconds paragraph = std::chrono::milliseconds(400);  ///< after an empty row
  Nanoseconds space{};                                     ///< after a run of blanks

  /// Abbreviations that the language's list lacks, each with its full stop ("Adm."). Compared
  /// exactly, case and all.
  std::vector<std::string> abbreviations = {};
};

/// The first value of a pace that is out of its range, as a bad_pace diagnostic; nothing if the
/// pace is good.
[[nodiscard]] std::optional<Diagnostic> find_problem(const Pace& pace);

}  // namespace arvik
