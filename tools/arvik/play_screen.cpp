#include "play_screen.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>

#include "arvik/read_file.hpp"
#include "exit_status.hpp"
#include "file_watch.hpp"
#include "report.hpp"
#include "script_input.hpp"
#include "signals.hpp"
#include "sound_input.hpp"
#include "sound_output.hpp"
#include "terminal.hpp"

// Last: it defines short macros.
#include <curses.h>

namespace arvik::tool {
namespace {

constexpr std::chrono::milliseconds screen_frame{16};
constexpr std::chrono::milliseconds repeat{120};  // longer than between two repeats of a key
constexpr int escape = 27;
constexpr short name_pair = 1;
constexpr short frame_pair = 2;

// The screen is ours between construction and destruction.
class Curses {
 public:
  Curses() {
    if (!Terminal::is_usable() || newterm(nullptr, stdout, stdin) == nullptr) {
      throw Failure(wrong_usage, "this terminal cannot be played on; try --log");
    }
    cbreak();
    noecho();
    nonl();
    keypad(stdscr, TRUE);
    nodelay(stdscr, TRUE);
    set_escdelay(25);
    curs_set(0);
    if (has_colors()) {
      start_color();
      use_default_colors();
      init_pair(frame_pair, COLOR_CYAN, -1);
    }
  }
  Curses(const Curses&) = delete;
  Curses& operator=(const Curses&) = delete;
  ~Curses() { endwin(); }
};

// The xterm palette's cube of 6 by 6 by 6 colours, where there are 256.
void set_name_color(std::optional<Rgba> color) {
  if (!has_colors()) return;
  if (!color || COLORS < 256) {
    init_pair(name_pair, COLOR_YELLOW, -1);
    return;
  }
  const auto level = [](std::uint8_t channel) { return (channel * 5 + 127) / 255; };
  const int index = 16 + 36 * level(color->red) + 6 * level(color->green) + level(color->blue);
  init_pair(name_pair, static_cast<short>(index), -1);
}

std::vector<std::string_view> rows_of(std::string_view picture) {
  std::vector<std::string_view> rows;
  while (!picture.empty()) {
    const std::size_t end = std::min(picture.find('\n'), picture.size());
    rows.push_back(picture.substr(0, end));
    picture.remove_prefix(std::min(end + 1, picture.size()));
  }
  return rows;
}

class Screen {
 public:
  Screen(const std::shared_ptr<const Script>& script, std::string conversation,
         const ScreenOptions& options)
      : conversation_(std::move(conversation)),
        options_(options),
        watch_(clock_, watched(*script, options)),
        sounds_(read_sounds(*script, options.path, SoundOutput::rate)),
        player_(open_player(script, font_, {.settings = settings(), .values = options.values})),
        talk_(player_.conversation()) {}

  // The script's files too, tables above all.
  static std::vector<std::string> watched(const Script& script, const ScreenOptions& options) {
    if (!options.watch) return {};
    std::vector<std::string> paths{options.path};
    for (const std::string& file : script.files) paths.push_back(path_beside(options.path, file));
    return paths;
  }

  void run() {
    const SignalWatch signals;  // before the screen, which must be left first
    const Curses curses;
    SoundOutput output(sounds_.bank, clock_);
    output_ = &output;
    begin();
    Nanoseconds last = clock_.now();
    bool playing = true;
    while (playing && !SignalWatch::has_come() && !clock_.has_ended()) {
      const Nanoseconds now = clock_.now();
      Buttons buttons;
      for (int key = getch(); key != ERR && playing; key = getch()) playing = press(key, buttons);
      // A terminal tells of no release, but repeats a key that is held.
      if (buttons.advance) held_until_ = now + repeat;
      buttons.advance = now < held_until_;
      const Nanoseconds begin = talk_.clock();
      talk_.tick(now - last, buttons);
      output.tick(begin, now - last, talk_.sounds());
      last = now;
      if (watch_.changed()) read_again();
      playing = playing && talk_.state() != ConversationState::closed;
      draw();
      clock_.wait(screen_frame);
    }
  }

 private:
  [[nodiscard]] ConversationSettings settings() const {
    return {.opening = std::chrono::milliseconds(180),
            .closing = std::chrono::milliseconds(180),
            .play_by_itself = options_.by_itself,
            .voice_length = [this](std::string_view voice) { return sounds_.bank.length(voice); }};
  }

  // A window too small for the script's box keeps the one before.
  void fit_box() {
    if (const auto set = talk_.set_box(fitting_box()); !set) note_ = set.error().message;
  }

  void begin() {
    fit_box();
    answer_ = 0;
    if (const auto started = player_.start(conversation_); !started) {
      note_ = started.error().message;
    }
  }

  // Those that the script has and nobody had before. Returns whether all are there.
  bool load_sounds(const Script& script) {
    try {
      read_more_sounds(script, options_.path, SoundOutput::rate, sounds_);
    } catch (const Failure& failure) {
      note_ = failure.what();
      return false;
    }
    return true;
  }

  // Goes on at the same place in the script's next locale.
  void go_to_next_locale() {
    const auto& locales = player_.script().locales;
    const auto now = std::find(locales.begin(), locales.end(), player_.locale());
    const std::size_t next = static_cast<std::size_t>(now - locales.begin()) + 1;
    const auto gone = player_.set_locale(locales[next % locales.size()]);
    note_ = gone ? "" : gone.error().message;
    load_sounds(player_.script());
    fit_box();
  }

  // Goes on at the same place with what was saved.
  void read_again() {
    if (!read_file(options_.path)) return;  // it is being saved
    auto script = load_script(options_.path);
    if (!script) {
      const Diagnostic& problem = script.error()[0];
      note_ = fmt::format("{}{}{}:{}: {}", problem.file, problem.file.empty() ? "" : ":",
                          problem.row, problem.column, problem.message);
      return;
    }
    if (!load_sounds(*script)) return;
    const auto changed = player_.set_script(std::make_shared<const Script>(std::move(*script)));
    note_ = changed ? "read again" : changed.error().message;
    fit_box();
  }

  // Returns whether the key was one for the answers.
  bool press_answer(int key) {
    if (talk_.state() != ConversationState::choosing || reading_back_) return false;
    const std::size_t count = talk_.view().choices.size();
    std::optional<std::size_t> taken;
    if (key == KEY_UP) answer_ = (answer_ + count - 1) % count;
    if (key == KEY_DOWN) answer_ = (answer_ + 1) % count;
    if (key == '\r' || key == '\n' || key == KEY_ENTER) taken = answer_;
    if (key >= '1' && key <= '9') taken = static_cast<std::size_t>(key - '1');
    if (taken) {
      const auto chosen = talk_.choose(*taken);
      note_ = chosen ? "" : chosen.error().message;
      answer_ = 0;
    }
    return taken || key == KEY_UP || key == KEY_DOWN;
  }

  // Returns whether to go on.
  bool press(int key, Buttons& buttons) {
    if (press_answer(key)) return true;
    switch (key) {
      case ' ':
      case '\r':
      case '\n':
      case KEY_ENTER:
        if (reading_back_) {
          reading_back_ = false;
        } else {
          buttons.advance = true;
        }
        return true;
      case 'p':
        talk_.paused() ? talk_.resume() : talk_.pause();
        if (talk_.paused()) output_->stop();
        return true;
      case 'h':
        reading_back_ = !reading_back_;
        return true;
      case '+':
      case '=':
        change_speed(1);
        return true;
      case '-':
        change_speed(-1);
        return true;
      case 'l':
        go_to_next_locale();
        return true;
      case 'r':
        talk_.stop();
        output_->stop();
        note_.clear();
        begin();
        return true;
      case KEY_RESIZE:
        fit_box();
        return true;
      case 'q':
      case escape:
        return false;
      default:
        return true;
    }
  }

  void change_speed(int by) {
    PlayerSettings choices = talk_.settings().player;
    const auto last = static_cast<int>(choices.speeds.size()) - 1;
    choices.speed =
        static_cast<std::size_t>(std::clamp(static_cast<int>(choices.speed) + by, 0, last));
    if (const auto set = talk_.set_player(choices); !set) note_ = set.error().message;
  }

  // --- drawing

  [[nodiscard]] const std::string& speed_name() const {
    const PlayerSettings& choices = talk_.settings().player;
    return choices.speeds[choices.speed].name;
  }

  // For the bar, where there is a choice.
  [[nodiscard]] std::string locale_name() const {
    const Script& script = player_.script();
    return script.locales.size() < 2 ? "" : "   l: language (" + script.locale + ")";
  }

  [[nodiscard]] int portrait_width() const {
    int widest = 0;
    for (const Speaker& speaker : player_.script().cast) {
      for (const Portrait& portrait : speaker.portraits) {
        for (const std::string_view row : rows_of(portrait.picture)) {
          widest = std::max(widest, static_cast<int>(row.size()));
        }
      }
    }
    return widest;
  }

  [[nodiscard]] int inset() const { return portrait_width() > 0 ? portrait_width() + 2 : 0; }

  [[nodiscard]] Box fitting_box() const {
    constexpr int around = 8;  // frame, padding and a margin
    Box box = player_.script().box;
    const int room = std::max(COLS - around - inset(), 4);
    box.width = std::min(std::isinf(box.width) ? 60.0F : box.width, static_cast<float>(room));
    const auto rows = static_cast<std::uint32_t>(std::max(LINES - around, 1));
    box.max_rows = std::clamp<std::uint32_t>(box.max_rows == 0 ? 4 : box.max_rows, 1, rows);
    return box;
  }

  void draw() {
    erase();
    if (reading_back_) {
      draw_history();
    } else {
      draw_box();
    }
    attrset(A_DIM);
    mvaddnstr(LINES - 1, 1,
              fmt::format("{}   p: pause   h: history   + -: speed ({}){}   r: again   q: leave{}",
                          talk_.state() == ConversationState::choosing ? "1-9, ↑ ↓ Return: answer"
                                                                       : "space: go on",
                          speed_name(), locale_name(), talk_.paused() ? "   ‖ paused" : "")
                  .c_str(),
              -1);
    if (!note_.empty()) mvaddstr(0, 1, printable(note_).c_str());
    attrset(A_NORMAL);
    refresh();
  }

  void draw_box() {
    const ConversationView view = talk_.view();
    if (view.state == ConversationState::closed) return;
    const Box box = fitting_box();
    const int inner_width = static_cast<int>(box.width) + inset() + 2;
    const int full_height = static_cast<int>(box.max_rows) + 4;
    const int height =
        std::max(2, static_cast<int>(std::lround(view.openness * static_cast<float>(full_height))));
    const int left = std::max((COLS - inner_width - 2) / 2, 0);
    const int top = std::max(LINES - 3 - (full_height + height) / 2, 0);
    draw_frame(top, left, inner_width, height);
    if (view.block == nullptr || view.openness < 1) return;
    const Speaker* speaker = player_.script().find_speaker(view.speaker);
    draw_name(speaker, top, left);
    draw_portrait(speaker, view, top + 2, left + 2);
    draw_text(view, top + 2, left + 2 + inset());
    draw_answers(view, top, left + 2 + inset());
    if (view.indicator) {
      const bool low = view.phase < 0.5F;
      mvaddstr(top + height - (low ? 2 : 3) + (low ? 0 : 1), left + inner_width - 1,
               low ? "▾" : "▿");
    }
  }

  static void draw_frame(int top, int left, int inner_width, int height) {
    attrset(static_cast<attr_t>(COLOR_PAIR(frame_pair)));
    const auto across = [&](int row, const char* begin, const char* end) {
      std::string line = begin;
      for (int i = 0; i < inner_width; ++i) line += "─";
      mvaddstr(row, left, (line + end).c_str());
    };
    across(top, "╭", "╮");
    for (int row = top + 1; row < top + height - 1; ++row) {
      mvaddstr(row, left, "│");
      mvaddstr(row, left + inner_width + 1, "│");
    }
    across(top + height - 1, "╰", "╯");
    attrset(A_NORMAL);
  }

  static void draw_name(const Speaker* speaker, int top, int left) {
    if (speaker == nullptr) return;
    set_name_color(speaker->color);
    attrset(static_cast<attr_t>(COLOR_PAIR(name_pair)) | A_BOLD);
    mvaddstr(top, left + 2, ("┤ " + printable(speaker->name) + " ├").c_str());
    attrset(A_NORMAL);
  }

  static void draw_portrait(const Speaker* speaker, const ConversationView& view, int top,
                            int left) {
    if (speaker == nullptr) return;
    const auto portrait =
        std::find_if(speaker->portraits.begin(), speaker->portraits.end(),
                     [&](const Portrait& entry) { return entry.name == view.portrait; });
    if (portrait == speaker->portraits.end()) return;
    attrset(static_cast<attr_t>(COLOR_PAIR(name_pair)));
    int row = top;
    for (const std::string_view line : rows_of(portrait->picture)) {
      mvaddstr(row++, left, printable(line).c_str());
    }
    attrset(A_NORMAL);
  }

  static void draw_text(const ConversationView& view, int top, int left) {
    const Block& text = *view.block;
    if (view.shown == 0) return;
    const std::uint32_t page = text.layout.rows[text.layout.steps[view.shown - 1].row].page;
    if (page >= text.layout.pages.size()) return;
    const std::uint32_t first_row = text.layout.pages[page].first_row;
    std::size_t run = 0;
    for (std::uint32_t i = 0; i < view.shown; ++i) {
      const StepPosition& place = text.layout.steps[i];
      const Row& row = text.layout.rows[place.row];
      while (run < text.layout.styles.size() && text.layout.styles[run].end_step <= i) ++run;
      if (row.page != page || i >= row.end_ink_step) continue;
      const TextStyle& style = text.layout.styles[run].style;
      attrset((style.bold ? A_BOLD : A_NORMAL) | (style.italic ? A_ITALIC : A_NORMAL) |
              (style.underline ? A_UNDERLINE : A_NORMAL));
      const std::string_view step = text.steps.text(text.marked.text, i);
      mvaddstr(top + static_cast<int>(place.row - first_row), left + static_cast<int>(place.x),
               step == "\uFFFC" ? "◆" : printable(step).c_str());
    }
    attrset(A_NORMAL);
  }

  // Above the box, where nothing else stands.
  void draw_answers(const ConversationView& view, int below, int left) const {
    int row = std::max(below - static_cast<int>(view.choices.size()) - 1, 1);
    for (std::size_t i = 0; i < view.choices.size(); ++i, ++row) {
      const ChoiceText& choice = view.choices[i];
      attrset(!choice.available ? A_DIM : i == answer_ ? A_BOLD : A_NORMAL);
      mvaddstr(
          row, left,
          fmt::format("{} {}  {}", i == answer_ ? "▸" : " ", i + 1, printable(choice.marked.text))
              .c_str());
    }
    attrset(A_NORMAL);
  }

  void draw_history() const {
    mvaddstr(1, 2, "What was said (h or space goes back)");
    std::vector<std::string> shown;
    for (const HistoryEntry& entry : talk_.history()) {
      const Speaker* speaker = player_.script().find_speaker(entry.speaker);
      const std::string name = speaker == nullptr ? "" : printable(speaker->name) + ": ";
      shown.push_back(name + printable(entry.text));
      if (!entry.answer.empty()) shown.push_back("   ▸ " + printable(entry.answer));
    }
    const std::size_t rows =
        std::min(shown.size(), static_cast<std::size_t>(std::max(LINES - 5, 1)));
    for (std::size_t i = 0; i < rows; ++i) {
      mvaddnstr(3 + static_cast<int>(i), 2, shown[shown.size() - rows + i].c_str(), -1);
    }
  }

  std::string conversation_;
  ScreenOptions options_;
  live::FrameClock clock_;
  FileWatch watch_;
  GridFont font_;
  SoundSet sounds_;
  ScriptPlayer player_;
  Conversation& talk_;             // the player's
  SoundOutput* output_ = nullptr;  // while it runs
  std::size_t answer_ = 0;         // the one that Return gives
  Nanoseconds held_until_{};
  bool reading_back_ = false;
  std::string note_;
};

}  // namespace

void play_on_screen(const std::shared_ptr<const Script>& script, const std::string& conversation,
                    const ScreenOptions& options) {
  Screen(script, conversation, options).run();
}

}  // namespace arvik::tool
