#include "input.hpp"

#include <fmt/format.h>
#include <unistd.h>

#include <charconv>
#include <iostream>
#include <iterator>

#include "arvik/pace_file.hpp"
#include "exit_status.hpp"
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

}  // namespace

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
}

InputText read_input(const TextOptions& options) {
  if (options.text_option->count() > 0) return {"text", options.text};
  if (!options.file.empty() && options.file != "-") {
    auto content = read_file(options.file);
    if (!content) throw Failure(wrong_usage, content.error().message);
    return {options.file, std::move(*content)};
  }
  if (options.file.empty() && isatty(STDIN_FILENO) != 0) {
    throw Failure(wrong_usage, "no text: give it as TEXT, with --file, or through a pipe");
  }
  std::string text{std::istreambuf_iterator<char>(std::cin), std::istreambuf_iterator<char>()};
  return {"stdin", std::move(text)};
}

InputText read_line(const TextOptions& options) {
  InputText input = read_input(options);
  if (options.text_option->count() > 0) return input;
  if (input.text.ends_with('\n')) input.text.pop_back();
  if (input.text.ends_with('\r')) input.text.pop_back();
  return input;
}

Language open_language(const TextOptions& options) {
  auto language = Language::open(options.language);
  if (!language) throw Failure(wrong_usage, language.error().message);
  return std::move(*language);
}

void add_pace_options(CLI::App& command, PaceOptions& options) {
  command.add_option("--pace", options.file, "Read the pace (rate and pauses) from a JSON file")
      ->type_name("FILE");
  command.add_option("--rate", options.rate, "Characters per second, like 30cps")
      ->check(reads_with(parse_rate))
      ->type_name("RATE");
}

Pace read_pace(const PaceOptions& options) {
  Pace pace;
  if (!options.file.empty()) {
    const auto content = read_file(options.file);
    if (!content) throw Failure(wrong_usage, content.error().message);
    auto read = parse_pace(*content);
    if (!read) {
      report(options.file, *content, read.error());
      throw Failure(input_has_errors, "the pace was not used");
    }
    pace = std::move(*read);
  }
  if (!options.rate.empty()) pace.rate = parse_rate(options.rate).value();
  return pace;
}

void add_box_options(CLI::App& command, BoxOptions& options, const std::string& unit, bool all) {
  command.add_option("-w,--width", options.width, "Width of the box in " + unit + ", 1 to 10000")
      ->check(in_range(1, max_width))
      ->capture_default_str()
      ->type_name("N");
  add_choice<Align>(command, "--align", options.align,
                    {{"start", Align::start}, {"center", Align::center}, {"end", Align::end}},
                    "Where rows stand");
  if (!all) return;
  command.add_option("--rows", options.rows, "Rows that the box has room for; 0 for any number")
      ->check(in_range(0, max_width))
      ->type_name("N");
  add_choice<VerticalAlign>(command, "--valign", options.vertical_align,
                            {{"top", VerticalAlign::top},
                             {"middle", VerticalAlign::middle},
                             {"bottom", VerticalAlign::bottom}},
                            "Where the text of a page stands");
  add_choice<Overflow>(command, "--overflow", options.overflow,
                       {{"pages", Overflow::pages},
                        {"shrink", Overflow::shrink},
                        {"clip", Overflow::clip},
                        {"refuse", Overflow::refuse}},
                       "What happens to text that does not fit");
  command.add_flag("--balanced", options.balanced, "Rows of about the same width");
  command.add_option("--padding", options.padding, "Between the box and its text, in " + unit)
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

}  // namespace arvik::tool
