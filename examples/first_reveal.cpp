// The whole loop of a game, stage by stage: prepare a line once, then tick it sixty times a second,
// hear its events, and let the player's button skip and go on. The "renderer" prints what it would
// draw whenever something happened.

#include <arvik/arvik.hpp>
#include <chrono>
#include <cstdio>

namespace {

void draw(const arvik::MarkedText& marked, const arvik::Reveal& reveal) {
  std::printf("%5.2f s |%.*s|\n", std::chrono::duration<double>(reveal.position()).count(),
              static_cast<int>(reveal.shown().bytes), marked.text.c_str());
}

void hear(const arvik::Event& event, bool skipped) {
  std::printf("        %s%s%s%s\n", std::string(event_kind_name(event.kind)).c_str(),
              event.name.empty() ? "" : " ", event.name.c_str(), skipped ? " (skipped)" : "");
}

}  // namespace

int main() {
  using namespace std::chrono_literals;

  // Once in the game.
  arvik::Language english = arvik::Language::open("en").value();

  // Once for each line. Mistakes in the markup do not stop the game: the text is shown as it
  // stands.
  const arvik::MarkedText marked = arvik::parse(
      "The clock stopped.[mark gears-stop] No wind… [rate x0.5: no water].[hold] Listen!");
  for (const arvik::Diagnostic& problem : marked.diagnostics) std::puts(problem.message.c_str());
  const arvik::Steps steps = english.segment(marked.text);
  const arvik::Schedule schedule =
      arvik::schedule(marked, steps, english, arvik::Pace{.rate = 30}).value();

  // Sixty times a second. The player presses the button at 3.5 s, 5 s and 5.1 s.
  arvik::Reveal reveal(steps, schedule);
  for (auto now = 0ms; reveal.state() != arvik::RevealState::finished; now += 16ms) {
    arvik::Progress progress = reveal.tick(now == 0ms ? 0ms : 16ms);
    const bool pressed = now == 3504ms || now == 4992ms || now == 5104ms;
    if (pressed && !reveal.release_hold()) {
      for (const arvik::Event& event : progress.events) hear(event, progress.skipped);
      progress = reveal.skip();
    }
    for (const arvik::Event& event : progress.events) hear(event, progress.skipped);
    if (!progress.events.empty()) draw(marked, reveal);
  }
}
