// Reading a recording: speech and silence, levels, peaks, the mouth; the same however it is cut.
#include <sndfile.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <memory>
#include <random>

#include "arvik/speech.hpp"
#include "speaker.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

// Bursts of a buzz like a voice's, between silences, over a floor of noise.
std::vector<float> bursts(const std::vector<std::pair<double, double>>& spans, double length,
                          float noise, int rate) {
  std::mt19937 random(7);
  std::vector<float> samples(static_cast<std::size_t>(length * rate));
  for (std::size_t i = 0; i < samples.size(); ++i) {
    const double time = static_cast<double>(i) / rate;
    samples[i] = noise * (static_cast<float>(random()) / 2147483648.0F - 1);
    for (const auto& [begin, end] : spans) {
      if (time < begin || time >= end) continue;
      for (int harmonic = 1; harmonic < 12; ++harmonic) {
        samples[i] += 0.05F * static_cast<float>(std::sin(time * 2 * 3.14159265 * 140 * harmonic));
      }
    }
  }
  return samples;
}

bool is_near(Nanoseconds a, Nanoseconds b) { return std::chrono::abs(a - b) <= 20ms; }

}  // namespace

TEST_CASE("speech and silence, at any rate and over any noise") {
  const std::vector<std::pair<double, double>> spans{{0.3, 1.0}, {1.4, 2.0}, {2.25, 2.5}};
  for (const int rate : {8000, 11'025, 16'000, 44'100, 96'000}) {
    for (const float noise : {0.0F, 0.0005F, 0.005F, 0.02F}) {
      CAPTURE(rate, noise);
      const SpeechTrack track = read_speech({rate, 1, bursts(spans, 3, noise, rate)});
      CHECK(track.length == 3s);
      REQUIRE(track.spans.size() == 3);
      CHECK(is_near(track.spans[0].begin, 300ms));
      CHECK(is_near(track.spans[0].end, 1s));
      CHECK(is_near(track.spans[1].begin, 1400ms));
      CHECK(is_near(track.spans[2].end, 2500ms));
      CHECK(is_near(track.lead, 300ms));
      CHECK(is_near(track.tail, 500ms));
      CHECK(std::chrono::abs(track.spoken() - 1550ms) <= 70ms);
      CHECK(track.noise_level < track.speech_level);
    }
  }
}

TEST_CASE("closures are bridged, and clicks are no speech") {
  const SpeechTrack track =
      read_speech({16'000, 1, bursts({{0.2, 0.5}, {0.55, 0.9}, {1.5, 1.52}}, 2, 0.0005F, 16'000)});
  REQUIRE(track.spans.size() == 1);
  CHECK(is_near(track.spans[0].end, 900ms));
}

TEST_CASE("a recording is read the same in any blocks, and in two channels") {
  const std::vector<float> samples = bursts({{0.1, 0.6}, {0.8, 1.1}}, 1.5, 0.001F, 22'050);
  const SpeechTrack whole = read_speech({22'050, 1, samples});
  SpeechReader reader(22'050);
  for (std::size_t at = 0; at < samples.size();) {
    const std::size_t size = std::min<std::size_t>(1 + at % 997, samples.size() - at);
    reader.push(std::span(samples).subspan(at, size));
    at += size;
  }
  const SpeechTrack cut = reader.finish();
  CHECK(cut.spans == whole.spans);
  CHECK(cut.peaks == whole.peaks);
  CHECK(cut.length == whole.length);
  CHECK(cut.loudness == Approx(whole.loudness));
  CHECK(reader.finish().slices.empty());  // it has begun anew
  std::vector<float> both;
  for (const float sample : samples) both.insert(both.end(), {sample, sample});
  CHECK(read_speech({22'050, 2, both}).spans == whole.spans);
}

TEST_CASE("loudness is that of the standard") {
  // EBU Tech 3341: a 1 kHz sine of -23 dBFS in both channels is -23 LUFS; in one, 3 dB less.
  std::vector<float> sine(48'000 * 5);
  const float level = std::pow(10.0F, -23.0F / 20);
  for (std::size_t i = 0; i < sine.size(); ++i) {
    sine[i] =
        level * static_cast<float>(std::sin(static_cast<double>(i) * 2 * 3.14159265358979 / 48));
  }
  CHECK(read_speech({48'000, 1, sine}).loudness == Approx(-26).margin(0.1));
  CHECK(read_speech({48'000, 1, std::vector<float>(96'000, 0.0F)}).loudness == -70);
  CHECK(read_speech({48'000, 1, sine}).peak == Approx(level).margin(1e-4));
}

TEST_CASE("each syllable has a peak, more or less") {
  const voices::Speech speech = voices::speak("banana banana banana", "en", 150);
  const SpeechTrack track = read_speech({speech.rate, 1, speech.samples});
  CHECK(track.peaks.size() >= 7);
  CHECK(track.peaks.size() <= 13);
}

TEST_CASE("the mouth opens with the voice, and is closed where nobody speaks") {
  const SpeechTrack track = read_speech({16'000, 1, bursts({{0.5, 1.0}}, 1.5, 0.0005F, 16'000)});
  CHECK(mouth_open(track, -1ms) == 0);
  CHECK(mouth_open(track, 200ms) == 0);
  CHECK(mouth_open(track, 800ms) > 0.7F);
  CHECK(mouth_open(track, 1400ms) == 0);
  CHECK(mouth_open(track, 10s) == 0);
  CHECK(mouth_open({}, 0s) == 0);
  float before = 0;
  for (Nanoseconds time{}; time < 1500ms; time += 1ms) {
    const float open = mouth_open(track, time);
    CHECK(open >= 0);
    CHECK(open <= 1);
    CHECK(std::abs(open - before) < 0.1F);  // nothing jumps
    before = open;
  }
}

TEST_CASE("sound files are read block by block, and what is wrong with them is told") {
  namespace fs = std::filesystem;
  const fs::path folder =
      fs::temp_directory_path() / ("arvik_speech_" + std::to_string(::getpid()));
  fs::create_directories(folder);
  const std::string path = (folder / "clip.wav").string();
  const std::vector<float> samples = bursts({{0.3, 1.0}}, 1.5, 0, 16'000);
  SF_INFO info{};
  info.samplerate = 16'000;
  info.channels = 1;
  info.format = SF_FORMAT_WAV | SF_FORMAT_PCM_16;
  {
    const std::unique_ptr<SNDFILE, int (*)(SNDFILE*)> file(sf_open(path.c_str(), SFM_WRITE, &info),
                                                           sf_close);
    REQUIRE(sf_write_float(file.get(), samples.data(), static_cast<sf_count_t>(samples.size())) ==
            static_cast<sf_count_t>(samples.size()));
  }
  const auto track = read_speech_file(path);
  REQUIRE(track);
  CHECK(track->spans == read_speech({16'000, 1, samples}).spans);
  const auto fingerprint = fingerprint_of_file(path);
  REQUIRE(fingerprint);
  CHECK(*fingerprint != 0);
  CHECK(read_speech_file((folder / "none.wav").string()).error().code ==
        DiagnosticCode::file_unreadable);
  CHECK(fingerprint_of_file((folder / "none.wav").string()).error().code ==
        DiagnosticCode::file_unreadable);
  fs::resize_file(path, 20);  // cut off
  CHECK(read_speech_file(path).error().code == DiagnosticCode::bad_audio);
  CHECK(*fingerprint_of_file(path) != *fingerprint);
  fs::remove_all(folder);
}
