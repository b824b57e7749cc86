#include <fmt/format.h>

#include <filesystem>

#include "commands.hpp"
#include "draw/chart.hpp"
#include "fonts.hpp"
#include "input.hpp"
#include "output.hpp"
#include "report.hpp"
#include "sound_input.hpp"
#include "voice_input.hpp"

namespace arvik::tool {
namespace {

constexpr int wave_rate = 48'000;
// Some forty ribbons of the default width; more is no picture that anybody looks at.
constexpr std::uint32_t most_steps = 10'000;

struct ChartCommandOptions {
  TextOptions text;
  PaceOptions pace;
  FontOptions font{.family = "sans-serif", .size = 19};
  std::string typing;
  VoiceOptions voice;
  std::string compare;
  std::string other_file;
  std::string output = "chart.png";
  float width = 1280;
  std::string reading = "12-20";
};

// A line and when everything in it appears.
struct Take {
  std::string name;
  MarkedText marked;
  Steps steps;
  Layout layout;
  Schedule schedule;
  std::vector<ChartSound> sounds{};
  std::vector<float> wave{};
  std::vector<float> voice_wave{};
  ChartVoice voice{};

  [[nodiscard]] ChartTrack track() const {
    ChartTrack track{name, &marked, &steps, &schedule, &layout, sounds, wave, wave_rate, voice};
    track.voice.wave = voice_wave;
    return track;
  }
};

// "dread" of "voices.json#dread", "engine_nine" of "demo/engine_nine.pace.json".
std::string pace_name(const std::string& file) {
  const std::size_t hash = file.find_last_of('#');
  if (hash != std::string::npos) return file.substr(hash + 1);
  const std::string name = std::filesystem::path(file).filename().string();
  return name.substr(0, name.find('.'));
}

// What the line sounds like at the player's normal speed, with holds let go of at once.
void add_sounds(const std::string& name, Take& take, SoundSet& set, Language& language,
                const Pace& pace) {
  const auto plan = plan_typing(take.marked, take.steps, language, take.schedule, set.sounds,
                                set.begin_with, pace);
  if (!plan) throw Failure(input_has_errors, plan.error().message);
  report(name, take.marked.text, plan->diagnostics);
  const MixOptions mixing{.rate = wave_rate, .channels = 1};
  MixEventMaker make(set.bank, mixing);
  std::vector<SoundEvent> events;
  TypingPlayer player;
  player.begin(*plan);
  Reveal reveal(take.steps, take.schedule);
  while (reveal.state() != RevealState::finished) {
    const Reveal before = reveal;
    const Progress progress = reveal.tick(max_duration);
    player.follow(before, reveal, progress, before.position(), events);
    reveal.release_hold();
  }
  std::vector<MixEvent> mix_events;
  for (const SoundEvent& event : events) {
    if (const auto mix_event = make(event)) mix_events.push_back(*mix_event);
    if (event.kind == SoundEventKind::typing) {
      take.sounds.push_back({event.step, event.time, event.pitch});
    }
  }
  report_missing(make);
  mix(mix_events, take.schedule.duration, mixing, [&](std::span<const float> block) {
    take.wave.insert(take.wave.end(), block.begin(), block.end());
  });
}

// The recording, and what was found in it.
void add_voice(const VoiceOptions& options, const Voice& voice, Take& take) {
  auto clip = read_clip(options.clip, wave_rate);
  if (!clip) throw Failure(input_has_errors, clip.error().message);
  const auto channels = static_cast<std::size_t>(clip->channels);
  for (std::size_t i = 0; i < clip->samples.size(); i += channels) {
    take.voice_wave.push_back(clip->samples[i]);
  }
  take.voice.rate = wave_rate;
  for (const SpeechSpan& span : voice.track.spans) {
    take.voice.speech.push_back({span.begin, span.end});
  }
  take.voice.anchors = voice.alignment.found;
  // A line that is too little sure on the whole keeps none.
  take.voice.least_confidence =
      voice.alignment.timing.anchors.empty() ? 2.0F : options.least_confidence;
}

Take make_take(const InputText& input, const ChartCommandOptions& options, const Pace& pace,
               const FontSet& fonts, std::optional<SoundSet>& sounds, ExitStatus& status) {
  Typesetter typesetter = make_typesetter(options.text);
  std::optional<Voice> voice;
  if (!options.voice.clip.empty()) voice = read_voice(options.voice, input.text, typesetter);
  const VoiceTiming* timing = voice ? &voice->alignment.timing : nullptr;
  PreparedLine line = prepare_line(input, typesetter, pace, fonts, Box{}, status, timing);
  Take take{.name = {},
            .marked = std::move(line.marked),
            .steps = std::move(line.steps),
            .layout = std::move(line.layout),
            .schedule = std::move(line.schedule)};
  if (take.steps.size() > most_steps) {
    throw Failure(input_has_errors,
                  fmt::format("{}: {} characters are too many for a chart: it draws {} at most",
                              input.name, take.steps.size(), most_steps));
  }
  if (voice) add_voice(options.voice, *voice, take);
  if (sounds) add_sounds(input.name + " (as shown)", take, *sounds, typesetter.language(), pace);
  return take;
}

// "12-20", in characters a second.
void read_corridor(const std::string& words, ChartOptions& chart) {
  const std::size_t dash = std::min(words.find('-'), words.size());
  const auto slow = parse_decimal(words.substr(0, dash));
  const auto fast = parse_decimal(words.substr(std::min(dash + 1, words.size())));
  if (!slow || !fast || *slow <= 0 || *slow > *fast || *fast > max_rate) {
    throw Failure(wrong_usage, "--reading: " + quoted_word(words) +
                                   " is no range of speeds: write it like 12-20");
  }
  chart.slow_reading = *slow;
  chart.fast_reading = *fast;
}

CanvasKind kind_of(const std::filesystem::path& path) {
  check_ending(path, {".png", ".svg"});
  return path.extension() == ".svg" ? CanvasKind::svg : CanvasKind::pixels;
}

void run(const ChartCommandOptions& options, ExitStatus& status) {
  const CanvasKind kind = kind_of(options.output);
  ChartOptions chart{.width = options.width};
  read_corridor(options.reading, chart);
  std::vector<InputText> inputs{read_line(options.text)};
  std::vector<Pace> paces{read_pace(options.pace)};
  std::vector<std::string> names{options.pace.file.empty() ? "default"
                                                           : pace_name(options.pace.file)};
  if (!options.compare.empty()) {
    PaceOptions other = options.pace;
    other.file = options.compare;
    paces.push_back(read_pace(other));
    names.push_back(pace_name(options.compare));
  }
  if (!options.other_file.empty()) {
    inputs.push_back(read_line_from(options.other_file));
    if (paces.size() == 1) paces.push_back(paces[0]);
    names = {inputs[0].name, inputs[1].name};
  }
  std::string characters = "⟨⟩♪,.";  // of labels
  for (const InputText& input : inputs) characters += input.text;
  for (const std::string& value : options.text.values) characters += value;
  const FontSet fonts = load_fonts(options.font.family, options.font.size, characters);
  std::optional<SoundSet> sounds;
  if (!options.typing.empty()) sounds = read_sounds(options.typing, wave_rate);
  std::vector<Take> takes;
  for (std::size_t t = 0; t < paces.size(); ++t) {
    takes.push_back(make_take(inputs[std::min(t, inputs.size() - 1)], options, paces[t], fonts,
                              sounds, status));
    if (paces.size() > 1 || !options.pace.file.empty()) takes[t].name = names[t];
  }
  std::vector<ChartTrack> tracks;
  tracks.reserve(takes.size());
  for (const Take& take : takes) tracks.push_back(take.track());
  auto canvas = paint_chart(tracks, fonts, chart, kind);
  if (!canvas) throw Failure(wrong_usage, canvas.error().message);
  write_file(options.output, canvas->file());
  print_out("{}\n", options.output);
}

}  // namespace

void add_chart_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<ChartCommandOptions>();
  CLI::App* command = app.add_subcommand("chart", "Draw the rhythm of a line as PNG or SVG");
  command->footer(
      "Each character stands at the time at which it appears; rests are filled, holds are double\n"
      "strokes, marks and sounds flags; with --typing each typing sound is a pennant in the "
      "waveform.\n"
      "With --voice the recording stands under the text, with a stem from each word to its sound.\n"
      "Below, characters over time beside how fast people read.");
  add_text_options(*command, options->text);
  add_pace_options(*command, options->pace);
  add_typing_option(*command, options->typing);
  add_voice_options(*command, options->voice);
  add_confidence_option(*command, options->voice.least_confidence);
  command->add_option("--compare", options->compare, "Draw a second pace on the same axis")
      ->type_name("FILE[#NAME]");
  command
      ->add_option("--with", options->other_file, "Draw the line of another file beside this one")
      ->type_name("FILE");
  command
      ->add_option("--reading", options->reading,
                   "How fast people read, slow to fast, in letters a second; fewer characters "
                   "of scripts that say more in one")
      ->capture_default_str()
      ->type_name("SLOW-FAST");
  command->add_option("-w,--width", options->width, "Width of the picture in pixels, 480 to 8000")
      ->capture_default_str()
      ->type_name("PIXELS");
  add_font_options(*command, options->font);
  command->add_option("-o,--output", options->output, "The file to write, .png or .svg")
      ->capture_default_str()
      ->type_name("FILE");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
