// Rows, greedily: every row takes as many chunks as fit, a chunk being the steps between two
// row-break opportunities, with the blanks at its end hanging.
//
// What a row would measure up to any step is a difference of two running sums, so the work goes
// chunk by chunk and nothing is measured twice. Sums are in double, exact for any font whose
// advances are binary fractions. Only a chunk that is wider than the box is looked at step by step.
//
// Guarded by tests/layout_test.cpp, against a naive wrap.

#include "arvik/layout.hpp"

#include <algorithm>
#include <cmath>

namespace arvik {
namespace {

class RowBreaker {
 public:
  RowBreaker(const MarkedText& marked, const Steps& steps, const std::vector<double>& sums,
             double width, Layout& out)
      : steps_(steps), sums_(sums), width_(width), out_(out), sink_(marked.text, out.diagnostics) {}

  void run(const std::vector<RowBreak>& breaks) {
    const std::uint32_t size = steps_.size();
    std::uint32_t chunk = 0;
    for (std::uint32_t i = 0; i < size; ++i) {
      if (breaks[i] == RowBreak::none && i + 1 < size) continue;
      add_chunk(chunk, i + 1);
      chunk = i + 1;
      if (breaks[i] == RowBreak::required) end_row(i + 1);
    }
    if (first_ < size || out_.rows.empty()) end_row(size);
  }

 private:
  [[nodiscard]] std::uint32_t ink_end(std::uint32_t first, std::uint32_t end) const {
    while (end > first && !has_ink(steps_.kinds[end - 1])) --end;
    return end;
  }

  [[nodiscard]] bool fits(std::uint32_t ink_end) const {
    return sums_[ink_end] - sums_[first_] <= width_;
  }

  void add_chunk(std::uint32_t begin, std::uint32_t end) {
    const std::uint32_t ink = ink_end(begin, end);
    if (ink == begin || fits(ink)) return;
    if (begin > first_) end_row(begin);
    if (!fits(ink)) break_word(ink);
  }

  // The chunk that begins the row is wider than the box: as many steps a row as fit, one at least.
  void break_word(std::uint32_t end) {
    bool warned = false;
    for (std::uint32_t i = first_; i < end; ++i) {
      if (!has_ink(steps_.kinds[i])) continue;
      if (i > first_ && !fits(i + 1)) {
        if (!warned) {
          warn(DiagnosticCode::word_broken, first_, i,
               "a word is longer than the row and is broken");
        }
        warned = true;
        end_row(i);
      }
      if (i == first_ && !fits(i + 1)) warn_too_wide(i);
    }
  }

  void end_row(std::uint32_t end) {
    Row row;
    row.first_step = first_;
    row.end_step = end;
    row.end_ink_step = ink_end(first_, end);
    row.width = static_cast<float>(sums_[row.end_ink_step] - sums_[first_]);
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
  const std::vector<double>& sums_;  // sums_[n] is the advance of the first n steps
  double width_;
  Layout& out_;
  DiagnosticSink sink_;
  std::uint32_t first_ = 0;  // of the row being filled
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

void place(const Box& box, const FontMetrics& metrics, const std::vector<double>& sums,
           Layout& out) {
  out.width = 0;
  for (const Row& row : out.rows) out.width = std::max(out.width, row.width);
  out.height = static_cast<float>(out.rows.size()) * metrics.row_height;
  const float room = std::isinf(box.width) ? out.width : box.width;
  std::uint32_t index = 0;
  for (Row& row : out.rows) {
    row.x = offset_for(box.align, std::max(room - row.width, 0.0F), metrics.unit);
    row.y = static_cast<float>(index) * metrics.row_height;
    const double left = static_cast<double>(row.x) - sums[row.first_step];
    for (std::uint32_t i = row.first_step; i < row.end_step; ++i) {
      const auto width = static_cast<float>(sums[i + 1] - sums[i]);
      out.steps[i] = {static_cast<float>(left + sums[i]), width, index};
    }
    ++index;
  }
}

std::vector<double> running_sums(const std::vector<float>& advances) {
  std::vector<double> sums(advances.size() + 1);
  double sum = 0;
  for (std::size_t i = 0; i < advances.size(); ++i) {
    sum += static_cast<double>(advances[i]);
    sums[i + 1] = sum;
  }
  return sums;
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
  const std::vector<double> sums = running_sums(advances);
  out.steps.resize(steps.size());
  out.rows.clear();
  out.diagnostics.clear();
  RowBreaker(marked, steps, sums, static_cast<double>(box.width), out).run(breaks);
  place(box, font.metrics(), sums, out);
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
