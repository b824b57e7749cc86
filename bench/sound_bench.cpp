// What typing sounds cost: planning and following beside the bare reveal, and mixing beside the
// length of what is mixed.

#include <benchmark/benchmark.h>

#include <cmath>

#include "arvik/mixer.hpp"
#include "arvik/typesetter.hpp"
#include "arvik/typing_player.hpp"

namespace {

using namespace arvik;

const std::vector<TypingSound> voices{{.name = "wood",
                                       .samples = {"a", "b", "c"},
                                       .choice = SampleChoice::shuffle,
                                       .gap = std::chrono::milliseconds(20),
                                       .pitch = {-1, 1}}};

struct Voiced {
  Typesetter typesetter{Language::open("en").value()};
  PreparedLine line;
  TypingPlan plan;

  explicit Voiced(std::size_t words) {
    std::string text;
    for (std::size_t i = 0; i < words; ++i) text += "ticking ";
    line = typesetter.prepare(text, {.rate = 30}, GridFont{}, Box{.width = 60}).value();
    plan =
        plan_typing(line.marked, line.steps, typesetter.language(), line.schedule, voices, "wood")
            .value();
  }
};

void shown_steps(benchmark::State& state, bool sounding) {
  const Voiced voiced(50);
  std::vector<SoundEvent> sounds;
  sounds.reserve(8);
  std::int64_t steps = 0;
  for (auto _ : state) {
    Reveal reveal = voiced.line.reveal();
    TypingPlayer player;
    player.begin(voiced.plan);
    Nanoseconds now{};
    while (reveal.state() != RevealState::finished) {
      if (sounding) {
        const Reveal before = reveal;
        const Progress progress = reveal.tick(interval_of(30));
        sounds.clear();
        player.follow(before, reveal, progress, now, sounds);
        benchmark::DoNotOptimize(sounds.data());
        now += interval_of(30);
      } else {
        benchmark::DoNotOptimize(reveal.tick(interval_of(30)).end_step);
      }
    }
    steps += voiced.line.steps.size();
  }
  state.SetItemsProcessed(steps);
}
BENCHMARK_CAPTURE(shown_steps, silent, false)->Name("baseline/silent_step");
BENCHMARK_CAPTURE(shown_steps, sounding, true)->Name("arvik/sounding_step");

void plan(benchmark::State& state) {
  Voiced voiced(50);
  for (auto _ : state) {
    auto plan = plan_typing(voiced.line.marked, voiced.line.steps, voiced.typesetter.language(),
                            voiced.line.schedule, voices, "wood");
    benchmark::DoNotOptimize(plan->steps.data());
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(voiced.line.steps.size()));
}
BENCHMARK(plan)->Name("arvik/plan_typing");

// Sums that all samples go into.
double mix_all(const std::vector<SoundEvent>& events, ClipBank& bank) {
  const MixOptions options;
  std::vector<MixEvent> mix_events;
  for (const SoundEvent& event : events) {
    if (const auto mix_event = make_mix_event(event, bank, options))
      mix_events.push_back(*mix_event);
  }
  float sum = 0;
  const MixResult result =
      mix(mix_events, {}, options, [&](std::span<const float> block) { sum += block[0]; });
  benchmark::DoNotOptimize(sum);
  return static_cast<double>(result.frames) / options.rate;
}

// One voice of 30 characters a second; an item is a second of sound. Each time the bank is new, so
// that every pitch is computed again.
void mixing(benchmark::State& state, double pitch) {
  Voiced voiced(200);
  for (StepSound& step : voiced.plan.steps) step.pitch *= static_cast<float>(pitch);
  AudioClip clip;
  for (int i = 0; i < 2000; ++i) {
    const auto time = static_cast<float>(i);
    clip.samples.push_back(std::sin(time * 0.05F) * std::exp(-0.003F * time));
  }
  std::vector<SoundEvent> events;
  TypingPlayer player;
  player.begin(voiced.plan);
  Reveal reveal = voiced.line.reveal();
  const Reveal before = reveal;
  const Progress progress = reveal.tick(max_duration);
  player.follow(before, reveal, progress, {}, events);
  double seconds = 0;
  for (auto _ : state) {
    ClipBank bank;
    for (const char* name : {"a", "b", "c"}) bank.add(name, clip);
    seconds += mix_all(events, bank);
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(seconds));
}
BENCHMARK_CAPTURE(mixing, pitched, 1.0)->Name("arvik/mix_second_pitched");
BENCHMARK_CAPTURE(mixing, plain, 0.0)->Name("arvik/mix_second_plain");

}  // namespace
