#include <fmt/format.h>

#include <cmath>
#include <iterator>
#include <memory>
#include <nlohmann/json.hpp>

#include "commands.hpp"
#include "fonts.hpp"
#include "input.hpp"
#include "output.hpp"
#include "report.hpp"

namespace arvik::tool {
namespace {

enum class LayoutFormat { text, json };

struct LayoutOptions {
  TextOptions text;
  BoxOptions box;
  FontOptions font;
  LayoutFormat format = LayoutFormat::text;
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

// With a real font: places in pixels, one row of text a row.
std::string pixel_text(const MarkedText& marked, const Steps& steps, const Layout& layout) {
  fmt::memory_buffer out;
  auto end = std::back_inserter(out);
  fmt::format_to(end, "page row        x        y    width  text\n");
  for (std::size_t i = 0; i < layout.rows.size(); ++i) {
    const Row& row = layout.rows[i];
    const std::string page = row.page == no_page ? "-" : std::to_string(row.page);
    fmt::format_to(end, "{:>4} {:3} {:8.2f} {:8.2f} {:8.2f}  {}\n", page, i, row.x, row.y,
                   row.width, printable(ink_of(marked, steps, row)));
  }
  fmt::format_to(end, "box {:g} by {:g}, text {:g} by {:g} pixels", layout.box_width,
                 layout.box_height, layout.width, layout.height);
  if (layout.scale < 1) fmt::format_to(end, ", at {:.0f} % of its size", layout.scale * 100);
  fmt::format_to(end, "\n");
  return fmt::to_string(out);
}

nlohmann::ordered_json number(float value) {
  if (value == std::floor(value)) return static_cast<std::int64_t>(value);
  return static_cast<double>(value);
}

std::string layout_json(const MarkedText& marked, const Steps& steps, const Layout& layout) {
  using nlohmann::ordered_json;
  ordered_json rows = ordered_json::array();
  for (const Row& row : layout.rows) {
    rows.push_back({{"text", ink_of(marked, steps, row)},
                    {"x", number(row.x)},
                    {"width", number(row.width)},
                    {"first_step", row.first_step},
                    {"end_step", row.end_step}});
    if (layout.glyphs.empty()) continue;
    rows.back()["y"] = number(row.y);
    rows.back()["baseline"] = number(row.baseline);
    rows.back()["height"] = number(row.height);
    rows.back()["glyphs"] = row.end_glyph - row.first_glyph;
  }
  ordered_json json = {{"arvik_layout", 1},
                       {"width", number(layout.width)},
                       {"height", number(layout.height)},
                       {"rows", std::move(rows)}};
  const bool plain = layout.glyphs.empty() && layout.pages.size() == 1;
  for (std::size_t i = 0; !plain && i < layout.rows.size(); ++i) {
    if (layout.rows[i].page == no_page) continue;
    json["rows"][i]["page"] = layout.rows[i].page;
  }
  if (!layout.glyphs.empty()) {
    json["box_width"] = number(layout.box_width);
    json["box_height"] = number(layout.box_height);
    json["scale"] = number(layout.scale);
  }
  return json_text(json, 2) + "\n";
}

void run(const LayoutOptions& options, ExitStatus& status) {
  Typesetter typesetter = make_typesetter(options.text);
  const InputText input = read_line(options.text);
  const bool pixels = !options.font.family.empty();
  std::unique_ptr<Font> font = std::make_unique<GridFont>();
  if (pixels) {
    font = std::make_unique<FontSet>(load_fonts(options.font.family, options.font.size,
                                                parse(input.text, typesetter.vocabulary()).text));
  }
  const PreparedLine line =
      prepare_line(input, typesetter, Pace{}, *font, make_box(options.box), status);
  std::string shown;
  if (options.format == LayoutFormat::json) {
    shown = layout_json(line.marked, line.steps, line.layout);
  } else if (pixels) {
    shown = pixel_text(line.marked, line.steps, line.layout);
  } else {
    shown = layout_text(line.marked, line.steps, line.layout, options.box.width);
  }
  write_out(shown);
}

}  // namespace

void add_layout_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<LayoutOptions>();
  CLI::App* command = app.add_subcommand("layout", "Show the rows of a line in a box");
  add_text_options(*command, options->text);
  add_box_options(*command, options->box, "cells, or pixels with --font", true);
  add_font_options(*command, options->font);
  add_choice<LayoutFormat>(*command, "--format", options->format,
                           {{"text", LayoutFormat::text}, {"json", LayoutFormat::json}},
                           "Output format; default text");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
