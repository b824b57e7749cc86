// Loading a script of many lines: its time and its memory beside its size. Usage: script_load LINES

#include <sys/resource.h>

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <string>

#include "arvik/script_file.hpp"

namespace {

std::string script_of(int lines) {
  std::string json =
      R"({"arvik_script": 1, "locale": "en",
 "paces": {"slow": {"rate": "12cps"}},
 "cast": {"odrun": {"name": "Odrun", "pace": "slow", "typing": "wood"}, "pell": {"name": "Pell"}},
 "conversations": {
)";
  for (int i = 0; i < lines; ++i) {
    if (i % 10 == 0) json += (i > 0 ? "]," : "") + (" \"scene_" + std::to_string(i)) + "\": [\n";
    json += i % 10 == 0 ? "" : ",\n";
    json +=
        R"(  {"id": "line_)" + std::to_string(i) + R"(", "speaker": ")" +
        (i % 2 == 0 ? "odrun" : "pell") +
        R"(", "text": "The tide clock [mark stops: stopped] at a quarter past four, and nobody saw it. )" +
        std::to_string(i) + "\"}";
  }
  return json + "]}}";
}

long peak_kilobytes() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return usage.ru_maxrss;
}

}  // namespace

int main(int argc, char** argv) {
  const int lines = argc > 1 ? std::atoi(argv[1]) : 100'000;
  const std::string json = script_of(lines);
  const long before = peak_kilobytes();
  const auto begin = std::chrono::steady_clock::now();
  const auto script = arvik::parse_script(json);
  const std::chrono::duration<double> time = std::chrono::steady_clock::now() - begin;
  if (!script) {
    std::fprintf(stderr, "script_load: %s\n", script.error().front().message.c_str());
    return 1;
  }
  const auto size = static_cast<double>(json.size());
  std::printf("%d lines, %.1f MB: %.2f s, %.1f MB/s; memory %.2f of the file's size\n", lines,
              size / 1e6, time.count(), size / 1e6 / time.count(),
              static_cast<double>(peak_kilobytes() - before) * 1024 / size);
  return 0;
}
