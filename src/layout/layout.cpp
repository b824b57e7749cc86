// Rows, greedily: every row takes as many steps as fit and ends at the last opportunity among them.
//
// Steps are visited once. What a row would measure up to any step is a difference of two running
// sums, so that going back to an opportunity costs nothing. The sums are exact: advances are
// multiples of 1/64 or coarser, and a float holds those up to 262,144 units. Beyond that, sums are
// kept in double.
//
// Guarded by tests/layout_test.cpp, against a naive wrap.

#include "arvik/layout.hpp"

#include <algorithm>
#include <cmath>

namespace arvik {
namespace {

constexpr std::uint32_t nowhere = std::numeric_limits<std::uint32_t>::max();

class RowBreaker {
 public:
  RowBreaker(const MarkedText& marked, const Steps& steps, const Box& box, Layout& out)
      : steps_(steps), box_(box), out_(out), sink_(marked.text, out.diagnostics) {}

  // out.steps holds the advances.
  void run(const std::vector<RowBreak>& breaks) {
    const std::uint32_t size = steps_.size();
    sum_ = 0;
    for (std::uint32_t i = 0; i < size; ++i) {
      const bool hangs = !has_ink(steps_.kinds[i]);
      while (!hangs && i > first_ && width_with(i) > box_.width) {
        if (opportunity_ == nowhere) {
          break_word(i);
        } else {
          end_row(opportunity_, sum_at_opportunity_);
        }
      }
      const float advance = out_.steps[i].width;
      if (!hangs && advance > box_.width) warn_too_wide(i);
      sum_ += static_cast<double>(advance);
      if (breaks[i] == RowBreak::required) {
        end_row(i + 1, sum_);
      } else if (breaks[i] == RowBreak::allowed) {
        opportunity_ = i + 1;
        sum_at_opportunity_ = sum_;
      }
    }
    if (first_ < size || out_.rows.empty()) end_row(size, sum_);
  }

 private:
  [[nodiscard]] double width_with(std::uint32_t step) const {
    return sum_ - sum_at_first_ + static_cast<double>(out_.steps[step].width);
  }

  void end_row(std::uint32_t end, double sum_at_end) {
    Row row;
    row.first_step = first_;
    row.end_step = end;
    row.end_ink_step = end;
    double width = sum_at_end - sum_at_first_;
    while (row.end_ink_step > first_ && !has_ink(steps_.kinds[row.end_ink_step - 1])) {
      --row.end_ink_step;
      width -= static_cast<double>(out_.steps[row.end_ink_step].width);
    }
    row.width = static_cast<float>(width);
    out_.rows.push_back(row);
    first_ = end;
    sum_at_first_ = sum_at_end;
    opportunity_ = nowhere;
  }

  void break_word(std::uint32_t before) {
    if (word_broken_until_ != first_) {  // one warning a word, however often it is broken
      warn(DiagnosticCode::word_broken, first_, before,
           "a word is longer than the row and is broken");
    }
    word_broken_until_ = before;
    end_row(before, sum_);
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
  const Box& box_;
  Layout& out_;
  DiagnosticSink sink_;
  std::uint32_t first_ = 0;  // of the row being filled
  double sum_ = 0;           // of the advances up to the current step
  double sum_at_first_ = 0;
  std::uint32_t opportunity_ = nowhere;  // the last one in the row
  double sum_at_opportunity_ = 0;
  std::uint32_t word_broken_until_ = nowhere;
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

void place(const Box& box, const FontMetrics& metrics, Layout& out) {
  out.width = 0;
  for (const Row& row : out.rows) out.width = std::max(out.width, row.width);
  out.height = static_cast<float>(out.rows.size()) * metrics.row_height;
  const float room = std::isinf(box.width) ? out.width : box.width;
  std::uint32_t index = 0;
  for (Row& row : out.rows) {
    row.x = offset_for(box.align, std::max(room - row.width, 0.0F), metrics.unit);
    row.y = static_cast<float>(index) * metrics.row_height;
    double x = static_cast<double>(row.x);
    for (std::uint32_t i = row.first_step; i < row.end_step; ++i) {
      out.steps[i].x = static_cast<float>(x);
      out.steps[i].row = index;
      x += static_cast<double>(out.steps[i].width);
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
  out.steps.assign(steps.size(), StepPlace{});
  for (std::uint32_t i = 0; i < steps.size(); ++i) out.steps[i].width = advances[i];
  out.rows.clear();
  out.diagnostics.clear();
  RowBreaker(marked, steps, box, out).run(breaks);
  place(box, font.metrics(), out);
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
