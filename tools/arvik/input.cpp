#include "input.hpp"

#include <unistd.h>

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

void add_box_options(CLI::App& command, BoxOptions& options) {
  command.add_option("-w,--width", options.width, "Width of the rows in cells, 1 to 10000")
      ->check(CLI::Range(1, max_width).description(""))
      ->capture_default_str()
      ->type_name("CELLS");
  add_choice<Align>(command, "--align", options.align,
                    {{"start", Align::start}, {"center", Align::center}, {"end", Align::end}},
                    "Where rows stand");
}

Box make_box(const BoxOptions& options) {
  return {.width = static_cast<float>(options.width), .align = options.align};
}

}  // namespace arvik::tool
