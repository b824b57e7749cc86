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

/// Of one line: the whole way from samples to the onsets of a schedule.
[[nodiscard]] Errors measure(const std::string& text, const std::string& language,
                             const Speech& speech, Way way);

}  // namespace voices
