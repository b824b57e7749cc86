// How long it takes to read a recording and to align it with its text, beside how long it lasts:
// one thread, clips of several lengths, made of the demo's. Usage: voice_costs CLIP

#include <sys/resource.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <string>

#include "arvik/align.hpp"
#include "arvik/markup.hpp"

namespace {

using namespace arvik;

template <typename Work>
double seconds_of(Work work) {
  double best = 1e9;
  for (int round = 0; round < 5; ++round) {
    const auto begin = std::chrono::steady_clock::now();
    work();
    best = std::min(
        best, std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count());
  }
  return best;
}

}  // namespace

int main(int argc, char** argv) {
  const auto clip = argc == 2 ? read_clip(argv[1], 22'050)
                              : tl::expected<AudioClip, Diagnostic>(tl::unexpected(Diagnostic{}));
  if (!clip) {
    std::fputs("usage: voice_costs CLIP, which says: Then why did it begin with you?\n", stderr);
    return 1;
  }
  Language language = Language::open("en").value();
  std::printf("%-12s %14s %14s %14s\n", "recording", "read", "align", "both");
  for (const int times : {1, 5, 30, 150}) {
    AudioClip whole{.rate = clip->rate, .channels = clip->channels};
    std::string text;
    for (int i = 0; i < times; ++i) {
      whole.samples.insert(whole.samples.end(), clip->samples.begin(), clip->samples.end());
      text += "Then why did it begin with you? ";
    }
    const MarkedText marked = parse(text);
    const Steps steps = language.segment(marked.text);
    SpeechTrack track;
    std::size_t anchors = 0;
    const double length = in_seconds(whole.length());
    const double read = seconds_of([&] { track = read_speech(whole); });
    const double aligned =
        seconds_of([&] { anchors = align(marked, steps, language, track).timing.anchors.size(); });
    if (anchors == 0) std::puts("not aligned");
    std::printf("%9.1f s %9.0f times %9.0f times %9.0f times real time\n", length, length / read,
                length / aligned, length / (read + aligned));
  }
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  std::printf("peak memory %ld MB, the samples of the longest included\n", usage.ru_maxrss / 1024);
  return 0;
}
