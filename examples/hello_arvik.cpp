#include <arvik/arvik.hpp>
#include <cstdio>

int main() {
  arvik::Typesetter typesetter(arvik::Language::open("en").value());
  const arvik::Pace pace{.rate = 40};
  const arvik::PreparedLine line = typesetter
                                       .prepare("Mind the [rate x0.5: thin ice]. It [b: sings].",
                                                pace, arvik::GridFont{}, arvik::Box{.width = 30})
                                       .value();
  arvik::Reveal reveal = line.reveal();
  while (reveal.state() == arvik::RevealState::revealing) {
    reveal.tick(std::chrono::milliseconds(100));
    std::printf("%.*s\n", static_cast<int>(reveal.shown().bytes), line.marked.text.c_str());
  }
}
