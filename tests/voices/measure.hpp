#pragma once

#include <string>
#include <vector>

#include "speaker.hpp"

/// How far words appear from the moment at which they are spoken.
namespace voices {

/// Sentences of one language, in tests/voices/sentences.
struct Sentences {
  std::string language;
  std::vector<std::string> lines;
};
[[nodiscard]] const std::vector<Sentences>& all_sentences();

/// How a line is played beside its recording.
enum class Way { paced, fitted, aligned };

/// Milliseconds, one a word.
struct Errors {
  std::vector<double> errors{};
  std::size_t doubtful = 0;  ///< lines that were not aligned
  [[nodiscard]] double quantile(double share) const;
  [[nodiscard]] double median() const { return quantile(0.5); }
  [[nodiscard]] double nine_in_ten() const { return quantile(0.9); }
  void add(const Errors& other);
};

struct Voice {
  const char* name;
  int rate;  ///< words a minute, or percent of flite's own length
};
/// Those that the aligner's numbers were chosen with, others, and flite's.
inline const std::vector<Voice> known{{"", 130}, {"", 170}, {"", 220}};
inline const std::vector<Voice> others{
    {"+f2", 150}, {"+m7", 200}, {"+klatt3", 150}, {"+Annie", 200}, {"+grandpa", 160}};
inline const std::vector<Voice> flite{{"slt", 85}, {"rms", 100}, {"awb", 125}, {"kal", 100}};

/// Of one line: the whole way from samples to the onsets of a schedule.
[[nodiscard]] Errors measure(const std::string& text, const std::string& language,
                             const Speech& speech, Way way);

/// Of some sentences of a language, each `every`th, with each voice; with noise 20 dB below.
[[nodiscard]] Errors speak_all(const Sentences& sentences, const std::vector<Voice>& speakers,
                               bool noise, std::size_t every, Way way = Way::aligned);
/// The same in English, spoken by flite.
[[nodiscard]] Errors speak_all_otherwise(const std::vector<Voice>& speakers, bool noise,
                                         std::size_t every, Way way = Way::aligned);

}  // namespace voices
