#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <thread>

#include "arvik/typesetter.hpp"
#include "commands.hpp"
#include "input.hpp"
#include "report.hpp"
#include "terminal.hpp"

namespace arvik::tool {
namespace {

using Clock = std::chrono::steady_clock;

constexpr std::chrono::milliseconds frame{8};
constexpr double slowest_factor = 0.05;
constexpr double fastest_factor = 100;
// What + and - go through, in thousandths.
constexpr std::array speeds{250, 500, 750, 1000, 1250, 1500, 2000, 3000, 4000, 8000};

struct RevealOptions {
  TextOptions text;
  PaceOptions pace;
  BoxOptions box;
  std::string speed = "x1";
  bool no_wait = false;
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
void write_plain(const PreparedLine& line, std::int32_t speed, bool no_wait) {
  const RowText rows = row_text(line.marked, line.steps, line.layout);
  Reveal reveal = line.reveal();
  reveal.set_speed(speed);
  std::string indent(static_cast<std::size_t>(line.layout.rows[0].x), ' ');
  std::fputs(indent.c_str(), stdout);
  auto last = Clock::now();
  while (reveal.state() != RevealState::finished) {
    const auto now = Clock::now();
    const Progress progress = no_wait ? reveal.skip() : reveal.tick(now - last);
    last = now;
    reveal.release_hold();
    for (std::uint32_t i = progress.first_step; i < progress.end_step; ++i) {
      const std::uint32_t from = rows.extents[i].bytes;
      for (const char c :
           std::string_view(rows.text).substr(from, rows.extents[i + 1].bytes - from)) {
        std::fputc(c, stdout);
        if (c != '\n') continue;
        indent.assign(static_cast<std::size_t>(line.layout.rows[line.layout.steps[i].row].x), ' ');
        std::fputs(indent.c_str(), stdout);
      }
    }
    if (progress.first_step != progress.end_step) std::fflush(stdout);
    if (!no_wait && reveal.state() != RevealState::finished) std::this_thread::sleep_for(frame);
  }
  std::fputc('\n', stdout);
}

// Which steps are bold and italic.
struct StepStyle {
  bool bold = false;
  bool italic = false;
  friend bool operator==(const StepStyle&, const StepStyle&) = default;
};

std::vector<StepStyle> step_styles(const PreparedLine& line) {
  std::vector<StepStyle> styles(line.steps.size());
  EdgeWalker edges(line.marked);
  int bold = 0;
  int italic = 0;
  for (std::uint32_t i = 0; i < line.steps.size(); ++i) {
    while (edges.has_edge_until(line.steps.begin_byte(i))) {
      const Edge edge = edges.take();
      const int change = edge.kind == EdgeKind::begin ? 1 : -1;
      if (std::holds_alternative<tag::Bold>(*edge.what)) bold += change;
      if (std::holds_alternative<tag::Italic>(*edge.what)) italic += change;
    }
    styles[i] = {bold > 0, italic > 0};
  }
  return styles;
}

class Player {
 public:
  Player(const PreparedLine& line, std::int32_t speed)
      : line_(line), styles_(step_styles(line)), reveal_(line.reveal()) {
    reveal_.set_speed(speed);
  }

  void play() {
    terminal_.set_faint();
    terminal_.write("space: show the rest, go on   p: pause   + -: speed   q: leave\n\n");
    terminal_.set_style(false, false);
    terminal_.flush();
    auto last = Clock::now();
    bool leaving = false;
    while (reveal_.state() != RevealState::finished && !leaving) {
      const auto now = Clock::now();
      show(reveal_.tick(now - last));
      last = now;
      show_note();
      terminal_.flush();
      if (const auto key = terminal_.wait_for_key(frame)) leaving = !press(*key);
      leaving = leaving || terminal_.interrupted();
    }
    set_note("");
    terminal_.write("\n");
    terminal_.flush();
  }

 private:
  // Answers whether to go on.
  bool press(char key) {
    switch (key) {
      case ' ':
      case '\n':
      case '\r':
        if (!reveal_.release_hold()) show(reveal_.skip());
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
      case 'q':
        return false;
      default:
        return true;
    }
  }

  void change_speed(const int* speed) {
    if (speed == speeds.end()) --speed;
    reveal_.set_speed(*speed);
    speed_note_until_ = Clock::now() + std::chrono::seconds(1);
  }

  void show(const Progress& progress) {
    if (progress.first_step == progress.end_step) return;
    set_note("");
    for (std::uint32_t i = progress.first_step; i < progress.end_step; ++i) show_step(i);
  }

  void show_step(std::uint32_t i) {
    const StepPlace& place = line_.layout.steps[i];
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
    } else if (Clock::now() < speed_note_until_) {
      set_note(fmt::format("x{:g}", static_cast<double>(reveal_.speed()) / Reveal::normal_speed));
    } else {
      set_note("");
    }
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

  const PreparedLine& line_;
  std::vector<StepStyle> styles_;
  Reveal reveal_;
  Terminal terminal_;
  StepStyle style_;
  std::uint32_t row_ = 0;
  int end_cell_ = 0;  // behind the last step shown
  std::string note_;
  Clock::time_point speed_note_until_{};
};

void run(RevealOptions options, ExitStatus& status) {
  const bool live = isatty(STDOUT_FILENO) != 0 && !options.no_wait;
  if (live) options.box.width = std::min(options.box.width, Terminal::width());
  const Pace pace = read_pace(options.pace);
  Typesetter typesetter(open_language(options.text));
  typesetter.vocabulary() = read_vocabulary(options.text);
  const InputText input = read_line(options.text);
  const auto line = typesetter.prepare(input.text, pace, GridFont(), make_box(options.box));
  if (!line) throw Failure(wrong_usage, line.error().message);
  report(input.name, input.text, line->marked.diagnostics);
  report(input.name + " (as shown)", line->marked.text, line->layout.diagnostics);
  if (has_errors(line->marked.diagnostics)) status = input_has_errors;
  const std::int32_t speed = thousandths(parse_speed(options.speed).value());
  if (live) {
    Player(*line, speed).play();
  } else {
    write_plain(*line, speed, options.no_wait);
  }
}

}  // namespace

void add_reveal_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<RevealOptions>();
  CLI::App* command = app.add_subcommand("reveal", "Play a line in the terminal");
  command->footer(
      "Keys: space or enter shows the rest up to the next hold, and goes on from a hold;\n"
      "p pauses; + and - change the speed; q leaves. Without a terminal the text is written\n"
      "as it comes.");
  add_text_options(*command, options->text);
  add_pace_options(*command, options->pace);
  add_box_options(*command, options->box, "cells", false);
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
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
