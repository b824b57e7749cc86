// What it costs to prepare the demo's prose in one language, beside ICU's two bare passes
// (graphemes, row breaks) over the same lines, which are UTF-16 already. scripts/language_costs.py
// runs it twice: natively for times, and under callgrind, which counts instructions.
//
// Usage: language_costs TAG FILE. Prints a row for each kind of work: its name and nanoseconds a
// line.

#include <unicode/ubrk.h>
#include <valgrind/callgrind.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <string>
#include <vector>

#include "arvik/typesetter.hpp"
#include "dialogue.hpp"

namespace {

using namespace arvik;

// The rows of the file, joined until each has 60 to 120 characters or so.
std::vector<std::string> lines_of(const char* path, const std::string& tag) {
  const bool blanks = tag != "ja" && tag != "zh" && tag != "th";
  Language language = Language::open(tag).value();
  std::ifstream file(path);
  std::vector<std::string> lines;
  std::string line;
  for (std::string row; std::getline(file, row);) {
    if (row.empty() || row[0] == '#') continue;
    if (!line.empty() && blanks) line += ' ';
    line += row;
    if (language.segment(line).size() < 60) continue;
    lines.push_back(std::move(line));
    line.clear();
  }
  return lines;
}

template <typename Work>
void measure(const char* name, std::size_t lines, Work work) {
  work();  // what is opened or grows once has done so
  CALLGRIND_START_INSTRUMENTATION;
  CALLGRIND_ZERO_STATS;
  work();
  CALLGRIND_DUMP_STATS_AT(name);
  CALLGRIND_STOP_INSTRUMENTATION;
  double best = 1e18;
  if (RUNNING_ON_VALGRIND == 0) {
    for (int i = 0; i < 60; ++i) {
      const auto begin = std::chrono::steady_clock::now();
      work();
      const std::chrono::duration<double, std::nano> time =
          std::chrono::steady_clock::now() - begin;
      best = std::min(best, time.count());
    }
  }
  std::printf("%s %.1f\n", name, best / static_cast<double>(lines));
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 3) {
    std::fprintf(stderr, "usage: language_costs TAG FILE\n");
    return 2;
  }
  const std::vector<std::string> lines = lines_of(argv[2], argv[1]);
  if (lines.empty()) {
    std::fprintf(stderr, "language_costs: %s has no lines\n", argv[2]);
    return 1;
  }
  const std::vector<std::u16string> texts = bench::as_utf16(lines);
  UErrorCode status = U_ZERO_ERROR;
  UBreakIterator* graphemes = ubrk_open(UBRK_CHARACTER, argv[1], nullptr, 0, &status);
  UBreakIterator* rows = ubrk_open(UBRK_LINE, argv[1], nullptr, 0, &status);
  int32_t boundaries = 0;
  const auto pass = [&](UBreakIterator* iterator) {
    for (const std::u16string& text : texts) {
      ubrk_setText(iterator, text.data(), static_cast<int32_t>(text.size()), &status);
      while (ubrk_next(iterator) != UBRK_DONE) ++boundaries;
    }
  };
  measure("graphemes", lines.size(), [&] { pass(graphemes); });
  measure("rows", lines.size(), [&] { pass(rows); });

  Typesetter typesetter(Language::open(argv[1]).value());
  Language language = Language::open(argv[1]).value();
  const Pace pace;
  const Box box{.width = 40};
  const GridFont font;
  std::vector<PreparedLine> ready(lines.size());
  for (std::size_t i = 0; i < lines.size(); ++i) {
    if (!typesetter.prepare(lines[i], pace, font, box, ready[i])) return 1;
  }
  PreparedLine line;
  measure("all", lines.size(), [&] {
    for (const std::string& text : lines) {
      if (!typesetter.prepare(text, pace, font, box, line)) std::abort();
    }
  });
  measure("parse", lines.size(), [&] {
    for (const std::string& text : lines) parse(text, line.marked);
  });
  const auto each = [&](auto work) {
    return [&, work] {
      for (const PreparedLine& known : ready) work(known);
    };
  };
  measure("segment", lines.size(),
          each([&](const PreparedLine& l) { language.segment(l.marked.text, line.steps); }));
  measure("boundaries", lines.size(), each([&](const PreparedLine& l) {
            read_boundaries(l.marked.text, l.steps, language, {}, {}, line.boundaries);
          }));
  std::vector<RowBreak> breaks;
  measure("breaks", lines.size(), each([&](const PreparedLine& l) {
            language.row_breaks(l.marked.text, l.steps, breaks);
          }));
  measure("layout", lines.size(), each([&](const PreparedLine& l) {
            if (!lay_out(l.marked, l.steps, language, font, box, line.layout, {}, &l.boundaries)) {
              std::abort();
            }
          }));
  measure("schedule", lines.size(), each([&](const PreparedLine& l) {
            if (!schedule(l.marked, l.steps, language, pace, line.schedule, {}, &l.boundaries)) {
              std::abort();
            }
          }));
  ubrk_close(graphemes);
  ubrk_close(rows);
  return U_FAILURE(status) || boundaries == 0 ? 1 : 0;
}
