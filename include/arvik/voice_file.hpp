#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/anchors.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/steps.hpp"

/// Part of arvik::script. How a recording speaks its line, as a small JSON file beside it
/// (schemas/voice.schema.json), and the times that a person gives for it.
namespace arvik {

/// The name of the file beside a clip: "voices/en/stop_06.wav" has "voices/en/stop_06.timing.json".
[[nodiscard]] ARVIK_API std::string timing_file_of(std::string_view clip);

/// A timing as JSON. `text` is the plain text that is spoken, `steps` its steps: the words are
/// written beside their times, for readers. Times are rounded to microseconds.
[[nodiscard]] ARVIK_API std::string write_voice_timing(const VoiceTiming& timing,
                                                       std::string_view text, const Steps& steps);
/// The same back. Fails with every problem: bad_json, bad_value, unknown_key.
[[nodiscard]] ARVIK_API tl::expected<VoiceTiming, std::vector<Diagnostic>> read_voice_timing(
    std::string_view json);

/// A stretch of a recording and what is said in it, as a person marked it.
struct TimedText {
  Nanoseconds begin{};
  Nanoseconds end{};  ///< not before `begin`
  std::string text{};
  std::size_t row = 1;  ///< where it stands in its file, from 1
  friend bool operator==(const TimedText&, const TimedText&) = default;
};

/// Reads the times of a recording: WebVTT (W3C), whose timestamps inside cues begin stretches of
/// their own, or rows of begin, end and text, in seconds and parted by tabs or blanks, as sound
/// editors write labels. Empty rows and, in rows, those that begin with `#` or `\` are passed over.
/// Rising by begin. Fails with bad_table, with row, for what it cannot read or what falls.
[[nodiscard]] ARVIK_API tl::expected<std::vector<TimedText>, Diagnostic> read_timed_text(
    std::string_view file);

/// The times of a text whose recording somebody has marked: each stretch is looked for in the text
/// by its letters and digits, whatever their case and marks, behind the one before it. What is not
/// found there is left out with a bad_anchor warning, with its row. `begin` and `end` of the result
/// are those of the first and last stretch; `clip` and `length` are left to the caller.
[[nodiscard]] ARVIK_API VoiceTiming timing_of(const std::vector<TimedText>& times,
                                              std::string_view text, const Steps& steps,
                                              std::vector<Diagnostic>& problems);

}  // namespace arvik
