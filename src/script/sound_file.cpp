#include "arvik/sound_file.hpp"

#include "fields.hpp"
#include "sound_reader.hpp"

namespace arvik {
namespace script {
namespace {

using nlohmann::ordered_json;

using ParseUnit = tl::expected<double, std::string> (*)(std::string_view);

class SoundReader {
 public:
  SoundReader(const ordered_json& json, const std::string& pointer, Problems& problems,
              TypingSound& sound)
      : fields_(json, pointer, "a typing sound", problems),
        pointer_(pointer),
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
      problems_.add(pointer_, problem->code, problem->message);
    }
  }

 private:
  static tl::expected<double, std::string> parse_decibels_or_silent(std::string_view word) {
    if (word == "silent") return silence;
    return parse_decibels(word);
  }

  void read_samples() {
    const ordered_json* samples = fields_.value("samples");
    if (samples == nullptr) return;
    const std::string pointer = fields_.pointer("samples");
    if (!samples->is_array()) {
      problems_.bad_value(pointer, "samples must be a list of strings");
      return;
    }
    for (std::size_t i = 0; i < samples->size(); ++i) {
      const ordered_json& sample = (*samples)[i];
      if (sample.is_string() && !sample.get_ref<const std::string&>().empty()) {
        sound_.samples.push_back(sample.get<std::string>());
      } else {
        problems_.bad_value(pointer_to(pointer, i), "a sample must be the name of a sound");
      }
    }
  }

  template <typename Number>
  void read_whole(std::string_view key, Number& out) {
    const ordered_json* value = fields_.value(key);
    if (value == nullptr) return;
    if (value->is_number_unsigned() &&
        value->get<std::uint64_t>() <= std::numeric_limits<Number>::max()) {
      out = value->get<Number>();
    } else {
      problems_.bad_value(fields_.pointer(key),
                          std::string(key) + " must be a whole number, 0 or more");
    }
  }

  void read_time(std::string_view key, Nanoseconds& out) {
    const auto word = fields_.text(key);
    if (!word) return;
    if (const auto time = parse_time(*word)) {
      out = *time;
    } else {
      problems_.bad_value(fields_.pointer(key), time.error());
    }
  }

  void read_number(std::string_view key, double& out, ParseUnit parse) {
    const auto word = fields_.text(key);
    if (word) read_word_as(*word, fields_.pointer(key), out, parse);
  }

  void read_word_as(const std::string& word, const std::string& pointer, double& out,
                    ParseUnit parse) {
    if (const auto number = parse(word)) {
      out = *number;
    } else {
      problems_.bad_value(pointer, number.error());
    }
  }

  // One value, or from … to.
  void read_range(std::string_view key, SoundRange& out, ParseUnit parse) {
    const ordered_json* value = fields_.value(key);
    if (value == nullptr) return;
    const std::string pointer = fields_.pointer(key);
    if (value->is_string()) {
      read_word_as(value->get<std::string>(), pointer, out.low, parse);
      out.high = out.low;
    } else if (value->is_array() && value->size() == 2 && value->at(0).is_string() &&
               value->at(1).is_string()) {
      read_word_as(value->at(0).get<std::string>(), pointer_to(pointer, std::size_t{0}), out.low,
                   parse);
      read_word_as(value->at(1).get<std::string>(), pointer_to(pointer, std::size_t{1}), out.high,
                   parse);
    } else {
      problems_.bad_value(
          pointer, std::string(key) + " must be a string with a unit, or a list of two: from, to");
    }
  }

  void read_heard() {
    const ordered_json* value = fields_.value("heard");
    if (value == nullptr) return;
    const std::string pointer = fields_.pointer("heard");
    if (!value->is_array()) {
      problems_.bad_value(pointer, "heard must be a list of words");
      return;
    }
    sound_.heard = {.letters = false, .digits = false, .symbols = false};
    for (std::size_t i = 0; i < value->size(); ++i) {
      bool HeardSteps::*member = &HeardSteps::letters;
      read_word<bool HeardSteps::*>((*value)[i], pointer_to(pointer, i), "what is heard", member,
                                    {{"letters", &HeardSteps::letters},
                                     {"digits", &HeardSteps::digits},
                                     {"symbols", &HeardSteps::symbols},
                                     {"punctuation", &HeardSteps::punctuation},
                                     {"blanks", &HeardSteps::blanks}},
                                    problems_);
      sound_.heard.*member = true;
    }
  }

  Fields fields_;
  const std::string& pointer_;
  Problems& problems_;
  TypingSound& sound_;
};

}  // namespace

std::vector<TypingSound> read_sounds(const ordered_json& sounds, const std::string& pointer,
                                     Problems& problems) {
  std::vector<TypingSound> read;
  read_named(sounds, pointer, "sounds must be an object: names with typing sounds", problems,
             [&](const std::string& name, const ordered_json& value, const std::string& place) {
               TypingSound& sound = read.emplace_back();
               sound.name = name;
               SoundReader(value, place, problems, sound).run();
             });
  return read;
}

std::vector<NamedClip> read_clips(const ordered_json& clips, const std::string& pointer,
                                  Problems& problems) {
  std::vector<NamedClip> read;
  read_named(clips, pointer, "clips must be an object: names with files", problems,
             [&](const std::string& name, const ordered_json& file, const std::string& place) {
               if (file.is_string() && !file.get_ref<const std::string&>().empty()) {
                 read.push_back({name, file.get<std::string>()});
               } else {
                 problems.bad_value(place, "a clip must be the name of a file");
               }
             });
  return read;
}

}  // namespace script

tl::expected<SoundFile, std::vector<Diagnostic>> parse_sounds(std::string_view json) {
  const auto located = script::parse_located(json);
  if (!located) return tl::unexpected(std::vector<Diagnostic>{located.error()});
  script::Problems problems(json, *located);
  SoundFile read;
  script::Fields fields(located->root, "", "a file of sounds", problems);
  fields.version("arvik_sounds", "a file of sounds");
  if (const auto* clips = fields.value("clips")) {
    read.clips = script::read_clips(*clips, "/clips", problems);
  }
  if (const auto* sounds = fields.value("sounds")) {
    read.sounds = script::read_sounds(*sounds, "/sounds", problems);
  } else if (located->root.is_object()) {
    problems.bad_value("", "\"sounds\" is missing");
  }
  fields.finish();
  if (!problems.list().empty()) return tl::unexpected(std::move(problems.list()));
  return read;
}

}  // namespace arvik
