#include "arvik/conversation.hpp"
#include "arvik/place_file.hpp"
#include "arvik/script_file.hpp"
#include "fuzz/targets.hpp"

namespace arvik::fuzz {
namespace {

std::vector<DialogueLine> lines_of(std::string_view text) {
  std::vector<DialogueLine> lines;
  while (lines.size() < 6 && !text.empty()) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    DialogueLine& line = lines.emplace_back();
    line.text = text.substr(0, end);
    line.typing = "t";
    const std::size_t kind = text.size() % 7;
    line.append = kind == 1 && lines.size() > 1;
    line.instant = kind == 2;
    line.skippable = kind != 3;
    if (kind == 4) line.automatic = AutoAdvance{.after = std::chrono::milliseconds(50)};
    if (kind == 5) line.voice = "v";
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  return lines;
}

}  // namespace

// The bytes up to the first NUL are lines; each of the others is something that happens.
std::string fuzz_conversation(Bytes bytes) {
  static Typesetter typesetter(Language::open("en").value());
  static const GridFont font;
  const std::string_view all(reinterpret_cast<const char*>(bytes.data()), bytes.size());
  const std::size_t nul = std::min(all.find('\0'), all.size());
  const std::vector<DialogueLine> lines = lines_of(all.substr(0, nul));
  Conversation talk(typesetter, font, Box{.width = 20, .max_rows = 2},
                    {.hurry_after = std::chrono::milliseconds(200),
                     .voice_length = [](std::string_view) { return Nanoseconds(90'000'000); },
                     .sounds = {{.name = "t", .samples = {"s"}}}});
  if (!talk.start(lines)) return "good lines were refused";
  std::size_t closed = 0;
  Nanoseconds last{};
  const auto look = [&](std::span<const ConversationEvent> events) -> std::string {
    for (const ConversationEvent& event : events) {
      if (event.time < last) return "events run backwards";
      last = event.time;
      if (event.kind == ConversationEventKind::closed) ++closed;
    }
    const ConversationView view = talk.view();
    if (view.block != nullptr && view.shown > view.block->steps.size()) {
      return "more is shown than there is";
    }
    return {};
  };
  for (std::size_t i = std::min(nul + 1, all.size()); i < all.size(); ++i) {
    const auto byte = static_cast<unsigned char>(all[i]);
    std::string broken;
    switch (byte % 8) {
      case 0:
        talk.paused() ? talk.resume() : talk.pause();
        break;
      case 1:
        if (!talk.set_box({.width = static_cast<float>(1 + byte / 8),
                           .max_rows = static_cast<std::uint32_t>(byte / 64)})) {
          return "a good box was refused";
        }
        break;
      case 2: {
        const ConversationPlace place = talk.place();
        const auto again = read_place(write_place(place));
        if (!again || *again != place) return "a place changes on its way";
        talk.stop();
        if (!talk.start_at(lines, place)) return "a place of its own was refused";
        last = place.times.clock;
        closed = talk.state() == ConversationState::closed ? 1 : 0;
        break;
      }
      default:
        broken = look(talk.tick(std::chrono::milliseconds(byte),
                                {.advance = (byte & 16U) != 0, .skip = (byte & 64U) != 0}));
        break;
    }
    if (!broken.empty()) return broken;
    if (closed > 1) return "closed twice";
  }
  return {};
}

}  // namespace arvik::fuzz
