#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "commands.hpp"
#include "input.hpp"
#include "output.hpp"
#include "play_screen.hpp"
#include "script_input.hpp"

namespace arvik::tool {
namespace {

using nlohmann::ordered_json;

constexpr std::size_t most_ticks = 20'000'000;

struct PlayOptions {
  std::string script;
  std::string conversation;
  std::vector<std::string> presses;
  std::vector<std::string> held;
  std::vector<std::string> values;
  std::string frame = "16ms";
  std::string locale;
  std::vector<std::size_t> choices;
  bool log = false;
  bool watch = false;
  bool by_itself = false;
};

// When the button is down on the simulated clock.
struct Press {
  Nanoseconds begin{};
  Nanoseconds end{};
};

Nanoseconds read_option_time(const std::string& option, std::string_view word) {
  const auto time = parse_time(word);
  if (!time) throw Failure(wrong_usage, option + ": " + time.error());
  return *time;
}

// One length or several, which come one after the other, again and again.
std::vector<Nanoseconds> read_frames(std::string_view words) {
  std::vector<Nanoseconds> frames;
  while (!words.empty()) {
    const std::size_t comma = std::min(words.find(','), words.size());
    frames.push_back(read_option_time("--frame", words.substr(0, comma)));
    words.remove_prefix(std::min(comma + 1, words.size()));
    if (frames.back() <= Nanoseconds::zero())
      throw Failure(wrong_usage, "--frame needs more than 0");
  }
  if (frames.empty()) throw Failure(wrong_usage, "--frame needs a time");
  return frames;
}

std::vector<Press> read_presses(const PlayOptions& options, Nanoseconds frame) {
  std::vector<Press> presses;
  for (const std::string& word : options.presses) {
    const Nanoseconds begin = read_option_time("--press", word);
    presses.push_back({begin, begin + frame});
  }
  for (const std::string& word : options.held) {
    const std::size_t dots = word.find("..");
    if (dots == std::string::npos) {
      throw Failure(wrong_usage, "--hold-button: " + quoted_word(word) +
                                     " is not of the form FROM..TO, like 2s..3.5s");
    }
    const Press press{read_option_time("--hold-button", std::string_view(word).substr(0, dots)),
                      read_option_time("--hold-button", std::string_view(word).substr(dots + 2))};
    if (press.end <= press.begin) {
      throw Failure(wrong_usage, "--hold-button: " + quoted_word(word) +
                                     " ends before it begins: write it like 2s..3.5s");
    }
    presses.push_back(press);
  }
  std::sort(presses.begin(), presses.end(),
            [](const Press& a, const Press& b) { return a.begin < b.begin; });
  return presses;
}

// An event's line is one of its block's lines: the conversation may have gone on to others.
std::string json_of(const ConversationEvent& event) {
  static const std::vector<DialogueLine> none;
  const std::vector<DialogueLine>& lines = event.block ? *event.block->source : none;
  ordered_json json = {{"time_us", in_microseconds(event.time)}};
  json["event"] = event.event ? std::string(event_kind_name(event.event->kind))
                              : std::string(conversation_event_name(event.kind));
  if (event.line < lines.size()) {
    json["line"] = event.line;
    if (!lines[event.line].id.empty()) json["id"] = lines[event.line].id;
  }
  if (event.kind == ConversationEventKind::line_started) {
    json["speaker"] = lines[event.line].speaker;
    json["portrait"] = event.portrait;
    if (!lines[event.line].voice.empty()) json["voice"] = lines[event.line].voice;
  }
  if (event.kind == ConversationEventKind::portrait_changed) json["portrait"] = event.portrait;
  if (event.kind == ConversationEventKind::choosing) {
    json["answers"] = ordered_json::array();
    for (const ChoiceText& choice : event.block->line(event.line).choices) {
      ordered_json answer = {{"text", choice.marked.text}};
      if (!choice.id.empty()) answer["id"] = choice.id;
      if (!choice.available) answer["available"] = false;
      json["answers"].push_back(std::move(answer));
    }
  }
  if (event.kind == ConversationEventKind::chosen) json["answer"] = event.choice + 1;
  if (event.event) {
    if (!event.event->name.empty()) json["name"] = event.event->name;
    json["step"] = event.event->step;
    for (const Attribute& attribute : event.event->attributes) {
      json["attributes"][attribute.key] = attribute.value;
    }
  }
  if (event.skipped) json["skipped"] = true;
  return json_text(json) + "\n";
}

// On a simulated clock, without waiting, until it has closed or nothing more can happen.
void write_log(Conversation& talk, const PlayOptions& options) {
  const std::vector<Nanoseconds> frames = read_frames(options.frame);
  const std::vector<Press> presses =
      read_presses(options, *std::max_element(frames.begin(), frames.end()));
  Nanoseconds last_press{};
  for (const Press& press : presses) last_press = std::max(last_press, press.end);
  Nanoseconds now{};
  std::size_t next_choice = 0;
  for (std::size_t tick = 0; talk.state() != ConversationState::closed; ++tick) {
    if (tick > most_ticks) throw Failure(input_has_errors, "the log would have no end");
    Buttons buttons;
    for (const Press& press : presses) {
      buttons.advance = buttons.advance || (press.begin <= now && now < press.end);
    }
    const Nanoseconds frame = frames[tick % frames.size()];
    for (const ConversationEvent& event : talk.tick(frame, buttons)) {
      write_out(json_of(event));
    }
    now += frame;
    if (talk.state() == ConversationState::choosing) {
      if (next_choice == options.choices.size()) return;  // it waits for ever
      const std::size_t choice = options.choices[next_choice++];
      if (const auto chosen = talk.choose(choice - 1); !chosen) {
        throw Failure(wrong_usage, fmt::format("--choose {}: {}", choice, chosen.error().message));
      }
      continue;
    }
    const bool stands =
        talk.state() == ConversationState::waiting || talk.state() == ConversationState::holding;
    if (!stands || now <= last_press) continue;
    const bool goes_on = talk.lines()[talk.line()].automatic || options.by_itself;
    if (!goes_on) return;  // it waits for ever
  }
}

void run(const PlayOptions& options, ExitStatus& status) {
  TextOptions text;
  text.values = options.values;
  const auto script = read_script(options.script, options.locale);
  const Vocabulary vocabulary = read_vocabulary(text);
  const ScriptConversation& conversation =
      find_conversation(*script, options.script, options.conversation);
  check_values(conversation, options.script, vocabulary, status);
  const bool live = isatty(STDOUT_FILENO) != 0 && !options.log;
  if (options.watch && !live) throw Failure(wrong_usage, "--watch needs a terminal to play in");
  if (live) {
    play_on_screen(script, conversation.name,
                   {.path = options.script,
                    .watch = options.watch,
                    .by_itself = options.by_itself,
                    .values = vocabulary});
    return;
  }
  const GridFont font;
  ScriptPlayer player = open_player(
      script, font, {.settings = {.play_by_itself = options.by_itself}, .values = vocabulary});
  const auto started = player.start(conversation.name);
  if (!started) throw Failure(input_has_errors, started.error().message);
  write_log(player.conversation(), options);
}

}  // namespace

void add_play_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<PlayOptions>();
  CLI::App* command = app.add_subcommand("play", "Play a conversation of a script");
  command->footer(
      "On a terminal it plays with frame, name and portrait. With --log, or without a terminal, "
      "it\n"
      "writes one JSON object a row for every event, on a simulated clock that does not wait.");
  command->add_option("SCRIPT", options->script, "The script, a JSON file")
      ->required()
      ->type_name(" ");
  command->add_option("CONVERSATION", options->conversation, "Its name; default the first")
      ->type_name(" ");
  command->add_flag("--log", options->log, "Write events instead of playing");
  command
      ->add_option("--press", options->presses,
                   "Press the button at this time; repeat it for several")
      ->allow_extra_args(false)
      ->type_name("TIME");
  command->add_option("--hold-button", options->held, "Hold the button for a while, like 2s..3.5s")
      ->allow_extra_args(false)
      ->type_name("FROM..TO");
  command
      ->add_option("--choose", options->choices,
                   "Give this answer, counted from 1; repeat it for those that follow")
      ->allow_extra_args(false)
      ->check(CLI::PositiveNumber)
      ->type_name("N");
  command
      ->add_option("--frame", options->frame,
                   "The length of a frame in the log; several take turns: 7ms,31ms")
      ->capture_default_str()
      ->type_name("TIME");
  command->add_flag("--auto", options->by_itself,
                    "Go on without presses, after the time that reading takes");
  command->add_option("--locale", options->locale, "Play in this locale of the script, like pl")
      ->type_name("TAG");
  command->add_flag("--watch", options->watch, "Read the script again whenever it is saved");
  add_value_option(*command, options->values);
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
