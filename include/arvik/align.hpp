#pragma once

#include <vector>

#include "arvik/anchors.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/markup.hpp"
#include "arvik/speech.hpp"
#include "arvik/steps.hpp"

/// Part of arvik::audio. Finds when a recording speaks the words of its text, from the recording
/// alone: no network, no trained model (docs/voices.md).
namespace arvik {

struct AlignOptions {
  /// Words that are less sure are left out, 0 to 1; so are all words of a line that is less sure on
  /// the whole, and the text then begins and ends with the voice.
  float least_confidence = 0.4F;
};

struct Alignment {
  /// What is sure enough; `clip` is left to the caller. Where nobody speaks, begin and end are 0.
  VoiceTiming timing{};
  /// All words, also those that are not sure enough, and the ends of what is said without a rest.
  std::vector<Anchor> found{};
  /// How fast it is spoken, times the ordinary; 0 where nobody speaks.
  float rate = 0;
  /// Warnings: voice_silent, voice_length, voice_doubtful.
  std::vector<Diagnostic> diagnostics{};
};

/// Aligns a text with its recording. `steps` must be those of the text, segmented by `language`.
/// Works for every language; words are found more exactly where letters tell what is heard: in
/// Latin, Cyrillic, Greek, Arabic, Hebrew, Hangul, kana and the scripts of India. Takes some
/// thousandths of the recording's length.
[[nodiscard]] ARVIK_API Alignment align(const MarkedText& marked, const Steps& steps,
                                        Language& language, const SpeechTrack& track,
                                        const AlignOptions& options = {});

}  // namespace arvik
