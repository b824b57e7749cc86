#include <sys/mman.h>
#include <unistd.h>

#include <cmath>
#include <string>

#include "arvik/speech.hpp"
#include "fuzz/targets.hpp"

namespace arvik::fuzz {

std::string fuzz_audio(Bytes bytes) {
  const int file = memfd_create("clip", 0);
  if (file < 0) return "no memory file";
  const bool written =
      write(file, bytes.data(), bytes.size()) == static_cast<ssize_t>(bytes.size());
  const auto clip = read_clip("/proc/self/fd/" + std::to_string(file), 48'000);
  const auto track = read_speech_file("/proc/self/fd/" + std::to_string(file));
  close(file);
  if (track) {
    if (track->lead + track->tail + track->spoken() > track->length)
      return "speech beyond the clip";
    for (std::size_t i = 1; i < track->peaks.size(); ++i) {
      if (track->peaks[i] <= track->peaks[i - 1]) return "peaks fall";
    }
  }
  if (!written || !clip) return {};
  if (clip->frames() == 0) return "a clip without frames";
  if (clip->length() > max_clip_length + std::chrono::seconds(1)) return "a clip beyond the limit";
  for (const float sample : clip->samples) {
    if (!std::isfinite(sample)) return "a sample that is no number";
  }
  return {};
}

}  // namespace arvik::fuzz
