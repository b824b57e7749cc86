// Guarded by tests/script/voice_file_test.cpp.

#include "arvik/voice_file.hpp"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "fields.hpp"
#include "hex.hpp"

namespace arvik {
namespace {

using nlohmann::ordered_json;
using script::Fields;
using script::JsonValue;
using script::Problems;

constexpr std::int64_t microsecond = 1000;

std::int64_t microseconds(Nanoseconds time) {
  return std::chrono::round<std::chrono::microseconds>(time).count();
}

// The word that begins at a step: up to the next blank.
std::string word_at(std::string_view text, const Steps& steps, std::uint32_t step) {
  std::uint32_t end = step;
  while (end < steps.size() && has_ink(steps.kinds[end]) && end < step + 16) ++end;
  if (step >= end) return {};
  return std::string(
      text.substr(steps.begin_byte(step), steps.begin_byte(end) - steps.begin_byte(step)));
}

double rounded(float value) { return std::round(static_cast<double>(value) * 1000) / 1000; }

class TimingReader {
 public:
  TimingReader(const JsonValue& json, Problems& problems) : json_(json), problems_(problems) {}

  VoiceTiming read() {
    VoiceTiming timing;
    Fields fields(json_, "a voice timing", problems_);
    fields.version("arvik_voice", "the timing of a voice clip");
    timing.text = fingerprint(fields, "text");
    timing.clip = fingerprint(fields, "clip");
    timing.length = time(fields, "length_us");
    timing.begin = time(fields, "begin_us");
    timing.end = time(fields, "end_us");
    if (timing.begin > timing.end || timing.end > timing.length) {
      problems_.bad_value(json_, "the voice begins and ends within its clip");
    }
    timing.confidence = share(fields);
    timing.given = fields.flag("given").value_or(false);
    if (const auto words = fields.value("words")) read_words(*words, timing.anchors);
    fields.finish();
    return timing;
  }

 private:
  std::uint64_t fingerprint(Fields& fields, std::string_view key) {
    const auto value = fields.value(key);
    const auto number =
        value && value->is_string() ? script::from_hex(value->text()) : std::nullopt;
    if (!number) {
      problems_.bad_value(value.value_or(json_),
                          std::string(key) + " must be a fingerprint of 16 digits, 0 to 9, a to f");
    }
    return number.value_or(0);
  }

  Nanoseconds time(Fields& fields, std::string_view key) {
    const auto value = fields.value(key);
    const auto whole = value ? value->whole() : std::nullopt;
    const auto most = static_cast<std::uint64_t>(max_duration.count() / microsecond);
    if (!whole || *whole > most) {
      problems_.bad_value(value.value_or(json_),
                          std::string(key) + " must be microseconds, 0 to one hour");
      return {};
    }
    return Nanoseconds(static_cast<std::int64_t>(*whole) * microsecond);
  }

  float share(Fields& fields) {
    const double value = fields.number("confidence").value_or(1);
    if (value >= 0 && value <= 1) return static_cast<float>(value);
    problems_.bad_value(fields.value("confidence").value_or(json_), "confidence must be 0 to 1");
    return 0;
  }

  void read_words(const JsonValue& words, std::vector<Anchor>& anchors) {
    if (!words.is_array()) {
      problems_.bad_value(words, "words must be a list");
      return;
    }
    words.each([&](const JsonValue& word) {
      Fields fields(word, "a word", problems_);
      Anchor anchor;
      const auto step = fields.value("step");
      const auto whole = step ? step->whole() : std::nullopt;
      if (!whole || *whole > max_text_bytes) {
        problems_.bad_value(step.value_or(word), "step must be a whole number");
      }
      anchor.step = static_cast<std::uint32_t>(whole.value_or(0));
      anchor.time = time(fields, "at_us");
      anchor.confidence = share(fields);
      (void)fields.text("word");
      fields.finish();
      if (!anchors.empty() &&
          (anchor.step <= anchors.back().step || anchor.time < anchors.back().time)) {
        problems_.bad_value(word, "the words must rise by step and time");
        return;
      }
      anchors.push_back(anchor);
    });
  }

  JsonValue json_;
  Problems& problems_;
};

}  // namespace

std::string timing_file_of(std::string_view clip) {
  const std::size_t slash = clip.find_last_of('/');
  const std::size_t dot = clip.find_last_of('.');
  const bool has_ending =
      dot != std::string_view::npos && (slash == std::string_view::npos || dot > slash + 1);
  return std::string(has_ending ? clip.substr(0, dot) : clip) + ".timing.json";
}

std::string write_voice_timing(const VoiceTiming& timing, std::string_view text,
                               const Steps& steps) {
  ordered_json json = {{"arvik_voice", 1},
                       {"text", script::hex(timing.text)},
                       {"clip", script::hex(timing.clip)},
                       {"length_us", microseconds(timing.length)},
                       {"begin_us", microseconds(timing.begin)},
                       {"end_us", microseconds(timing.end)},
                       {"confidence", rounded(timing.confidence)}};
  if (timing.given) json["given"] = true;
  ordered_json& words = json["words"] = ordered_json::array();
  for (const Anchor& anchor : timing.anchors) {
    ordered_json word = {{"step", anchor.step}, {"at_us", microseconds(anchor.time)}};
    if (anchor.confidence < 1) word["confidence"] = rounded(anchor.confidence);
    word["word"] = word_at(text, steps, anchor.step);
    words.push_back(std::move(word));
  }
  // One word a row, so that a change of a recording is a change of few rows.
  std::string out = "{\n";
  for (const auto& [key, value] : json.items()) {
    if (key == "words") continue;
    out += "  " + ordered_json(key).dump() + ": " + value.dump() + ",\n";
  }
  out += "  \"words\": [";
  for (std::size_t i = 0; i < words.size(); ++i) {
    out += (i == 0 ? "\n    " : ",\n    ") + words[i].dump();
  }
  out += words.empty() ? "]\n}\n" : "\n  ]\n}\n";
  return out;
}

tl::expected<VoiceTiming, std::vector<Diagnostic>> read_voice_timing(std::string_view json) {
  return script::read_json<VoiceTiming>(json, [](const JsonValue& root, Problems& problems) {
    return TimingReader(root, problems).read();
  });
}

}  // namespace arvik
