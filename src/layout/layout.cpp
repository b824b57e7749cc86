// From a shaped line to rows, pages and places.
//
// Rows are found greedily: every row takes as many steps as fit and ends at the last opportunity
// among them. The sums of the advances say where the row is full; from there it goes back to the
// last opportunity, a word at the most. (Going from chunk to chunk was tried and dropped: where a
// language may break after every other character, mispredicted branches were what layout cost
// most.) Sums are in double, exact for any font whose advances are binary fractions.
//
// Where a row must begin or end inside what was shaped together, its real width is asked for, and
// the row is shortened until that fits.
//
// Guarded by tests/layout/layout_test.cpp, against a naive wrap, and
// tests/fonts/shaped_layout_test.cpp.

#include "arvik/layout.hpp"

#include <algorithm>
#include <cmath>

#include "../base/borrowed.hpp"
#include "../base/bytes.hpp"
#include "../base/failure.hpp"
#include "text_shape.hpp"

namespace arvik {
namespace {

using base::failure;
using layout::TextShape;

// Sizes are floats, and so n times a height may come out above the height of a box that was made
// for n rows. Sums may exceed the box by this factor: far less than can be seen, more than rounding
// makes.
constexpr double rounding = 1 + 1e-6;

// What is left of the box for text.
struct TextArea {
  float left = 0, top = 0, width = 0, height = 0;
};

TextArea text_area(const Box& box) {
  const float picture = box.picture_width > 0 ? box.picture_width + box.picture_gap : 0;
  TextArea area;
  area.left = box.padding.left + (box.picture_side == Side::left ? picture : 0);
  area.top = box.padding.top + box.name_height;
  area.width = box.width - box.padding.left - box.padding.right - picture;
  area.height = box.height - box.padding.top - box.padding.bottom - box.name_height;
  return area;
}

struct RowCut {
  std::uint32_t step = 0;
  std::uint32_t ink_end = 0;
  double ink_sum = 0;
};

// The rows and pages of one try at one width.
class Paginator {
 public:
  /// `boundaries` is asked when a page is full.
  Paginator(const MarkedText& marked, const Steps& steps,
            const std::function<const std::vector<Boundary>&()>& boundaries, const TextShape& shape,
            const Box& box, const TextArea& area, double width, layout::Scratch& scratch)
      : steps_(steps),
        boundaries_(boundaries),
        shape_(shape),
        breaks_(scratch.breaks),
        box_(box),
        width_(width * rounding),
        room_(static_cast<double>(area.height) * rounding),
        sums_(shape.sums()),
        rows_(scratch.rows),
        pages_(scratch.pages) {
    for (const Point& point : marked.points) {
      if (std::holds_alternative<tag::PageEnd>(point.what)) page_ends_.push_back(point.at);
    }
  }

  void run() {
    const std::uint32_t size = steps_.size();
    begin_page(0);
    std::uint32_t first = 0;
    while (first < size || rows_->empty()) {
      const Row row = find_row(first, page_limit(first));
      if (box_.overflow == Overflow::pages && !page_is_empty() && !fits(row)) {
        first = end_page(row.first_step);
        begin_page(first);
        continue;
      }
      add(row);
      first = row.end_step;
      if (ends_page(first)) begin_page(first);
    }
    pages_->back().end_row = static_cast<std::uint32_t>(rows_->size());
  }

  [[nodiscard]] const std::vector<Row>& rows() const { return *rows_; }
  [[nodiscard]] const std::vector<Page>& pages() const { return *pages_; }
  /// Begin and end of words that were broken, and single steps that stick out.
  [[nodiscard]] const std::vector<TextRange>& broken() const { return broken_; }
  [[nodiscard]] const std::vector<std::uint32_t>& too_wide() const { return too_wide_; }
  /// How many rows of a page fit into the box.
  [[nodiscard]] std::uint32_t fitting_rows(const Page& page) const {
    double height = 0;
    std::uint32_t count = 0;
    for (std::uint32_t r = page.first_row; r < page.end_row; ++r, ++count) {
      height += static_cast<double>(rows_[r].height) + (count > 0 ? row_spacing() : 0);
      const bool too_many = box_.max_rows > 0 && count >= box_.max_rows;
      if (height > room_ || too_many) break;
    }
    return count;
  }

 private:
  [[nodiscard]] bool page_is_empty() const { return pages_->back().first_row == rows_->size(); }

  void begin_page(std::uint32_t step) {
    const auto row = static_cast<std::uint32_t>(rows_->size());
    if (!pages_->empty()) pages_->back().end_row = row;
    pages_->push_back({row, row, step});
    page_height_ = 0;
  }

  // `[page]` is a row end, too.
  [[nodiscard]] std::uint32_t page_limit(std::uint32_t first) const {
    const std::size_t from = steps_.begin_byte(first < steps_.size() ? first : 0);
    const auto next = std::upper_bound(page_ends_.begin(), page_ends_.end(), from);
    if (first >= steps_.size() || next == page_ends_.end()) return steps_.size();
    return steps_.step_from(*next, first + 1);
  }

  [[nodiscard]] bool ends_page(std::uint32_t step) const {
    return step < steps_.size() &&
           std::binary_search(page_ends_.begin(), page_ends_.end(), steps_.begin_byte(step));
  }

  [[nodiscard]] bool fits(const Row& row) const {
    const auto count = static_cast<std::uint32_t>(rows_->size()) - pages_->back().first_row;
    if (box_.max_rows > 0 && count >= box_.max_rows) return false;
    return page_height_ + row_spacing() + static_cast<double>(row.height) <= room_;
  }

  [[nodiscard]] double row_spacing() const { return static_cast<double>(box_.row_spacing); }

  void add(const Row& row) {
    page_height_ += static_cast<double>(row.height) + (page_is_empty() ? 0 : row_spacing());
    rows_->push_back(row);
    rows_->back().page = static_cast<std::uint32_t>(pages_->size()) - 1;
  }

  // The page is full. Cuts it at the end of a sentence in its last third, if there is one; returns
  // where the next page begins.
  std::uint32_t end_page(std::uint32_t next) {
    const std::uint32_t first = pages_->back().first_step;
    const std::uint32_t third = (next - first) / 3;
    const std::vector<Boundary>& all = boundaries_();
    auto boundary =
        std::lower_bound(all.begin(), all.end(), next,
                         [](const Boundary& b, std::uint32_t step) { return b.step < step; });
    while (boundary != all.begin()) {
      --boundary;
      if (boundary->step <= first || boundary->step < next - third) break;
      if (!boundary->ends_sentence()) continue;
      std::uint32_t end = boundary->step + 1;
      while (end < steps_.size() && steps_.kinds[end] == StepKind::blank) ++end;
      if (end > next) continue;
      if (end == next) return next;
      while (rows_->back().first_step >= end) rows_->pop_back();
      const std::uint32_t row_first = rows_->back().first_step;
      rows_->pop_back();
      add(find_row(row_first, end));
      return end;
    }
    return next;
  }

  // The row that begins at `first` and goes to before `limit` at the most.
  Row find_row(std::uint32_t first, std::uint32_t limit) {
    RowCut cut = greedy(first, limit);
    const bool safe = shape_.is_safe_cut(first) && shape_.is_safe_cut(cut.step);
    if (!safe) shorten(first, cut);
    Row row;
    row.first_step = first;
    row.end_step = cut.step;
    row.end_ink_step = std::max(cut.ink_end, first);
    row.width = static_cast<float>(cut.ink_sum);
    const auto metrics = shape_.row_metrics(first, cut.step);
    row.height = metrics.height;
    row.baseline = metrics.ascent;
    return row;
  }

  RowCut greedy(std::uint32_t first, std::uint32_t limit) {
    limit = std::min(limit, behind_required_break(first));
    const double* sums = sums_.data();
    const double full = sums[first] + width_;
    const double* fits = std::upper_bound(sums + first + 1, sums + limit + 1, full);
    for (auto end = static_cast<std::uint32_t>(fits - sums) - 1; end < limit; ++end) {
      if (!has_ink(steps_.kinds[end])) continue;
      if (const RowCut cut = last_opportunity(first, end); cut.step > first) return cut;
      if (end > first) return break_word(first, cut_at(first, before_reading(first, end)));
      too_wide_.push_back(end);
    }
    return cut_at(first, limit);
  }

  // Behind the first row end that was written at `first` or behind it; the end of the text if there
  // is none.
  std::uint32_t behind_required_break(std::uint32_t first) {
    if (first < required_from_ || first >= required_end_) {
      required_from_ = first;
      const std::size_t last = base::find_byte(breaks_, RowBreak::required, first);
      required_end_ = std::min(static_cast<std::uint32_t>(last) + 1, steps_.size());
    }
    return required_end_;
  }

  // Where a row that is full before `end` may end; its begin if nowhere.
  [[nodiscard]] RowCut last_opportunity(std::uint32_t first, std::uint32_t end) const {
    while (end > first && breaks_[end - 1] == RowBreak::none) --end;
    return cut_at(first, end);
  }

  [[nodiscard]] RowCut cut_at(std::uint32_t first, std::uint32_t end) const {
    std::uint32_t ink_end = end;
    while (ink_end > first && !has_ink(steps_.kinds[ink_end - 1])) --ink_end;
    return {end, ink_end, sums_[ink_end] - sums_[first]};
  }

  // A word that must be broken is not broken inside the base of a reading, if that is possible.
  [[nodiscard]] std::uint32_t before_reading(std::uint32_t first, std::uint32_t end) const {
    const std::size_t i = shape_.reading_from(end - 1);
    if (i == shape_.readings().size()) return end;
    const layout::Reading& reading = shape_.readings()[i];
    const bool inside = reading.first_step < end && end < reading.end_step;
    return inside && reading.first_step > first ? reading.first_step : end;
  }

  RowCut break_word(std::uint32_t first, const RowCut& now) {
    const std::size_t begin = steps_.begin_byte(first);
    const std::size_t end = steps_.extents[now.step].bytes;
    // The same word again: its next row, or this row once more because the page was full.
    const bool is_told = !broken_.empty() && begin <= broken_end_;
    if (!is_told) broken_.push_back({begin, end});
    broken_end_ = std::max(broken_end_, end);
    return now;
  }

  // Takes steps from the end of a row until what is left fits when it is shaped by itself.
  void shorten(std::uint32_t first, RowCut& cut) const {
    cut.ink_sum = shape_.width_of_row(first, cut.ink_end);
    while (cut.ink_sum > width_ && cut.step > first + 1) {
      --cut.step;
      while (cut.step > first + 1 && !shape_.is_safe_cut(cut.step) &&
             steps_.kinds[cut.step] == StepKind::unseen) {
        --cut.step;
      }
      cut.ink_end = cut.step;
      while (cut.ink_end > first && !has_ink(steps_.kinds[cut.ink_end - 1])) --cut.ink_end;
      cut.ink_sum = shape_.width_of_row(first, cut.ink_end);
    }
  }

  const Steps& steps_;
  const std::function<const std::vector<Boundary>&()>& boundaries_;
  const TextShape& shape_;
  const std::vector<RowBreak>& breaks_;
  const Box& box_;
  double width_;
  double room_;                         // of a page, from top to bottom
  std::vector<std::size_t> page_ends_;  // bytes
  const std::vector<double>& sums_;
  std::uint32_t required_from_ = 1;  // what behind_required_break() found last, and from where on
  std::uint32_t required_end_ = 0;
  base::Borrowed<Row> rows_;
  base::Borrowed<Page> pages_;
  double page_height_ = 0;
  std::vector<TextRange> broken_;
  std::size_t broken_end_ = 0;  // of the last broken word, as far as it has been broken
  std::vector<std::uint32_t> too_wide_;
};

// `[keep: …]` and `[ruby …]`: no row end inside.
void keep_together(const MarkedText& marked, const Steps& steps, std::vector<RowBreak>& breaks) {
  for (const Span& span : marked.spans) {
    const bool kept = std::holds_alternative<tag::Keep>(span.what) ||
                      std::holds_alternative<tag::Ruby>(span.what);
    if (!kept) continue;
    for (std::uint32_t step = steps.step_from(span.begin);
         step < steps.size() && steps.end_byte(step) < span.end; ++step) {
      if (breaks[step] == RowBreak::allowed) breaks[step] = RowBreak::none;
    }
  }
}

class LineLayout {
 public:
  LineLayout(const MarkedText& marked, const Steps& steps, Language& language, const Font& font,
             const Box& box, const IconSizes& icon_sizes, const std::vector<Boundary>* boundaries,
             layout::Scratch& scratch, Layout& out)
      : marked_(marked),
        steps_(steps),
        language_(language),
        font_(font),
        box_(box),
        icon_sizes_(icon_sizes),
        boundaries_(boundaries),
        scratch_(scratch),
        out_(out),
        area_(text_area(box)),
        breaks_(scratch.breaks),
        languages_(scratch.languages) {
    language.row_breaks(marked.text, steps, breaks_);
    find_languages(marked, steps, languages_);
    for (const LanguageRun& run : languages_) {
      language.other(run.tag).row_breaks(marked.text, steps, run.first_step, run.end_step, breaks_);
    }
    keep_together(marked, steps, breaks_);
  }

  tl::expected<void, Diagnostic> run() {
    if (box_.overflow == Overflow::shrink) {
      shrink();
      return {};
    }
    const TextShape shape = shape_at(1);
    const Paginator pages = paginate(shape);
    if (!pages_fit(pages) && box_.overflow == Overflow::refuse) {
      return failure(DiagnosticCode::text_overflows, "the text does not fit into the box");
    }
    // A row that is higher than others stands alone on its page, and sticks out.
    const double row = static_cast<double>(font_.metrics(1, 0).row_height);
    if (box_.overflow == Overflow::pages && row > static_cast<double>(area_.height) * rounding) {
      return failure(DiagnosticCode::bad_box, "the box is lower than one row of text");
    }
    finish(shape, pages);
    return {};
  }

 private:
  TextShape shape_at(float scale) {
    out_.scale = scale;
    TextShape shape{marked_, steps_,      language_, languages_, font_,
                    box_,    icon_sizes_, scale,     scratch_,   out_};
    if (box_.ruby && shape.has_glyphs()) add_readings(shape, scale);
    return shape;
  }

  // Each reading is a line of its own, at half the size of its base. Where it is wider than that,
  // the base gets room on both sides, so that it never runs into a neighbour.
  void add_readings(TextShape& shape, float scale) {
    reading_layouts_.clear();
    std::vector<layout::Reading> readings;
    for (const Span& span : marked_.spans) {
      const auto* ruby = std::get_if<tag::Ruby>(&span.what);
      if (ruby == nullptr) continue;
      const std::uint32_t first = steps_.step_from(span.begin);
      const std::uint32_t end = steps_.step_from(span.end, first);
      const bool inside = !readings.empty() && first < readings.back().end_step;
      if (first >= end || inside) continue;
      Layout reading = lay_out_reading(ruby->reading, shape.size_at(first) * scale);
      double base = 0;
      for (std::uint32_t i = first; i < end; ++i) {
        base += static_cast<double>(shape.advances()[i]);
      }
      const double pad = (static_cast<double>(reading.width) - base) / 2;
      readings.push_back({.first_step = first,
                          .end_step = end,
                          .pad = static_cast<float>(std::max(pad, 0.0)),
                          .height = reading.height,
                          .top = shape.ascent_at(first)});
      reading_layouts_.push_back(std::move(reading));
    }
    if (!readings.empty()) shape.set_readings(std::move(readings));
  }

  Layout lay_out_reading(const std::string& text, float size) {
    constexpr double share = 50;  // percent, as CSS has it
    MarkedText marked{.text = text};
    marked.spans.push_back(
        {.begin = 0,
         .end = text.size(),
         .source = {0, text.size()},
         .what = tag::Look{.change = {.percent = share * static_cast<double>(size)}}});
    Layout reading;
    layout::Scratch scratch;
    const std::vector<Boundary> none;
    // An endless box takes any text.
    (void)layout::lay_out(marked, language_.segment(text), language_, font_, Box{}, {}, &none,
                          scratch, reading);
    return reading;
  }

  // The readings whose bases begin in a row, above them.
  void place_readings(const TextShape& shape, const Row& row) {
    const auto& readings = shape.readings();
    for (std::size_t i = shape.reading_from(row.first_step);
         i < readings.size() && readings[i].first_step < row.end_step; ++i) {
      const layout::Reading& reading = readings[i];
      if (reading.first_step < row.first_step) continue;
      float left = out_.steps[reading.first_step].x;
      float right = left;
      std::uint32_t end = reading.first_step;
      for (; end < std::min(reading.end_step, row.end_ink_step); ++end) {
        left = std::min(left, out_.steps[end].x);
        right = std::max(right, out_.steps[end].x + out_.steps[end].width);
      }
      if (end == reading.first_step) continue;  // nothing is seen of its base
      const Layout& own = reading_layouts_[i];
      const float x = (left + right - own.width) / 2 - own.rows[0].x;
      const float y = row.baseline - reading.top - reading.height;
      const std::uint32_t base_steps = end - reading.first_step;
      for (Glyph glyph : own.glyphs) {
        // It appears with its share of the base.
        const std::uint32_t step =
            reading.first_step +
            glyph.first_step * base_steps / static_cast<std::uint32_t>(own.steps.size());
        glyph.reading = true;
        glyph.first_step = step;
        glyph.end_step = step + 1;
        glyph.x += x;
        glyph.left += x;
        glyph.y += y;
        out_.glyphs.push_back(glyph);
      }
    }
  }

  [[nodiscard]] Paginator paginate_at(const TextShape& shape, double width) const {
    Paginator pages(marked_, steps_, read_once_, shape, box_, area_, width, scratch_);
    pages.run();
    return pages;
  }

  Paginator paginate(const TextShape& shape) const {
    const auto width = static_cast<double>(area_.width);
    Paginator greedy = paginate_at(shape, width);
    if (!box_.balanced || std::isinf(area_.width)) return greedy;
    // The least width that makes do with as many rows and pages.
    const auto unit = static_cast<double>(font_.metrics(1, 0).unit);
    const auto as_good = [&](const Paginator& pages) {
      return pages.rows().size() == greedy.rows().size() &&
             pages.pages().size() == greedy.pages().size() &&
             pages.broken().size() == greedy.broken().size() &&
             pages.too_wide().size() == greedy.too_wide().size();
    };
    double low = 0;
    double high = std::floor(width / unit);
    while (high - low > 1) {
      const double middle = std::floor((low + high) / 2);
      (as_good(paginate_at(shape, middle * unit)) ? high : low) = middle;
    }
    Paginator balanced = paginate_at(shape, high * unit);
    return as_good(balanced) ? std::move(balanced) : std::move(greedy);
  }

  [[nodiscard]] bool pages_fit(const Paginator& pages) const {
    return std::all_of(pages.pages().begin(), pages.pages().end(), [&](const Page& page) {
      return pages.fitting_rows(page) == page.end_row - page.first_row;
    });
  }

  // The largest of some sizes that fits; the least one if none does.
  void shrink() {
    constexpr int tries = 7;
    float low = box_.least_size;
    float high = 1;
    const auto fits_at = [&](float scale) {
      const TextShape shape = shape_at(scale);
      return pages_fit(paginate(shape));
    };
    float best = fits_at(1) ? 1 : low;
    for (int i = 0; best < 1 && i < tries; ++i) {
      const float middle = (low + high) / 2;
      (fits_at(middle) ? low : high) = middle;
      best = low;
    }
    const TextShape shape = shape_at(best);
    finish(shape, paginate(shape));
  }

  void finish(const TextShape& shape, const Paginator& pages) {
    out_.rows.assign(pages.rows().begin(), pages.rows().end());
    out_.pages.assign(pages.pages().begin(), pages.pages().end());
    clip(pages);
    measure_block();
    place(shape);
    report(shape, pages);
  }

  void clip(const Paginator& pages) {
    clipped_ = false;
    for (const Page& page : out_.pages) {
      for (std::uint32_t r = page.first_row + pages.fitting_rows(page); r < page.end_row; ++r) {
        clipped_ = true;
        if (box_.overflow == Overflow::clip) out_.rows[r].page = no_page;
      }
    }
  }

  // Of the rows of a page that are shown.
  [[nodiscard]] float height_of(const Page& page) const {
    float height = 0;
    for (std::uint32_t r = page.first_row; r < page.end_row && out_.rows[r].page != no_page; ++r) {
      height += out_.rows[r].height + (r > page.first_row ? box_.row_spacing : 0);
    }
    return height;
  }

  void measure_block() {
    out_.width = 0;
    out_.height = 0;
    for (const Row& row : out_.rows) out_.width = std::max(out_.width, row.width);
    for (const Page& page : out_.pages) out_.height = std::max(out_.height, height_of(page));
    const float around_x = std::isinf(box_.width) ? outer_width() : box_.width - area_.width;
    const float around_y = box_.padding.top + box_.padding.bottom + box_.name_height;
    const bool full_width = !box_.fit_to_text && !std::isinf(box_.width);
    const bool full_height = !box_.fit_to_text && !std::isinf(box_.height);
    const float needed = std::max(out_.width + around_x, box_.least_width);
    out_.box_width = full_width ? box_.width : std::min(needed, box_.width);
    out_.box_height = full_height ? box_.height : out_.height + around_y;
  }

  [[nodiscard]] float outer_width() const {
    const float picture = box_.picture_width > 0 ? box_.picture_width + box_.picture_gap : 0;
    return box_.padding.left + box_.padding.right + picture;
  }

  [[nodiscard]] float row_left(const Row& row, float room, float unit) const {
    const float free = std::max(room - row.width, 0.0F);
    const bool backwards = out_.direction == Direction::right_to_left;
    if (box_.align == Align::center) return std::floor(free / 2 / unit) * unit;
    return (box_.align == Align::end) != backwards ? free : 0;
  }

  [[nodiscard]] float page_top(float height, float room, float unit) const {
    const float free = std::max(room - height, 0.0F);
    if (box_.vertical_align == VerticalAlign::middle) return std::floor(free / 2 / unit) * unit;
    return box_.vertical_align == VerticalAlign::bottom ? free : 0;
  }

  void place(const TextShape& shape) {
    const float unit = font_.metrics(1, 0).unit;
    const float room = out_.box_width - outer_width();
    const float down = out_.box_height - box_.padding.top - box_.padding.bottom - box_.name_height;
    out_.steps.resize(steps_.size());
    out_.glyphs.clear();
    out_.glyphs.reserve(steps_.size());
    for (const Page& page : out_.pages) {
      float y = area_.top + page_top(height_of(page), down, unit);
      for (std::uint32_t r = page.first_row; r < page.end_row; ++r) {
        Row& row = out_.rows[r];
        row.x = area_.left + row_left(row, room, unit);
        row.y = y;
        row.baseline += y;
        y += row.height + box_.row_spacing;
        place_row(shape, row, r);
      }
    }
    set_styles();
  }

  void place_row(const TextShape& shape, Row& row, std::uint32_t index) {
    row.first_glyph = static_cast<std::uint32_t>(out_.glyphs.size());
    shape.place_row(row.first_step, row.end_ink_step, row.x, row.baseline, index, out_);
    if (!shape.readings().empty()) place_readings(shape, row);
    row.end_glyph = static_cast<std::uint32_t>(out_.glyphs.size());
    // What hangs goes on behind the text, in the direction of the line.
    const bool backwards = out_.direction == Direction::right_to_left;
    float x = backwards ? row.x : row.x + row.width;
    for (std::uint32_t i = row.end_ink_step; i < row.end_step; ++i) {
      const float width = shape.advances()[i];
      if (backwards) x -= width;
      out_.steps[i] = {x, width, index};
      if (!backwards) x += width;
    }
  }

  void set_styles() {
    if (out_.styles.size() <= 1) return;  // the glyphs have the first already
    for (Glyph& glyph : out_.glyphs) {
      const auto run =
          std::partition_point(out_.styles.begin(), out_.styles.end(),
                               [&](const StyleRun& r) { return r.end_step <= glyph.first_step; });
      glyph.style = static_cast<std::uint32_t>(run - out_.styles.begin());
    }
  }

  void report(const TextShape& shape, const Paginator& pages) {
    DiagnosticSink sink(marked_.text, out_.diagnostics);
    const auto warn = [&](DiagnosticCode code, TextRange range, std::string message) {
      sink.add({.code = code,
                .severity = Severity::warning,
                .message = std::move(message),
                .range = range});
    };
    const auto range_of = [&](std::uint32_t step) {
      return TextRange{steps_.begin_byte(step), steps_.end_byte(step)};
    };
    for (const TextRange& range : pages.broken()) {
      warn(DiagnosticCode::word_broken, range, "a word is longer than the row and is broken");
    }
    if (!pages.too_wide().empty()) {
      warn(DiagnosticCode::step_too_wide, range_of(pages.too_wide()[0]),
           "a character is wider than the row and sticks out");
    }
    std::vector<std::string_view> told;
    for (const std::uint32_t step : shape.missing()) {
      const std::string_view character = steps_.text(marked_.text, step);
      if (std::find(told.begin(), told.end(), character) != told.end()) continue;
      if (told.size() > max_diagnostics) break;
      told.push_back(character);
      warn(DiagnosticCode::missing_glyph, range_of(step),
           "no face of the font has " + quoted_word(character) + "; a box is shown");
    }
    for (std::size_t i = 0; i < shape.readings().size(); ++i) {
      if (reading_layouts_[i].diagnostics.empty()) continue;
      const layout::Reading& reading = shape.readings()[i];
      warn(DiagnosticCode::missing_glyph,
           {steps_.begin_byte(reading.first_step), steps_.end_byte(reading.end_step - 1)},
           "no face of the font has a character of the reading above this; a box is shown");
    }
    if (clipped_) {
      warn(DiagnosticCode::text_overflows, {marked_.text.size(), marked_.text.size()},
           box_.overflow == Overflow::clip
               ? "the text does not fit into the box and is cut off"
               : "the text does not fit into the box at its least size");
    }
  }

  const MarkedText& marked_;
  const Steps& steps_;
  Language& language_;
  const Font& font_;
  const Box& box_;
  const IconSizes& icon_sizes_;
  const std::vector<Boundary>* boundaries_;  // null until they are needed
  std::vector<Boundary> own_boundaries_;
  std::function<const std::vector<Boundary>&()> read_once_ =
      [this]() -> const std::vector<Boundary>& {
    if (boundaries_ == nullptr) {
      read_boundaries(marked_.text, steps_, language_, languages_, {}, own_boundaries_);
      boundaries_ = &own_boundaries_;
    }
    return *boundaries_;
  };
  layout::Scratch& scratch_;
  Layout& out_;
  TextArea area_;
  std::vector<Layout> reading_layouts_;  // in the order of the shape's readings
  std::vector<RowBreak>& breaks_;
  std::vector<LanguageRun>& languages_;
  bool clipped_ = false;
};

std::string problem_of(const Box& box) {
  const TextArea area = text_area(box);
  if (!(box.width > 0)) return "a box must be wider than 0";
  if (!(box.height > 0)) return "a box must be higher than 0";
  if (!(area.width > 0)) return "padding and picture leave no width for text";
  if (!(area.height > 0)) return "padding and name leave no height for text";
  if (!(box.row_spacing >= 0)) return "row spacing must be 0 or more";
  if (!(box.least_size >= 0.1F && box.least_size <= 1)) return "a least size must be 0.1 to 1";
  return {};
}

}  // namespace

tl::expected<void, Diagnostic> layout::lay_out(const MarkedText& marked, const Steps& steps,
                                               Language& language, const Font& font, const Box& box,
                                               const IconSizes& icon_sizes,
                                               const std::vector<Boundary>* boundaries,
                                               Scratch& scratch, Layout& out) {
  if (std::string problem = problem_of(box); !problem.empty()) {
    return failure(DiagnosticCode::bad_box, std::move(problem));
  }
  out.diagnostics.clear();
  return LineLayout(marked, steps, language, font, box, icon_sizes, boundaries, scratch, out).run();
}

tl::expected<void, Diagnostic> lay_out(const MarkedText& marked, const Steps& steps,
                                       Language& language, const Font& font, const Box& box,
                                       Layout& out, const IconSizes& icon_sizes,
                                       const std::vector<Boundary>* boundaries) {
  layout::Scratch scratch;
  return layout::lay_out(marked, steps, language, font, box, icon_sizes, boundaries, scratch, out);
}

void row_starts(const Layout& layout, RowStarts& out) {
  out.rows.clear();
  out.pages.clear();
  for (std::size_t i = 1; i < layout.rows.size(); ++i) {
    out.rows.push_back(layout.rows[i].first_step);
  }
  for (std::size_t i = 1; i < layout.pages.size(); ++i) {
    out.pages.push_back(layout.pages[i].first_step);
  }
}

RowStarts row_starts(const Layout& layout) {
  RowStarts starts;
  row_starts(layout, starts);
  return starts;
}

tl::expected<Layout, Diagnostic> lay_out(const MarkedText& marked, const Steps& steps,
                                         Language& language, const Font& font, const Box& box,
                                         const IconSizes& icon_sizes,
                                         const std::vector<Boundary>* boundaries) {
  Layout out;
  return lay_out(marked, steps, language, font, box, out, icon_sizes, boundaries).map([&] {
    return std::move(out);
  });
}

}  // namespace arvik
