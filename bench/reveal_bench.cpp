// Ticking reveals, beside a bare loop that adds the frame's time to an array of as many clocks.

#include <benchmark/benchmark.h>

#include <vector>

#include "arvik/conversation.hpp"
#include "arvik/typesetter.hpp"
#include "dialogue.hpp"

namespace {

using namespace arvik;
constexpr std::size_t many = 10'000;
constexpr Nanoseconds frame{16'666'667};

PreparedLine prepare(double rate) {
  Typesetter typesetter(Language::open("en").value());
  return typesetter.prepare(bench::english_line(100), {.rate = rate}, GridFont(), Box{.width = 50})
      .value();
}

// What a game would write first: a clock for each line, in a struct of the size of a Reveal or
// alone.
struct Clock {
  std::int64_t elapsed = 0;
  std::int64_t due = std::int64_t{1} << 60;
  std::int64_t rest[(sizeof(Reveal) - 16) / 8] = {};
};

void bare_loop_packed(benchmark::State& state) {
  std::vector<std::int64_t> clocks(many);
  for (auto _ : state) {
    for (std::int64_t& clock : clocks) clock += 1;
    benchmark::ClobberMemory();
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(many));
}
BENCHMARK(bare_loop_packed)->Name("baseline/add_to_packed_clocks");

void bare_loop(benchmark::State& state) {
  std::vector<Clock> clocks(many);
  for (auto _ : state) {
    for (Clock& clock : clocks) clock.elapsed += 1;
    benchmark::ClobberMemory();
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(many));
}
BENCHMARK(bare_loop)->Name("baseline/add_to_clocks");

void bare_loop_compared(benchmark::State& state) {
  std::vector<Clock> clocks(many);
  for (auto _ : state) {
    std::size_t due = 0;
    for (Clock& clock : clocks) {
      clock.elapsed += 1;
      due += clock.elapsed >= clock.due ? 1 : 0;
    }
    benchmark::DoNotOptimize(due);
    benchmark::ClobberMemory();
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(many));
}
BENCHMARK(bare_loop_compared)->Name("baseline/add_and_compare");

// Nothing is ever due: one nanosecond a tick.
void idle_ticks(benchmark::State& state) {
  const PreparedLine line = prepare(0.01);
  std::vector<Reveal> reveals(many, line.reveal());
  for (Reveal& reveal : reveals) reveal.tick(Nanoseconds(0));
  for (auto _ : state) {
    std::size_t events = 0;
    for (Reveal& reveal : reveals) events += reveal.tick(Nanoseconds(1)).events.size();
    benchmark::DoNotOptimize(events);
    benchmark::ClobberMemory();
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(many));
}
BENCHMARK(idle_ticks)->Name("arvik/idle_tick");

// At 60 frames a second and 30 steps a second; a reveal that ends starts again.
void running_ticks(benchmark::State& state) {
  const PreparedLine line = prepare(30);
  std::vector<Reveal> reveals(many, line.reveal());
  std::size_t index = 0;
  for (Reveal& reveal : reveals) reveal.tick(frame * static_cast<std::int64_t>(index++ % 200));
  for (auto _ : state) {
    for (Reveal& reveal : reveals) {
      if (reveal.tick(frame).events.empty()) continue;
      reveal = line.reveal();
    }
    benchmark::ClobberMemory();
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(many));
}
BENCHMARK(running_ticks)->Name("arvik/tick_at_60_hz");

// Every tick shows exactly one step.
void shown_steps(benchmark::State& state) {
  const PreparedLine line = prepare(30);
  std::int64_t steps = 0;
  for (auto _ : state) {
    Reveal reveal = line.reveal();
    std::size_t sum = 0;
    while (reveal.state() != RevealState::finished) {
      reveal.tick(interval_of(30));
      sum += reveal.shown().bytes;
    }
    benchmark::DoNotOptimize(sum);
    steps += line.steps.size();
  }
  state.SetItemsProcessed(steps);
}
BENCHMARK(shown_steps)->Name("arvik/shown_step");

// One long line at 60 Hz and 30 steps a second, bare and in a conversation that shows it.
const std::string long_text(20'000, 'a');
constexpr Nanoseconds at_60_hz(16'666'667);

void one_reveal(benchmark::State& state) {
  Typesetter typesetter(Language::open("en").value());
  const PreparedLine line =
      typesetter.prepare(long_text, Pace{}, GridFont{}, Box{.width = 60}).value();
  Reveal reveal = line.reveal();
  for (auto _ : state) {
    if (reveal.state() == RevealState::finished) reveal = line.reveal();
    benchmark::DoNotOptimize(reveal.tick(at_60_hz).end_step);
  }
}
BENCHMARK(one_reveal)->Name("baseline/one_reveal_at_60_hz");

void one_conversation(benchmark::State& state) {
  Typesetter typesetter(Language::open("en").value());
  const GridFont font;
  Conversation talk(typesetter, font, Box{.width = 60});
  for (auto _ : state) {
    if (talk.state() == ConversationState::closed || talk.state() == ConversationState::waiting) {
      state.PauseTiming();
      talk.stop();
      if (!talk.start({DialogueLine{.text = long_text}})) state.SkipWithError("refused");
      talk.tick(Nanoseconds::zero());
      state.ResumeTiming();
    }
    benchmark::DoNotOptimize(talk.tick(at_60_hz).size());
  }
}
BENCHMARK(one_conversation)->Name("arvik/one_conversation_at_60_hz");

}  // namespace
