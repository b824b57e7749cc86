// Every event and every sound of the demo script, with its time: a conversation that goes on by
// itself, sixty frames a second. With a locale it goes over to that language after ten seconds, in
// the middle of a line. demo_events.c, demo_events.py and demo_events.lua do the same through the C
// interface and print the same.
//
// Usage: demo_events SCRIPT [LOCALE]

#include <arvik/arvik.hpp>
#include <arvik/script_player.hpp>
#include <cinttypes>
#include <cstdio>

int main(int argc, char** argv) {
  if (argc != 2 && argc != 3) {
    std::fprintf(stderr, "usage: demo_events SCRIPT [LOCALE]\n");
    return 2;
  }
  auto script = arvik::load_script(argv[1]);
  if (!script) {
    std::fprintf(stderr, "%s\n", script.error()[0].message.c_str());
    return 1;
  }
  const arvik::GridFont grid;
  arvik::ScriptPlayerOptions options{.settings = {.play_by_itself = true}};
  options.values.value = [](std::string_view name) {
    return name == "keeper" ? std::optional<std::string>("Pell") : std::nullopt;
  };
  auto player = arvik::ScriptPlayer::open(std::make_shared<const arvik::Script>(std::move(*script)),
                                          grid, std::move(options));
  if (!player || !player->start()) return 1;
  arvik::Conversation& talk = player->conversation();
  bool goes_over = argc == 3;
  while (talk.state() != arvik::ConversationState::closed) {
    if (goes_over && talk.clock() >= std::chrono::seconds(10)) {
      goes_over = false;
      if (const auto gone = player->set_locale(argv[2]); !gone) {
        std::fprintf(stderr, "%s\n", gone.error().message.c_str());
        return 1;
      }
    }
    for (const arvik::ConversationEvent& event : talk.tick(arvik::Nanoseconds(16'666'667))) {
      const bool of_line = event.event != nullptr;
      const std::string_view kind =
          of_line ? event_kind_name(event.event->kind) : conversation_event_name(event.kind);
      const std::string name(of_line ? event.event->name : event.portrait);
      std::printf("%" PRId64 " line %u %.*s%s%s\n", static_cast<std::int64_t>(event.time.count()),
                  event.line, static_cast<int>(kind.size()), kind.data(), name.empty() ? "" : " ",
                  name.c_str());
    }
    for (const arvik::SoundEvent& sound : talk.sounds()) {
      const std::string name(sound.name);
      std::printf("%" PRId64 " sound %s %s %.4f st %.2f dB\n",
                  static_cast<std::int64_t>(sound.time.count()),
                  sound_event_name(sound.kind).data(), name.c_str(),
                  static_cast<double>(sound.pitch), static_cast<double>(sound.gain));
    }
  }
}
