// From a script to what is on the screen, step by step as docs/conversation.md tells it. The engine
// is a stand-in that writes what it is told.

#include <arvik/arvik.hpp>
#include <arvik/font_set.hpp>
#include <arvik/place_file.hpp>
#include <arvik/read_file.hpp>
#include <arvik/script_player.hpp>
#include <cstdio>
#include <string>

namespace {

const char* const json = R"({
  "arvik_script": 1,
  "cast": {"pell": {"name": "Pell", "color": "#e0a458", "typing": "reed"}},
  "styles": {"dread": ["i"]},
  "sounds": {"reed": {"samples": ["reed.wav"], "gap": "200ms"}},
  "conversations": {
    "low_water": [
      {"id": "low_01", "speaker": "pell", "text": "What do we [mark lamp-flickers]do, [style dread: Odrun]?",
       "choices": [{"id": "low_open", "text": "Open the valve.", "leads_to": "blue_valve"},
                   {"id": "low_leave", "text": "Say nothing."}]}],
    "blue_valve": [{"id": "blue_01", "text": "It opens."}]}
})";

struct Game {
  void on(const arvik::ConversationEvent& event) const {
    const bool of_line = event.event != nullptr;
    std::printf("  %s %s\n",
                of_line ? event_kind_name(event.event->kind).data()
                        : conversation_event_name(event.kind).data(),
                of_line ? event.event->name.c_str() : "");
  }
};

struct Mixer {
  int played = 0;
  void play(const arvik::SoundEvent&, arvik::Nanoseconds) { ++played; }
};

struct Canvas {
  arvik::Frame frame{};
  std::size_t glyphs = 0;
  void draw_glyph(const arvik::Glyph&, float, float, float) { ++glyphs; }
};

arvik::ScriptPlayer open_script(const arvik::Font& font, const arvik::Box& box) {
  auto script = std::make_shared<const arvik::Script>(arvik::parse_script(json).value());
  auto player = arvik::ScriptPlayer::open(script, font, {.box = box}).value();
  if (auto started = player.start("low_water"); !started) {
    std::fprintf(stderr, "%s\n", started.error().message.c_str());
  }
  return player;
}

void every_frame(arvik::Conversation& talk, arvik::Nanoseconds frame_time, bool button_is_down,
                 const Game& game, Mixer& mixer) {
  const arvik::Nanoseconds begin = talk.clock();
  for (const arvik::ConversationEvent& event : talk.tick(frame_time, {.advance = button_is_down})) {
    game.on(event);  // marks, holds, line_started, closed, …
  }
  for (const arvik::SoundEvent& sound : talk.sounds()) mixer.play(sound, sound.time - begin);
}

void draw(const arvik::ConversationView& view, Canvas& canvas, float x, float y) {
  if (view.block == nullptr) return;
  const arvik::Layout& layout = view.block->layout;
  make_frame(layout, view.steps, view.now, {.entrance = arvik::Entrance::fade}, canvas.frame);
  for (const arvik::FrameGlyph& now : canvas.frame.glyphs) {
    const arvik::Glyph& glyph = layout.glyphs[now.glyph];
    canvas.draw_glyph(glyph, x + glyph.x, y + glyph.y + now.dy, now.opacity);
  }
}

std::string save(const arvik::Conversation& talk) { return write_place(talk.place()); }

bool load(const std::string& saved, arvik::ScriptPlayer& player) {
  const auto place = arvik::read_place(saved);
  return place && player.start_at(*place);
}

bool script_was_saved(const std::string& text, arvik::ScriptPlayer& player) {
  auto script = arvik::parse_script(text);
  return script && player.set_script(std::make_shared<const arvik::Script>(std::move(*script)));
}

}  // namespace

int main() {
  using namespace std::chrono_literals;
  const auto bytes = std::make_shared<const std::string>(
      arvik::read_file("/usr/share/fonts/truetype/noto/NotoSerif-Regular.ttf").value());
  const arvik::FontSet font = arvik::FontSet::make({{.data = bytes}}, 28).value();
  arvik::ScriptPlayer player = open_script(font, {.width = 600, .height = 120});
  arvik::Conversation& talk = player.conversation();
  const Game game;
  Mixer mixer;
  Canvas canvas;

  for (int i = 0; i < 30; ++i) every_frame(talk, 16'666'667ns, false, game, mixer);
  draw(talk.view(), canvas, 60, 360);
  std::printf("drawn: %zu glyphs, heard: %d sounds\n", canvas.glyphs, mixer.played);
  const std::string saved = save(talk);

  // While it runs, the writer changes a word, and the script is read again.
  std::string text = json;
  text.replace(text.find("What do we"), 10, "And what do we");
  std::printf("read again: %s\n", script_was_saved(text, player) ? "yes" : "no");
  std::printf("now: %s\n", talk.view().block->marked.text.c_str());
  every_frame(talk, 5s, false, game, mixer);
  for (const arvik::ChoiceText& choice : talk.view().choices) {
    std::printf("answer: %s\n", choice.marked.text.c_str());
  }
  if (!talk.choose(0)) return 1;
  every_frame(talk, 5s, false, game, mixer);

  talk.stop();
  std::printf("loaded: %s\n", load(saved, player) ? "yes" : "no");
  std::printf("stands at: %s\n", talk.place().line.c_str());
}
