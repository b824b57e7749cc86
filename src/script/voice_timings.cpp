// Guarded by tests/script/voice_file_test.cpp.

#include "voice_timings.hpp"

#include <map>

#include "arvik/voice_file.hpp"
#include "name_index.hpp"

namespace arvik::script {
namespace {

using Timing = std::shared_ptr<const VoiceTiming>;

void warn(Script& script, Diagnostic problem, const std::string& file) {
  if (script.diagnostics.size() >= max_diagnostics) return;
  problem.severity = Severity::warning;
  problem.file = file;
  script.diagnostics.push_back(std::move(problem));
}

Timing load(Script& script, const std::string& clip) {
  const std::string file = timing_file_of(clip);
  if (!script.access->exists(file)) return nullptr;
  const auto json = script.access->read(file);
  if (!json) {
    warn(script, json.error(), file);
    return nullptr;
  }
  auto timing = read_voice_timing(*json);
  if (timing) return std::make_shared<const VoiceTiming>(std::move(*timing));
  warn(script, timing.error().front(), file);
  return nullptr;
}

}  // namespace

void load_timings(Script& script) {
  if (script.access == nullptr || !script.access->read || !script.access->exists) return;
  const auto clips =
      index_of(script.clips, [](const NamedClip& clip) -> std::string_view { return clip.name; });
  std::map<std::string, Timing> known;  // by clip
  for (ScriptConversation& conversation : script.conversations) {
    for (DialogueLine& line : conversation.lines) {
      line.timing.reset();
      if (line.voice.empty() || line.voice_sync == VoiceSync::free) continue;
      const auto named = clips.find(line.voice);
      if (named == clips.end()) continue;  // the game's own
      const std::string& clip = script.clips[named->second].file;
      const auto [entry, is_new] = known.try_emplace(clip);
      if (is_new) entry->second = load(script, clip);
      line.timing = entry->second;
    }
  }
}

}  // namespace arvik::script
