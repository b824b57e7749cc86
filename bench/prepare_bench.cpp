// Preparing lines, beside what it must be judged by: the two passes of ICU that any such
// preparation needs, alone, over text that is UTF-16 already; and the hand-written way that grows
// quadratically.

#include <benchmark/benchmark.h>
#include <unicode/ubrk.h>

#include "arvik/typesetter.hpp"
#include "dialogue.hpp"

namespace {

using namespace arvik;

std::vector<std::string> lines_of(int language) {
  return language == 0 ? bench::english_lines(1000) : bench::japanese_lines(1000);
}
const char* tag_of(int language) { return language == 0 ? "en" : "ja"; }

void sizes(benchmark::internal::Benchmark* bench) {
  for (const int size : {50, 100, 200, 400, 800}) bench->Arg(size);
}

std::int64_t characters(const std::vector<std::string>& lines) {
  Language language = Language::open("en").value();
  std::int64_t sum = 0;
  for (const std::string& line : lines) sum += language.segment(line).size();
  return sum;
}

void icu_passes(benchmark::State& state, const std::vector<UBreakIteratorType>& types) {
  const auto lines = lines_of(static_cast<int>(state.range(0)));
  const auto texts = bench::as_utf16(lines);
  UErrorCode status = U_ZERO_ERROR;
  std::vector<UBreakIterator*> iterators;
  for (const auto type : types) {
    iterators.push_back(
        ubrk_open(type, tag_of(static_cast<int>(state.range(0))), nullptr, 0, &status));
  }
  for (auto _ : state) {
    for (const auto& text : texts) {
      for (UBreakIterator* iterator : iterators) {
        ubrk_setText(iterator, text.data(), static_cast<int32_t>(text.size()), &status);
        int32_t boundaries = 0;
        while (ubrk_next(iterator) != UBRK_DONE) ++boundaries;
        benchmark::DoNotOptimize(boundaries);
      }
    }
  }
  state.SetItemsProcessed(state.iterations() * characters(lines));
  for (UBreakIterator* iterator : iterators) ubrk_close(iterator);
}

void icu_graphemes_and_rows(benchmark::State& state) {
  icu_passes(state, {UBRK_CHARACTER, UBRK_LINE});
}
BENCHMARK(icu_graphemes_and_rows)->Name("baseline/icu_two_passes")->Arg(0)->Arg(1);

void icu_rows(benchmark::State& state) { icu_passes(state, {UBRK_LINE}); }
BENCHMARK(icu_rows)->Name("baseline/icu_line_pass")->Arg(0)->Arg(1);

void prepare_lines(benchmark::State& state) {
  const auto lines = lines_of(static_cast<int>(state.range(0)));
  Typesetter typesetter(Language::open(tag_of(static_cast<int>(state.range(0)))).value());
  const Pace pace;
  PreparedLine prepared;
  for (auto _ : state) {
    for (const std::string& line : lines) {
      const auto result = typesetter.prepare(line, pace, GridFont(), Box{.width = 50}, prepared);
      benchmark::DoNotOptimize(result.has_value());
    }
  }
  state.SetItemsProcessed(state.iterations() * characters(lines));
}
BENCHMARK(prepare_lines)->Name("arvik/prepare")->Arg(0)->Arg(1);

template <typename Stage>
void stage(benchmark::State& state, Stage run) {
  const auto lines = lines_of(static_cast<int>(state.range(0)));
  Language language = Language::open(tag_of(static_cast<int>(state.range(0)))).value();
  std::vector<PreparedLine> prepared(lines.size());
  const Pace pace;
  for (std::size_t i = 0; i < lines.size(); ++i) {
    parse(lines[i], prepared[i].marked);
    language.segment(prepared[i].marked.text, prepared[i].steps);
  }
  PreparedLine scratch;
  for (auto _ : state) {
    for (std::size_t i = 0; i < lines.size(); ++i) run(lines[i], prepared[i], language, scratch);
    benchmark::ClobberMemory();
  }
  state.SetItemsProcessed(state.iterations() * characters(lines));
}

void stage_parse(benchmark::State& state) {
  stage(state, [](const std::string& line, const PreparedLine&, Language&, PreparedLine& scratch) {
    parse(line, scratch.marked);
  });
}
BENCHMARK(stage_parse)->Name("arvik/stage_parse")->Arg(0)->Arg(1);

void stage_segment(benchmark::State& state) {
  stage(state, [](const std::string&, const PreparedLine& line, Language& language,
                  PreparedLine& scratch) { language.segment(line.marked.text, scratch.steps); });
}
BENCHMARK(stage_segment)->Name("arvik/stage_segment")->Arg(0)->Arg(1);

void stage_schedule(benchmark::State& state) {
  stage(state, [](const std::string&, const PreparedLine& line, Language& language,
                  PreparedLine& scratch) {
    benchmark::DoNotOptimize(
        schedule(line.marked, line.steps, language, Pace{}, scratch.schedule).has_value());
  });
}
BENCHMARK(stage_schedule)->Name("arvik/stage_schedule")->Arg(0)->Arg(1);

void stage_layout(benchmark::State& state) {
  stage(state, [](const std::string&, const PreparedLine& line, Language& language,
                  PreparedLine& scratch) {
    benchmark::DoNotOptimize(
        lay_out(line.marked, line.steps, language, GridFont(), Box{.width = 50}, scratch.layout)
            .has_value());
  });
}
BENCHMARK(stage_layout)->Name("arvik/stage_layout")->Arg(0)->Arg(1);

// The hand-written way: for every character hand a longer prefix to the label, which finds
// characters and row ends in it, as any correct label does (here with ICU alone, on text that is
// UTF-16 already), and wraps it again.
void hand_written(benchmark::State& state) {
  const std::string line = bench::english_line(static_cast<std::size_t>(state.range(0)));
  const std::u16string text = bench::as_utf16({line}).front();
  UErrorCode status = U_ZERO_ERROR;
  UBreakIterator* graphemes = ubrk_open(UBRK_CHARACTER, "en", nullptr, 0, &status);
  UBreakIterator* words = ubrk_open(UBRK_LINE, "en", nullptr, 0, &status);
  constexpr int32_t width = 50;
  std::vector<int32_t> rows;
  for (auto _ : state) {
    for (std::size_t shown = 1; shown <= text.size(); ++shown) {
      const auto length = static_cast<int32_t>(shown);
      int32_t characters = 0;
      ubrk_setText(graphemes, text.data(), length, &status);
      while (ubrk_next(graphemes) != UBRK_DONE) ++characters;
      benchmark::DoNotOptimize(characters);
      ubrk_setText(words, text.data(), length, &status);
      rows.assign(1, 0);
      int32_t last = 0;
      for (int32_t at = ubrk_next(words); at != UBRK_DONE; at = ubrk_next(words)) {
        if (at - rows.back() > width) rows.push_back(last);
        last = at;
      }
      benchmark::DoNotOptimize(rows.data());
    }
  }
  ubrk_close(graphemes);
  ubrk_close(words);
  state.SetComplexityN(state.range(0));
}
BENCHMARK(hand_written)->Name("baseline/hand_written")->Apply(sizes)->Complexity();

// The same with a label as fast as Arvik's own stages are.
void hand_written_with_arvik(benchmark::State& state) {
  const std::string line = bench::english_line(static_cast<std::size_t>(state.range(0)));
  Language language = Language::open("en").value();
  const GridFont font;
  MarkedText prefix;
  Steps steps;
  Layout layout;
  for (auto _ : state) {
    for (std::size_t shown = 1; shown <= line.size(); ++shown) {
      prefix.text.assign(line, 0, shown);
      language.segment(prefix.text, steps);
      benchmark::DoNotOptimize(
          lay_out(prefix, steps, language, font, Box{.width = 50}, layout).has_value());
    }
  }
  state.SetComplexityN(state.range(0));
}
BENCHMARK(hand_written_with_arvik)
    ->Name("baseline/hand_written_with_arvik")
    ->Apply(sizes)
    ->Complexity();

// The same as cheap as it gets: bytes are characters, and rows end at blanks.
void hand_written_for_ascii(benchmark::State& state) {
  const std::string line = bench::english_line(static_cast<std::size_t>(state.range(0)));
  constexpr std::size_t width = 50;
  std::vector<std::string> rows;
  for (auto _ : state) {
    for (std::size_t shown = 1; shown <= line.size(); ++shown) {
      const std::string prefix = line.substr(0, shown);
      rows.assign(1, {});
      for (std::size_t at = 0; at < prefix.size();) {
        const std::size_t end = std::min(prefix.find(' ', at), prefix.size() - 1) + 1;
        if (rows.back().size() + end - at > width) rows.emplace_back();
        rows.back().append(prefix, at, end - at);
        at = end;
      }
      benchmark::DoNotOptimize(rows.data());
    }
  }
  state.SetComplexityN(state.range(0));
}
BENCHMARK(hand_written_for_ascii)->Name("baseline/hand_written_ascii")->Apply(sizes)->Complexity();

// The same line with Arvik, all of it: prepared once, then revealed step by step, all counts read.
void whole_line(benchmark::State& state) {
  const std::string line = bench::english_line(static_cast<std::size_t>(state.range(0)));
  Typesetter typesetter(Language::open("en").value());
  PreparedLine prepared;
  for (auto _ : state) {
    benchmark::DoNotOptimize(
        typesetter.prepare(line, Pace{}, GridFont(), Box{.width = 50}, prepared).has_value());
    Reveal reveal = prepared.reveal();
    std::size_t sum = 0;
    while (reveal.state() != RevealState::finished) {
      reveal.tick(interval_of(30));
      sum += reveal.shown().bytes;
    }
    benchmark::DoNotOptimize(sum);
  }
  state.SetComplexityN(state.range(0));
}
BENCHMARK(whole_line)->Name("arvik/whole_line")->Apply(sizes)->Complexity();

}  // namespace
