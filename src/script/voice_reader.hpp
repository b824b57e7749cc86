#pragma once

#include <set>
#include <string>
#include <utility>

#include "arvik/script_file.hpp"
#include "script_sources.hpp"

namespace arvik::script {

/// What differs in a locale of a script; made where there is nothing yet.
[[nodiscard]] LocaleChanges& changes_of(const std::string& locale, Script& script);

/// Fills Script::locales and sorts the voices.
void find_locales(Script& script);

/// How lines follow their voices: align, fit or free.
void read_voice_sync(const JsonValue& value, VoiceSync& out, Problems& problems);

/// Reads which lines are spoken, by locale: what is listed counts before what a pattern finds.
class VoiceReader {
 public:
  /// Keeps references. The script has its conversations and tables.
  VoiceReader(const ScriptSources& sources, Script& script) : sources_(sources), script_(script) {}
  void read(const JsonValue& json, ScriptSource& source);

 private:
  void read_files(const JsonValue& json, ScriptSource& source);
  void read_pattern(const JsonValue& value, ScriptSource& source);
  void put(const std::string& locale, const std::string& key, std::string file);

  const ScriptSources& sources_;
  Script& script_;
  std::set<std::pair<std::string, std::string>> known_;  // locales and keys
};

}  // namespace arvik::script
