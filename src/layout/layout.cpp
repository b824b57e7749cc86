// Rows, greedily: every row takes as many steps as fit and ends at the last opportunity among them.
//
// One walk over the steps keeps a running sum of the advances and remembers the sum at the last
// opportunity and at the last step with ink, so that ending a row there costs nothing. The walk has
// no branch that depends on the text but the rare end of a row: where a language may break after
// every other character, mispredicted branches were what layout cost most (going from chunk to
// chunk was tried, and dropped for that). Sums are in double, exact for any font whose advances are
// binary fractions.
//
// Guarded by tests/layout_test.cpp, against a naive wrap.

#include "arvik/layout.hpp"

#include <algorithm>
#include <cmath>

namespace arvik {
namespace {

// Sums of advances from the start of the line: up to some step, and up to the end of its ink.
struct Mark {
  std::uint32_t step = 0;
  std::uint32_t ink_end = 0;
  double sum = 0;
  double ink_sum = 0;
};

class RowBreaker {
 public:
  RowBreaker(const MarkedText& marked, const Steps& steps, const std::vector<float>& advances,
             double width, Layout& out)
      : steps_(steps),
        advances_(advances),
        width_(width),
        out_(out),
        sink_(marked.text, out.diagnostics) {}

  void run(const std::vector<RowBreak>& breaks) {
    const std::uint32_t size = steps_.size();
    Mark now;
    for (std::uint32_t i = 0; i < size; ++i) {
      const bool ink = has_ink(steps_.kinds[i]);
      const double sum = now.sum + static_cast<double>(advances_[i]);
      if (sum - first_.sum > width_ && ink) make_room(now, sum);
      now.step = i + 1;
      now.sum = sum;
      now.ink_end = ink ? i + 1 : now.ink_end;
      now.ink_sum = ink ? sum : now.ink_sum;
      opportunity_ = breaks[i] != RowBreak::none ? now : opportunity_;
      if (breaks[i] == RowBreak::required) end_row(now);
    }
    if (first_.step < size || out_.rows.empty()) end_row(now);
  }

 private:
  // The step behind `now`, up to which the sum is `sum`, does not fit into the row.
  void make_room(const Mark& now, double sum) {
    if (opportunity_.step > first_.step) end_row(opportunity_);
    if (sum - first_.sum <= width_) return;
    if (now.step > first_.step) break_word(now);
    if (sum - first_.sum > width_) warn_too_wide(now.step);
  }

  void break_word(const Mark& now) {
    if (word_broken_at_ != first_.step) {  // one warning a word, however often it is broken
      warn(DiagnosticCode::word_broken, first_.step, now.step,
           "a word is longer than the row and is broken");
    }
    word_broken_at_ = now.step;
    end_row(now);
  }

  void end_row(const Mark& end) {
    Row row;
    row.first_step = first_.step;
    row.end_step = end.step;
    row.end_ink_step = std::max(end.ink_end, first_.step);
    row.width = static_cast<float>(std::max(end.ink_sum - first_.sum, 0.0));
    out_.rows.push_back(row);
    first_ = end;
  }

  void warn_too_wide(std::uint32_t step) {
    if (warned_too_wide_) return;
    warned_too_wide_ = true;
    warn(DiagnosticCode::step_too_wide, step, step + 1,
         "a character is wider than the row and sticks out");
  }

  void warn(DiagnosticCode code, std::uint32_t first, std::uint32_t end, std::string message) {
    sink_.add({.code = code,
               .severity = Severity::warning,
               .message = std::move(message),
               .range = {steps_.extents[first].bytes, steps_.extents[end].bytes}});
  }

  const Steps& steps_;
  const std::vector<float>& advances_;
  double width_;
  Layout& out_;
  DiagnosticSink sink_;
  Mark first_;        // where the row being filled begins
  Mark opportunity_;  // the last one met; in this row if behind first_
  std::uint32_t word_broken_at_ = std::numeric_limits<std::uint32_t>::max();
  bool warned_too_wide_ = false;
};

float offset_for(Align align, float room, float unit) {
  switch (align) {
    case Align::start:
      return 0;
    case Align::center:
      return std::floor(room / 2 / unit) * unit;
    case Align::end:
      return room;
  }
  return 0;
}

void place(const Box& box, const FontMetrics& metrics, const std::vector<float>& advances,
           Layout& out) {
  out.width = 0;
  for (const Row& row : out.rows) out.width = std::max(out.width, row.width);
  out.height = static_cast<float>(out.rows.size()) * metrics.row_height;
  const float room = std::isinf(box.width) ? out.width : box.width;
  std::uint32_t index = 0;
  for (Row& row : out.rows) {
    row.x = offset_for(box.align, std::max(room - row.width, 0.0F), metrics.unit);
    row.y = static_cast<float>(index) * metrics.row_height;
    auto x = static_cast<double>(row.x);
    for (std::uint32_t i = row.first_step; i < row.end_step; ++i) {
      out.steps[i] = {static_cast<float>(x), advances[i], index};
      x += static_cast<double>(advances[i]);
    }
    ++index;
  }
}

}  // namespace

tl::expected<void, Diagnostic> lay_out(const MarkedText& marked, const Steps& steps,
                                       Language& language, const Font& font, const Box& box,
                                       Layout& out) {
  if (!(box.width > 0)) {
    return tl::unexpected(Diagnostic{.code = DiagnosticCode::bad_box,
                                     .severity = Severity::error,
                                     .message = "a box must be wider than 0"});
  }
  std::vector<RowBreak> breaks;
  language.row_breaks(marked.text, steps, breaks);
  std::vector<float> advances;
  advances.reserve(steps.size());
  font.measure({marked.text, &steps, 0, steps.size()}, advances);
  out.steps.resize(steps.size());
  out.rows.clear();
  out.diagnostics.clear();
  RowBreaker(marked, steps, advances, static_cast<double>(box.width), out).run(breaks);
  place(box, font.metrics(), advances, out);
  return {};
}

tl::expected<Layout, Diagnostic> lay_out(const MarkedText& marked, const Steps& steps,
                                         Language& language, const Font& font, const Box& box) {
  Layout out;
  return lay_out(marked, steps, language, font, box, out).map([&] { return std::move(out); });
}

RowText row_text(const MarkedText& marked, const Steps& steps, const Layout& layout) {
  RowText result;
  result.text.reserve(marked.text.size() + layout.rows.size());
  result.extents.reserve(steps.size() + 1);
  Extent extent;
  result.extents.push_back(extent);
  for (const Row& row : layout.rows) {
    const bool last_row = &row == &layout.rows.back();
    for (std::uint32_t i = row.first_step; i < row.end_step; ++i) {
      if (i < row.end_ink_step) {
        result.text += steps.text(marked.text, i);
        extent.bytes += steps.extents[i + 1].bytes - steps.extents[i].bytes;
        extent.code_points += steps.extents[i + 1].code_points - steps.extents[i].code_points;
        extent.utf16_units += steps.extents[i + 1].utf16_units - steps.extents[i].utf16_units;
      }
      result.extents.push_back(extent);
    }
    if (last_row) break;
    // The newline shows with the first step of the next row.
    result.text += '\n';
    ++extent.bytes;
    ++extent.code_points;
    ++extent.utf16_units;
  }
  return result;
}

}  // namespace arvik
