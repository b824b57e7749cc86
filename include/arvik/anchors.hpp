#pragma once

#include <cstdint>
#include <string_view>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/steps.hpp"
#include "arvik/units.hpp"

/// How text keeps step with a recorded voice: which step appears when. Found from the recording by
/// arvik::audio, or given; kept in files; read by schedule().
namespace arvik {

/// A step that appears at a given time of its line.
struct Anchor {
  std::uint32_t step = 0;
  Nanoseconds time{};    ///< from the begin of the line, 0 to one hour
  float confidence = 1;  ///< 0 to 1: how sure whoever found it is; 1 is given, not found
  friend bool operator==(const Anchor&, const Anchor&) = default;
};

/// How a line follows its recording.
enum class VoiceSync : std::uint8_t {
  align,  ///< word by word
  fit,    ///< it begins and ends with the voice
  free    ///< in its own time
};

/// How a recording speaks a text: all that a game needs of it, small enough to be kept beside it.
struct VoiceTiming {
  std::uint64_t text = 0;  ///< text_fingerprint() of what is spoken
  std::uint64_t clip = 0;  ///< of the recording's bytes; 0: not known
  Nanoseconds length{};    ///< of the recording
  Nanoseconds begin{};     ///< when the voice begins in it …
  Nanoseconds end{};       ///< … and ends; not before `begin`
  /// Of the whole, 0 to 1: how sure it is that the recording says this text.
  float confidence = 0;
  bool given = false;             ///< the times were given, not found
  std::vector<Anchor> anchors{};  ///< by step; empty: only begin and end are known
  friend bool operator==(const VoiceTiming&, const VoiceTiming&) = default;
};

/// A plain text as timings know it: of its bytes, the same on every machine.
[[nodiscard]] ARVIK_API std::uint64_t text_fingerprint(std::string_view text);

/// The anchors of a line. With VoiceSync::fit, where the timing is of another text, as with a value
/// that was put in, or has no anchors, the first step with ink comes when the voice begins and the
/// last one when it ends. None where nobody speaks. `text` is the plain text, `steps` its steps.
/// Replaces what `out` held.
ARVIK_API void anchors_of(const VoiceTiming& timing, VoiceSync sync, std::string_view text,
                          const Steps& steps, std::vector<Anchor>& out);

}  // namespace arvik
