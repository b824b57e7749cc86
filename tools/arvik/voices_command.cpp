#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

#include "arvik/read_file.hpp"
#include "arvik/voice_file.hpp"
#include "commands.hpp"
#include "output.hpp"
#include "report.hpp"
#include "script_input.hpp"
#include "voice_input.hpp"

namespace arvik::tool {
namespace {

using nlohmann::ordered_json;

struct VoicesOptions {
  std::string script;
  std::vector<std::string> locales;
  std::vector<std::string> values;
  float least_confidence = AlignOptions{}.least_confidence;
  bool anew = false;
  bool json = false;
};

/// A clip of a line in a locale.
struct SpokenLine {
  std::string locale;
  std::string key;
  std::string markup;
  std::string clip;  ///< its path
  VoiceSync sync{};
};

// How the timing of a clip stands.
enum class State : std::uint8_t { fresh, given, fitted, stale, missing, unreadable };

std::string_view state_name(State state) {
  static constexpr std::array<std::string_view, 6> names{"aligned", "given",   "fitted",
                                                         "stale",   "missing", "unreadable"};
  return names[static_cast<std::size_t>(state)];
}

std::vector<std::string> read_locales(const VoicesOptions& options, const Script& script) {
  if (options.locales.empty()) return script.locales;
  std::vector<std::string> locales;
  for (const std::string& word : options.locales) {
    locales.push_back(read_locale(word));
  }
  return locales;
}

std::vector<SpokenLine> spoken_lines(const Script& script, const std::string& path,
                                     std::set<std::string>& seen) {
  std::map<std::string_view, std::string_view> files;
  for (const NamedClip& clip : script.clips) files.emplace(clip.name, clip.file);
  std::vector<SpokenLine> spoken;
  for (const ScriptConversation& conversation : script.conversations) {
    for (const DialogueLine& line : conversation.lines) {
      const auto file = files.find(line.voice);
      if (line.voice.empty() || file == files.end()) continue;
      const std::string clip = path_beside(path, std::string(file->second));
      if (!seen.insert(clip).second) continue;  // of a parent locale, or of two lines
      spoken.push_back({script.locale, line.id, line.text, clip, line.voice_sync});
    }
  }
  return spoken;
}

// All clips of a script, each in the first locale that speaks it.
class Voices {
 public:
  explicit Voices(const VoicesOptions& options) : path_(options.script) {
    TextOptions values;
    values.values = options.values;
    const auto script = read_script(path_);
    std::set<std::string> seen;
    for (const std::string& locale : read_locales(options, *script)) {
      const auto own = read_script(path_, locale);
      Vocabulary vocabulary = read_vocabulary(values);
      vocabulary.styles = own->styles;
      // What the game puts in, nobody has spoken: any word stands for it.
      vocabulary.value = [known = vocabulary.value](std::string_view name) {
        auto value = known ? known(name) : std::nullopt;
        return value ? value : std::optional<TextValue>(std::string(name));
      };
      vocabularies_.emplace(own->locale, std::move(vocabulary));
      for (SpokenLine& line : spoken_lines(*own, path_, seen)) {
        lines_.push_back(std::move(line));
      }
    }
  }

  [[nodiscard]] const std::vector<SpokenLine>& lines() const { return lines_; }

  [[nodiscard]] Typesetter& typesetter(const std::string& locale) {
    const auto known = typesetters_.find(locale);
    if (known != typesetters_.end()) return known->second;
    auto language = Language::open(locale);
    if (!language) throw Failure(input_has_errors, language.error().message);
    Typesetter& made = typesetters_.emplace(locale, std::move(*language)).first->second;
    made.vocabulary() = vocabularies_.at(locale);
    return made;
  }

 private:
  std::string path_;
  std::vector<SpokenLine> lines_;
  std::map<std::string, Vocabulary> vocabularies_;
  std::map<std::string, Typesetter> typesetters_;
};

// What is known of a clip.
struct Row {
  const SpokenLine* line = nullptr;
  State state{};
  VoiceTiming timing{};
};

State state_of(const VoiceTiming& timing) {
  if (timing.given) return State::given;
  return timing.anchors.empty() ? State::fitted : State::fresh;
}

// Nothing where there is none that can be read.
std::optional<VoiceTiming> read_timing(const std::string& path) {
  const auto json = read_file(path);
  if (!json) return std::nullopt;
  auto timing = read_voice_timing(*json);
  return timing ? std::optional(std::move(*timing)) : std::nullopt;
}

// How the timing beside a clip stands, without looking into the recording.
Row look_at(const SpokenLine& line, Typesetter& typesetter) {
  Row row{.line = &line};
  const auto clip = fingerprint_of_file(line.clip);
  const std::filesystem::path file = timing_file_of(line.clip);
  std::error_code ignored;  // what cannot be looked at is not there
  if (!clip) {
    row.state = State::unreadable;
  } else if (!std::filesystem::exists(file, ignored)) {
    row.state = State::missing;
  } else if (auto timing = read_timing(file.string())) {
    MarkedText marked;
    typesetter.read(line.markup, marked);
    const bool same = timing->clip == *clip && timing->text == text_fingerprint(marked.text);
    row.timing = std::move(*timing);
    row.state = same ? state_of(row.timing) : State::stale;
  } else {
    row.state = State::stale;
  }
  return row;
}

bool is_done(State state) {
  return state == State::fresh || state == State::given || state == State::fitted;
}

// Times that a person gave and changed since count anew.
bool has_newer_times(const SpokenLine& line) {
  const std::string times = times_beside(line.clip);
  if (times.empty()) return false;
  std::error_code ignored;  // then it is written anew
  return std::filesystem::last_write_time(times, ignored) >
         std::filesystem::last_write_time(timing_file_of(line.clip), ignored);
}

void align_clip(const VoicesOptions& options, const SpokenLine& line, Typesetter& typesetter,
                Row& row) {
  Voice voice =
      read_voice({.clip = line.clip, .times = {}, .least_confidence = options.least_confidence},
                 line.markup, typesetter);
  row.timing = std::move(voice.alignment.timing);
  const auto clip = fingerprint_of_file(line.clip);
  if (!clip) throw Failure(input_has_errors, clip.error().message);
  row.timing.clip = *clip;
  row.state = state_of(row.timing);
  MarkedText marked;
  Steps steps;
  typesetter.read(line.markup, marked, steps);
  write_file(timing_file_of(line.clip), write_voice_timing(row.timing, marked.text, steps));
}

void print_rows(const VoicesOptions& options, const std::vector<Row>& rows) {
  if (options.json) {
    ordered_json json = {{"arvik_voices", 1}, {"clips", ordered_json::array()}};
    for (const Row& row : rows) {
      ordered_json clip = {{"locale", row.line->locale},
                           {"key", row.line->key},
                           {"clip", row.line->clip},
                           {"state", state_name(row.state)}};
      if (is_done(row.state)) {
        clip["length_us"] = row.timing.length / std::chrono::microseconds(1);
        clip["anchors"] = row.timing.anchors.size();
        clip["confidence"] = std::round(row.timing.confidence * 1000) / 1000.0;
      }
      json["clips"].push_back(std::move(clip));
    }
    return write_out(json_text(json, 2) + "\n");
  }
  if (rows.empty()) return print_out("{}: no line is spoken\n", options.script);
  std::size_t width = 4;
  for (const Row& row : rows) width = std::max(width, row.line->key.size());
  print_out("locale  {:<{}}  timing      length  anchors  confidence\n", "line", width);
  for (const Row& row : rows) {
    print_out("{:<6}  {:<{}}  {:<10}", row.line->locale, printable(row.line->key), width,
              state_name(row.state));
    if (is_done(row.state)) {
      print_out(" {:>6.2f}s {:>8}  {:>10.2f}", in_seconds(row.timing.length),
                row.timing.anchors.size(), row.timing.confidence);
    }
    print_out("\n");
  }
}

void list_voices(const VoicesOptions& options, ExitStatus&) {
  Voices voices(options);
  std::vector<Row> rows;
  for (const SpokenLine& line : voices.lines()) {
    rows.push_back(look_at(line, voices.typesetter(line.locale)));
  }
  print_rows(options, rows);
}

void align_all(const VoicesOptions& options, ExitStatus& status) {
  Voices voices(options);
  std::vector<Row> rows;
  std::size_t done = 0;
  {
    ProgressBar bar(voices.lines().size());
    for (const SpokenLine& line : voices.lines()) {
      bar.set(rows.size());
      Typesetter& typesetter = voices.typesetter(line.locale);
      Row row = look_at(line, typesetter);
      if (options.anew || !is_done(row.state) || has_newer_times(line)) {
        try {
          align_clip(options, line, typesetter, row);
          ++done;
        } catch (const Failure& failure) {  // the others are aligned all the same
          fmt::print(stderr, "arvik: {}\n", printable(failure.what()));
          row.state = State::unreadable;
          status = input_has_errors;
        }
      }
      rows.push_back(std::move(row));
    }
  }
  print_rows(options, rows);
  if (!options.json && !rows.empty()) {
    print_out("{} of {} were aligned now\n", done, rows.size());
  }
}

}  // namespace

void add_voices_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<VoicesOptions>();
  CLI::App* command = app.add_subcommand("voices", "The recorded voices of a script");
  command->require_subcommand(1);
  command->get_formatter()->label("SUBCOMMAND", "COMMAND");
  command->footer("arvik voices COMMAND --help tells more of each command.");
  const auto add_one = [&](const std::string& name, const std::string& help, auto run) {
    CLI::App* one = command->add_subcommand(name, help)->group("Commands");
    one->add_option("SCRIPT", options->script, "The script, a JSON file")
        ->required()
        ->type_name(" ");
    one->add_option("--locale", options->locales,
                    "Only the voices of this locale; repeat it for several")
        ->allow_extra_args(false)
        ->type_name("TAG");
    add_value_option(*one, options->values);
    one->add_flag("--json", options->json, "As JSON");
    one->callback([options, &status, run] { run(*options, status); });
    return one;
  };
  CLI::App* aligning =
      add_one("align", "Find when each recording speaks its words, and write it beside the clip",
              align_all);
  add_confidence_option(*aligning, options->least_confidence);
  aligning->add_flag("--anew", options->anew, "Also those whose clip and text have not changed");
  aligning->footer(
      "Beside voices/en/stop_06.wav it writes stop_06.timing.json, which games load with the\n"
      "script. Times of your own count before: stop_06.vtt (WebVTT with timestamps inside the\n"
      "text) or stop_06.labels.txt (rows of begin, end and text, in seconds).");
  add_one("list", "Tell how the timing of each recording stands", list_voices)->footer("");
}

}  // namespace arvik::tool
