// Shaping happens once, for the whole line. A row is then a part of what was shaped: HarfBuzz tells
// before which clusters text may be cut as it is, and only a row that begins or ends elsewhere
// (inside a word, for want of room) has the item at its edge shaped anew.
//
// Guarded by tests/fonts/shaped_layout_test.cpp and the rendered pixels of
// tests/playback/frame_test.cpp.

#include "text_shape.hpp"

#include <algorithm>

#include "../unicode/characters.hpp"

namespace arvik::layout {
namespace {

bool same_shaping(const TextStyle& a, const TextStyle& b) {
  return a.bold == b.bold && a.italic == b.italic && a.size == b.size;
}

}  // namespace

TextShape::TextShape(const MarkedText& marked, const Steps& steps, Language& language,
                     const std::vector<LanguageRun>& languages, const Font& font, const Box& box,
                     const IconSizes& icon_sizes, float scale, Scratch& scratch, Layout& out)
    : marked_(marked),
      steps_(steps),
      language_(language),
      languages_(languages),
      font_(font),
      out_(out),
      scale_(scale),
      scratch_(scratch),
      advances_(scratch.advances),
      sums_(scratch.sums),
      levels_(scratch.levels),
      cuts_(scratch.cuts),
      items_(scratch.items),
      glyphs_(scratch.glyphs),
      missing_(scratch.missing),
      readings_(scratch.readings),
      faces_(scratch.faces),
      icon_of_step_(scratch.icon_of_step),
      icon_steps_(scratch.icon_steps) {
  readings_.clear();
  advances_.clear();
  levels_.clear();
  cuts_.clear();
  items_.clear();
  glyphs_.clear();
  missing_.clear();
  faces_.clear();
  icon_of_step_.clear();
  icon_steps_.clear();
  find_styles(marked, steps, out.styles);
  find_levels(box, out);
  out.icons.clear();
  if (has_glyphs()) {
    add_icons(icon_sizes, out);
    itemise();
    shape_all();
  } else {
    measure_all();
    add_icons(icon_sizes, out);
  }
  sum_up();
}

void TextShape::sum_up() {
  sums_.resize(advances_.size() + 1);
  double sum = sums_[0] = 0;
  for (std::size_t i = 0; i < advances_.size(); ++i) {
    sum += static_cast<double>(advances_[i]);
    sums_[i + 1] = sum;
  }
}

// In stretches that look alike to the font.
void TextShape::measure_all() {
  advances_.reserve(steps_.size());
  for (std::size_t i = 0; i < out_.styles.size();) {
    TextRun run{.text = marked_.text,
                .steps = &steps_,
                .first_step = out_.styles[i].first_step,
                .style = out_.styles[i].style};
    while (i < out_.styles.size() && same_shaping(out_.styles[i].style, run.style)) {
      run.end_step = out_.styles[i++].end_step;
    }
    run.style.size *= scale_;
    font_.measure(run, advances_);
  }
}

void TextShape::find_levels(const Box& box, Layout& out) {
  out.direction = box.direction.value_or(Direction::left_to_right);
  if (!steps_.right_to_left && out.direction == Direction::left_to_right) return;
  const bool backwards =
      box.direction.value_or(Direction::right_to_left) == Direction::right_to_left;
  if (steps_.right_to_left && !steps_.left_to_right && backwards &&
      (box.direction || has_strong_letter()) && find_plain_levels()) {
    out.direction = Direction::right_to_left;
    return;
  }
  std::vector<std::uint8_t>& of_code_points = scratch_.code_point_levels;
  out.direction = language_.bidi_levels(marked_.text, box.direction, of_code_points);
  levels_.resize(steps_.size());
  for (std::uint32_t i = 0; i < steps_.size(); ++i) {
    levels_[i] = of_code_points[steps_.extents[i].code_points];
  }
}

// Whether anything says that a line without a letter from left to right is one from right to left
// (P2): Arabic digits alone do not.
bool TextShape::has_strong_letter() const {
  for (std::uint32_t i = 0; i < steps_.size(); ++i) {
    const auto step = unicode::decode(marked_.text, steps_.begin_byte(i));
    const unicode::Properties& properties = unicode::properties_of(step.code_point);
    if (properties.has(unicode::Flag::backwards) && !properties.has(unicode::Flag::number)) {
      return true;
    }
  }
  return false;
}

// Of a line from right to left without a letter that runs the other way: all of it is one run, and
// numbers in it lie one level up (rule I2), with a single separator inside (W4). Everything else is
// on the line's own level, whatever stands around it (N0 to N2), but for signs that may become part
// of a number (W4, W5). Returns false where one of them does stand beside a digit.
bool TextShape::find_plain_levels() {
  levels_.assign(steps_.size(), 1);
  if (!steps_.numbers) return true;
  const std::uint32_t size = steps_.size();
  const auto first_of = [&](std::uint32_t step) {
    return unicode::decode(marked_.text, steps_.begin_byte(step)).code_point;
  };
  const auto is_number = [&](std::uint32_t step) {
    return unicode::properties_of(first_of(step)).has(unicode::Flag::number);
  };
  const auto is_arabic = [&](std::uint32_t step) {
    return unicode::properties_of(first_of(step)).has(unicode::Flag::backwards);
  };
  const auto is_separator = [](char32_t c) {
    return c == U'.' || c == U',' || c == U':' || c == 0x060C;
  };
  const auto is_harmless = [&](std::uint32_t step) {
    switch (steps_.kinds[step]) {
      case StepKind::letter:
      case StepKind::digit:
      case StepKind::row_end:
      case StepKind::terminal:
      case StepKind::clause:
      case StepKind::dash:
      case StepKind::ellipsis:
      case StepKind::closer:
      case StepKind::quote:
      case StepKind::opener:
        return true;
      case StepKind::blank:  // others may separate thousands
        return first_of(step) == U' ';
      case StepKind::full_stop:
      case StepKind::comma:
      case StepKind::colon:
        return is_separator(first_of(step));
      case StepKind::hyphen:  // a minus among numbers, else as any other sign
        return step == 0 || step + 1 == size || !is_number(step - 1) || !is_number(step + 1);
      default:
        return is_number(step);
    }
  };
  for (std::uint32_t i = 0; i < size; ++i) {
    if (!is_number(i)) continue;
    levels_[i] = 2;
    if ((i > 0 && !is_harmless(i - 1)) || (i + 1 < size && !is_harmless(i + 1))) return false;
    if (i + 2 >= size || !is_separator(first_of(i + 1)) || !is_number(i + 2)) continue;
    // Between European and Arabic digits it depends on what stands before.
    const bool same = is_arabic(i) == is_arabic(i + 2);
    if (!same) return false;
    levels_[i + 1] = 2;
  }
  return true;
}

// Row ends and controls have no glyph; a tab is a blank of one em.
bool TextShape::is_shaped_blank(std::uint32_t step) const {
  if (steps_.kinds[step] == StepKind::row_end) return false;
  const std::string_view text = steps_.text(marked_.text, step);
  const auto first = static_cast<unsigned char>(text[0]);
  const bool control_of_latin_1 =
      first == 0xC2 && text.size() == 2 && static_cast<unsigned char>(text[1]) < 0xA0;
  return first >= 0x20 && first != 0x7F && !control_of_latin_1;
}

void TextShape::add_icons(const IconSizes& icon_sizes, Layout& out) {
  for (const Point& point : marked_.points) {
    const auto* icon = std::get_if<tag::Icon>(&point.what);
    if (icon == nullptr) continue;
    const std::uint32_t step = steps_.step_from(point.at);
    if (step >= steps_.size() || steps_.begin_byte(step) != point.at) continue;  // joined to a mark
    const float em = has_glyphs() ? font_.metrics(1, 0).ascent : 1;
    IconSize size{em, em};
    if (icon_sizes) size = icon_sizes(icon->name);
    size = {std::max(size.width, 0.0F) * scale_, std::max(size.height, 0.0F) * scale_};
    out.icons.push_back(icon->name);
    icon_steps_.push_back(step);
    icon_of_step_.push_back(size);
    if (!has_glyphs() && icon_sizes) advances_[step] = size.width;
  }
}

void TextShape::itemise() {
  std::vector<ScriptRun>& scripts = scratch_.scripts;
  find_scripts(marked_.text, steps_, scripts);
  auto script = scripts.begin();
  auto icon = icon_steps_.begin();
  auto other = languages_.begin();
  std::uint32_t style = 0;
  bool open = false;
  for (std::uint32_t i = 0; i < steps_.size(); ++i) {
    while (i >= out_.styles[style].end_step) {
      ++style;
      open = open && same_shaping(out_.styles[style].style, out_.styles[style - 1].style);
    }
    if (i == script->end_step) {
      ++script;
      open = false;
    }
    if (other != languages_.end() && i == other->end_step) {
      ++other;
      open = false;
    }
    const bool inside_other = other != languages_.end() && other->first_step <= i;
    if (inside_other && i == other->first_step) open = false;
    if (!has_ink(steps_.kinds[i]) && !is_shaped_blank(i)) {
      open = false;
      continue;
    }
    const std::uint8_t level = levels_.empty() ? 0 : levels_[i];
    const bool is_icon = icon != icon_steps_.end() && *icon == i;
    if (!open || is_icon || items_.back().level != level) {
      items_.push_back({.first_step = i,
                        .style = style,
                        .level = level,
                        .script = script->script,
                        .icon = is_icon,
                        .language = inside_other ? &*other : nullptr});
      open = !is_icon;
      if (is_icon) ++icon;
    }
    // On to where anything of this may change.
    std::uint32_t end = std::min(out_.styles[style].end_step, script->end_step);
    if (other != languages_.end()) {
      end = std::min(end, inside_other ? other->end_step : other->first_step);
    }
    if (icon != icon_steps_.end()) end = std::min(end, *icon);
    const auto goes_on = [&](std::uint32_t step) {
      return (has_ink(steps_.kinds[step]) || is_shaped_blank(step)) &&
             (levels_.empty() || levels_[step] == level);
    };
    while (open && i + 1 < end && goes_on(i + 1)) ++i;
    items_.back().end_step = i + 1;
  }
}

void TextShape::shape(const Item& item, std::uint32_t first, std::uint32_t end,
                      std::vector<ShapedGlyph>& glyphs) const {
  TextRun run{
      .text = marked_.text,
      .steps = &steps_,
      .first_step = first,
      .end_step = end,
      .style = style_of(item),
      .direction = (item.level & 1U) != 0 ? Direction::right_to_left : Direction::left_to_right,
      .script = item.script,
      .language = item.language != nullptr ? item.language->tag : language_.tag()};
  run.style.size *= scale_;
  font_.shape(run, glyphs);
}

void TextShape::shape_all() {
  faces_.push_back(0);
  glyphs_.reserve(steps_.size() + 16);
  advances_.assign(steps_.size(), 0.0F);
  cuts_.assign(steps_.size(), Cut::safe);
  const FontMetrics metrics = font_.metrics(scale_, 0);
  for (std::uint32_t i = 0; i < steps_.size(); ++i) {
    if (steps_.kinds[i] == StepKind::blank && is_tab(i)) advances_[i] = metrics.row_height;
  }
  std::size_t icon = 0;
  for (Item& item : items_) {
    item.first_glyph = static_cast<std::uint32_t>(glyphs_.size());
    if (item.icon) {
      glyphs_.push_back({.id = static_cast<std::uint32_t>(icon),
                         .face = icon_face,
                         .first_step = item.first_step,
                         .end_step = item.end_step,
                         .advance = icon_of_step_[icon].width});
      ++icon;
    } else {
      shape(item, item.first_step, item.end_step, glyphs_);
    }
    item.end_glyph = static_cast<std::uint32_t>(glyphs_.size());
    note_clusters(item);
  }
}

void TextShape::note_clusters(const Item& item) {
  std::fill(cuts_.begin() + item.first_step, cuts_.begin() + item.end_step, Cut::inside);
  const auto glyphs =
      std::span(glyphs_).subspan(item.first_glyph, item.end_glyph - item.first_glyph);
  for (const ShapedGlyph& glyph : glyphs) {
    Cut& cut = cuts_[glyph.first_step];
    if (cut != Cut::unsafe) cut = glyph.unsafe_to_break ? Cut::unsafe : Cut::safe;
    if (glyph.face != faces_.back() && glyph.face != icon_face &&
        std::find(faces_.begin(), faces_.end(), glyph.face) == faces_.end()) {
      faces_.push_back(glyph.face);
    }
    const std::uint32_t count = glyph.end_step - glyph.first_step;
    const float share = count == 1 ? glyph.advance : glyph.advance / static_cast<float>(count);
    for (std::uint32_t i = glyph.first_step; i < glyph.end_step; ++i) advances_[i] += share;
    if (glyph.id == 0 && glyph.face != icon_face && has_ink(steps_.kinds[glyph.first_step])) {
      missing_.push_back(glyph.first_step);
    }
  }
  cuts_[item.first_step] = Cut::safe;
}

std::span<const Item> TextShape::items_of(std::uint32_t first, std::uint32_t end) const {
  const auto from = std::partition_point(items_.begin(), items_.end(),
                                         [&](const Item& item) { return item.end_step <= first; });
  const auto to = std::partition_point(from, items_.end(),
                                       [&](const Item& item) { return item.first_step < end; });
  return {from, to};
}

std::span<const ShapedGlyph> TextShape::cut_out(const Item& item, std::uint32_t first,
                                                std::uint32_t end) const {
  first = std::max(first, item.first_step);
  end = std::min(end, item.end_step);
  const bool safe = is_safe_cut(first) && (end == item.end_step || is_safe_cut(end));
  if (!safe && !item.icon) {
    scratch_.glyphs_of_row.clear();
    shape(item, first, end, scratch_.glyphs_of_row);
    return scratch_.glyphs_of_row;
  }
  // Clusters rise from left to right, or fall.
  const std::span<const ShapedGlyph> all(glyphs_.data() + item.first_glyph,
                                         item.end_glyph - item.first_glyph);
  const bool backwards = (item.level & 1U) != 0;
  const auto left = std::partition_point(all.begin(), all.end(), [&](const ShapedGlyph& glyph) {
    return backwards ? glyph.first_step >= end : glyph.first_step < first;
  });
  const auto right = std::partition_point(left, all.end(), [&](const ShapedGlyph& glyph) {
    return backwards ? glyph.first_step >= first : glyph.first_step < end;
  });
  return {left, right};
}

double TextShape::width_of_row(std::uint32_t first, std::uint32_t end) const {
  double width = 0;
  if (!has_glyphs() || (is_safe_cut(first) && is_safe_cut(end))) {
    for (std::uint32_t i = first; i < end; ++i) width += static_cast<double>(advances_[i]);
    return width;
  }
  for (const Item& item : items_of(first, end)) {
    for (const ShapedGlyph& glyph : cut_out(item, first, end)) {
      width += static_cast<double>(glyph.advance);
    }
  }
  for (std::size_t i = reading_from(first); i < readings_.size() && readings_[i].first_step < end;
       ++i) {
    const Reading& reading = readings_[i];
    const int sides = (reading.first_step >= first ? 1 : 0) + (reading.end_step <= end ? 1 : 0);
    width += static_cast<double>(reading.pad) * sides;
  }
  return width;
}

void TextShape::set_readings(std::vector<Reading> readings) {
  readings_ = std::move(readings);
  for (const Reading& reading : readings_) {
    advances_[reading.first_step] += reading.pad;
    advances_[reading.end_step - 1] += reading.pad;
  }
  sum_up();
}

std::size_t TextShape::reading_from(std::uint32_t step) const {
  const auto found =
      std::partition_point(readings_.begin(), readings_.end(),
                           [&](const Reading& reading) { return reading.end_step <= step; });
  return static_cast<std::size_t>(found - readings_.begin());
}

float TextShape::size_at(std::uint32_t step) const {
  const auto run = std::partition_point(out_.styles.begin(), out_.styles.end(),
                                        [&](const StyleRun& r) { return r.end_step <= step; });
  return run == out_.styles.end() ? 1 : run->style.size;
}

float TextShape::ascent_at(std::uint32_t step) const {
  const float size = size_at(step) * scale_;
  float ascent = 0;
  for (const std::uint16_t face : faces_) {
    ascent = std::max(ascent, font_.metrics(size, face).ascent);
  }
  return ascent;
}

double TextShape::pad_of(const ShapedGlyph& cluster, bool at_begin) const {
  double pad = 0;
  for (std::size_t i = reading_from(cluster.first_step);
       i < readings_.size() && readings_[i].first_step < cluster.end_step; ++i) {
    const std::uint32_t step = at_begin ? readings_[i].first_step : readings_[i].end_step - 1;
    const bool inside = step >= cluster.first_step && step < cluster.end_step;
    if (inside) pad += static_cast<double>(readings_[i].pad);
  }
  return pad;
}

TextShape::RowMetrics TextShape::row_metrics(std::uint32_t first, std::uint32_t end) const {
  RowMetrics result;
  const auto take = [&](const FontMetrics& metrics) {
    const float descent =
        std::max(result.height - result.ascent, metrics.row_height - metrics.ascent);
    result.ascent = std::max(result.ascent, metrics.ascent);
    result.height = result.ascent + descent;
  };
  auto run = std::partition_point(out_.styles.begin(), out_.styles.end(),
                                  [&](const StyleRun& r) { return r.end_step <= first; });
  // Every row has room for every face of the line, so that rows stand evenly whatever is in them.
  const auto take_size = [&](float size) {
    if (!has_glyphs()) take(font_.metrics(size * scale_, 0));
    for (const std::uint16_t face : faces_) take(font_.metrics(size * scale_, face));
  };
  if (run == out_.styles.end() || first == end) take_size(1);
  for (; run != out_.styles.end() && run->first_step < end; ++run) take_size(run->style.size);
  for (auto icon = std::lower_bound(icon_steps_.begin(), icon_steps_.end(), first);
       icon != icon_steps_.end() && *icon < end; ++icon) {
    const float height = icon_of_step_[static_cast<std::size_t>(icon - icon_steps_.begin())].height;
    take({.row_height = height, .ascent = height, .unit = 1});
  }
  float above = 0;  // that readings need beyond the row's own ascent
  for (std::size_t i = reading_from(first); i < readings_.size() && readings_[i].first_step < end;
       ++i) {
    const Reading& reading = readings_[i];
    if (reading.first_step < first) continue;
    above = std::max(above, reading.top + reading.height - result.ascent);
  }
  result.ascent += above;
  result.height += above;
  return result;
}

void TextShape::place_alone(std::uint32_t first, std::uint32_t end, float left, std::uint32_t row,
                            Layout& out) const {
  StepPosition* places = out.steps.data();
  const float* advances = advances_.data();
  if (levels_.empty()) {
    const double* sums = sums_.data();
    const double origin = static_cast<double>(left) - sums[first];
    for (std::uint32_t i = first; i < end; ++i) {
      places[i] = {static_cast<float>(origin + sums[i]), advances[i], row};
    }
    return;
  }
  auto x = static_cast<double>(left);
  visual_order({levels_.data() + first, end - first}, scratch_.order);
  for (const std::uint32_t index : scratch_.order) {
    places[first + index] = {static_cast<float>(x), advances[first + index], row};
    x += static_cast<double>(advances[first + index]);
  }
}

// A tab behind an item has no glyph, but its advance. Returns that, or 0 if no tab is there.
double TextShape::place_tab(std::uint32_t step, std::uint32_t end, double pen, Layout& out) const {
  if (step >= end || !is_tab(step)) return 0;
  out.steps[step].x = static_cast<float>(pen);
  out.steps[step].width = advances_[step];
  return static_cast<double>(advances_[step]);
}

// Puts the glyphs of one cluster down from the pen on; returns the cluster's advance.
double TextShape::place_cluster(std::span<const ShapedGlyph> cluster, const Placing& placing,
                                double pen, Layout& out) {
  const ShapedGlyph& first = cluster.front();
  auto width = static_cast<double>(first.advance);
  for (const ShapedGlyph& glyph : cluster.subspan(1)) width += static_cast<double>(glyph.advance);
  double x = pen;
  for (const ShapedGlyph& glyph : cluster) {
    out.glyphs.push_back({.id = glyph.id,
                          .face = glyph.face,
                          .right_to_left = placing.backwards,
                          .first_step = first.first_step,
                          .end_step = first.end_step,
                          .x = static_cast<float>(x) + glyph.dx,
                          .y = placing.baseline + glyph.dy,
                          .left = static_cast<float>(pen),
                          .width = static_cast<float>(width),
                          .size = placing.size});
    x += static_cast<double>(glyph.advance);
  }
  const std::uint32_t count = first.end_step - first.first_step;
  const double share = count == 1 ? width : width / count;
  for (std::uint32_t i = 0; i < count; ++i) {
    const std::uint32_t place = placing.backwards ? count - 1 - i : i;
    StepPosition& step = out.steps[first.first_step + i];
    step.x = static_cast<float>(pen + share * place);
    step.width = static_cast<float>(share);
  }
  return width;
}

double TextShape::place_item(const Item& item, std::uint32_t first, std::uint32_t end, double pen,
                             float baseline, Layout& out) const {
  const std::span<const ShapedGlyph> glyphs = cut_out(item, first, end);
  const Placing placing{.backwards = (item.level & 1U) != 0,
                        .size = style_of(item).size * scale_,
                        .baseline = baseline};
  const double begin = pen;
  for (std::size_t at = 0; at < glyphs.size();) {
    std::size_t count = 1;
    while (at + count < glyphs.size() && glyphs[at + count].first_step == glyphs[at].first_step) {
      ++count;
    }
    const bool pads = !readings_.empty();
    if (pads) pen += pad_of(glyphs[at], !placing.backwards);
    pen += place_cluster(glyphs.subspan(at, count), placing, pen, out);
    if (pads) pen += pad_of(glyphs[at], placing.backwards);
    at += count;
  }
  return pen - begin + place_tab(item.end_step, end, pen, out);
}

void TextShape::place_row(std::uint32_t first, std::uint32_t end, float left, float baseline,
                          std::uint32_t row, Layout& out) const {
  if (!has_glyphs()) {
    place_alone(first, end, left, row, out);
    return;
  }
  // Steps without a glyph stand at the row's begin.
  std::fill(out.steps.begin() + first, out.steps.begin() + end, StepPosition{left, 0, row});
  const std::span<const Item> items = items_of(first, end);
  auto pen = static_cast<double>(left);
  if (levels_.empty()) {
    for (const Item& item : items) pen += place_item(item, first, end, pen, baseline, out);
    return;
  }
  scratch_.item_levels.clear();
  for (const Item& item : items) scratch_.item_levels.push_back(item.level);
  visual_order(scratch_.item_levels, scratch_.order);
  for (const std::uint32_t index : scratch_.order) {
    pen += place_item(items[index], first, end, pen, baseline, out);
  }
}

}  // namespace arvik::layout
