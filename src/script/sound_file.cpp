#include "arvik/sound_file.hpp"

#include "fields.hpp"
#include "sound_reader.hpp"

namespace arvik {
namespace script {
namespace {

using ParseUnit = tl::expected<double, std::string> (*)(std::string_view);

class SoundReader {
 public:
  SoundReader(const JsonValue& json, Problems& problems, TypingSound& sound)
      : fields_(json, "a typing sound", problems),
        json_(json),
        problems_(problems),
        sound_(sound) {}

  void run() {
    const std::size_t before = problems_.list().size();
    read_samples();
    fields_.word<SampleChoice>("choose", sound_.choice,
                               {{"cycle", SampleChoice::cycle},
                                {"shuffle", SampleChoice::shuffle},
                                {"by_letter", SampleChoice::by_letter}});
    fields_.word<SoundEnding>("ending", sound_.ending,
                              {{"ring", SoundEnding::ring}, {"cut", SoundEnding::cut}});
    read_whole("every", sound_.every);
    read_whole("voices", sound_.voices);
    read_whole("seed", sound_.seed);
    read_time("gap", sound_.gap);
    read_time("fade", sound_.fade);
    read_range("pitch", sound_.pitch, parse_semitones);
    read_range("gain", sound_.gain, parse_decibels);
    read_number("question_pitch", sound_.question_pitch, parse_semitones);
    read_number("statement_pitch", sound_.statement_pitch, parse_semitones);
    read_number("under_voice", sound_.under_voice, parse_decibels_or_silent);
    read_heard();
    sound_.loop = fields_.flag("loop").value_or(sound_.loop);
    sound_.pan = fields_.number("pan").value_or(sound_.pan);
    fields_.finish();
    if (problems_.list().size() > before) return;
    if (const auto problem = find_problem(sound_)) {
      problems_.add(json_, problem->code, problem->message);
    }
  }

 private:
  static tl::expected<double, std::string> parse_decibels_or_silent(std::string_view word) {
    if (word == "silent") return silence;
    return parse_decibels(word);
  }

  void read_samples() {
    const auto samples = fields_.value("samples");
    if (!samples) return;
    if (!samples->is_array()) {
      problems_.bad_value(*samples, "samples must be a list of strings");
      return;
    }
    samples->each([&](const JsonValue& sample) {
      if (sample.is_string() && !sample.is_text("")) {
        sound_.samples.push_back(sample.text());
      } else {
        problems_.bad_value(sample, "a sample must be the name of a sound");
      }
    });
  }

  template <typename Number>
  void read_whole(std::string_view key, Number& out) {
    const auto value = fields_.value(key);
    if (!value) return;
    const auto whole = value->whole();
    if (whole && *whole <= std::numeric_limits<Number>::max()) {
      out = static_cast<Number>(*whole);
    } else {
      problems_.bad_value(*value, std::string(key) + " must be a whole number, 0 or more");
    }
  }

  void read_time(std::string_view key, Nanoseconds& out) {
    const auto value = fields_.value(key);
    if (!value) return;
    if (!value->is_string()) {
      problems_.bad_value(*value, std::string(key) + " must be a string");
    } else if (const auto time = parse_time(value->text())) {
      out = *time;
    } else {
      problems_.bad_value(*value, time.error());
    }
  }

  void read_number(std::string_view key, double& out, ParseUnit parse) {
    const auto value = fields_.value(key);
    if (!value) return;
    if (value->is_string()) {
      read_word_as(*value, out, parse);
    } else {
      problems_.bad_value(*value, std::string(key) + " must be a string");
    }
  }

  void read_word_as(const JsonValue& value, double& out, ParseUnit parse) {
    if (const auto number = parse(value.text())) {
      out = *number;
    } else {
      problems_.bad_value(value, number.error());
    }
  }

  // One value, or from … to.
  void read_range(std::string_view key, SoundRange& out, ParseUnit parse) {
    const auto value = fields_.value(key);
    if (!value) return;
    std::vector<JsonValue> ends;
    value->each([&](const JsonValue& end) { ends.push_back(end); });
    if (value->is_string()) {
      read_word_as(*value, out.low, parse);
      out.high = out.low;
    } else if (value->is_array() && ends.size() == 2 && ends[0].is_string() &&
               ends[1].is_string()) {
      read_word_as(ends[0], out.low, parse);
      read_word_as(ends[1], out.high, parse);
    } else {
      problems_.bad_value(
          *value, std::string(key) + " must be a string with a unit, or a list of two: from, to");
    }
  }

  void read_heard() {
    const auto value = fields_.value("heard");
    if (!value) return;
    if (!value->is_array()) {
      problems_.bad_value(*value, "heard must be a list of words");
      return;
    }
    sound_.heard = {.letters = false, .digits = false, .symbols = false};
    value->each([&](const JsonValue& word) {
      bool HeardSteps::*member = &HeardSteps::letters;
      read_word<bool HeardSteps::*>(word, "what is heard", member,
                                    {{"letters", &HeardSteps::letters},
                                     {"digits", &HeardSteps::digits},
                                     {"symbols", &HeardSteps::symbols},
                                     {"punctuation", &HeardSteps::punctuation},
                                     {"blanks", &HeardSteps::blanks}},
                                    problems_);
      sound_.heard.*member = true;
    });
  }

  Fields fields_;
  JsonValue json_;
  Problems& problems_;
  TypingSound& sound_;
};

}  // namespace

std::vector<TypingSound> read_sounds(const JsonValue& sounds, Problems& problems) {
  std::vector<TypingSound> read;
  read_named(sounds, "sounds must be an object: names with typing sounds", problems,
             [&](const std::string& name, const JsonValue& value) {
               TypingSound& sound = read.emplace_back();
               sound.name = name;
               SoundReader(value, problems, sound).run();
             });
  return read;
}

std::vector<NamedClip> read_clips(const JsonValue& clips, Problems& problems) {
  std::vector<NamedClip> read;
  read_named(clips, "clips must be an object: names with files", problems,
             [&](const std::string& name, const JsonValue& file) {
               if (file.is_string() && !file.is_text("")) {
                 read.push_back({name, file.text()});
               } else {
                 problems.bad_value(file, "a clip must be the name of a file");
               }
             });
  return read;
}

}  // namespace script

tl::expected<SoundFile, std::vector<Diagnostic>> parse_sounds(std::string_view json) {
  using script::JsonValue;
  using script::Problems;
  return script::read_json<SoundFile>(json, [](const JsonValue& root, Problems& problems) {
    SoundFile read;
    script::Fields fields(root, "a file of sounds", problems);
    fields.version("arvik_sounds", "a file of sounds");
    if (const auto clips = fields.value("clips")) read.clips = script::read_clips(*clips, problems);
    if (const auto sounds = fields.value("sounds")) {
      read.sounds = script::read_sounds(*sounds, problems);
    } else if (root.is_object()) {
      problems.bad_value(root, "\"sounds\" is missing");
    }
    fields.finish();
    return read;
  });
}

}  // namespace arvik
