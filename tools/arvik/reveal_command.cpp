#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "arvik/typesetter.hpp"
#include "commands.hpp"
#include "file_watch.hpp"
#include "input.hpp"
#include "line_sound.hpp"
#include "output.hpp"
#include "report.hpp"
#include "terminal.hpp"

namespace arvik::tool {
namespace {

using live::FrameClock;

constexpr std::chrono::milliseconds reveal_frame{8};
constexpr double slowest_factor = 0.05;
constexpr double fastest_factor = 100;
// What + and - go through, in thousandths.
constexpr std::array speeds{250, 500, 750, 1000, 1250, 1500, 2000, 3000, 4000, 8000};

struct RevealOptions {
  TextOptions text;
  PaceOptions pace;
  BoxOptions box;
  std::string typing;
  std::string speed = "x1";
  bool no_wait = false;
  bool status_row = false;
  std::string watched;
};

tl::expected<double, std::string> parse_speed(std::string_view word) {
  const std::string quoted = quoted_word(word);
  if (word.starts_with('x')) word.remove_prefix(1);
  const auto factor = parse_decimal(word);
  if (!factor) return tl::unexpected(quoted + " is not a speed: write it like x1.5");
  if (*factor < slowest_factor || *factor > fastest_factor) {
    return tl::unexpected(quoted + " is out of range: a speed is x0.05 to x100");
  }
  return *factor;
}

std::int32_t thousandths(double factor) {
  return static_cast<std::int32_t>(std::lround(factor * Reveal::normal_speed));
}

// The text of a step for display: what would act on the terminal is made harmless.
std::string display_text(const PreparedLine& line, std::uint32_t step) {
  const std::string_view text = line.steps.text(line.marked.text, step);
  switch (line.steps.kinds[step]) {
    case StepKind::row_end:
      return {};
    case StepKind::blank:
      return " ";
    default:
      return printable(text);
  }
}

// Without a terminal: the text in its rows, in real time, as plain text. Nobody is there to let go
// of holds, so they let go by themselves.
void write_plain(const PreparedLine& line, std::int32_t speed, bool no_wait, FrameClock& clock) {
  const RowText rows = row_text(line.marked, line.steps, line.layout);
  Reveal reveal = line.reveal();
  reveal.set_speed(speed);
  const auto indent = [&](std::uint32_t row) {
    return std::string(static_cast<std::size_t>(line.layout.rows[row].x), ' ');
  };
  write_out(indent(0));
  Nanoseconds last = clock.now();
  while (reveal.state() != RevealState::finished && !clock.has_ended()) {
    const Nanoseconds now = clock.now();
    const Progress progress = no_wait ? reveal.skip() : reveal.tick(now - last);
    last = now;
    reveal.release_hold();
    for (std::uint32_t i = progress.first_step; i < progress.end_step; ++i) {
      const std::uint32_t from = rows.extents[i].bytes;
      std::string shown = rows.text.substr(from, rows.extents[i + 1].bytes - from);
      if (const std::size_t newline = shown.find('\n'); newline != std::string::npos) {
        shown.insert(newline + 1, indent(line.layout.steps[i].row));
      }
      write_out(shown);
    }
    if (no_wait) continue;
    flush_out();
    if (reveal.state() != RevealState::finished) clock.wait(reveal_frame);
  }
  write_out("\n");
}

// Which steps are bold and italic.
struct StepStyle {
  bool bold = false;
  bool italic = false;
  friend bool operator==(const StepStyle&, const StepStyle&) = default;
};

std::vector<StepStyle> step_styles(const PreparedLine& line) {
  std::vector<StepStyle> styles(line.steps.size());
  for (const StyleRun& run : line.layout.styles) {
    std::fill(styles.begin() + run.first_step, styles.begin() + run.end_step,
              StepStyle{run.style.bold, run.style.italic});
  }
  return styles;
}

enum class Ending : std::uint8_t { finished, left, changed };

// Plays one line in rows of its own, and a status row below them if there is room for it.
class Player {
 public:
  // `sound` may be null.
  Player(Terminal& terminal, FrameClock& clock, const PreparedLine& line, LineSound* sound,
         std::int32_t speed, bool status_row)
      : clock_(clock),
        line_(line),
        sound_(sound),
        styles_(step_styles(line)),
        reveal_(line.reveal()),
        terminal_(terminal),
        rows_(static_cast<int>(line.layout.rows.size())),
        status_row_(status_row && rows_ + 2 < Terminal::height()) {
    reveal_.set_speed(speed);
    if (sound_ != nullptr) sound_->begin();
  }

  // `watch` may be null.
  Ending play(FileWatch* watch) {
    make_room();
    Ending ending = Ending::finished;
    Nanoseconds last = clock_.now();
    bool over = false;
    while (!over) {
      const Nanoseconds now = clock_.now();
      advance(now - last, [&] { return reveal_.tick(now - last); });
      last = now;
      show_note();
      show_status();
      terminal_.flush();
      over = reveal_.state() == RevealState::finished && watch == nullptr;
      if (over) break;
      if (const auto key = terminal_.wait_for_key(reveal_frame); key && !press(*key)) {
        ending = again_ ? Ending::changed : Ending::left;
        over = true;
      }
      if (terminal_.interrupted()) {
        ending = Ending::left;
        over = true;
      }
      if (!over && watch != nullptr && watch->changed()) {
        ending = Ending::changed;
        over = true;
      }
    }
    if (sound_ != nullptr && ending == Ending::finished) sound_->ring_out();
    set_note("");
    for (; row_ + 1 < static_cast<std::uint32_t>(rows_) + (status_row_ ? 2 : 0); ++row_) {
      terminal_.write("\n");
    }
    terminal_.write("\n");
    terminal_.set_style(false, false);
    terminal_.flush();
    return ending;
  }

  // What the user has chosen since.
  [[nodiscard]] std::int32_t speed() const { return reveal_.speed(); }

 private:
  // Returns whether to go on.
  bool press(char key) {
    switch (key) {
      case ' ':
      case '\n':
      case '\r':
        if (!reveal_.release_hold()) advance({}, [&] { return reveal_.skip(); });
        return true;
      case 'p':
        reveal_.paused() ? reveal_.resume() : reveal_.pause();
        return true;
      case '+':
      case '=':
        change_speed(std::upper_bound(speeds.begin(), speeds.end(), reveal_.speed()));
        return true;
      case '-': {
        const auto* here = std::lower_bound(speeds.begin(), speeds.end(), reveal_.speed());
        change_speed(here == speeds.begin() ? here : here - 1);
        return true;
      }
      case 'r':
        again_ = true;
        return false;
      case 'q':
        return false;
      default:
        return true;
    }
  }

  void change_speed(const int* speed) {
    if (speed == speeds.end()) --speed;
    reveal_.set_speed(*speed);
    speed_note_until_ = clock_.now() + std::chrono::seconds(1);
  }

  // Scrolls once, before the text, so that nothing scrolls while the status row stands.
  void make_room() {
    if (!status_row_) return;
    for (int i = 0; i < rows_ + 1; ++i) terminal_.write("\n");
    terminal_.move_up(rows_ + 1);
  }

  // Shows and sounds what a tick of so much time, or a skip, brings.
  template <typename Move>
  void advance(Nanoseconds time, Move move) {
    const Reveal before = reveal_;
    const Progress progress = move();
    show(progress);
    if (sound_ != nullptr) sound_->follow(before, reveal_, progress, time);
  }

  void show(const Progress& progress) {
    if (progress.first_step == progress.end_step) return;
    set_note("");
    for (std::uint32_t i = progress.first_step; i < progress.end_step; ++i) show_step(i);
  }

  void show_step(std::uint32_t i) {
    const StepPosition& place = line_.layout.steps[i];
    for (; row_ < place.row; ++row_) terminal_.write("\n");
    if (styles_[i] != style_) {
      style_ = styles_[i];
      terminal_.set_style(style_.bold, style_.italic);
    }
    if (i >= line_.layout.rows[place.row].end_ink_step) return;  // hangs beyond the row
    // Not every terminal gives every character the cells that it should have: place each anew.
    terminal_.move_to(static_cast<int>(place.x));
    terminal_.write(display_text(line_, i));
    end_cell_ = static_cast<int>(place.x + place.width);
  }

  // A small sign behind the text: why nothing moves, or what the speed is now.
  void show_note() {
    if (reveal_.paused()) {
      set_note("‖ paused");
    } else if (reveal_.state() == RevealState::holding) {
      set_note("▾ space");
    } else if (clock_.now() < speed_note_until_ && !status_row_) {
      set_note(speed_text());
    } else {
      set_note("");
    }
  }

  [[nodiscard]] std::string speed_text() const {
    return fmt::format("x{:g}", static_cast<double>(reveal_.speed()) / Reveal::normal_speed);
  }

  void set_note(const std::string& note) {
    if (note == note_) return;
    constexpr int room = 10;
    if (end_cell_ + room >= Terminal::width()) return;
    terminal_.move_to(end_cell_ + 1);
    terminal_.set_style(false, false);
    terminal_.set_faint();
    terminal_.write(note.empty() ? "        " : fmt::format("{:<8}", note));
    terminal_.set_style(style_.bold, style_.italic);
    note_ = note;
  }

  // Where the reveal is, in the row below the text and an empty one.
  void show_status() {
    if (!status_row_) return;
    const double now = in_seconds(reveal_.position());
    const std::uint32_t shown = reveal_.shown_steps();
    std::string status =
        fmt::format("{}   {:.2f} of {:.2f} s   {} of {} characters", speed_text(), now,
                    in_seconds(line_.schedule.duration), shown, line_.steps.size());
    constexpr double long_enough = 0.2;  // to speak of a rate
    if (now > long_enough) status += fmt::format("   {:.1f} a second", shown / now);
    status.resize(std::min(status.size(), static_cast<std::size_t>(Terminal::width() - 1)));
    if (status == status_) return;
    status_ = status;
    const int down = rows_ + 1 - static_cast<int>(row_);
    terminal_.move_down(down);
    terminal_.move_to(0);
    terminal_.set_style(false, false);
    terminal_.set_faint();
    terminal_.write(status);
    terminal_.clear_row_end();
    terminal_.set_style(style_.bold, style_.italic);
    terminal_.move_up(down);
  }

  FrameClock& clock_;
  const PreparedLine& line_;
  LineSound* sound_;
  std::vector<StepStyle> styles_;
  Reveal reveal_;
  Terminal& terminal_;
  int rows_;
  bool status_row_;
  StepStyle style_;
  std::uint32_t row_ = 0;
  int end_cell_ = 0;  // behind the last step shown
  std::string note_;
  std::string status_;
  bool again_ = false;
  Nanoseconds speed_note_until_{};
};

// A line, and its sounds if there are any and `live`.
struct RevealPiece {
  PreparedLine line;
  std::unique_ptr<SoundSet> sounds{};  // before what plays them
  std::unique_ptr<LineSound> sound{};
};

// Reads everything anew; reports what is wrong. `live` is null where nothing is to be heard.
std::unique_ptr<RevealPiece> prepare(const RevealOptions& options, Typesetter& typesetter,
                                     FrameClock* live, ExitStatus& status) {
  const Pace pace = read_pace(options.pace);
  typesetter.vocabulary() = read_vocabulary(options.text);
  const InputText input = read_line(options.text);
  auto piece = std::make_unique<RevealPiece>();
  PreparedLine& line = piece->line;
  const auto prepared =
      typesetter.prepare(input.text, pace, GridFont(), make_box(options.box), line);
  if (!prepared) throw Failure(wrong_usage, prepared.error().message);
  const std::string shown = input.name + " (as shown)";
  report(input.name, input.text, line.marked.diagnostics);
  report(shown, line.marked.text, line.layout.diagnostics);
  report(shown, line.marked.text, line.schedule.diagnostics);
  if (has_errors(line.marked.diagnostics)) status = input_has_errors;
  if (options.typing.empty() || live == nullptr) return piece;
  piece->sounds = std::make_unique<SoundSet>(read_sounds(options.typing, SoundOutput::rate));
  piece->sound =
      std::make_unique<LineSound>(line, typesetter.language(), pace, *piece->sounds, *live);
  report(shown, line.marked.text, piece->sound->problems());
  return piece;
}

void warn_if_silent(const RevealPiece& piece) {
  if (piece.sound == nullptr || piece.sound->output().is_open()) return;
  fmt::print(stderr, "arvik: warning: no sound device ({}): the line is silent\n",
             piece.sound->output().problem());
}

void write_faint(Terminal& terminal, const std::string& text) {
  terminal.set_faint();
  terminal.write(text);
  terminal.set_style(false, false);
  terminal.flush();
}

// Waits for a file to change after something in it was wrong. Returns whether to go on.
bool wait_for_change(Terminal& terminal, FileWatch& watch) {
  while (!watch.changed()) {
    const auto key = terminal.wait_for_key(reveal_frame);
    if ((key && *key == 'q') || terminal.interrupted()) return false;
    if (key && *key == 'r') return true;
  }
  return true;
}

// Plays the file again whenever it, its pace or its styles are saved.
void play_watching(const RevealOptions& options, Typesetter& typesetter, std::int32_t speed,
                   FrameClock& clock) {
  Terminal terminal(clock);
  FileWatch watch(clock, {options.watched, path_of(options.pace.file), options.text.styles,
                          path_of(options.typing)});
  write_faint(terminal,
              fmt::format("watching {}; save it to play it again\n"
                          "space: show the rest, go on   p: pause   + -: speed   r: again   "
                          "q: leave\n",
                          options.watched));
  bool is_first = true;
  for (bool watching = true; watching;) {
    terminal.write("\n");
    terminal.flush();
    ExitStatus ignored = good;  // what is wrong is shown, and mended with the next save
    try {
      const auto piece = prepare(options, typesetter, &clock, ignored);
      if (std::exchange(is_first, false)) warn_if_silent(*piece);
      Player player(terminal, clock, piece->line, piece->sound.get(), speed, true);
      watching = player.play(&watch) == Ending::changed;
      speed = player.speed();
    } catch (const Failure& failure) {
      fmt::print(stderr, "arvik: {}\n", failure.what());
      watching = wait_for_change(terminal, watch);
    }
  }
}

void run(RevealOptions options, ExitStatus& status) {
  FrameClock clock;
  const bool terminal_is_there = Terminal::is_usable();
  const bool live = terminal_is_there && !options.no_wait;
  if (live) options.box.width = std::min(options.box.width, Terminal::width());
  const std::int32_t speed = thousandths(parse_speed(options.speed).value());
  Typesetter typesetter(open_language(options.text));
  if (!options.watched.empty()) {
    if (!terminal_is_there) throw Failure(wrong_usage, "--watch needs a terminal to play in");
    options.text.file = options.watched;
    play_watching(options, typesetter, speed, clock);
    return;
  }
  if (!options.typing.empty() && !live) {
    throw Failure(
        wrong_usage,
        "--typing plays in a terminal, and not with --no-wait; arvik mix writes sounds to a file");
  }
  const auto first = prepare(options, typesetter, live ? &clock : nullptr, status);
  if (!live) {
    write_plain(first->line, speed, options.no_wait, clock);
    return;
  }
  warn_if_silent(*first);
  Terminal terminal(clock);
  write_faint(terminal, "space: show the rest, go on   p: pause   + -: speed   q: leave\n\n");
  while (Player(terminal, clock, first->line, first->sound.get(), speed, options.status_row)
             .play(nullptr) == Ending::changed) {
    terminal.write("\n");
  }
}

}  // namespace

void add_reveal_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<RevealOptions>();
  CLI::App* command = app.add_subcommand("reveal", "Play a line in the terminal");
  command->footer(
      "Keys: space or enter shows the rest up to the next hold, and goes on from a hold;\n"
      "p pauses; + and - change the speed; r plays again from the start; q leaves. Without a\n"
      "terminal the text is written as it comes.");
  add_text_options(*command, options->text);
  add_pace_options(*command, options->pace);
  add_box_options(*command, options->box, "cells", false);
  add_typing_option(*command, options->typing);
  command->add_option("--speed", options->speed, "Speed factor, like x1.5")
      ->check(CLI::Validator(
          [](std::string& word) {
            const auto value = parse_speed(word);
            return value ? std::string() : value.error();
          },
          "", ""))
      ->capture_default_str()
      ->type_name("FACTOR");
  command->add_flag("--no-wait", options->no_wait, "Write everything at once");
  command->add_flag("--status", options->status_row,
                    "Show speed, position and characters in a row below");
  command
      ->add_option(
          "--watch", options->watched,
          "Play a file's line, and play it again when the line, pace, styles or sounds are saved")
      ->excludes(options->text.text_option)
      ->excludes("--file")
      ->excludes("--no-wait")
      ->type_name("FILE");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
