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
  Screen(const Script& script, std::string conversation, const ScreenOptions& options)
      : script_(script),
        conversation_(std::move(conversation)),
        options_(options),
        watch_(clock_, {options.watch ? options.path : std::string()}),
        typesetter_(make_typesetter(script, {.styles = {}, .value = options.value})),
        sounds_(read_sounds(script, options.path, SoundOutput::rate)),
        talk_(typesetter_, font_, Box{.width = 1}, settings()) {}

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
            .player = player_,
            .voice_length = [this](std::string_view voice) { return sounds_.bank.length(voice); },
            .sounds = script_.sounds};
  }

  // A window too small for the script's box keeps the one before.
  void fit_box() {
    if (const auto set = talk_.set_box(fitting_box()); !set) note_ = set.error().message;
  }

  void begin() {
    fit_box();
    const ScriptConversation* conversation = script_.find_conversation(conversation_);
    if (conversation == nullptr) {
      note_ = "conversation " + conversation_ + " is gone";
      return;
    }
    if (const auto started = talk_.start(conversation->lines); !started) {
      throw Failure(input_has_errors, started.error().message);
    }
  }

  // Goes on at the same line, from its begin, with what was saved.
  void read_again() {
    const auto content = read_file(options_.path);
    if (!content) return;
    auto script = parse_script(*content);
    if (!script) {
      const Diagnostic& problem = script.error()[0];
      note_ = fmt::format("{}:{}: {}", problem.row, problem.column, problem.message);
      return;
    }
    try {
      read_more_sounds(*script, options_.path, SoundOutput::rate, sounds_);
    } catch (const Failure& failure) {
      note_ = failure.what();
      return;
    }
    const std::uint32_t line = talk_.line();
    script_ = std::move(*script);
    typesetter_.vocabulary().styles = script_.styles;
    talk_.stop();
    output_->stop();
    if (const auto set = talk_.set_settings(settings()); !set) note_ = set.error().message;
    const ScriptConversation* conversation = script_.find_conversation(conversation_);
    if (conversation == nullptr || conversation->lines.empty()) {
      note_ = "conversation " + conversation_ + " is gone";
      return;
    }
    ConversationPlace place{.state = ConversationState::revealing,
                            .line = std::min<std::uint32_t>(
                                line, static_cast<std::uint32_t>(conversation->lines.size()) - 1)};
    place.reveal.state = RevealState::revealing;
    place.portrait = conversation->lines[place.line].portrait;
    if (!talk_.start_at(conversation->lines, place)) begin();
    note_ = "read again";
  }

  // Returns whether to go on.
  bool press(int key, Buttons& buttons) {
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
    const auto last = static_cast<int>(player_.speeds.size()) - 1;
    player_.speed =
        static_cast<std::size_t>(std::clamp(static_cast<int>(player_.speed) + by, 0, last));
    if (const auto set = talk_.set_player(player_); !set) note_ = set.error().message;
  }

  // --- drawing

  [[nodiscard]] int portrait_width() const {
    int widest = 0;
    for (const Speaker& speaker : script_.cast) {
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
    Box box = script_.box;
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
              fmt::format("space: go on   p: pause   h: history   + -: speed ({})   r: again   "
                          "q: leave{}",
                          player_.speeds[player_.speed].name, talk_.paused() ? "   ‖ paused" : "")
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
    if (view.text == nullptr || view.openness < 1) return;
    const Speaker* speaker = script_.find_speaker(view.speaker);
    draw_name(speaker, top, left);
    draw_portrait(speaker, view, top + 2, left + 2);
    draw_text(view, top + 2, left + 2 + inset());
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
    const ConversationText& text = *view.text;
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

  void draw_history() const {
    mvaddstr(1, 2, "What was said (h or space goes back)");
    const auto& entries = talk_.history();
    const int rows = std::max(LINES - 5, 1);
    const std::size_t count = std::min(entries.size(), static_cast<std::size_t>(rows));
    for (std::size_t i = 0; i < count; ++i) {
      const HistoryEntry& entry = entries[entries.size() - count + i];
      const Speaker* speaker = script_.find_speaker(entry.speaker);
      const std::string name = speaker == nullptr ? "" : printable(speaker->name) + ": ";
      mvaddnstr(3 + static_cast<int>(i), 2, (name + printable(entry.text)).c_str(), -1);
    }
  }

  Script script_;
  std::string conversation_;
  ScreenOptions options_;
  live::FrameClock clock_;
  FileWatch watch_;
  GridFont font_;
  Typesetter typesetter_;
  SoundSet sounds_;
  PlayerSettings player_;
  SoundOutput* output_ = nullptr;  // while it runs
  Conversation talk_;
  Nanoseconds held_until_{};
  bool reading_back_ = false;
  std::string note_;
};

}  // namespace

void play_on_screen(const Script& script, const std::string& conversation,
                    const ScreenOptions& options) {
  Screen(script, conversation, options).run();
}

}  // namespace arvik::tool
