// From a text and a recording to anchors. What is heard comes from spoken_units.cpp, where it is
// from aligner.cpp; here it becomes times of steps, and how sure they are.
//
// A text that is not the one that is spoken can be laid over a recording, too, but only by
// stretching some sounds and squeezing others. So confidence comes from how far lengths are from
// what was expected, in units of how uncertain they are: over the whole line, and around each word.
// Where noise covers the speech the lengths are always as expected, and tell nothing: then the
// distance between speech and noise bounds it.
//
// Guarded by tests/voices/align_test.cpp.

#include "arvik/align.hpp"

#include <algorithm>
#include <cmath>
#include <string>

#include "aligner.hpp"
#include "arvik/boundaries.hpp"
#include "arvik/language_runs.hpp"

namespace arvik {
namespace {

using audio::PlacedUnit;
using audio::SoundClass;
using audio::SpokenUnit;

// Nobody speaks three times as slowly as usual, or three times as fast, for a whole line.
constexpr float slowest = 1.0F / 3;
constexpr float fastest = 3;
constexpr std::uint32_t least_rest = 6;  // slices: shorter ones are part of the flow

float share(float value) { return std::clamp(value, 0.0F, 1.0F); }

Nanoseconds time_of(std::uint32_t slice) { return slice * speech_grid; }

class Aligner {
 public:
  Aligner(const MarkedText& marked, const Steps& steps, const SpeechTrack& track, float least)
      : text_(marked.text), steps_(steps), track_(track), least_(least) {}

  Alignment run(const std::vector<SpokenUnit>& units) {
    out_.timing.text = text_fingerprint(text_);
    out_.timing.length = std::min(track_.length, max_duration);
    if (track_.is_silent()) {
      warn(DiagnosticCode::voice_silent, "nobody speaks in the recording");
      return std::move(out_);
    }
    out_.timing.begin = std::min(track_.spans.front().begin, out_.timing.length);
    out_.timing.end = std::min(track_.spans.back().end, out_.timing.length);
    float expected = 0;  // ms
    for (const SpokenUnit& unit : units) expected += unit.length;
    if (expected <= 0) return std::move(out_);  // a text that is not spoken: "…"
    const auto spoken = std::chrono::duration<float, std::milli>(track_.spoken()).count();
    out_.rate = expected / spoken;
    if (out_.rate < slowest || out_.rate > fastest) {
      warn(DiagnosticCode::voice_length, out_.rate < 1
                                             ? "the recording is far too long for its text"
                                             : "the recording is far too short for its text");
      return std::move(out_);
    }
    const std::vector<PlacedUnit> placed = place_units(units, track_);
    if (placed.empty()) {
      warn(DiagnosticCode::voice_length, "the text cannot be laid over the recording");
      return std::move(out_);
    }
    find_confidence(units, placed);
    find_anchors(units, placed);
    keep_what_is_sure();
    return std::move(out_);
  }

 private:
  void warn(DiagnosticCode code, std::string message) {
    out_.diagnostics.push_back(
        {.code = code, .severity = Severity::warning, .message = std::move(message)});
  }

  // How far the lengths of some units are off, on the whole: 1 where they are as uncertain as was
  // expected.
  static float off_of(const std::vector<SpokenUnit>& units, const std::vector<PlacedUnit>& placed,
                      std::size_t first, std::size_t end) {
    // A few sounds say little: as if there were some more, as far off as is usual.
    float count = 6;
    float sum = 0.5F * count;
    for (std::size_t u = first; u < end; ++u) {
      if (units[u].sound == SoundClass::silence) continue;
      const float off = placed[u].off / units[u].spread;
      sum += off * off;
      ++count;
    }
    return std::sqrt(sum / count);
  }

  // The bounds were read off right and wrong texts over the same recordings (docs/voices.md).
  void find_confidence(const std::vector<SpokenUnit>& units,
                       const std::vector<PlacedUnit>& placed) {
    heard_ = share((track_.speech_level - track_.noise_level - 6) / 10);
    for (std::size_t u = 0; u < units.size(); ++u) {
      if (units[u].begins_word) words_.push_back(u);
    }
    for (std::size_t word = 0; word < words_.size(); ++word) {
      off_.push_back(off_around(units, placed, word));
    }
    line_ = share((1.2F - off_of(units, placed, 0, units.size())) / 0.45F);
    out_.timing.confidence = line_ * heard_;
  }

  // Of a word and those beside it.
  [[nodiscard]] float off_around(const std::vector<SpokenUnit>& units,
                                 const std::vector<PlacedUnit>& placed, std::size_t word) const {
    constexpr std::size_t around = 2;  // words
    const std::size_t first = words_[word - std::min(word, around)];
    const std::size_t end =
        word + around + 1 < words_.size() ? words_[word + around + 1] : units.size();
    return off_of(units, placed, first, end);
  }

  [[nodiscard]] float confidence_of(std::size_t word) const {
    const float here = share((1.4F - off_[word]) / 0.6F);
    return (line_ + here) / 2 * heard_;
  }

  void find_anchors(const std::vector<SpokenUnit>& units, const std::vector<PlacedUnit>& placed) {
    for (std::size_t word = 0; word < words_.size(); ++word) {
      const std::size_t u = words_[word];
      const std::size_t next = word + 1 < words_.size() ? words_[word + 1] : units.size();
      const float confidence = confidence_of(word);
      const Nanoseconds time = time_of(placed[u].begin);
      const std::uint32_t step = units[u].step;
      const std::uint32_t opener = first_opener(step);
      if (opener < step) put({opener, time, confidence});
      put({step, time, confidence});
      put_end(units, placed, u, next, confidence);
    }
  }

  // The quotes and brackets that open right before a word appear with it.
  [[nodiscard]] std::uint32_t first_opener(std::uint32_t step) const {
    while (step > 0 && (steps_.kinds[step - 1] == StepKind::opener ||
                        steps_.kinds[step - 1] == StepKind::quote)) {
      --step;
    }
    return step;
  }

  // Where somebody rests behind a word, what stands behind it appears as the rest begins; behind
  // the last word of a text without a full stop, the last letter as it is spoken.
  void put_end(const std::vector<SpokenUnit>& units, const std::vector<PlacedUnit>& placed,
               std::size_t first, std::size_t next, float confidence) {
    std::size_t last = next;
    while (last > first + 1 && units[last - 1].sound == SoundClass::silence) --last;
    const PlacedUnit& sound = placed[last - 1];
    const bool ends = next == units.size();
    const std::uint32_t until = ends ? placed.back().end : placed[next].begin;
    if (!ends && until - sound.end < least_rest) return;
    std::uint32_t behind = units[last - 1].step + 1;
    const auto is_spoken = [&](std::uint32_t step) {
      return steps_.kinds[step] == StepKind::letter || steps_.kinds[step] == StepKind::digit;
    };
    while (behind < steps_.size() && is_spoken(behind) && (ends || behind < units[next].step)) {
      ++behind;  // silent letters, and the rest of a number
    }
    if (behind < steps_.size()) {
      put({behind, time_of(sound.end), confidence});
    } else if (last - 1 > first) {
      put({units[last - 1].step, time_of(sound.begin), confidence});
    }
  }

  void put(Anchor anchor) {
    if (!out_.found.empty() && out_.found.back().step >= anchor.step) return;
    anchor.time = std::min(anchor.time, track_.length);
    anchor.confidence = std::min(anchor.confidence, 0.99F);  // found, not given
    out_.found.push_back(anchor);
  }

  void keep_what_is_sure() {
    if (out_.timing.confidence < least_) {
      warn(DiagnosticCode::voice_doubtful,
           "the recording does not sound like its text; the text only begins and ends with it");
      return;
    }
    for (const Anchor& anchor : out_.found) {
      if (anchor.confidence >= least_) out_.timing.anchors.push_back(anchor);
    }
  }

  std::string_view text_;
  const Steps& steps_;
  const SpeechTrack& track_;
  float least_;
  Alignment out_;
  float line_ = 0;
  float heard_ = 0;
  std::vector<std::size_t> words_;  // the first unit of each
  std::vector<float> off_;          // around each word
};

}  // namespace

Alignment align(const MarkedText& marked, const Steps& steps, Language& language,
                const SpeechTrack& track, const AlignOptions& options) {
  std::vector<LanguageRun> others;
  find_languages(marked, steps, others);
  std::vector<Boundary> boundaries;
  read_boundaries(marked.text, steps, language, others, {}, boundaries);
  std::vector<std::uint8_t> word_starts;
  language.word_starts(marked.text, steps, word_starts);
  for (const LanguageRun& run : others) {
    language.other(run.tag).word_starts(marked.text, steps, run.first_step, run.end_step,
                                        word_starts);
  }
  std::vector<audio::Reading> readings;
  for (const Span& span : marked.spans) {
    if (const auto* ruby = std::get_if<tag::Ruby>(&span.what)) {
      readings.push_back({steps.step_from(span.begin), steps.step_from(span.end), ruby->reading});
    }
  }
  const auto units = audio::UnitReader(marked.text, steps, boundaries, word_starts, language.tag(),
                                       others, readings)
                         .read();
  return Aligner(marked, steps, track, options.least_confidence).run(units);
}

}  // namespace arvik
