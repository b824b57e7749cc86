#include <fmt/format.h>

#include <iterator>
#include <nlohmann/json.hpp>

#include "commands.hpp"
#include "input.hpp"
#include "report.hpp"

namespace arvik::tool {
namespace {

enum class Format { text, json };

struct LayoutOptions {
  TextOptions text;
  BoxOptions box;
  Format format = Format::text;
};

std::string_view ink_of(const MarkedText& marked, const Steps& steps, const Row& row) {
  const std::uint32_t begin = steps.begin_byte(row.first_step);
  return std::string_view(marked.text).substr(begin, steps.extents[row.end_ink_step].bytes - begin);
}

// `0         10        20`, a number over every tenth cell.
std::string ruler(int width) {
  std::string numbers;
  for (int cell = 0; cell < width; cell += 10) numbers += fmt::format("{:<10}", cell);
  return numbers.substr(0, numbers.find_last_not_of(' ') + 1);
}

std::string edge(int width, std::string_view left, std::string_view tick, std::string_view right) {
  std::string edge(left);
  for (int cell = 0; cell < width; ++cell) edge += cell % 10 == 0 ? tick : "─";
  return edge += right;
}

std::string layout_text(const MarkedText& marked, const Steps& steps, const Layout& layout,
                        int width) {
  fmt::memory_buffer out;
  auto end = std::back_inserter(out);
  fmt::format_to(end, "      {}\n     {}\n", ruler(width), edge(width, "┌", "┬", "┐"));
  for (std::size_t i = 0; i < layout.rows.size(); ++i) {
    const Row& row = layout.rows[i];
    const int left = static_cast<int>(row.x);
    const int ink = static_cast<int>(row.width);
    fmt::format_to(end, "{:4} │{:{}}{}{:{}}│ {}\n", i, "", left,
                   printable(ink_of(marked, steps, row)), "", std::max(width - left - ink, 0), ink);
  }
  fmt::format_to(end, "     {}\n", edge(width, "└", "┴", "┘"));
  fmt::format_to(end, "      {} {}, widest {} of {} cells\n", layout.rows.size(),
                 layout.rows.size() == 1 ? "row" : "rows", static_cast<int>(layout.width), width);
  return fmt::to_string(out);
}

std::string layout_json(const MarkedText& marked, const Steps& steps, const Layout& layout) {
  using nlohmann::ordered_json;
  ordered_json rows = ordered_json::array();
  for (const Row& row : layout.rows) {
    rows.push_back({{"text", ink_of(marked, steps, row)},
                    {"x", static_cast<int>(row.x)},
                    {"width", static_cast<int>(row.width)},
                    {"first_step", row.first_step},
                    {"end_step", row.end_step}});
  }
  const ordered_json json = {{"arvik_layout", 1},
                             {"width", static_cast<int>(layout.width)},
                             {"height", static_cast<int>(layout.height)},
                             {"rows", std::move(rows)}};
  return json.dump(2) + "\n";
}

void run(const LayoutOptions& options, ExitStatus& status) {
  Language language = open_language(options.text);
  const InputText input = read_line(options.text);
  const MarkedText marked = parse(input.text);
  report(input.name, input.text, marked.diagnostics);
  if (has_errors(marked.diagnostics)) status = input_has_errors;
  const Steps steps = language.segment(marked.text);
  const auto layout = lay_out(marked, steps, language, GridFont(), make_box(options.box));
  if (!layout) throw Failure(wrong_usage, layout.error().message);
  report(input.name + " (as shown)", marked.text, layout->diagnostics);
  fmt::print("{}", options.format == Format::json
                       ? layout_json(marked, steps, *layout)
                       : layout_text(marked, steps, *layout, options.box.width));
}

}  // namespace

void add_layout_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<LayoutOptions>();
  CLI::App* command = app.add_subcommand("layout", "Show the rows of a line in a box");
  add_text_options(*command, options->text);
  add_box_options(*command, options->box);
  add_choice<Format>(*command, "--format", options->format,
                     {{"text", Format::text}, {"json", Format::json}},
                     "How to write it; default text");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
