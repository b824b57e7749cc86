#include "speaker.hpp"

#include <espeak-ng/speak_lib.h>

extern "C" {
#include <flite/flite.h>
cst_voice* register_cmu_us_slt(const char* directory);
cst_voice* register_cmu_us_rms(const char* directory);
cst_voice* register_cmu_us_awb(const char* directory);
cst_voice* register_cmu_us_kal(const char* directory);
}

#include <cmath>
#include <map>
#include <random>
#include <stdexcept>

namespace voices {
namespace {

Speech* speaking = nullptr;
const std::string* spoken_text = nullptr;

// The byte of the `count`th code point, from 0.
std::size_t byte_of(const std::string& text, int count) {
  std::size_t at = 0;
  for (; at < text.size(); ++at) {
    if ((static_cast<unsigned char>(text[at]) & 0xC0U) == 0x80U) continue;
    if (count-- == 0) break;
  }
  return at;
}

int take(short* samples, int count, espeak_EVENT* events) {
  for (int i = 0; i < count; ++i) {
    speaking->samples.push_back(static_cast<float>(samples[i]) / 32768.0F);
  }
  for (; events->type != espeakEVENT_LIST_TERMINATED; ++events) {
    if (events->type != espeakEVENT_WORD) continue;
    const std::size_t byte = byte_of(*spoken_text, events->text_position - 1);
    // At the end of a clause it tells of a word that is none.
    if (byte >= spoken_text->size() || (*spoken_text)[byte] == ' ') continue;
    if (spoken_text->compare(byte, 3, "、") == 0) continue;
    speaking->words.push_back({byte, events->audio_position / 1000.0});
  }
  return 0;
}

}  // namespace

Speech speak(const std::string& text, const std::string& voice, int words_per_minute) {
  static const int rate = espeak_Initialize(AUDIO_OUTPUT_SYNCHRONOUS, 200, nullptr, 0);
  if (rate < 0) throw std::runtime_error("espeak-ng does not start");
  Speech speech;
  speech.rate = rate;
  speaking = &speech;
  spoken_text = &text;
  espeak_SetSynthCallback(take);
  if (espeak_SetVoiceByName(voice.c_str()) != EE_OK) {
    throw std::runtime_error("espeak-ng has no voice " + voice);
  }
  espeak_SetParameter(espeakRATE, words_per_minute, 0);
  espeak_Synth(text.c_str(), text.size() + 1, 0, POS_CHARACTER, 0, espeakCHARS_UTF8, nullptr,
               nullptr);
  espeak_Synchronize();
  return speech;
}

Speech speak_otherwise(const std::string& text, const std::string& voice, float stretch) {
  static const std::map<std::string, cst_voice*> all = [] {
    flite_init();
    return std::map<std::string, cst_voice*>{{"slt", register_cmu_us_slt(nullptr)},
                                             {"rms", register_cmu_us_rms(nullptr)},
                                             {"awb", register_cmu_us_awb(nullptr)},
                                             {"kal", register_cmu_us_kal(nullptr)}};
  }();
  cst_voice* const chosen = all.at(voice);
  feat_set_float(chosen->features, "duration_stretch", stretch);
  cst_utterance* utterance = flite_synth_text(text.c_str(), chosen);
  const cst_wave* wave = utt_wave(utterance);
  Speech speech;
  speech.rate = wave->sample_rate;
  for (int i = 0; i < wave->num_samples; ++i) {
    speech.samples.push_back(static_cast<float>(wave->samples[i]) / 32768.0F);
  }
  // A token is a word of the text; its first word's first segment begins where the one before ends.
  std::size_t at = 0;
  for (cst_item* token = relation_head(utt_relation(utterance, "Token")); token != nullptr;
       token = item_next(token)) {
    const std::string name = item_feat_string(token, "name");
    const std::size_t found = text.find(name, at);
    if (found == std::string::npos) continue;
    at = found + name.size();
    cst_item* word = item_daughter(token);
    if (word == nullptr) continue;
    const cst_item* syllables = item_as(word, "SylStructure");
    if (syllables == nullptr || item_daughter(syllables) == nullptr) continue;
    const cst_item* segment = item_daughter(item_daughter(syllables));
    const cst_item* before = item_prev(item_as(segment, "Segment"));
    speech.words.push_back(
        {found, before == nullptr ? 0 : static_cast<double>(item_feat_float(before, "end"))});
  }
  delete_utterance(utterance);
  return speech;
}

void add_noise(Speech& speech, double decibels_below, unsigned seed) {
  double power = 0;
  for (const float sample : speech.samples) power += static_cast<double>(sample) * sample;
  power /= static_cast<double>(speech.samples.size());
  std::mt19937 random(seed);  // whose numbers are the same everywhere
  const double amplitude = std::sqrt(3 * power * std::pow(10, -decibels_below / 10));
  for (float& sample : speech.samples) {
    const double uniform = static_cast<double>(random()) / 4294967295.0 * 2 - 1;
    sample += static_cast<float>(amplitude * uniform);
  }
}

}  // namespace voices
