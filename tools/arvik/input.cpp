#include "input.hpp"

#include <fmt/format.h>
#include <unistd.h>

#include <charconv>
#include <iostream>
#include <iterator>

#include "arvik/pace_file.hpp"
#include "arvik/style_file.hpp"
#include "exit_status.hpp"
#include "output.hpp"
#include "report.hpp"

namespace arvik::tool {
namespace {

constexpr int max_width = 10'000;

CLI::Validator reads_with(tl::expected<double, std::string> (*parse)(std::string_view)) {
  return {[parse](std::string& word) {
            const auto value = parse(word);
            return value ? std::string() : value.error();
          },
          "", ""};
}

}  // namespace

CLI::Validator in_range(double least, double most) {
  return {[=](std::string& word) {
            double value = 0;
            const char* end = word.data() + word.size();
            const auto read = std::from_chars(word.data(), end, value);
            const bool good =
                read.ec == std::errc{} && read.ptr == end && value >= least && value <= most;
            return good ? std::string()
                        : fmt::format("{} is not a number from {:g} to {:g}", quoted_word(word),
                                      least, most);
          },
          "", ""};
}

void add_text_options(CLI::App& command, TextOptions& options) {
  options.text_option =
      command.add_option("TEXT", options.text, "The line, with its markup")->type_name(" ");
  command.add_option("-f,--file", options.file, "Read the line from a file; - is standard input")
      ->excludes(options.text_option)
      ->type_name("FILE");
  command
      .add_option("--lang", options.language,
                  "Language of the text, for row ends and abbreviations (BCP 47)")
      ->capture_default_str()
      ->type_name("TAG");
  command.add_option("--styles", options.styles, "Read named styles, for [style NAME: …]")
      ->type_name("FILE");
  add_value_option(command, options.values);
}

void add_value_option(CLI::App& command, std::vector<std::string>& values) {
  command.add_option("--value", values, "The text of [value NAME]; repeat it for several names")
      ->check(CLI::Validator(
          [](std::string& word) {
            const std::size_t equals = word.find('=');
            const bool good = equals != std::string::npos && equals > 0;
            return good ? std::string() : quoted_word(word) + " is not of the form NAME=TEXT";
          },
          "", ""))
      ->allow_extra_args(false)
      ->type_name("NAME=TEXT");
}

Vocabulary read_vocabulary(const TextOptions& options) {
  Vocabulary vocabulary;
  if (!options.styles.empty()) {
    const std::string content = read_input_file(options.styles);
    auto styles = parse_styles(content);
    if (!styles) {
      report(options.styles, content, styles.error());
      throw Failure(input_has_errors, "the styles were not used");
    }
    vocabulary.styles = std::move(*styles);
  }
  if (!options.values.empty()) {
    vocabulary.value = [values = options.values](std::string_view name) {
      for (const std::string_view value : values) {
        const std::size_t equals = value.find('=');
        if (value.substr(0, equals) == name) {
          return std::optional<TextValue>(std::string(value.substr(equals + 1)));
        }
      }
      return std::optional<TextValue>();
    };
  }
  return vocabulary;
}

namespace {

// A byte order mark at the begin of a file is no part of its text.
std::string without_mark(std::string text) {
  if (text.starts_with("\xEF\xBB\xBF")) text.erase(0, 3);
  return text;
}

InputText read_text_file(const std::string& path) {
  return {path, without_mark(read_input_file(path))};
}

InputText without_last_newline(InputText input) {
  if (input.text.ends_with('\n')) input.text.pop_back();
  if (input.text.ends_with('\r')) input.text.pop_back();
  return input;
}

}  // namespace

InputText read_input(const TextOptions& options) {
  if (options.text_option->count() > 0) return {"text", options.text};
  if (!options.file.empty() && options.file != "-") return read_text_file(options.file);
  if (options.file.empty() && isatty(STDIN_FILENO) != 0) {
    throw Failure(wrong_usage, "no text: give it as TEXT, with --file, or through a pipe");
  }
  std::string text{std::istreambuf_iterator<char>(std::cin), std::istreambuf_iterator<char>()};
  return {"stdin", without_mark(std::move(text))};
}

InputText read_line(const TextOptions& options) {
  InputText input = read_input(options);
  return options.text_option->count() > 0 ? input : without_last_newline(std::move(input));
}

InputText read_line_from(const std::string& path) {
  return without_last_newline(read_text_file(path));
}

Language open_language(const TextOptions& options) {
  auto language = Language::open(options.language);
  if (!language) throw Failure(wrong_usage, language.error().message);
  return std::move(*language);
}

namespace {

// A rate, or a reading speed in words or characters a minute.
tl::expected<double, std::string> parse_rate_or_reading(std::string_view word) {
  const bool words = word.ends_with("wpm");
  if (!words && !word.ends_with("cpm")) return parse_rate(word);
  const auto speed = parse_decimal(word.substr(0, word.size() - 3));
  const double rate = !speed ? 0 : words ? characters_per_minute(*speed) / 60 : *speed / 60;
  if (rate < min_rate || rate > max_rate) {
    return tl::unexpected(quoted_word(word) +
                          " is not a reading speed: write it like 200wpm or 1200cpm");
  }
  return rate;
}

}  // namespace

const std::map<std::string, RevealUnit>& reveal_units() {
  static const std::map<std::string, RevealUnit> units{{"step", RevealUnit::step},
                                                       {"word", RevealUnit::word},
                                                       {"row", RevealUnit::row},
                                                       {"line", RevealUnit::line}};
  return units;
}

void add_pace_options(CLI::App& command, PaceOptions& options) {
  command
      .add_option("--pace", options.file,
                  "Read the pace from a JSON file of paces or a script; NAME picks one of several")
      ->type_name("FILE[#NAME]");
  command
      .add_option("--rate", options.rate,
                  "Characters per second (30cps), or a reading speed (200wpm, 1200cpm)")
      ->check(reads_with(parse_rate_or_reading))
      ->type_name("RATE");
  add_choice<std::optional<RevealUnit>>(command, "--by", options.unit,
                                        {reveal_units().begin(), reveal_units().end()},
                                        "What appears at once");
  command.add_option("--fit", options.fit, "Make the line last exactly this long, like 2s")
      ->check(reads_with([](std::string_view word) -> tl::expected<double, std::string> {
        const auto time = parse_time(word);
        if (!time) return tl::unexpected(time.error());
        if (*time <= Nanoseconds::zero())
          return tl::unexpected(std::string("a line lasts more than 0"));
        return 0;
      }))
      ->type_name("TIME");
}

std::string path_of(const std::string& pace_file) {
  return pace_file.substr(0, pace_file.find_last_of('#'));
}

Pace read_pace(const PaceOptions& options) {
  Pace pace;
  if (!options.file.empty()) {
    const std::string path = path_of(options.file);
    const std::string name =
        path.size() < options.file.size() ? options.file.substr(path.size() + 1) : "";
    const std::string content = read_input_file(path);
    auto read = parse_pace(content, name);
    if (!read && read.error()[0].code == DiagnosticCode::unknown_pace &&
        read.error()[0].range == TextRange{}) {
      throw Failure(wrong_usage, path + ": " + read.error()[0].message);
    }
    if (!read) {
      report(path, content, read.error());
      throw Failure(input_has_errors, "the pace was not used");
    }
    pace = std::move(*read);
  }
  if (!options.rate.empty()) pace.rate = parse_rate_or_reading(options.rate).value();
  pace.unit = options.unit.value_or(pace.unit);
  if (!options.fit.empty()) {
    pace.fit = parse_time(options.fit).value();
    pace.least = pace.most = std::nullopt;
  }
  return pace;
}

void add_box_options(CLI::App& command, BoxOptions& options, const std::string& unit, bool all) {
  command.add_option("-w,--width", options.width, "Width of the box in " + unit + ", 1 to 10000")
      ->check(in_range(1, max_width))
      ->capture_default_str()
      ->type_name("N");
  add_choice<Align>(command, "--align", options.align,
                    {{"start", Align::start}, {"center", Align::center}, {"end", Align::end}},
                    "Alignment of rows");
  if (!all) return;
  command.add_option("--rows", options.rows, "The most rows in the box; 0 for any number")
      ->check(in_range(0, max_width))
      ->type_name("N");
  add_choice<VerticalAlign>(command, "--valign", options.vertical_align,
                            {{"top", VerticalAlign::top},
                             {"middle", VerticalAlign::middle},
                             {"bottom", VerticalAlign::bottom}},
                            "Vertical alignment of a page");
  add_choice<Overflow>(command, "--overflow", options.overflow,
                       {{"pages", Overflow::pages},
                        {"shrink", Overflow::shrink},
                        {"clip", Overflow::clip},
                        {"refuse", Overflow::refuse}},
                       "What to do with text that does not fit");
  command.add_flag("--balanced", options.balanced, "Rows of about the same width");
  command
      .add_option("--padding", options.padding, "Space between the box and its text, in " + unit)
      ->check(in_range(0, 1000))
      ->type_name("N");
}

Box make_box(const BoxOptions& options) {
  const float p = options.padding;
  return {.width = static_cast<float>(options.width),
          .align = options.align,
          .max_rows = static_cast<std::uint32_t>(options.rows),
          .vertical_align = options.vertical_align,
          .overflow = options.overflow,
          .padding = {p, p, p, p},
          .balanced = options.balanced};
}

void add_font_options(CLI::App& command, FontOptions& options) {
  command.add_option("--font", options.family, "Font family, as fontconfig knows it")
      ->type_name("FAMILY");
  command.add_option("--size", options.size, "Size of the font in pixels, 1 to 2000")
      ->check(in_range(1, 2000))
      ->capture_default_str()
      ->type_name("PIXELS");
}

Typesetter make_typesetter(const TextOptions& options) {
  Typesetter typesetter(open_language(options));
  typesetter.vocabulary() = read_vocabulary(options);
  return typesetter;
}

PreparedLine prepare_line(const InputText& input, Typesetter& typesetter, const Pace& pace,
                          const Font& font, const Box& box, ExitStatus& status,
                          const VoiceTiming* voice) {
  PreparedLine line;
  const auto done = typesetter.prepare(input.text, pace, font, box, line, voice);
  report(input.name, input.text, line.marked.diagnostics);
  if (has_errors(line.marked.diagnostics)) status = input_has_errors;
  if (!done) {
    const bool usage = done.error().code == DiagnosticCode::bad_pace;
    throw Failure(usage ? wrong_usage : input_has_errors, done.error().message);
  }
  report(input.name + " (as shown)", line.marked.text, line.layout.diagnostics);
  report(input.name + " (as shown)", line.marked.text, line.schedule.diagnostics);
  return line;
}

}  // namespace arvik::tool
