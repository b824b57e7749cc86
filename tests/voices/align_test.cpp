// Alignment beside its accuracy: hostile recordings, other texts, scripts of all kinds, confidence.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "arvik/align.hpp"
#include "measure.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

Alignment aligned(const std::string& markup, const SpeechTrack& track,
                  const std::string& tag = "en", const AlignOptions& options = {}) {
  Language language = Language::open(tag).value();
  const MarkedText marked = parse(markup);
  const Steps steps = language.segment(marked.text);
  Alignment result = align(marked, steps, language, track, options);
  // Whatever comes in: anchors that a schedule takes without a word.
  Schedule schedule;
  std::vector<Anchor> anchors;
  anchors_of(result.timing, VoiceSync::align, marked.text, steps, anchors);
  for (Anchor& anchor : anchors) {
    CHECK(anchor.time <= result.timing.length);
    anchor.confidence = 1;
  }
  REQUIRE(arvik::schedule(marked, steps, language, Pace{}, schedule, {}, nullptr, anchors));
  CHECK(schedule.diagnostics.empty());
  CHECK(result.timing.begin <= result.timing.end);
  CHECK(result.timing.end <= result.timing.length);
  return result;
}

SpeechTrack track_of(std::vector<float> samples, int rate = 16'000) {
  return read_speech({rate, 1, std::move(samples)});
}

SpeechTrack track_of(const voices::Speech& speech) { return track_of(speech.samples, speech.rate); }

std::string codes_of(const Alignment& alignment) {
  std::string all;
  for (const Diagnostic& problem : alignment.diagnostics) {
    CHECK(problem.severity == Severity::warning);
    all += std::string(diagnostic_name(problem.code)) + " ";
  }
  return all;
}

std::vector<float> noise_of(std::size_t frames, float level) {
  std::mt19937 random(1);
  std::vector<float> samples(frames);
  for (float& sample : samples) {
    sample = level * (static_cast<float>(random()) / 2147483648.0F - 1);
  }
  return samples;
}

const std::string line = "The blue valve feeds the clock, child. Shut it, and listen.";

}  // namespace

TEST_CASE("hostile recordings get a sensible answer and a diagnostic") {
  struct Row {
    const char* name;
    std::vector<float> samples;
    const char* codes;
  };
  std::vector<float> click(16'000, 0.0F);
  click[8000] = 1;
  std::vector<float> wild{std::nanf(""), INFINITY, -INFINITY, 1e30F};
  wild.resize(32'000, 0.0F);
  const std::vector<Row> rows{
      {"nothing", {}, "voice-silent "},
      {"one frame", {0.5F}, "voice-silent "},
      {"silence", std::vector<float>(48'000, 0.0F), "voice-silent "},
      {"noise", noise_of(48'000, 0.3F), "voice-silent "},
      {"a click", click, "voice-silent "},
      {"no numbers", wild, "voice-silent "},
  };
  for (const Row& row : rows) {
    INFO(row.name);
    const Alignment result = aligned(line, track_of(row.samples));
    CHECK(codes_of(result) == row.codes);
    CHECK(result.timing.anchors.empty());
    CHECK(result.timing.begin == result.timing.end);
  }
}

TEST_CASE("a recording whose length cannot belong to the text is told, and fitted") {
  const SpeechTrack track = track_of(voices::speak(line, "en", 170));
  const Alignment longer = aligned("No.", track);
  CHECK(codes_of(longer) == "voice-length ");
  CHECK(longer.timing.anchors.empty());
  CHECK(longer.timing.begin < longer.timing.end);
  std::string text;
  for (int i = 0; i < 8; ++i) text += line + " ";
  CHECK(codes_of(aligned(text, track)) == "voice-length ");
  std::vector<float> tenth(1600, 0.0F);
  for (std::size_t i = 400; i < 1200; ++i) {
    tenth[i] = 0.3F * std::sin(static_cast<float>(i) * 0.1F);
  }
  CHECK(codes_of(aligned(text, track_of(tenth))) == "voice-length ");
}

TEST_CASE("another text is told from the one that is spoken") {
  std::size_t right = 0, wrong = 0, all = 0;
  for (const voices::Sentences& sentences : voices::all_sentences()) {
    for (std::size_t i = 0; i + 1 < sentences.lines.size(); i += 4) {
      const std::string& said = sentences.lines[i];
      if (said.size() < 40) continue;
      const SpeechTrack track = track_of(voices::speak(said, sentences.language, 170));
      ++all;
      right += aligned(said, track, sentences.language).timing.anchors.empty() ? 0 : 1;
      wrong +=
          aligned(sentences.lines[i + 1], track, sentences.language).timing.anchors.empty() ? 0 : 1;
    }
  }
  CAPTURE(right, wrong, all);
  CHECK(right * 20 >= all * 19);
  CHECK(wrong * 2 <= all);
}

TEST_CASE("a clipped recording, one with a click, and one with hum are aligned all the same") {
  const voices::Speech clean = voices::speak(line, "en", 170);
  voices::Speech clipped = clean;
  for (float& sample : clipped.samples) sample = std::clamp(sample * 20, -1.0F, 1.0F);
  voices::Speech clicked = clean;
  clicked.samples[clicked.samples.size() / 3] = 1;
  voices::Speech humming = clean;
  for (std::size_t i = 0; i < humming.samples.size(); ++i) {
    humming.samples[i] +=
        0.05F * std::sin(static_cast<float>(i) * 314.159F / static_cast<float>(humming.rate));
  }
  for (const voices::Speech& speech : std::vector{clean, clipped, clicked, humming}) {
    const voices::Errors errors = voices::measure(line, "en", speech, voices::Way::aligned);
    CHECK(errors.doubtful == 0);
    CHECK(errors.median() <= 30);
    CHECK(errors.nine_in_ten() <= 120);
  }
}

TEST_CASE("every script is laid over a recording") {
  const SpeechTrack track =
      track_of(voices::speak("Somebody has to talk to the wall, child.", "en", 150));
  struct Row {
    const char* tag;
    const char* text;
  };
  for (const Row& row : std::vector<Row>{{"zh", "潮水的钟停在四点一刻，没有风。"},
                                         {"ko", "조류 시계가 네 시 십오 분에 멈췄다."},
                                         {"th", "นาฬิกาน้ำหยุดเดินเมื่อสี่โมงสิบห้า"},
                                         {"ar", "توقفت ساعة المد عند الرابعة والربع."},
                                         {"he", "שעון הגאות נעצר בארבע ורבע."},
                                         {"hi", "ज्वार की घड़ी सवा चार बजे रुक गई।"},
                                         {"el", "Το ρολόι της παλίρροιας σταμάτησε."},
                                         {"ka", "მოქცევის საათი გაჩერდა."},
                                         {"vi", "Đồng hồ thủy triều dừng lại lúc bốn giờ."},
                                         {"en", "The 4:15 of 1,204 – “stopped” (again)."},
                                         {"ja", "[ruby まんちょう: 満潮]は四時十分。"}}) {
    INFO(row.tag);
    const Alignment result = aligned(row.text, track, row.tag, {.least_confidence = 0});
    CHECK(result.diagnostics.empty());
    CHECK(result.found.size() >= 2);
    CHECK(std::is_sorted(result.found.begin(), result.found.end(),
                         [](const Anchor& a, const Anchor& b) { return a.time < b.time; }));
  }
}

TEST_CASE("a text that is not spoken is fitted without a word") {
  const SpeechTrack track = track_of(voices::speak(line, "en", 170));
  for (const char* text : {"…", "", "[mark x]", "!?"}) {
    const Alignment result = aligned(text, track);
    CHECK(codes_of(result).empty());
    CHECK(result.timing.anchors.empty());
  }
}

TEST_CASE("where somebody rests behind a number, the mark behind it appears then") {
  const std::string text = "Close valve 12, and listen.";
  const Alignment result = aligned(text, track_of(voices::speak(text, "en", 150)));
  const auto has = [&](std::uint32_t step) {
    return std::any_of(result.found.begin(), result.found.end(),
                       [&](const Anchor& anchor) { return anchor.step == step; });
  };
  CHECK(has(12));        // the number
  CHECK_FALSE(has(13));  // its second digit
  CHECK(has(14));        // the comma
}

TEST_CASE("tags have no part in what is spoken, and confidence keeps words back") {
  const SpeechTrack track = track_of(voices::speak("I know. Breathe.", "en", 150));
  const Alignment plain = aligned("I know. Breathe.", track);
  const Alignment tagged = aligned("[b: I] know.[mark x] [style none: Breathe].", track);
  REQUIRE(plain.timing.anchors.size() == 5);
  CHECK(plain.timing.anchors[1].step == 2);
  CHECK(plain.timing.anchors[2].step == 6);  // the full stop, as the rest begins
  CHECK(plain.found.size() == plain.timing.anchors.size());
  const Alignment strict = aligned("I know. Breathe.", track, "en", {.least_confidence = 1});
  CHECK(strict.timing.anchors.empty());
  CHECK(strict.found == plain.found);
  CHECK(tagged.found.size() >= 3);
}
