// The Tide Clock in a window: how a game puts Arvik to use. The engine is SDL; it owns the loop,
// the renderer and the sound. Arvik says what is shown, where, and what is heard.
//
// Usage: tide_clock SCRIPT [--locale TAG] [--fonts DIR]
//
// Space, Return, the left mouse button or A on a game pad go on; S shows the rest; Escape or Start
// opens the menu; H the history; F1 shows what Arvik costs.

#include <SDL.h>

#include <algorithm>
#include <array>
#include <arvik/arvik.hpp>
#include <arvik/font_set.hpp>
#include <arvik/locale.hpp>
#include <arvik/read_file.hpp>
#include <arvik/script_player.hpp>
#include <chrono>
#include <cstdio>
#include <map>
#include <memory>
#include <set>
#include <stdexcept>
#include <utility>

#include "../../tools/live/frame_clock.hpp"
#include "allocations.hpp"
#include "art.hpp"
#include "glyphs.hpp"
#include "sound.hpp"

namespace {

using namespace std::chrono_literals;
using arvik::Nanoseconds;
using Clock = std::chrono::steady_clock;

constexpr float text_size = 30;
constexpr float label_size = 20;
constexpr arvik::Rect box_place{120, 556, 1040, 204};
constexpr float portrait_size = 150;
constexpr SDL_Color light{230, 228, 214, 255};
constexpr SDL_Color dark{44, 38, 33, 255};
constexpr SDL_Color faint{150, 160, 158, 255};
constexpr SDL_Color gold{224, 164, 88, 255};
constexpr Nanoseconds frame_time = 16'666'667ns;
constexpr Nanoseconds goodbye = 900ms;
constexpr std::size_t menu_size = 6;

struct Volume {
  const char* name;
  double decibels;
};
constexpr std::array<Volume, 4> volumes{
    {{"off", arvik::silence}, {"low", -18}, {"middle", -9}, {"full", -3}}};

std::runtime_error sdl_error() { return std::runtime_error(SDL_GetError()); }

// The game ships its fonts; this one takes them from where Debian puts them. Each locale of the
// script names the families that its texts want first; the others stand in for what those lack.
class Fonts {
 public:
  explicit Fonts(const std::string& folder) {
    for (const File& file : files) {
      auto data = arvik::read_file(folder + "/" + file.path);
      if (!data) {
        throw std::runtime_error(data.error().message +
                                 "\nThe fonts are those of Debian's fonts-noto-core and "
                                 "fonts-noto-cjk; --fonts says where they are.");
      }
      data_.push_back(std::make_shared<const std::string>(std::move(*data)));
    }
  }

  [[nodiscard]] arvik::FontSet make(const std::vector<std::string>& families, float size) const {
    std::vector<arvik::FontSource> sources;
    for (std::size_t i = 0; i < files.size(); ++i) {
      const auto wanted = std::find(families.begin(), families.end(), files[i].family);
      sources.push_back(
          {.data = data_[i],
           .bold = files[i].bold,
           .italic = files[i].italic,
           .family = static_cast<int>(wanted - families.begin()) * 10 + files[i].rank});
    }
    auto fonts = arvik::FontSet::make(std::move(sources), size);
    if (!fonts) throw std::runtime_error(fonts.error().message);
    return *fonts;
  }

 private:
  struct File {
    const char* path;
    const char* family;
    bool bold, italic;
    int rank;  // among those that nobody asks for
  };
  static constexpr std::array<File, 6> files{
      {{"NotoSerif-Regular.ttf", "Noto Serif", false, false, 0},
       {"NotoSerif-Bold.ttf", "Noto Serif", true, false, 0},
       {"NotoSerif-Italic.ttf", "Noto Serif", false, true, 0},
       {"NotoSerif-BoldItalic.ttf", "Noto Serif", true, true, 0},
       {"NotoNaskhArabic-Regular.ttf", "Noto Naskh Arabic", false, false, 1},
       {"../../opentype/noto/NotoSerifCJK-Regular.ttc", "Noto Serif CJK JP", false, false, 2}}};

  std::vector<std::shared_ptr<const std::string>> data_;  // of the files
};

// What a locale is written with, at the game's two sizes.
struct Typeface {
  arvik::FontSet text;
  arvik::FontSet label;
  GlyphRenderer text_glyphs;
  GlyphRenderer label_glyphs;

  Typeface(SDL_Renderer* renderer, const Fonts& fonts, const std::vector<std::string>& families)
      : text(fonts.make(families, text_size)),
        label(fonts.make(families, label_size)),
        text_glyphs(renderer, text),
        label_glyphs(renderer, label) {}
};

// Languages as their readers call them.
struct LanguageName {
  const char* locale;
  const char* name;
};
constexpr std::array<LanguageName, 5> language_names{
    {{"en", "English"}, {"pl", "Polski"}, {"de", "Deutsch"}, {"ja", "日本語"}, {"ar", "العربية"}}};

std::shared_ptr<const arvik::Script> load_script(const std::string& path,
                                                 const std::string& locale) {
  auto script = arvik::load_script(path);
  if (!script) {
    const arvik::Diagnostic& first = script.error()[0];
    throw std::runtime_error(path + ":" + std::to_string(first.row) + ": " + first.message);
  }
  auto shared = std::make_shared<const arvik::Script>(std::move(*script));
  if (locale.empty()) return shared;
  auto localized = in_locale(shared, locale);
  if (!localized) throw std::runtime_error(localized.error().message);
  return *localized;
}

arvik::Language open_language(const std::string& locale) {
  auto language = arvik::Language::open(locale);
  if (!language) throw std::runtime_error(language.error().message);
  return std::move(*language);
}

// What Arvik takes of a frame.
struct Cost {
  Nanoseconds sum{}, worst{}, last{};
  std::size_t frames = 0;
  std::size_t allocations = 0;  // in frames in which no line began

  void add(Nanoseconds time, std::size_t allocated, bool revealing) {
    last = time;
    if (!revealing) return;
    sum += time;
    worst = std::max(worst, time);
    ++frames;
    allocations += allocated;
  }
  [[nodiscard]] double mean_us() const {
    return frames == 0 ? 0 : static_cast<double>(sum.count()) / 1000 / static_cast<double>(frames);
  }
  [[nodiscard]] double percent() const { return mean_us() / 16'666.7 * 100; }
};

arvik::ScriptPlayer open_player(std::shared_ptr<const arvik::Script> script,
                                const arvik::Font& font, arvik::ScriptPlayerOptions options) {
  auto player = arvik::ScriptPlayer::open(std::move(script), font, std::move(options));
  if (!player) throw std::runtime_error(player.error().message);
  return std::move(*player);
}

// Two bubbles at once, each as large as its text, over whoever speaks.
struct Bubble {
  const char* target;
  const char* markup;
  arvik::Point2 head;
  double rate;
};
constexpr std::array<Bubble, 2> bubbles{
    {{"bubble-odrun", "Who walks on my pier at [b: this] hour?", Art::odrun_head, 24},
     {"bubble-pell", "Only me, Odrun. And the tide… I think.", Art::pell_head, 34}}};

class Game {
 public:
  Game(SDL_Renderer* renderer, const std::string& script_path, const std::string& fonts,
       const std::string& locale)
      : renderer_(renderer),
        art_(renderer),
        script_path_(script_path),
        sound_(clock_.is_driven()),
        fonts_(fonts),
        player_(open(load_script(script_path, locale))),
        talk_(player_.conversation()),
        typesetter_(open_language(player_.locale())),
        bubble_setter_(open_language("en")),
        bubble_face_(face_),
        stage_(bubble_setter_, bubble_face_->label) {
    set_volume(volume_);
    for (const Bubble& bubble : bubbles) start_bubble(bubble);
    stage_.set_focus(stage_.targets());
  }

  int run() {
    Nanoseconds last = clock_.now();
    while (running_ && !clock_.has_ended()) {
      const Nanoseconds now = clock_.now();
      for (SDL_Event event; SDL_PollEvent(&event) != 0;) handle(event);
      update(now - last);
      sound_.pass(now - last);
      last = now;
      draw();
      SDL_RenderPresent(renderer_);
      const Nanoseconds spent = clock_.now() - now;
      clock_.wait(std::chrono::duration_cast<std::chrono::milliseconds>(
          std::max(frame_time - spent, Nanoseconds::zero())));
    }
    std::printf(
        "%zu lines; Arvik took %.1f us a frame, %.2f %% of one at 60 Hz, at most %.1f us; "
        "%zu allocations while lines were revealed\n",
        lines_, cost_.mean_us(), cost_.percent(), static_cast<double>(cost_.worst.count()) / 1000,
        cost_.allocations);
    return finished_ ? 0 : 1;
  }

 private:
  arvik::ScriptPlayer open(std::shared_ptr<const arvik::Script> script) {
    sound_.load(*script, script_path_);
    face_ = &typeface(*script);
    return open_player(std::move(script), face_->text,
                       {.box = text_box(), .settings = settings(), .values = values()});
  }

  Typeface& typeface(const arvik::Script& script) {
    return typefaces_.try_emplace(script.locale, renderer_, fonts_, script.fonts).first->second;
  }

  // The next or the one before of the script's locales, while a line is under way.
  void change_language(std::size_t by) {
    const auto& locales = player_.script().locales;
    const auto now = std::find(locales.begin(), locales.end(), player_.locale());
    const std::size_t next = static_cast<std::size_t>(now - locales.begin()) + by;
    const std::string locale = locales[next % locales.size()];
    const auto script = in_locale(player_.shared_script(), locale);
    if (!script) throw std::runtime_error(script.error().message);
    sound_.load(**script, script_path_);
    Typeface& face = typeface(**script);
    if (const auto gone = player_.set_locale(locale, &face.text); !gone) {
      throw std::runtime_error(gone.error().message);
    }
    face_ = &face;
    typesetter_ = arvik::Typesetter(open_language(locale));
    labels_.clear();
    update_frame();
  }

  // The game's own words stand in the script's table, too.
  [[nodiscard]] std::string words(const char* key, const char* otherwise) const {
    const arvik::Script& script = player_.script();
    if (script.strings == nullptr) return otherwise;
    const auto found = script.strings->text(key, arvik::locale_chain(script.locale));
    return std::string(found.value_or(otherwise));
  }

  static arvik::Box text_box() {
    const float width = box_place.width - portrait_size - 3 * Art::frame_border - 30;
    return {.width = width, .max_rows = 3};
  }

  arvik::ConversationSettings settings() {
    return {.opening = 280ms,
            .closing = 220ms,
            .hurry_after = 450ms,
            .voice_length = [this](std::string_view clip) { return sound_.length_of(clip); }};
  }

  static arvik::Vocabulary values() {
    return {.value = [](std::string_view name) {
      return name == "keeper" ? std::optional<std::string>("Pell") : std::nullopt;
    }};
  }

  void start_bubble(const Bubble& bubble) {
    const float padding = Art::frame_border;
    std::vector<arvik::DialogueLine> lines(1);
    lines[0].text = bubble.markup;
    lines[0].pace = arvik::Pace{.rate = bubble.rate};
    const auto started = stage_.start(
        {.target = bubble.target,
         .lines = std::make_shared<const std::vector<arvik::DialogueLine>>(std::move(lines)),
         .box = {.width = 330,
                 .fit_to_text = true,
                 .padding = {padding, padding - 8, padding, padding - 8},
                 .balanced = true}});
    if (!started) throw std::runtime_error(started.error().message);
  }

  // --- input

  void handle(const SDL_Event& event) {
    switch (event.type) {
      case SDL_QUIT:
        running_ = false;
        break;
      case SDL_KEYDOWN:
        if (event.key.repeat == 0) key_down(event.key.keysym.sym);
        break;
      case SDL_KEYUP:
        held_.erase(event.key.keysym.sym);
        break;
      case SDL_MOUSEBUTTONDOWN:
        if (event.button.button == SDL_BUTTON_LEFT) advance(-1);
        break;
      case SDL_MOUSEBUTTONUP:
        held_.erase(-1);
        break;
      case SDL_CONTROLLERDEVICEADDED:
        SDL_GameControllerOpen(event.cdevice.which);
        break;
      case SDL_CONTROLLERBUTTONDOWN:
        pad_down(event.cbutton.button);
        break;
      case SDL_CONTROLLERBUTTONUP:
        if (event.cbutton.button == SDL_CONTROLLER_BUTTON_A) held_.erase(-2);
        break;
      default:
        break;
    }
  }

  void pad_down(Uint8 button) {
    switch (button) {
      case SDL_CONTROLLER_BUTTON_A:
        return menu_open_ ? choose() : advance(-2);
      case SDL_CONTROLLER_BUTTON_START:
        return key_down(SDLK_ESCAPE);
      case SDL_CONTROLLER_BUTTON_DPAD_UP:
        return key_down(SDLK_UP);
      case SDL_CONTROLLER_BUTTON_DPAD_DOWN:
        return key_down(SDLK_DOWN);
      case SDL_CONTROLLER_BUTTON_DPAD_LEFT:
        return key_down(SDLK_LEFT);
      case SDL_CONTROLLER_BUTTON_DPAD_RIGHT:
        return key_down(SDLK_RIGHT);
      default:
        return;
    }
  }

  void key_down(SDL_Keycode key) {
    if (key == SDLK_F1) {
      show_cost_ = !show_cost_;
    } else if (reading_back_) {
      if (key == SDLK_h || key == SDLK_ESCAPE || key == SDLK_RETURN || key == SDLK_SPACE) {
        reading_back_ = false;
      }
    } else if (menu_open_) {
      menu_key(key);
    } else if (key == SDLK_SPACE || key == SDLK_RETURN) {
      advance(key);
    } else if (key == SDLK_s) {
      held_.insert(key);
    } else if (key == SDLK_h) {
      open_history();
    } else if (key == SDLK_ESCAPE) {
      open_menu(true);
    }
  }

  // The button's raw state is all that a conversation asks for: that one press does one thing, and
  // what a held button does, is its own business.
  void advance(int source) {
    if (reading_back_ || menu_open_) return;
    held_.insert(source);
    tapped_ = true;
  }

  void open_menu(bool open) {
    menu_open_ = open;
    menu_item_ = 0;
    if (open) {
      talk_.pause();
      stage_.pause();
      sound_.pause(true);
    } else {
      talk_.resume();
      stage_.resume();
      sound_.pause(false);
    }
  }

  [[nodiscard]] const std::vector<arvik::PlayerSpeed>& speeds() const {
    return stage_.player().speeds;
  }
  [[nodiscard]] std::size_t speed() const { return stage_.player().speed; }

  void set_speed(std::size_t speed) {
    arvik::PlayerSettings choices = stage_.player();
    choices.speed = speed;
    for (const auto& set : {talk_.set_player(choices), stage_.set_player(choices)}) {
      if (!set) throw std::runtime_error(set.error().message);
    }
  }

  void menu_key(SDL_Keycode key) {
    const std::size_t last = speeds().size() - 1;
    switch (key) {
      case SDLK_ESCAPE:
        return open_menu(false);
      case SDLK_UP:
        menu_item_ = (menu_item_ + menu_size - 1) % menu_size;
        return;
      case SDLK_DOWN:
        menu_item_ = (menu_item_ + 1) % menu_size;
        return;
      case SDLK_LEFT:
        if (menu_item_ == 1 && speed() > 0) set_speed(speed() - 1);
        if (menu_item_ == 2 && volume_ > 0) set_volume(volume_ - 1);
        if (menu_item_ == 3) change_language(player_.script().locales.size() - 1);
        return;
      case SDLK_RIGHT:
        if (menu_item_ == 1) set_speed(std::min(speed() + 1, last));
        if (menu_item_ == 2) set_volume(std::min(volume_ + 1, volumes.size() - 1));
        if (menu_item_ == 3) change_language(1);
        return;
      case SDLK_RETURN:
      case SDLK_SPACE:
        return choose();
      default:
        return;
    }
  }

  void choose() {
    if (menu_item_ == 0) open_menu(false);
    if (menu_item_ == 1) set_speed((speed() + 1) % speeds().size());
    if (menu_item_ == 2) set_volume((volume_ + 1) % volumes.size());
    if (menu_item_ == 3) change_language(1);
    if (menu_item_ == 4) open_history();
    if (menu_item_ == 5) running_ = false;
  }

  void set_volume(std::size_t volume) {
    volume_ = volume;
    sound_.set_volume(volumes[volume].decibels);
  }

  void open_history() {
    std::string all;
    const std::vector<arvik::HistoryEntry> entries = talk_.history();
    const std::size_t count = std::min<std::size_t>(entries.size(), 9);
    for (std::size_t i = entries.size() - count; i < entries.size(); ++i) {
      const arvik::Speaker* speaker = player_.script().find_speaker(entries[i].speaker);
      if (speaker != nullptr) all += "[color #e0a458: " + arvik::escape(speaker->name) + "]  ";
      all += arvik::escape(entries[i].text) + "[br]";
    }
    if (all.empty()) all = words("ui.nothing", "Nothing was said yet.");
    history_ = lay_out_label(all, 1000);
    reading_back_ = true;
  }

  // --- time

  void update(Nanoseconds time) {
    if (!stage_.targets().empty()) return stage_.tick(time, {.advance = is_pressed()});
    if (talk_.state() == arvik::ConversationState::closed) {
      if (!start_next()) {
        ending_ += time;
        if (ending_ > goodbye) running_ = false;
        finished_ = true;
      }
      return;
    }
    const Nanoseconds begin = talk_.clock();
    const std::uint32_t line = talk_.line();
    const bool advance = is_pressed();
    const bool was_in_line = is_in_line();

    // All that Arvik does in a frame: the tick, and what to draw.
    const std::size_t allocated = allocations_so_far();
    const auto from = Clock::now();
    if (const auto position = sound_.voice_position()) talk_.set_voice_position(*position);
    const auto events = talk_.tick(time, {.advance = advance, .skip = held_.contains(SDLK_s)});
    update_frame();
    const Nanoseconds spent = Clock::now() - from;
    const bool same_line = was_in_line && is_in_line() && talk_.line() == line;
    cost_.add(spent, allocations_so_far() - allocated, same_line);

    sound_.play(begin, talk_.sounds());
    for (const arvik::ConversationEvent& event : events) {
      if (event.kind == arvik::ConversationEventKind::line_started) ++lines_;
      const bool flickers = event.event != nullptr && event.event->name == "lamp-flickers";
      if (flickers) flicker_ = 400ms;  // the game's answer to [mark lamp-flickers]
    }
    flicker_ = std::max(flicker_ - time, Nanoseconds::zero());
  }

  void update_frame() {
    const arvik::ConversationView view = talk_.view();
    if (view.block == nullptr) return;
    make_frame(view.block->layout, view.steps, view.now,
               {.entrance = arvik::Entrance::wipe, .entrance_time = 110ms}, frame_);
  }

  // A tap may begin and end between two frames; it counts for one.
  bool is_pressed() {
    return std::exchange(tapped_, false) || held_.contains(SDLK_SPACE) ||
           held_.contains(SDLK_RETURN) || held_.contains(-1) || held_.contains(-2);
  }

  [[nodiscard]] bool is_in_line() const {
    const arvik::ConversationState state = talk_.state();
    return state == arvik::ConversationState::revealing ||
           state == arvik::ConversationState::holding || state == arvik::ConversationState::waiting;
  }

  bool start_next() {
    static constexpr std::array<const char*, 2> order{"the_stop", "harbour"};
    if (next_ >= order.size()) return false;
    if (const auto started = player_.start(order[next_++]); !started) {
      throw std::runtime_error(started.error().message);
    }
    return true;
  }

  // --- drawing

  void draw() {
    art_.draw_background();
    if (flicker_ > 0ns) art_.darken(flicker_ / 50ms % 2 == 0 ? 120 : 30);
    draw_bubbles();
    draw_box();
    if (finished_)
      draw_label(words("ui.end", "The tide turns."), 640, 640, gold, arvik::Align::center);
    if (menu_open_) draw_menu();
    if (reading_back_) draw_history();
    if (show_cost_) draw_cost();
  }

  void draw_bubbles() {
    const arvik::Rect screen{8, 8, Art::screen_width - 16, Art::screen_height - 16};
    for (const Bubble& bubble : bubbles) {
      const arvik::Conversation* talk = stage_.find(bubble.target);
      if (talk == nullptr) continue;
      const arvik::ConversationView view = talk->view();
      if (view.block == nullptr) continue;
      const arvik::Layout& layout = view.block->layout;
      const arvik::Rect place =
          place_over(bubble.head, layout.box_width, layout.box_height, screen, 30);
      art_.draw_frame(place, true);
      const bool above = place.y < bubble.head.y;
      art_.draw_tip({bubble.head.x, above ? place.y + place.height - 4 : place.y + 4}, above);
      make_frame(layout, view.steps, view.now,
                 {.entrance = arvik::Entrance::fade, .entrance_time = 120ms}, bubble_frame_);
      bubble_face_->label_glyphs.draw(layout, bubble_frame_, place.x, place.y, dark);
    }
  }

  void draw_box() {
    const arvik::ConversationView view = talk_.view();
    if (view.openness <= 0) return;
    arvik::Rect place = box_place;
    place.height *= view.openness;  // it unrolls from its middle
    place.y += (box_place.height - place.height) / 2;
    art_.draw_frame(place, false);
    if (view.openness < 1 || view.block == nullptr) return;
    const float inner = Art::frame_border;
    float left = place.x + inner + 4;
    const std::string speaker_id(view.speaker);
    if (const arvik::Speaker* speaker = player_.script().find_speaker(speaker_id)) {
      art_.draw_portrait(speaker_id, std::string(view.portrait), left, place.y + inner,
                         portrait_size);
      if (speaker_id != "engine") art_.draw_mouth(left, place.y + inner, portrait_size, mouth());
      draw_name(*speaker, place);
    }
    left += portrait_size + inner;
    face_->text_glyphs.draw(view.block->layout, frame_, left, place.y + inner + 8, light);
    if (view.indicator) {
      art_.draw_indicator(place.x + place.width - 62, place.y + place.height - 44, view.phase);
    }
  }

  // Of who speaks in the box.
  [[nodiscard]] float mouth() {
    const auto position = sound_.voice_position();
    return position && is_in_line() ? sound_.mouth(talk_.lines()[talk_.line()].voice, *position)
                                    : 0;
  }

  void draw_name(const arvik::Speaker& speaker, const arvik::Rect& box) {
    const arvik::Rgba color = speaker.color.value_or(arvik::Rgba{230, 228, 214, 255});
    const float width = label(speaker.name).layout.width + 2 * Art::frame_border;
    art_.draw_frame({box.x + 30, box.y - 34, width, 50}, false);
    draw_label(speaker.name, box.x + 30 + Art::frame_border, box.y - 23,
               {color.red, color.green, color.blue, 255});
  }

  void draw_menu() {
    art_.darken(150);
    const arvik::Rect place{420, 180, 440, 396};
    art_.draw_frame(place, false);
    const auto* language =
        std::find_if(language_names.begin(), language_names.end(),
                     [&](const LanguageName& entry) { return player_.locale() == entry.locale; });
    const std::string language_name =
        language == language_names.end() ? player_.locale() : language->name;
    const auto& speed_name = speeds()[speed()].name;
    const char* volume_name = volumes[volume_].name;
    const std::array<std::string, menu_size> items{
        words("ui.go_on", "Go on"),
        words("ui.speed", "Text speed") + ":  < " +
            words(("ui." + speed_name).c_str(), speed_name.c_str()) + " >",
        words("ui.sound", "Sound") + ":  < " +
            words((std::string("ui.") + volume_name).c_str(), volume_name) + " >",
        words("ui.language", "Language") + ":  < " + language_name + " >",
        words("ui.history", "What was said"),
        words("ui.leave", "Leave")};
    for (std::size_t i = 0; i < items.size(); ++i) {
      draw_label(items[i], 640, place.y + 50 + 56 * static_cast<float>(i),
                 i == menu_item_ ? gold : faint, arvik::Align::center);
    }
  }

  void draw_history() {
    art_.darken(200);
    art_.draw_frame({100, 40, 1080, 736}, false);  // over the box
    draw_label(words("ui.history", "What was said"), 640, 66, gold, arvik::Align::center);
    draw_prepared(history_, 140, 118, light);
  }

  void draw_cost() {
    char text[120];
    std::snprintf(text, sizeof text,
                  "Arvik %.1f us, %.2f %% of a frame, worst %.1f us, %zu allocations",
                  static_cast<double>(cost_.last.count()) / 1000, cost_.percent(),
                  static_cast<double>(cost_.worst.count()) / 1000, cost_.allocations);
    SDL_SetRenderDrawColor(renderer_, 0, 0, 0, 190);
    const SDL_Rect plate{0, 0, 640, 36};
    SDL_RenderFillRect(renderer_, &plate);
    draw_prepared(lay_out_label(text, 2000), 12, 5, light);
  }

  // Labels are lines like any others, all of which is shown.
  arvik::PreparedLine lay_out_label(const std::string& markup, float width, bool fit = false) {
    auto line = typesetter_.prepare(markup, {}, face_->label, {.width = width, .fit_to_text = fit});
    if (!line) throw std::runtime_error(line.error().message);
    return std::move(*line);
  }

  const arvik::PreparedLine& label(const std::string& text) {
    const auto found = labels_.find(text);
    if (found != labels_.end()) return found->second;
    return labels_.emplace(text, lay_out_label(arvik::escape(text), 2000, true)).first->second;
  }

  void draw_prepared(const arvik::PreparedLine& line, float x, float y, SDL_Color color) {
    label_steps_.resize(line.steps.size(), {.at = arvik::long_ago});
    make_frame(line.layout, label_steps_, {}, {}, label_frame_);
    face_->label_glyphs.draw(line.layout, label_frame_, x, y, color);
  }

  void draw_label(const std::string& text, float x, float y, SDL_Color color,
                  arvik::Align align = arvik::Align::start) {
    const arvik::PreparedLine& line = label(text);
    draw_prepared(line, align == arvik::Align::center ? x - line.layout.width / 2 : x, y, color);
  }

  SDL_Renderer* renderer_;
  arvik::live::FrameClock clock_;  // tests may drive it
  Art art_;
  std::string script_path_;
  Sound sound_;
  Fonts fonts_;
  std::map<std::string, Typeface> typefaces_;  // by locale; conversations refer to them
  Typeface* face_ = nullptr;                   // of the locale
  arvik::ScriptPlayer player_;
  arvik::Conversation& talk_;        // the player's
  arvik::Typesetter typesetter_;     // of labels
  arvik::Typesetter bubble_setter_;  // of the bubbles, which are in English …
  Typeface* bubble_face_;
  arvik::Stage stage_;  // … and on a stage of their own
  std::map<std::string, arvik::PreparedLine> labels_;
  arvik::PreparedLine history_;
  arvik::Frame frame_;
  arvik::Frame bubble_frame_;
  arvik::Frame label_frame_;
  std::vector<arvik::Appearance> label_steps_;
  std::set<int> held_;  // keys; -1 the mouse, -2 a game pad
  std::size_t next_ = 0;
  std::size_t lines_ = 0;
  std::size_t menu_item_ = 0;
  std::size_t volume_ = volumes.size() - 1;
  Cost cost_;
  Nanoseconds flicker_{};
  Nanoseconds ending_{};
  bool tapped_ = false;
  bool menu_open_ = false;
  bool reading_back_ = false;
  bool show_cost_ = false;
  bool running_ = true;
  bool finished_ = false;
};

}  // namespace

int main(int argc, char** argv) {
  std::string script;
  std::string locale;
  std::string fonts = "/usr/share/fonts/truetype/noto";
  for (int i = 1; i < argc; ++i) {
    const std::string_view word = argv[i];
    if (word == "--fonts" && i + 1 < argc) {
      fonts = argv[++i];
    } else if (word == "--locale" && i + 1 < argc) {
      locale = argv[++i];
    } else if (script.empty() && !word.starts_with('-')) {
      script = word;
    } else {
      script.clear();
      break;
    }
  }
  if (script.empty()) {
    std::fprintf(stderr, "usage: tide_clock SCRIPT [--locale TAG] [--fonts DIR]\n");
    return 2;
  }
  int status = 1;
  try {
    if (SDL_Init(SDL_INIT_VIDEO | SDL_INIT_GAMECONTROLLER) != 0) throw sdl_error();
    if (SDL_InitSubSystem(SDL_INIT_AUDIO) != 0)
      std::fprintf(stderr, "no sound: %s\n", SDL_GetError());
    const std::unique_ptr<SDL_Window, void (*)(SDL_Window*)> window(
        SDL_CreateWindow("The Tide Clock", SDL_WINDOWPOS_CENTERED, SDL_WINDOWPOS_CENTERED,
                         Art::screen_width, Art::screen_height, 0),
        SDL_DestroyWindow);
    if (window == nullptr) throw sdl_error();
    const std::unique_ptr<SDL_Renderer, void (*)(SDL_Renderer*)> renderer(
        SDL_CreateRenderer(window.get(), -1, 0), SDL_DestroyRenderer);
    if (renderer == nullptr) throw sdl_error();
    SDL_SetRenderDrawBlendMode(renderer.get(), SDL_BLENDMODE_BLEND);
    status = Game(renderer.get(), script, fonts, locale).run();
  } catch (const std::exception& problem) {
    std::fprintf(stderr, "tide_clock: %s\n", problem.what());
  }
  SDL_Quit();
  return status;
}
