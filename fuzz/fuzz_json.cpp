#include <string_view>

#include "arvik/pace_file.hpp"
#include "arvik/place_file.hpp"
#include "arvik/script_file.hpp"
#include "arvik/sound_file.hpp"
#include "arvik/style_file.hpp"
#include "arvik/voice_file.hpp"
#include "fuzz/targets.hpp"

namespace arvik::fuzz {
namespace {

// Problems have their places inside the text.
std::string check(const std::vector<Diagnostic>& problems, std::string_view text) {
  if (problems.empty()) return "refused without a reason";
  if (problems.size() > max_diagnostics + 1) return "more diagnostics than the limit";
  for (const Diagnostic& problem : problems) {
    if (problem.message.empty()) return "a diagnostic without a message";
    if (problem.range.begin > problem.range.end || problem.range.end > text.size()) {
      return "a diagnostic beyond the text";
    }
  }
  return {};
}

}  // namespace

std::string fuzz_json(Bytes bytes) {
  const std::string_view text(reinterpret_cast<const char*>(bytes.data()), bytes.size());
  std::string broken;
  const auto look = [&](const auto& result) {
    if (!result && broken.empty()) broken = check(result.error(), text);
  };
  const auto script = parse_script(text);
  look(script);
  look(parse_paces(text));
  look(parse_styles(text));
  look(parse_sounds(text));
  look(read_voice_timing(text));
  if (const auto timing = read_voice_timing(text)) {
    const auto again = read_voice_timing(write_voice_timing(*timing, {}, {}));
    if (!again || again->anchors.size() != timing->anchors.size()) {
      return "a timing changes on its way through JSON";
    }
  }
  if (const auto times = read_timed_text(text)) {
    std::vector<Diagnostic> problems;
    (void)timing_of(*times, {}, {}, problems);
  }
  const auto repaired = parse_script(text, ScriptErrors::repair);
  if (script && !repaired) return "a good script cannot be repaired";
  if (repaired) {
    for (const ScriptConversation& conversation : repaired->conversations) {
      for (const DialogueLine& line : conversation.lines) {
        if (find_problem(line.pace)) return "a script gives a bad pace";
      }
    }
  }
  if (const auto place = read_place(text)) {
    const auto again = read_place(write_place(*place));
    if (!again || *again != *place) return "a place changes on its way through JSON";
  }
  return broken;
}

}  // namespace arvik::fuzz
