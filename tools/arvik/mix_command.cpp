#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "arvik/mixer.hpp"
#include "commands.hpp"
#include "input.hpp"
#include "output.hpp"
#include "report.hpp"
#include "script_input.hpp"
#include "sound_input.hpp"

namespace arvik::tool {
namespace {

constexpr Nanoseconds tick_length = std::chrono::milliseconds(250);
constexpr Nanoseconds longest = std::chrono::hours(2);

struct MixCommandOptions {
  TextOptions text;  ///< TEXT may be a script, too
  std::string conversation;
  std::string locale;
  PaceOptions pace;
  std::string typing;
  std::string speed = "x1";
  std::vector<std::string> skips;
  std::optional<std::uint64_t> seed;
  int rate = 48'000;
  bool mono = false;
  bool as_float = false;
  std::string output = "mix.wav";
};

// What is said, and what it needs.
struct MixPiece {
  std::shared_ptr<const Script> script;  ///< a single line is one, too
  std::string conversation;
  Vocabulary values;
  SoundSet sounds;
  bool ends_with_text = false;  ///< nobody has to read it before something else comes
};

MixPiece read_piece(const MixCommandOptions& options, ExitStatus& status) {
  if (options.text.text.ends_with(".json")) {
    const PaceOptions& pace = options.pace;
    if (!options.typing.empty() || !pace.file.empty() || !pace.rate.empty() || pace.unit ||
        !pace.fit.empty()) {
      throw Failure(wrong_usage,
                    "a script brings its own paces and sounds: --pace, --rate, --by, --fit and "
                    "--typing are for a single line");
    }
    const std::string& path = options.text.text;
    const auto script = read_script(path, options.locale);
    const ScriptConversation& found = find_conversation(*script, path, options.conversation);
    const Vocabulary vocabulary = read_vocabulary(options.text);
    check_values(found, path, vocabulary, status);
    return {.script = script,
            .conversation = found.name,
            .values = vocabulary,
            .sounds = read_sounds(*script, path, options.rate)};
  }
  if (!options.conversation.empty()) {
    throw Failure(wrong_usage, quoted_word(options.conversation) +
                                   ": only a script has conversations, and its name ends in .json");
  }
  const InputText input = read_line(options.text);
  Vocabulary vocabulary = read_vocabulary(options.text);
  const MarkedText marked = parse(input.text, vocabulary);
  report(input.name, input.text, marked.diagnostics);
  if (has_errors(marked.diagnostics)) status = input_has_errors;
  SoundSet sounds;
  if (!options.typing.empty()) sounds = read_sounds(options.typing, options.rate);
  DialogueLine line{
      .text = input.text, .pace = read_pace(options.pace), .typing = sounds.begin_with};
  Script script{.locale = open_language(options.text).tag(), .sounds = sounds.sounds};
  script.conversations.push_back({.name = "line", .lines = {std::move(line)}});
  return {.script = std::make_shared<const Script>(std::move(script)),
          .conversation = "line",
          .values = std::move(vocabulary),
          .sounds = std::move(sounds),
          .ends_with_text = true};
}

// Everything that is heard, in order.
struct Performance {
  std::vector<MixEvent> mix_events;
  Nanoseconds length{};
  std::array<std::size_t, 8> counts{};  // by kind of event
  std::uint32_t swallowed = 0;
};

// Nobody is there to choose: the first answer that can be given.
void choose(Conversation& talk) {
  const auto choices = talk.view().choices;
  for (std::size_t i = 0; i < choices.size(); ++i) {
    if (!choices[i].available) continue;
    if (const auto chosen = talk.choose(i); !chosen) {
      throw Failure(input_has_errors, chosen.error().message);
    }
    return;
  }
}

Performance perform(Conversation& talk, bool ends_with_text, MixEventMaker& make,
                    const std::vector<Nanoseconds>& skips) {
  Performance result;
  std::optional<Nanoseconds> finish;
  const auto tick = [&](Nanoseconds time, Buttons buttons) {
    for (const ConversationEvent& event : talk.tick(time, buttons)) {
      if (event.kind == ConversationEventKind::line_finished) finish = event.time;
    }
    for (const SoundEvent& event : talk.sounds()) {
      const auto mix_event = make(event);
      if (!mix_event) continue;
      ++result.counts[static_cast<std::size_t>(event.kind)];
      result.mix_events.push_back(*mix_event);
    }
  };
  auto skip = skips.begin();
  while (talk.state() != ConversationState::closed && !(ends_with_text && finish)) {
    if (talk.clock() > longest) {
      throw Failure(input_has_errors, "longer than two hours: mix a part of it");
    }
    Nanoseconds time = tick_length;
    if (skip != skips.end()) time = std::min(time, *skip - talk.clock());
    tick(time, {});
    if (talk.state() == ConversationState::choosing) choose(talk);
    if (skip == skips.end() || talk.clock() < *skip) continue;
    tick(Nanoseconds::zero(), {.skip = true});
    tick(Nanoseconds::zero(), {});
    ++skip;
  }
  result.length = ends_with_text ? finish.value_or(Nanoseconds::zero()) : talk.clock();
  result.swallowed = talk.swallowed_sounds();
  return result;
}

std::int32_t read_speed(const std::string& word) {
  const auto change = parse_rate_change(word);
  if (!change || !change->relative) {
    throw Failure(wrong_usage, "--speed: " + quoted_word(word) +
                                   " is no speed: write it like x2, from x0.01 to x100");
  }
  return static_cast<std::int32_t>(std::lround(change->value * Reveal::normal_speed));
}

std::vector<Nanoseconds> read_skips(const std::vector<std::string>& words) {
  std::vector<Nanoseconds> skips;
  for (const std::string& word : words) {
    const auto time = parse_time(word);
    if (!time) throw Failure(wrong_usage, "--skip-at: " + time.error());
    skips.push_back(*time);
  }
  std::sort(skips.begin(), skips.end());
  return skips;
}

std::string loudness(float peak) {
  if (peak <= 0) return "none, the file is silent";
  return fmt::format("{:.1f} dB of full scale", 20 * std::log10(peak));
}

void print_summary(const MixCommandOptions& options, const Performance& heard,
                   const MixResult& mixed) {
  const auto count = [&](SoundEventKind kind) {
    return heard.counts[static_cast<std::size_t>(kind)];
  };
  print_out("{}: {:.3f} s, {} Hz, {}, {}\n", options.output,
            static_cast<double>(mixed.frames) / options.rate, options.rate,
            options.mono ? "mono" : "stereo", options.as_float ? "32 bit float" : "16 bit");
  print_out("  typing sounds  {:6}   {} more were swallowed by their gaps\n",
            count(SoundEventKind::typing), heard.swallowed);
  print_out("  loops          {:6}\n", count(SoundEventKind::loop_begin));
  print_out("  one-off sounds {:6}\n", count(SoundEventKind::clip));
  print_out("  voices         {:6}\n", count(SoundEventKind::voice_begin));
  const float peak = mixed.lowered_by > 0 ? mix_ceiling : mixed.peak;
  print_out("  loudest peak   {}", loudness(peak));
  if (mixed.lowered_by >= 0.05F) {
    print_out("; the mix was lowered by {:.1f} dB for it", mixed.lowered_by);
  }
  print_out("\n");
}

// With a bar that counts seconds of the mix.
MixResult write(const MixCommandOptions& options, const Performance& heard,
                const MixOptions& mixing) {
  const double seconds = std::ceil(in_seconds(heard.length));
  ProgressBar bar(static_cast<std::size_t>(seconds));
  OutputFile file(options.output);
  auto mixed = write_mix(file.path().string(), heard.mix_events, heard.length, mixing,
                         options.as_float ? WavFormat::float32 : WavFormat::int16,
                         [&](double done) { bar.set(static_cast<std::size_t>(done * seconds)); });
  if (!mixed) throw Failure(wrong_usage, mixed.error().message);
  file.commit();
  return *mixed;
}

void run(const MixCommandOptions& options, ExitStatus& status) {
  check_ending(options.output, {".wav"});
  MixPiece piece = read_piece(options, status);
  if (options.seed) {
    auto seeded = std::make_shared<Script>(*piece.script);
    for (TypingSound& sound : seeded->sounds) sound.seed = *options.seed;
    piece.script = std::move(seeded);
  }
  const MixOptions mixing{.rate = options.rate, .channels = options.mono ? 1 : 2};
  ConversationSettings settings{.play_by_itself = true};
  settings.player.speeds = {{.name = "", .thousandths = read_speed(options.speed)}};
  settings.player.speed = 0;
  settings.voice_length = [&](std::string_view voice) { return piece.sounds.bank.length(voice); };
  const GridFont font;
  ScriptPlayer player =
      open_player(piece.script, font, {.settings = settings, .values = piece.values});
  Conversation& talk = player.conversation();
  if (const auto started = player.start(piece.conversation); !started) {
    throw Failure(input_has_errors, started.error().message);
  }
  MixEventMaker make(piece.sounds.bank, mixing);
  const Performance heard = perform(talk, piece.ends_with_text, make, read_skips(options.skips));
  report_missing(make);
  if (piece.sounds.sounds.empty()) {
    fmt::print(stderr, "arvik: warning: no typing sound was given: see {}\n",
               options.text.text.ends_with(".json") ? "\"sounds\" in docs/sound.md" : "--typing");
  }
  print_summary(options, heard, write(options, heard, mixing));
}

}  // namespace

void add_mix_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<MixCommandOptions>();
  CLI::App* command =
      app.add_subcommand("mix", "Mix the sounds of a line or a conversation into a WAV file");
  command->footer(
      "TEXT that ends in .json is a script, whose own sounds, clips and voices are mixed; it goes\n"
      "on by itself when lines can be read, and so do holds. A sound at time t starts at sample\n"
      "t · rate, rounded.");
  add_text_options(*command, options->text);
  command
      ->add_option("CONVERSATION", options->conversation,
                   "The conversation of a script; default the first")
      ->type_name(" ");
  add_pace_options(*command, options->pace);
  add_typing_option(*command, options->typing);
  command->add_option("--locale", options->locale, "Speak in this locale of the script, like pl")
      ->type_name("TAG");
  command->add_option("--speed", options->speed, "The player's text speed")
      ->capture_default_str()
      ->type_name("FACTOR");
  command->add_option("--skip-at", options->skips, "Skip at this time; repeat it for several")
      ->allow_extra_args(false)
      ->type_name("TIME");
  command->add_option("--seed", options->seed, "Replace the seed of all sounds")->type_name("N");
  command->add_option("--sample-rate", options->rate, "Frames per second, 8000 to 192000")
      ->check(CLI::Range(min_audio_rate, max_audio_rate))
      ->capture_default_str()
      ->type_name("HZ");
  command->add_flag("--mono", options->mono, "One channel");
  command->add_flag("--float", options->as_float, "32 bit floating point instead of 16 bit");
  command->add_option("-o,--output", options->output, "The file to write")
      ->capture_default_str()
      ->type_name("FILE");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
