#include "report.hpp"

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <cstdio>

#include "arvik/font.hpp"
#include "arvik/language.hpp"
#include "exit_status.hpp"

namespace arvik::tool {
namespace {

constexpr std::size_t excerpt_before = 40;  // bytes shown before and behind the place
constexpr std::size_t excerpt_behind = 36;

bool continues_character(std::string_view text, std::size_t at) {
  return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0U) == 0x80U;
}

std::size_t cells(Language& language, std::string_view text) {
  const Steps steps = language.segment(text);
  std::vector<float> advances;
  GridFont().measure({text, &steps, 0, steps.size()}, advances);
  float sum = 0;
  for (const float advance : advances) sum += advance;
  return static_cast<std::size_t>(sum);
}

// The row around a place, cut to a window, and the place in it.
struct Excerpt {
  std::string before;
  std::string marked;
  std::string behind;
};

Excerpt cut_excerpt(std::string_view source, TextRange range) {
  const std::size_t begin = std::min(range.begin, source.size());
  const std::size_t newline = begin == 0 ? std::string_view::npos : source.rfind('\n', begin - 1);
  const std::size_t row_begin = newline == std::string_view::npos ? 0 : newline + 1;
  const std::size_t row_end = std::min(source.find('\n', begin), source.size());
  std::size_t from = begin - row_begin > excerpt_before ? begin - excerpt_before : row_begin;
  while (continues_character(source, from)) ++from;
  const std::size_t marked_end = std::clamp(range.end, begin, row_end);
  std::size_t marked_shown = std::min(marked_end, begin + excerpt_behind);
  std::size_t to = std::min(row_end, marked_shown + excerpt_behind);
  while (continues_character(source, marked_shown)) ++marked_shown;
  while (continues_character(source, to)) ++to;
  Excerpt excerpt;
  if (from > row_begin) excerpt.before = "…";
  excerpt.before += printable(source.substr(from, begin - from));
  excerpt.marked = printable(source.substr(begin, marked_shown - begin));
  excerpt.behind = printable(source.substr(marked_shown, to - marked_shown));
  if (to < row_end) excerpt.behind += "…";
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
  const Excerpt cut = cut_excerpt(source, range);
  if (!language || cut.before.size() + cut.marked.size() + cut.behind.size() == 0) return {};
  const std::size_t carets = std::max<std::size_t>(cells(*language, cut.marked), 1);
  return fmt::format("{0}{1}{2}{3}\n{0}{4:>{5}}{4:^<{6}}\n", indent, cut.before, cut.marked,
                     cut.behind, "", cells(*language, cut.before), carets);
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
