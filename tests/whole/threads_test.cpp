// What docs/guarantees.md says about threads. The preset tsan runs this under ThreadSanitizer.

#include <catch2/catch.hpp>
#include <mutex>
#include <thread>

#include "arvik/conversation.hpp"
#include "arvik/frame.hpp"
#include "arvik/mixer.hpp"
#include "support/fonts.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

const std::string shared_markup =
    "Mind the [rate x0.5: thin ice].[hold] It [b: sings][mark m]… שלום, 水門。 [by word: one two].";

template <typename Work>
void in_threads(int count, Work work) {
  std::vector<std::thread> threads;
  for (int i = 0; i < count; ++i) threads.emplace_back(work, i);
  for (std::thread& thread : threads) thread.join();
}

}  // namespace

TEST_CASE("typesetters in several threads share a font and give the same lines") {
  const FontSet fonts = test::noto(20);
  std::vector<PreparedLine> lines(3);
  in_threads(3, [&](int i) {
    Typesetter typesetter(Language::open("en").value());
    for (int n = 0; n < 10; ++n) {
      (void)typesetter.prepare(shared_markup, {}, fonts, {.width = 200},
                               lines[static_cast<std::size_t>(i)]);
    }
  });
  for (const PreparedLine& line : lines) {
    CHECK(line.schedule.onsets == lines[0].schedule.onsets);
    CHECK(line.layout.rows.size() == lines[0].layout.rows.size());
  }
}

TEST_CASE("any number of reveals, players and frames in several threads share one line") {
  Typesetter typesetter(Language::open("en").value());
  const FontSet fonts = test::noto(20);
  const PreparedLine line = typesetter.prepare(shared_markup, {}, fonts, {.width = 200}).value();
  const std::vector<TypingSound> sounds{{.name = "t", .samples = {"a", "b"}}};
  const TypingPlan plan =
      plan_typing(line.marked, line.steps, typesetter.language(), line.schedule, sounds, "t")
          .value();
  std::vector<std::size_t> heard(4);
  in_threads(4, [&](int i) {
    Reveal reveal = line.reveal();
    TypingPlayer player;
    player.begin(plan);
    std::vector<SoundEvent> events;
    Frame frame;
    for (Nanoseconds now{}; reveal.state() != RevealState::finished; now += 7ms) {
      const Reveal before = reveal;
      const Progress progress = reveal.tick(7ms);
      player.follow(before, reveal, progress, now, events);
      make_frame(line.layout, appearances(line.schedule, reveal.shown_steps()), reveal.position(),
                 {}, frame);
      reveal.release_hold();
    }
    heard[static_cast<std::size_t>(i)] = events.size();
  });
  for (const std::size_t count : heard) CHECK(count == heard[0]);
  CHECK(heard[0] > 10);
}

TEST_CASE("a mixer renders in one thread while another adds mix_events under a lock") {
  ClipBank bank;
  bank.add("k", {.samples = std::vector<float>(2000, 0.1F)});
  const MixOptions options;
  Mixer mixer(options);
  std::mutex lock;
  bool done = false;
  float loudest = 0;
  std::thread audio([&] {
    std::vector<float> block(1024);
    for (int tail = 0; tail < 100;) {
      const std::lock_guard guard(lock);
      mixer.render(block);
      for (const float sample : block) loudest = std::max(loudest, sample);
      tail += done ? 1 : 0;
    }
  });
  for (int i = 0; i < 300; ++i) {
    // The pitch is computed outside the lock, while the audio thread reads other clips.
    const auto mix_event = make_mix_event(
        {.kind = SoundEventKind::typing, .name = "k", .pitch = static_cast<float>(i % 24)}, bank,
        options);
    const std::lock_guard guard(lock);
    mixer.add(*mix_event);
  }
  {
    const std::lock_guard guard(lock);
    done = true;
  }
  audio.join();
  CHECK(loudest > 0.05F);
}

TEST_CASE("conversations in several threads, each with a typesetter of its own") {
  std::vector<std::size_t> events(3);
  in_threads(3, [&](int i) {
    Typesetter typesetter(Language::open("en").value());
    const GridFont font;
    Conversation talk(typesetter, font, Box{.width = 20}, {.play_by_itself = true});
    (void)talk.start({{.text = shared_markup}, {.text = shared_markup}}).has_value();
    while (talk.state() != ConversationState::closed) {
      events[static_cast<std::size_t>(i)] += talk.tick(11ms).size();
    }
  });
  for (const std::size_t count : events) CHECK(count == events[0]);
}
