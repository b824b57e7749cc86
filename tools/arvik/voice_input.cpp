#include "voice_input.hpp"

#include <filesystem>

#include "arvik/voice_file.hpp"
#include "output.hpp"
#include "report.hpp"

namespace arvik::tool {
namespace {

VoiceTiming read_times(const std::string& path, const MarkedText& marked, const Steps& steps,
                       const SpeechTrack& track) {
  const std::string content = read_input_file(path);
  const auto times = read_timed_text(content);
  if (!times) {
    throw Failure(input_has_errors,
                  fmt::format("{}:{}: {}", path, times.error().row, times.error().message));
  }
  std::vector<Diagnostic> problems;
  VoiceTiming timing = timing_of(*times, marked.text, steps, problems);
  for (const Diagnostic& problem : problems) {
    fmt::print(stderr, "{}:{}: warning: {}\n", path, problem.row, printable(problem.message));
  }
  timing.length = track.length;
  timing.end = std::min(timing.end, track.length);
  timing.begin = std::min(timing.begin, timing.end);
  return timing;
}

}  // namespace

void add_voice_options(CLI::App& command, VoiceOptions& options) {
  command.add_option("--voice", options.clip, "The recording that the line keeps step with")
      ->type_name("CLIP");
  command
      .add_option("--voice-times", options.times,
                  "When it speaks the words: WebVTT or rows of begin, end and text; default the "
                  ".vtt or .labels.txt beside the clip, else they are found")
      ->type_name("FILE");
}

void add_confidence_option(CLI::App& command, float& least) {
  command.add_option("--least-confidence", least, "Leave out words that are less sure, 0 to 1")
      ->capture_default_str()
      ->check(in_range(0, 1))
      ->type_name("SHARE");
}

std::string times_beside(const std::string& clip) {
  for (const char* ending : {".vtt", ".labels.txt"}) {
    const auto path = std::filesystem::path(clip).replace_extension(ending);
    std::error_code ignored;  // what cannot be looked at is not there
    if (std::filesystem::is_regular_file(path, ignored)) return path.string();
  }
  return {};
}

Voice read_voice(const VoiceOptions& options, std::string_view markup, Typesetter& typesetter) {
  auto track = read_speech_file(options.clip);
  if (!track) throw Failure(input_has_errors, track.error().message);
  remember_input(options.clip);
  Voice voice{.track = std::move(*track)};
  MarkedText marked;
  Steps steps;
  typesetter.read(markup, marked, steps);
  voice.alignment = align(marked, steps, typesetter.language(), voice.track,
                          {.least_confidence = options.least_confidence});
  const std::string times = options.times.empty() ? times_beside(options.clip) : options.times;
  if (!times.empty()) {
    voice.alignment.timing = read_times(times, marked, steps, voice.track);
    voice.alignment.found = voice.alignment.timing.anchors;
    voice.alignment.diagnostics.clear();
  }
  for (const Diagnostic& problem : voice.alignment.diagnostics) {
    fmt::print(stderr, "{}: warning: {} ({})\n", printable(options.clip), problem.message,
               diagnostic_name(problem.code));
  }
  return voice;
}

}  // namespace arvik::tool
