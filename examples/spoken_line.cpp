// A line in step with its recording: aligned here, as a build step does once, and then played by
// the position of the clip, as a game plays it.
//
//   spoken_line CLIP

#include <arvik/align.hpp>
#include <arvik/arvik.hpp>
#include <cstdio>

using namespace std::chrono_literals;

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fputs("usage: spoken_line CLIP\n", stderr);
    return 2;
  }
  const auto track = arvik::read_speech_file(argv[1]);
  if (!track) {
    std::fprintf(stderr, "%s\n", track.error().message.c_str());
    return 1;
  }

  // Once, while the game is made; arvik voices align does this and writes it beside the clip.
  const char* markup = "Then why did it [b: begin] with you?";
  arvik::Typesetter typesetter(arvik::Language::open("en").value());
  arvik::MarkedText marked;
  arvik::Steps steps;
  typesetter.read(markup, marked, steps);
  const arvik::Alignment found = arvik::align(marked, steps, typesetter.language(), *track);
  std::printf("%zu anchors, confidence %.1f\n", found.timing.anchors.size(),
              static_cast<double>(found.timing.confidence));

  // In the game: the timing goes into the pipeline, and the clip's position drives the reveal.
  const auto line = typesetter.prepare(markup, {}, arvik::GridFont(), {.width = 40}, &found.timing);
  if (!line) return 1;
  arvik::Reveal reveal = line->reveal();
  for (arvik::Nanoseconds clip{}; reveal.state() == arvik::RevealState::revealing; clip += 300ms) {
    reveal.advance_to(clip);
    std::printf("%4lld ms  mouth %3.0f %%  %.*s\n", static_cast<long long>(clip / 1ms),
                static_cast<double>(100 * arvik::mouth_open(*track, clip)),
                static_cast<int>(reveal.shown().bytes), line->marked.text.c_str());
  }
  return 0;
}
