#include "arvik/style.hpp"

#include <algorithm>
#include <array>

namespace arvik {
namespace {

// Sizes nested in each other stay within these.
constexpr float least_size = 0.05F;
constexpr float greatest_size = 20;

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

void apply(const StyleChange& change, TextStyle& style) {
  style.bold = change.bold.value_or(style.bold);
  style.italic = change.italic.value_or(style.italic);
  style.underline = change.underline.value_or(style.underline);
  style.strike = change.strike.value_or(style.strike);
  if (change.color) {
    style.has_color = true;
    style.color = *change.color;
  }
  if (change.percent) {
    const float factor = style.size * static_cast<float>(*change.percent / 100);
    style.size = std::clamp(factor, least_size, greatest_size);
  }
  if (change.entrance) {
    style.has_entrance = true;
    style.entrance = *change.entrance;
    style.entrance_time = change.entrance_time;
  }
}

void apply(const StyleChange& change, StyleChange& all) {
  const auto set = [](const auto& from, auto& to) {
    if (from) to = from;
  };
  set(change.bold, all.bold);
  set(change.italic, all.italic);
  set(change.underline, all.underline);
  set(change.strike, all.strike);
  set(change.color, all.color);
  set(change.percent, all.percent);
  if (change.entrance) all.entrance_time = change.entrance_time;
  set(change.entrance, all.entrance);
}

void find_styles(const MarkedText& marked, const Steps& steps, std::vector<StyleRun>& out) {
  out.clear();
  if (marked.spans.empty()) {  // as most lines
    add_run(out, 0, steps.size(), {});
    return;
  }
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
        ++depth;
        if (const auto* look = std::get_if<tag::Look>(edge.what)) apply(look->change, open[depth]);
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
