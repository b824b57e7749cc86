#pragma once

#include <cstdint>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/markup.hpp"
#include "arvik/steps.hpp"

namespace arvik {

/// What the spans around a step ask of its look.
struct TextStyle {
  bool bold = false;
  bool italic = false;
  bool underline = false;
  bool strike = false;
  bool has_color = false;
  Rgba color{};    ///< where has_color
  float size = 1;  ///< factor of the font's size; nested sizes multiply
  bool has_entrance = false;
  Entrance entrance = Entrance::cut;  ///< where has_entrance
  Nanoseconds entrance_time{};        ///< where has_entrance; 0: the game's own
  friend bool operator==(const TextStyle&, const TextStyle&) = default;
};

/// Steps next to each other with the same style.
struct StyleRun {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  TextStyle style{};
};

/// Puts `change` on top of what is there. A new look takes a member in both structs, a line in each
/// of these two, a row in the table of tags (src/markup/tags.cpp), and whatever paints it.
ARVIK_API void apply(const StyleChange& change, TextStyle& style);
/// The same for changes: what `change` sets wins.
ARVIK_API void apply(const StyleChange& change, StyleChange& all);

/// The styles of a line, run by run, covering every step. Inner spans win over outer ones. A style
/// that changes inside a step counts from the next step on.
ARVIK_API void find_styles(const MarkedText& marked, const Steps& steps,
                           std::vector<StyleRun>& out);

}  // namespace arvik
