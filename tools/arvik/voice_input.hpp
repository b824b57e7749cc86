#pragma once

#include <CLI/App.hpp>
#include <string>

#include "arvik/align.hpp"
#include "arvik/speech.hpp"
#include "arvik/typesetter.hpp"
#include "input.hpp"

namespace arvik::tool {

/// The recording of a line, and when it speaks the words.
struct VoiceOptions {
  std::string clip;
  std::string times;  ///< a file of given times; empty: what lies beside the clip, if anything
  float least_confidence = AlignOptions{}.least_confidence;
};
/// Adds --voice and --voice-times.
void add_voice_options(CLI::App& command, VoiceOptions& options);
/// Adds --least-confidence.
void add_confidence_option(CLI::App& command, float& least);

struct Voice {
  SpeechTrack track{};
  /// Its timing is what a line keeps step with.
  Alignment alignment{};
};

/// The file of given times beside a clip: .vtt, else .labels.txt; empty if there is none.
[[nodiscard]] std::string times_beside(const std::string& clip);

/// Reads a recording and finds its words in a text, or takes the times that a person has given.
/// Reports what is wrong on stderr as of the clip. Throws Failure where a file cannot be read.
[[nodiscard]] Voice read_voice(const VoiceOptions& options, std::string_view markup,
                               Typesetter& typesetter);

}  // namespace arvik::tool
