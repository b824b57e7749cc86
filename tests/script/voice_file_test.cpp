// Timings beside voice clips: written, read, given by a person, and loaded with a script.
#include <catch2/catch.hpp>
#include <map>

#include "arvik/arvik.hpp"
#include "arvik/script_file.hpp"
#include "arvik/voice_file.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

const std::string said_line = "High water, at ten.";

Steps steps_of(const std::string& of) {
  static Language language = Language::open("en").value();
  return language.segment(of);
}

VoiceTiming example() {
  return {.text = text_fingerprint(said_line),
          .clip = 0xF00D,
          .length = 2s,
          .begin = 100ms,
          .end = 1900ms,
          .confidence = 0.875F,
          .anchors = {{0, 100ms, 0.5F}, {5, 400ms}, {12, 1'000'001us, 0.25F}}};
}

std::string voice_problems(std::string_view json) {
  const auto read = read_voice_timing(json);
  if (read) return "good";
  std::string all;
  for (const Diagnostic& problem : read.error()) {
    all += std::string(diagnostic_name(problem.code)) + " " + problem.pointer + "; ";
  }
  return all;
}

// The steps and times of given times in `said_line`.
std::string given(const std::string& file) {
  const auto times = read_timed_text(file);
  if (!times) return "row " + std::to_string(times.error().row) + ": " + times.error().message;
  std::vector<Diagnostic> problems;
  const VoiceTiming timing = timing_of(*times, said_line, steps_of(said_line), problems);
  CHECK(timing.given);
  std::string all;
  for (const Anchor& anchor : timing.anchors) {
    all += std::to_string(anchor.step) + "@" + std::to_string(anchor.time / 1ms) + " ";
  }
  for (const Diagnostic& problem : problems) all += "! " + problem.message;
  return all;
}

}  // namespace

TEST_CASE("a timing is read back as it was written") {
  const std::string json = write_voice_timing(example(), said_line, steps_of(said_line));
  CHECK(read_voice_timing(json).value() == example());
  CHECK(json.find("\"word\":\"water,\"") != std::string::npos);
  VoiceTiming without = example();
  without.anchors.clear();
  without.given = true;
  CHECK(read_voice_timing(write_voice_timing(without, said_line, steps_of(said_line))).value() ==
        without);
}

TEST_CASE("what is wrong with a timing is told, with its place") {
  const std::string good =
      R"({"arvik_voice": 1, "text": "00000000000000aa", "clip": "00000000000000bb",
          "length_us": 9, "begin_us": 1, "end_us": 8)";
  CHECK(voice_problems(good + "}") == "good");
  CHECK(voice_problems("[") == "bad-json ; ");
  CHECK(voice_problems(good + R"(, "word": []})") == "unknown-key /word; ");
  CHECK(
      voice_problems(good + R"(, "words": [{"step": 1, "at_us": 2}, {"step": 1, "at_us": 3}]})") ==
      "bad-value /words/1; ");
  CHECK(
      voice_problems(good + R"(, "words": [{"step": 1, "at_us": 2}, {"step": 2, "at_us": 1}]})") ==
      "bad-value /words/1; ");
  CHECK(voice_problems(good + R"(, "words": [{"step": -1, "at_us": 2.5}]})") ==
        "bad-value /words/0/step; bad-value /words/0/at_us; ");
  CHECK(voice_problems(good + R"(, "confidence": 2})") == "bad-value /confidence; ");
  CHECK(voice_problems(R"({"arvik_voice": 1, "text": "aa", "clip": "00000000000000bb",
                        "length_us": 5, "begin_us": 1, "end_us": 8})") ==
        "bad-value /text; bad-value ; ");
}

TEST_CASE("the file of a timing lies beside its clip") {
  CHECK(timing_file_of("voices/en/a.wav") == "voices/en/a.timing.json");
  CHECK(timing_file_of("a.b/c") == "a.b/c.timing.json");
  CHECK(timing_file_of("a.b.ogg") == "a.b.timing.json");
}

TEST_CASE("times that a person has given") {
  struct Row {
    const char* name;
    const char* file;
    const char* expected;
  };
  const std::vector<Row> rows{
      {"labels, with a rest between", "0.1\t0.4\tHigh\n0.4\t0.8\twater\n1.0\t1.5\tat ten\n",
       "0@100 5@400 9@800 12@1000 17@1500 "},
      {"case, marks and punctuation do not count", "0 1 HÍGH!\n1 2 \"water\"\n",
       "0@0 5@1000 9@2000 "},
      {"blanks part, too; notes are passed over", "# a note\n\n0.5 1 water\n\\ frequencies\n",
       "5@500 9@1000 "},
      {"a word that is not there", "0 1 low\n1 2 water\n",
       "5@1000 9@2000 ! \"low\" is left out: it does not stand there in the text"},
      {"what is no number", "0 x high\n",
       "row 1: a row must be begin, end and text, with times in seconds, like \"0.25\t0.6\tword\""},
      {"an end before its begin", "2 1 high\n",
       "row 1: a row must be begin, end and text, with times in seconds, like \"0.25\t0.6\tword\""},
      {"falling times", "1 2 high\n0 1 water\n", "row 2: the times must rise"},
      {"WebVTT",
       "WEBVTT\n\n1\n00:00.100 --> 00:02.000\n<v Odrun>High <00:00:00.400>water, "
       "<00:01.000><i>at</i> ten.\n",
       "0@100 5@400 12@1000 17@2000 "},
      {"WebVTT: cues alone",
       "WEBVTT\n\n00:00.000 --> 00:01.000\nHigh water,\n\n"
       "00:01.500 --> 00:02.000 align:start\nat ten.\n",
       "0@0 9@1000 12@1500 17@2000 "},
      {"WebVTT: a timestamp outside", "WEBVTT\n\n00:00.000 --> 00:01.000\nHigh <00:03.000>water\n",
       "row 4: a timestamp inside a cue must rise and lie inside its times"},
      {"WebVTT: no times", "WEBVTT\n\nx --> 00:01.000\nHigh\n",
       "row 3: a cue must have its times, like 00:01.250 --> 00:02.000"},
      {"nothing", "", ""},
  };
  for (const Row& row : rows) {
    INFO(row.name);
    CHECK(given(row.file) == row.expected);
  }
}

TEST_CASE("a script loads the timings of its voices, in each locale") {
  VoiceTiming polish = example();
  polish.clip = 2;
  std::map<std::string, std::string> disk{
      {"voices/en/a.timing.json", write_voice_timing(example(), said_line, steps_of(said_line))},
      {"voices/pl/a.timing.json", write_voice_timing(polish, said_line, steps_of(said_line))},
      {"voices/en/b.timing.json", "{"},
      {"voices/en/a.wav", ""},
      {"voices/en/b.wav", ""},
      {"voices/en/c.wav", ""},
      {"voices/pl/a.wav", ""}};
  const ScriptFiles files{
      .read = [&](const std::string& name) -> tl::expected<std::string, Diagnostic> {
        return disk.at(name);
      },
      .exists = [&](const std::string& name) { return disk.contains(name); }};
  const auto read = [&](const std::string& voices) {
    auto script = parse_script(R"({"arvik_script": 1, "locales": {"pl": {"rate": "x2"}},
      "voices": {"pattern": "voices/{locale}/{key}.wav")" +
                                   voices + R"(},
      "conversations": {"x": [{"id": "a", "text": "A"}, {"id": "b", "text": "B"},
        {"id": "c", "text": "C", "voice_timing": "fit"}]}})",
                               ScriptErrors::refuse, files);
    REQUIRE(script);
    return std::make_shared<const Script>(std::move(*script));
  };
  const auto script = read("");
  const auto& lines = script->conversations[0].lines;
  REQUIRE(lines[0].timing != nullptr);
  CHECK(*lines[0].timing == example());
  CHECK(lines[0].voice_sync == VoiceSync::align);
  CHECK(lines[1].timing == nullptr);  // its file is broken …
  REQUIRE(script->diagnostics.size() == 1);
  CHECK(script->diagnostics[0].code == DiagnosticCode::bad_json);  // … which is told
  CHECK(script->diagnostics[0].severity == Severity::warning);
  CHECK(script->diagnostics[0].file == "voices/en/b.timing.json");
  CHECK(lines[2].timing == nullptr);
  CHECK(lines[2].voice_sync == VoiceSync::fit);
  const auto in_polish = in_locale(script, "pl");
  REQUIRE(in_polish);
  REQUIRE((*in_polish)->conversations[0].lines[0].timing != nullptr);
  CHECK((*in_polish)->conversations[0].lines[0].timing->clip == 2);
  CHECK(read(R"(, "voice_timing": "free")")->conversations[0].lines[0].timing == nullptr);
  const auto bad = parse_script(R"({"arvik_script": 1, "voices": {"voice_timing": "loose"},
    "conversations": {"x": [{"text": "A", "voice_timing": 1}]}})");
  REQUIRE_FALSE(bad);
  CHECK(bad.error().size() == 2);
}
