#include "arvik/style.hpp"

#include <algorithm>
#include <array>

namespace arvik {
namespace {

// Sizes nested in each other stay within these.
constexpr float least_size = 0.05F;
constexpr float greatest_size = 20;

void resize(TextStyle& style, double percent) {
  const float factor = style.size * static_cast<float>(percent / 100);
  style.size = std::clamp(factor, least_size, greatest_size);
}

void set_entrance(TextStyle& style, Entrance how, Nanoseconds time) {
  style.has_entrance = true;
  style.entrance = how;
  style.entrance_time = time;
}

void set_color(TextStyle& style, Rgba color) {
  style.has_color = true;
  style.color = color;
}

void apply(TextStyle& style, const StyleChange& change) {
  style.bold = change.bold.value_or(style.bold);
  style.italic = change.italic.value_or(style.italic);
  style.underline = change.underline.value_or(style.underline);
  style.strike = change.strike.value_or(style.strike);
  if (change.color) set_color(style, *change.color);
  if (change.percent) resize(style, *change.percent);
  if (change.entrance) set_entrance(style, *change.entrance, change.entrance_time);
}

void apply(TextStyle& style, const Instruction& what) {
  if (std::holds_alternative<tag::Bold>(what)) style.bold = true;
  if (std::holds_alternative<tag::Italic>(what)) style.italic = true;
  if (std::holds_alternative<tag::Underline>(what)) style.underline = true;
  if (std::holds_alternative<tag::Strike>(what)) style.strike = true;
  if (const auto* color = std::get_if<tag::Color>(&what)) set_color(style, color->color);
  if (const auto* size = std::get_if<tag::Size>(&what)) resize(style, size->percent);
  if (const auto* enter = std::get_if<tag::Enter>(&what)) {
    set_entrance(style, enter->how, enter->time);
  }
  if (const auto* named = std::get_if<tag::Style>(&what)) apply(style, named->change);
}

void add_run(std::vector<StyleRun>& out, std::uint32_t first, std::uint32_t end,
             const TextStyle& style) {
  if (first == end) return;
  if (!out.empty() && out.back().style == style) {
    out.back().end_step = end;
  } else {
    out.push_back({first, end, style});
  }
}

}  // namespace

void find_styles(const MarkedText& marked, const Steps& steps, std::vector<StyleRun>& out) {
  out.clear();
  std::array<TextStyle, max_nesting + 1> open{};
  std::size_t depth = 0;
  EdgeWalker edges(marked);
  std::uint32_t first = 0;
  for (std::uint32_t i = 0; i < steps.size();) {
    const TextStyle before = open[depth];
    while (edges.has_edge_until(steps.begin_byte(i))) {
      const Edge edge = edges.take();
      if (edge.kind == EdgeKind::begin) {
        open[depth + 1] = open[depth];
        apply(open[++depth], *edge.what);
      } else if (edge.kind == EdgeKind::end) {
        --depth;
      }
    }
    add_run(out, first, i, before);
    first = i;
    // On to the next edge.
    if (!edges.has_edge_until(marked.text.size())) break;
    i = steps.step_from(edges.next_at(), i + 1);
  }
  add_run(out, first, steps.size(), open[depth]);
}

}  // namespace arvik
