#include "report.hpp"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cstdio>
#include <numeric>
#include <utility>

#include "arvik/font.hpp"
#include "arvik/language.hpp"
#include "exit_status.hpp"

namespace arvik::tool {
namespace {

// Cells of an excerpt, so that it stands in one row of a narrow terminal, with its indent.
constexpr float excerpt_width = 70;
constexpr float most_before = 28;
constexpr float most_marked = 30;
constexpr std::size_t window = 200;  // bytes that are looked at for it, before and behind

bool continues_character(std::string_view text, std::size_t at) {
  return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0U) == 0x80U;
}

// A text that is shown, with the width of each step.
class Cells {
 public:
  Cells(Language& language, std::string text)
      : text_(std::move(text)), steps_(language.segment(text_)) {
    GridFont().measure({text_, &steps_, 0, steps_.size()}, advances_);
  }

  [[nodiscard]] float width() const {
    return std::accumulate(advances_.begin(), advances_.end(), 0.0F);
  }
  [[nodiscard]] const std::string& text() const { return text_; }
  // As many steps from the begin as fit into a width.
  [[nodiscard]] std::string first(float width) const {
    std::uint32_t end = 0;
    while (end < steps_.size() && (width -= advances_[end]) >= 0) ++end;
    return text_.substr(0, steps_.begin_byte(end));
  }
  // As many from the end.
  [[nodiscard]] std::string last(float width) const {
    std::uint32_t begin = steps_.size();
    while (begin > 0 && (width -= advances_[begin - 1]) >= 0) --begin;
    return text_.substr(steps_.begin_byte(begin));
  }

 private:
  std::string text_;
  Steps steps_;
  std::vector<float> advances_;
};

// The row around a place, cut to a width, and the place in it.
struct Excerpt {
  std::string before;
  std::string marked;
  std::string behind;
  float before_width = 0;
  float marked_width = 0;
};

Excerpt cut_excerpt(Language& language, std::string_view source, TextRange range) {
  const std::size_t begin = std::min(range.begin, source.size());
  const std::size_t newline = begin == 0 ? std::string_view::npos : source.rfind('\n', begin - 1);
  const std::size_t row_begin = newline == std::string_view::npos ? 0 : newline + 1;
  const std::size_t row_end = std::min(source.find('\n', begin), source.size());
  const std::size_t marked_end = std::clamp(range.end, begin, row_end);
  std::size_t from = std::max(row_begin, begin - std::min(begin, window));
  while (continues_character(source, from)) ++from;
  std::size_t marked_shown = std::min(marked_end, begin + window);
  while (marked_shown < marked_end && continues_character(source, marked_shown)) ++marked_shown;
  std::size_t to = std::min(row_end, marked_shown + window);
  while (to < row_end && continues_character(source, to)) ++to;

  Excerpt excerpt;
  const Cells before(language, printable(source.substr(from, begin - from)));
  excerpt.before = before.text();
  if (from > row_begin || before.width() > most_before) {
    excerpt.before = "…" + before.last(most_before - 1);
  }
  excerpt.before_width = Cells(language, excerpt.before).width();
  const Cells marked(language, printable(source.substr(begin, marked_shown - begin)));
  excerpt.marked = marked.first(most_marked);
  excerpt.marked_width = Cells(language, excerpt.marked).width();
  const Cells behind(language, marked.text().substr(excerpt.marked.size()) +
                                   printable(source.substr(marked_shown, to - marked_shown)));
  const float left = excerpt_width - excerpt.before_width - excerpt.marked_width;
  const bool fits = to == row_end && behind.width() <= left;
  excerpt.behind = fits ? behind.text() : behind.first(left - 1) + "…";
  return excerpt;
}

}  // namespace

void report(std::string_view name, std::string_view source,
            const std::vector<Diagnostic>& diagnostics, std::size_t row_offset) {
  for (const Diagnostic& diagnostic : diagnostics) {
    fmt::print(stderr, "{}:{}:{}: {}: {} ({})", name, diagnostic.row + row_offset,
               diagnostic.column, diagnostic.severity == Severity::error ? "error" : "warning",
               printable(diagnostic.message), diagnostic_name(diagnostic.code));
    if (!diagnostic.hint.empty()) fmt::print(stderr, "; did you mean \"{}\"?", diagnostic.hint);
    fmt::print(stderr, "\n");
    fmt::print(stderr, "{}", excerpt(source, diagnostic.range, "  "));
  }
}

std::string excerpt(std::string_view source, TextRange range, std::string_view indent) {
  static auto language = Language::open("en");  // opening costs more than all the rest
  if (!language) return {};
  const Excerpt cut = cut_excerpt(*language, source, range);
  if (cut.before.size() + cut.marked.size() + cut.behind.size() == 0) return {};
  return fmt::format("{0}{1}{2}{3}\n{0}{4:>{5}}{4:^<{6}}\n", indent, cut.before, cut.marked,
                     cut.behind, "", static_cast<std::size_t>(cut.before_width),
                     static_cast<std::size_t>(std::max(cut.marked_width, 1.0F)));
}

std::string printable(std::string_view text) {
  std::string result;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto byte = static_cast<unsigned char>(text[i]);
    const bool c1 = byte == 0xC2 && i + 1 < text.size() &&
                    static_cast<unsigned char>(text[i + 1]) < 0xA0;  // U+0080 to U+009F
    if (byte == '\t' || byte == '\n' || byte == '\r') {
      result += ' ';
    } else if (byte < 0x20 || byte == 0x7F || c1) {
      result += "\xEF\xBF\xBD";
      i += c1 ? 1 : 0;
    } else {
      result += text[i];
    }
  }
  return result;
}

ProgressBar::ProgressBar(std::size_t total)
    : total_(total), visible_(total > 0 && isatty(STDERR_FILENO) != 0) {}

ProgressBar::~ProgressBar() {
  if (visible_ && shown_percent_ <= 100) fmt::print(stderr, "\r{:60}\r", "");
}

void ProgressBar::set(std::size_t done) {
  if (!visible_) return;
  const std::size_t percent = 100 * done / total_;
  if (percent == shown_percent_) return;
  shown_percent_ = percent;
  const std::size_t filled = percent * 30 / 100;
  fmt::print(stderr, "\r{:▪<{}}{:·<{}} {:3} %  {} of {}", "", filled, "", 30 - filled, percent,
             done, total_);
  std::fflush(stderr);
}

}  // namespace arvik::tool
