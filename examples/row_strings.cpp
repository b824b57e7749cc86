// Timing and rows: an engine that draws plain strings. Arvik wraps the whole line before its first
// character shows and hands it over with newlines, so that no prefix of it ever wraps again.

#include <arvik/arvik.hpp>
#include <cstdio>
#include <string>

int main() {
  using namespace std::chrono_literals;
  arvik::Typesetter typesetter(arvik::Language::open("en").value());
  const arvik::PreparedLine line =
      typesetter
          .prepare("And above, one tooth after another, the great wheel begins to turn.",
                   arvik::Pace{.rate = 20}, arvik::GridFont{}, arvik::Box{.width = 24})
          .value();
  const arvik::RowText rows = arvik::row_text(line.marked, line.steps, line.layout);

  arvik::Reveal reveal = line.reveal();
  while (reveal.state() != arvik::RevealState::finished) {
    reveal.tick(800ms);
    // engine.draw_string(x, y, prefix): "another" begins on the second row, where it will stay.
    const std::string prefix = rows.text.substr(0, rows.extents[reveal.shown_steps()].bytes);
    std::printf("---\n%s\n", prefix.c_str());
  }
}
