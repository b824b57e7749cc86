#include "voice_reader.hpp"

#include <algorithm>

#include "arvik/locale.hpp"

namespace arvik::script {
namespace {

std::string filled(std::string pattern, const std::string& locale, const std::string& key) {
  for (const auto& [name, text] : {std::pair(std::string_view("{locale}"), &locale),
                                   std::pair(std::string_view("{key}"), &key)}) {
    for (std::size_t at = 0; (at = pattern.find(name, at)) != std::string::npos;
         at += text->size()) {
      pattern.replace(at, name.size(), *text);
    }
  }
  return pattern;
}

}  // namespace

LocaleChanges& changes_of(const std::string& locale, Script& script) {
  auto& all = script.changes;
  const auto found = std::find_if(all.begin(), all.end(), [&](const LocaleChanges& changes) {
    return changes.locale == locale;
  });
  if (found != all.end()) return *found;
  return all.emplace_back(LocaleChanges{.locale = locale});
}

void find_locales(Script& script) {
  auto& locales = script.locales;
  locales = {script.source_locale};
  const auto add = [&](const std::string& locale) {
    if (std::find(locales.begin(), locales.end(), locale) == locales.end()) {
      locales.push_back(locale);
    }
  };
  if (script.strings) {
    for (const std::string& locale : script.strings->locales()) add(locale);
  }
  for (LocaleChanges& changes : script.changes) {
    add(changes.locale);
    std::sort(changes.voices.begin(), changes.voices.end(),
              [](const NamedClip& a, const NamedClip& b) { return a.name < b.name; });
  }
}

void read_voice_sync(const JsonValue& value, VoiceSync& out, Problems& problems) {
  read_word(value, "voice_timing", out,
            {{"align", VoiceSync::align}, {"fit", VoiceSync::fit}, {"free", VoiceSync::free}},
            problems);
}

void VoiceReader::read(const JsonValue& json, ScriptSource& source) {
  Fields fields(json, "voices", source.problems);
  (void)fields.value("voice_timing");  // read before the lines
  if (const auto files = fields.value("files")) read_files(*files, source);
  if (const auto pattern = fields.value("pattern")) read_pattern(*pattern, source);
  fields.finish();
}

void VoiceReader::read_files(const JsonValue& json, ScriptSource& source) {
  Problems& problems = source.problems;
  if (!json.is_object()) {
    problems.bad_value(json, "files must be an object: locales with clips by the ids of lines");
    return;
  }
  json.each([&](const JsonValue& clips) {
    const auto tag = canonical_locale(clips.key());
    if (!tag || !clips.is_object()) {
      problems.add(clips, tag ? DiagnosticCode::bad_value : DiagnosticCode::unknown_locale,
                   quoted_word(clips.key()) + " must be a locale with clips by the ids of lines");
      return;
    }
    clips.each([&](const JsonValue& clip) {
      if (clip.is_string() && !clip.is_text("")) {
        put(*tag, clip.key(), source.beside(clip.text()));
      } else {
        problems.bad_value(clip, "a clip must be the name of a file");
      }
    });
  });
}

// Every line for which there is a file.
void VoiceReader::read_pattern(const JsonValue& value, ScriptSource& source) {
  const std::string pattern = value.text();
  if (pattern.find("{locale}") == std::string::npos || pattern.find("{key}") == std::string::npos) {
    source.problems.bad_value(
        value, "a pattern names locale and line, like \"voices/{locale}/{key}.ogg\"");
    return;
  }
  if (const auto outside = file_beside(source.path, pattern); !outside) {
    source.problems.add(value, outside.error().code, outside.error().message);
    return;
  }
  const auto& exists = sources_.access().exists;
  if (!exists) return;
  find_locales(script_);
  for (const std::string& locale : script_.locales) {
    for (const ScriptConversation& conversation : script_.conversations) {
      for (const DialogueLine& line : conversation.lines) {
        if (line.id.empty()) continue;
        const auto file = file_beside(source.path, filled(pattern, locale, line.id));
        if (file && exists(*file)) put(locale, line.id, *file);
      }
    }
  }
}

void VoiceReader::put(const std::string& locale, const std::string& key, std::string file) {
  if (known_.emplace(locale, key).second) {
    changes_of(locale, script_).voices.push_back({key, std::move(file)});
  }
}

}  // namespace arvik::script
