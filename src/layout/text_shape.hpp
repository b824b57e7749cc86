#pragma once

#include <cstdint>
#include <span>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/language_runs.hpp"
#include "arvik/layout.hpp"

namespace arvik::layout {

/// A stretch of steps that is shaped at once: one level, script, language, face style and size.
struct Item {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  std::uint32_t style = 0;  ///< index of its style run
  std::uint8_t level = 0;
  ScriptCode script = common_script;
  bool icon = false;
  const LanguageRun* language = nullptr;  ///< null: that of the line
  std::uint32_t first_glyph = 0;          ///< in TextShape's glyphs
  std::uint32_t end_glyph = 0;
};

/// Whether a row may begin at a step without anything being shaped anew.
enum class Cut : std::uint8_t { safe, unsafe, inside };

/// A reading above some steps (`[ruby …]`), as far as it needs room.
struct Reading {
  std::uint32_t first_step = 0;  ///< of its base
  std::uint32_t end_step = 0;
  float pad = 0;     ///< that the base needs on either side, where the reading is wider
  float height = 0;  ///< above the base
  float top = 0;     ///< of its base, above the baseline
};

/// Memory that one layout leaves to the next, so that a line of a length that was laid out before
/// takes nothing from the heap.
struct Scratch {
  std::vector<RowBreak> breaks;
  std::vector<LanguageRun> languages;
  std::vector<double> sums;
  std::vector<Row> rows;
  std::vector<Page> pages;
  // Of the shape.
  std::vector<float> advances;
  std::vector<std::uint8_t> levels;
  std::vector<std::uint8_t> code_point_levels;
  std::vector<Cut> cuts;
  std::vector<Item> items;
  std::vector<ShapedGlyph> glyphs;
  std::vector<ShapedGlyph> glyphs_of_row;
  std::vector<std::uint32_t> missing;
  std::vector<std::uint16_t> faces;
  std::vector<IconSize> icon_of_step;
  std::vector<std::uint32_t> icon_steps;
  std::vector<ScriptRun> scripts;
  std::vector<std::uint8_t> item_levels;
  std::vector<std::uint32_t> order;
  std::vector<Reading> readings;
};

/// See arvik::lay_out.
tl::expected<void, Diagnostic> lay_out(const MarkedText& marked, const Steps& steps,
                                       Language& language, const Font& font, const Box& box,
                                       const IconSizes& icon_sizes,
                                       const std::vector<Boundary>* boundaries, Scratch& scratch,
                                       Layout& out);

/// A line measured and shaped once, as if it were one endless row; and what changes where rows end.
class TextShape {
 public:
  /// Keeps references to everything for its own life; one at a time uses a scratch. `scale` makes
  /// all text smaller. Fills out.styles, out.icons and out.direction.
  TextShape(const MarkedText& marked, const Steps& steps, Language& language,
            const std::vector<LanguageRun>& languages, const Font& font, const Box& box,
            const IconSizes& icon_sizes, float scale, Scratch& scratch, Layout& out);

  [[nodiscard]] bool has_glyphs() const { return !font_.steps_stand_alone(); }
  /// The advance of every step.
  [[nodiscard]] const std::vector<float>& advances() const { return advances_; }
  /// sums()[i] is what the steps before `i` measure together; size() + 1 entries.
  [[nodiscard]] const std::vector<double>& sums() const { return sums_; }
  /// Embedding levels of the steps; empty if everything runs left to right.
  [[nodiscard]] const std::vector<std::uint8_t>& levels() const { return levels_; }
  /// Steps for which no face has a glyph.
  [[nodiscard]] const std::vector<std::uint32_t>& missing() const { return missing_; }

  /// Whether a row may begin at this step without anything being shaped anew.
  [[nodiscard]] bool is_safe_cut(std::uint32_t step) const {
    return cuts_.empty() || step >= cuts_.size() || cuts_[step] == Cut::safe;
  }
  /// What the steps measure in a row of their own.
  [[nodiscard]] double width_of_row(std::uint32_t first, std::uint32_t end) const;

  /// Makes room for readings, which rise and do not overlap.
  void set_readings(std::vector<Reading> readings);
  [[nodiscard]] const std::vector<Reading>& readings() const { return readings_; }
  /// The first reading whose base ends behind a step, as an index.
  [[nodiscard]] std::size_t reading_from(std::uint32_t step) const;
  /// How high a style's letters stand above the baseline, at the steps from `step` on.
  [[nodiscard]] float ascent_at(std::uint32_t step) const;
  [[nodiscard]] float size_at(std::uint32_t step) const;

  struct RowMetrics {
    float height = 0;
    float ascent = 0;
  };
  /// The highest row height and ascent among the styles and icons of the steps.
  [[nodiscard]] RowMetrics row_metrics(std::uint32_t first, std::uint32_t end) const;

  /// Appends the glyphs of the steps as they stand in a row of their own, from `left` on, and
  /// places the steps in row `row`.
  void place_row(std::uint32_t first, std::uint32_t end, float left, float baseline,
                 std::uint32_t row, Layout& out) const;

 private:
  void find_levels(const Box& box, Layout& out);
  [[nodiscard]] bool has_strong_letter() const;
  bool find_plain_levels();
  [[nodiscard]] bool is_shaped_blank(std::uint32_t step) const;
  [[nodiscard]] bool is_tab(std::uint32_t step) const {
    return steps_.text(marked_.text, step) == "\t";
  }
  void add_icons(const IconSizes& icon_sizes, Layout& out);
  void itemise();
  void shape(const Item& item, std::uint32_t first, std::uint32_t end,
             std::vector<ShapedGlyph>& glyphs) const;
  void measure_all();
  void sum_up();
  void shape_all();
  void note_clusters(const Item& item);
  // The part of an item's glyphs that stands for some of its steps, shaped anew if need be; good
  // until the next call.
  std::span<const ShapedGlyph> cut_out(const Item& item, std::uint32_t first,
                                       std::uint32_t end) const;
  [[nodiscard]] std::span<const Item> items_of(std::uint32_t first, std::uint32_t end) const;
  [[nodiscard]] const TextStyle& style_of(const Item& item) const {
    return out_.styles[item.style].style;
  }
  // Both put glyphs down from the pen on and return how far it went.
  double place_item(const Item& item, std::uint32_t first, std::uint32_t end, double pen,
                    float baseline, Layout& out) const;
  // What the glyphs of an item have in common.
  struct Placing {
    bool backwards = false;
    float size = 1;
    float baseline = 0;
  };
  static double place_cluster(std::span<const ShapedGlyph> cluster, const Placing& placing,
                              double pen, Layout& out);
  // The pad of a reading whose base begins or ends inside a cluster.
  [[nodiscard]] double pad_of(const ShapedGlyph& cluster, bool at_begin) const;
  double place_tab(std::uint32_t step, std::uint32_t end, double pen, Layout& out) const;
  void place_alone(std::uint32_t first, std::uint32_t end, float left, std::uint32_t row,
                   Layout& out) const;

  const MarkedText& marked_;
  const Steps& steps_;
  Language& language_;
  const std::vector<LanguageRun>& languages_;
  const Font& font_;
  Layout& out_;
  float scale_;
  Scratch& scratch_;
  // In the scratch.
  std::vector<float>& advances_;
  std::vector<double>& sums_;
  std::vector<std::uint8_t>& levels_;
  std::vector<Cut>& cuts_;
  std::vector<Item>& items_;
  std::vector<ShapedGlyph>& glyphs_;
  std::vector<std::uint32_t>& missing_;
  std::vector<Reading>& readings_;
  std::vector<std::uint16_t>& faces_;       // used in the line; the main one always counts
  std::vector<IconSize>& icon_of_step_;     // by order of icons
  std::vector<std::uint32_t>& icon_steps_;  // rising
};

}  // namespace arvik::layout
