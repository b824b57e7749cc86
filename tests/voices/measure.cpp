#include "measure.hpp"

#include <algorithm>
#include <cmath>
#include <fstream>
#include <map>
#include <stdexcept>

#include "arvik/align.hpp"
#include "arvik/schedule.hpp"

namespace voices {
namespace {

using namespace arvik;

Language& language_of(const std::string& tag) {
  static std::map<std::string, Language> known;
  const auto found = known.find(tag);
  if (found != known.end()) return found->second;
  return known.emplace(tag, Language::open(tag).value()).first->second;
}

}  // namespace

const std::vector<Sentences>& all_sentences() {
  static const std::vector<Sentences> all = [] {
    std::vector<Sentences> read;
    for (const char* language : {"en", "de", "es", "pl", "ru", "ja"}) {
      Sentences& sentences = read.emplace_back(Sentences{language, {}});
      std::ifstream file(std::string(ARVIK_SOURCE_DIR) + "/tests/voices/sentences/" + language +
                         ".txt");
      for (std::string line; std::getline(file, line);) sentences.lines.push_back(line);
      if (sentences.lines.empty()) throw std::runtime_error("no sentences");
    }
    return read;
  }();
  return all;
}

double Errors::quantile(double share) const {
  if (errors.empty()) return -1;
  std::vector<double> sorted = errors;
  std::sort(sorted.begin(), sorted.end());
  return sorted[std::min(sorted.size() - 1,
                         static_cast<std::size_t>(share * static_cast<double>(sorted.size())))];
}

void Errors::add(const Errors& other) {
  errors.insert(errors.end(), other.errors.begin(), other.errors.end());
  doubtful += other.doubtful;
}

Errors measure(const std::string& text, const std::string& tag, const Speech& speech, Way way) {
  Language& language = language_of(tag);
  const MarkedText marked = parse(text);
  const Steps steps = language.segment(marked.text);
  const Alignment alignment =
      align(marked, steps, language, read_speech({speech.rate, 1, speech.samples}));
  std::vector<Anchor> anchors;
  if (way != Way::paced) {
    const auto sync = way == Way::aligned ? VoiceSync::align : VoiceSync::fit;
    anchors_of(alignment.timing, sync, marked.text, steps, anchors);
  }
  Schedule schedule;
  if (!arvik::schedule(marked, steps, language, Pace{}, schedule, {}, nullptr, anchors)) {
    throw std::runtime_error("no schedule");
  }
  Errors result;
  if (way == Way::aligned && alignment.timing.anchors.empty()) result.doubtful = 1;
  for (const SpokenWord& word : speech.words) {
    const Nanoseconds onset = schedule.onsets[steps.step_from(word.byte)];
    result.errors.push_back(std::abs(in_seconds(onset) - word.begin) * 1000);
  }
  return result;
}

Errors speak_all(const Sentences& sentences, const std::vector<Voice>& speakers, bool noise,
                 std::size_t every, Way way) {
  Errors all;
  std::size_t count = 0;
  for (const Voice& voice : speakers) {
    for (const std::string& line : sentences.lines) {
      if (count++ % every != 0) continue;
      Speech speech = speak(line, sentences.language + voice.name, voice.rate);
      if (noise) add_noise(speech, 20, static_cast<unsigned>(count));
      all.add(measure(line, sentences.language, speech, way));
    }
  }
  return all;
}

Errors speak_all_otherwise(const std::vector<Voice>& speakers, bool noise, std::size_t every,
                           Way way) {
  const Sentences& english = all_sentences().front();
  Errors all;
  std::size_t count = 0;
  for (const Voice& voice : speakers) {
    for (const std::string& line : english.lines) {
      if (count++ % every != 0) continue;
      Speech speech = speak_otherwise(line, voice.name, static_cast<float>(voice.rate) / 100);
      if (noise) add_noise(speech, 20, static_cast<unsigned>(count));
      all.add(measure(line, english.language, speech, way));
    }
  }
  return all;
}

}  // namespace voices
