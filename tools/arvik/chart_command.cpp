#include <fmt/format.h>

#include <filesystem>

#include "arvik/chart.hpp"
#include "commands.hpp"
#include "fonts.hpp"
#include "input.hpp"
#include "report.hpp"

namespace arvik::tool {
namespace {

struct ChartCommandOptions {
  TextOptions text;
  PaceOptions pace;
  FontOptions font{.family = "sans-serif", .size = 19};
  std::string compare;
  std::string other_file;
  std::string output = "chart.png";
  float width = 1280;
  std::string reading = "12-20";
};

// A line and when everything in it appears.
struct Take {
  std::string name;
  MarkedText marked;
  Steps steps;
  Layout layout;
  Schedule schedule;

  [[nodiscard]] ChartTrack track() const { return {name, &marked, &steps, &schedule, &layout}; }
};

// "dread" of "voices.json#dread", "voices" of "demo/voices.pace.json".
std::string pace_name(const std::string& file) {
  const std::size_t hash = file.find_last_of('#');
  if (hash != std::string::npos) return file.substr(hash + 1);
  const std::string name = std::filesystem::path(file).filename().string();
  return name.substr(0, name.find('.'));
}

Take make_take(const InputText& input, const TextOptions& text, const Pace& pace,
               const FontSet& fonts, ExitStatus& status) {
  Take take;
  Language language = open_language(text);
  parse(input.text, take.marked, read_vocabulary(text));
  report(input.name, input.text, take.marked.diagnostics);
  if (has_errors(take.marked.diagnostics)) status = input_has_errors;
  language.segment(take.marked.text, take.steps);
  const auto laid = lay_out(take.marked, take.steps, language, fonts, Box{}, take.layout);
  if (!laid) throw Failure(input_has_errors, laid.error().message);
  report(input.name + " (as shown)", take.marked.text, take.layout.diagnostics);
  const auto timed = schedule(take.marked, take.steps, language, pace, take.schedule);
  if (!timed) throw Failure(wrong_usage, timed.error().message);
  report(input.name + " (as shown)", take.marked.text, take.schedule.diagnostics);
  return take;
}

// "12-20", in characters a second.
void read_corridor(const std::string& words, ChartOptions& chart) {
  const std::size_t dash = std::min(words.find('-'), words.size());
  const auto slow = parse_decimal(words.substr(0, dash));
  const auto fast = parse_decimal(words.substr(std::min(dash + 1, words.size())));
  if (!slow || !fast || *slow <= 0 || *slow > *fast || *fast > max_rate) {
    throw Failure(wrong_usage, "--reading: " + quoted_word(words) +
                                   " is no range of speeds: write it like 12-20");
  }
  chart.slow_reading = *slow;
  chart.fast_reading = *fast;
}

CanvasKind kind_of(const std::filesystem::path& path) {
  if (path.extension() == ".svg") return CanvasKind::svg;
  if (path.extension() == ".png") return CanvasKind::pixels;
  throw Failure(wrong_usage,
                "--output: " + quoted_word(path.string()) + " ends neither in .png nor in .svg");
}

void run(const ChartCommandOptions& options, ExitStatus& status) {
  const CanvasKind kind = kind_of(options.output);
  ChartOptions chart{.width = options.width};
  read_corridor(options.reading, chart);
  std::vector<InputText> inputs{read_line(options.text)};
  std::vector<Pace> paces{read_pace(options.pace)};
  std::vector<std::string> names{options.pace.file.empty() ? "default"
                                                           : pace_name(options.pace.file)};
  if (!options.compare.empty()) {
    PaceOptions other = options.pace;
    other.file = options.compare;
    paces.push_back(read_pace(other));
    names.push_back(pace_name(options.compare));
  }
  if (!options.other_file.empty()) {
    inputs.push_back(read_line_from(options.other_file));
    if (paces.size() == 1) paces.push_back(paces[0]);
    names = {inputs[0].name, inputs[1].name};
  }
  std::string characters = "⟨⟩♪,.";  // of labels
  for (const InputText& input : inputs) characters += input.text;
  for (const std::string& value : options.text.values) characters += value;
  const FontSet fonts = load_fonts(options.font.family, options.font.size, characters);
  std::vector<Take> takes;
  for (std::size_t t = 0; t < paces.size(); ++t) {
    takes.push_back(
        make_take(inputs[std::min(t, inputs.size() - 1)], options.text, paces[t], fonts, status));
    if (paces.size() > 1 || !options.pace.file.empty()) takes[t].name = names[t];
  }
  std::vector<ChartTrack> tracks;
  tracks.reserve(takes.size());
  for (const Take& take : takes) tracks.push_back(take.track());
  auto canvas = paint_chart(tracks, fonts, chart, kind);
  if (!canvas) throw Failure(wrong_usage, canvas.error().message);
  write_file(options.output, canvas->file());
  fmt::print("{}\n", options.output);
}

}  // namespace

void add_chart_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<ChartCommandOptions>();
  CLI::App* command = app.add_subcommand("chart", "Draw the rhythm of a line as PNG or SVG");
  command->footer(
      "Each character stands at the time at which it appears; rests are filled, holds are double\n"
      "strokes, marks and sounds flags. Below, characters over time beside how fast people read.");
  add_text_options(*command, options->text);
  add_pace_options(*command, options->pace);
  command->add_option("--compare", options->compare, "Draw a second pace on the same axis")
      ->type_name("FILE[#NAME]");
  command
      ->add_option("--with", options->other_file, "Draw the line of another file beside this one")
      ->type_name("FILE");
  command
      ->add_option("--reading", options->reading,
                   "How fast people read, slow to fast, in characters a second")
      ->capture_default_str()
      ->type_name("SLOW-FAST");
  command->add_option("-w,--width", options->width, "Width of the picture in pixels, 480 to 8000")
      ->capture_default_str()
      ->type_name("PIXELS");
  add_font_options(*command, options->font);
  command->add_option("-o,--output", options->output, "The file to write, .png or .svg")
      ->capture_default_str()
      ->type_name("FILE");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
