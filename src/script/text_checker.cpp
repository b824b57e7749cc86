#include "text_checker.hpp"

#include <algorithm>
#include <vector>

namespace arvik::script {

TextChecker::TextChecker(const NamedStyles& styles, const NameIndex* sounds, const NameIndex* clips)
    : names_(sounds, clips) {
  vocabulary_.styles = styles;
  vocabulary_.value = [](std::string_view) { return std::int64_t{1}; };
}

// A language is opened once. Null if ICU cannot serve it.
Language* TextChecker::language(const std::string& locale) {
  const auto [found, is_new] = languages_.try_emplace(locale);
  if (is_new) {
    if (auto opened = Language::open(locale)) found->second.emplace(std::move(*opened));
  }
  return found->second ? &*found->second : nullptr;
}

void TextChecker::check(std::string_view text, const Speaker* speaker, const std::string& locale,
                        const Tell& tell) {
  parse(text, marked_, vocabulary_, language(locale));
  for (const Diagnostic& problem : marked_.diagnostics) tell(problem);
  names_.check(text, marked_, speaker, tell);
}

void NameChecker::check(std::string_view text, const MarkedText& marked, const Speaker* speaker,
                        const Tell& tell) {
  const auto unknown = [&](TextRange range, DiagnosticCode code, const std::string& message,
                           const std::string& name, const std::vector<std::string_view>& known) {
    const auto found = TextLocator(text).locate(range.begin);
    tell(Diagnostic{
        .code = code,
        .severity = Severity::error,
        .message = message + quoted_word(name),
        .range = range,
        .row = found.row,
        .column = found.column,
        .hint = std::string(++told_ <= max_diagnostics ? nearest_name(name, known) : "")});
  };
  for (const Point& point : marked.points) {
    const auto* portrait = std::get_if<tag::Portrait>(&point.what);
    if (portrait != nullptr && speaker != nullptr && !has_portrait(*speaker, portrait->name)) {
      unknown(point.source, DiagnosticCode::unknown_portrait,
              quoted_word(speaker->id) + " has no portrait ", portrait->name,
              names_of(speaker->portraits));
    }
    const auto* sound = std::get_if<tag::Sound>(&point.what);
    if (sound != nullptr && clips_ != nullptr && !clips_->contains(sound->name)) {
      unknown(point.source, DiagnosticCode::unknown_sound, "no clip is named ", sound->name,
              names_of(*clips_));
    }
  }
  for (const Span& span : marked.spans) {
    const auto* typing = std::get_if<tag::Typing>(&span.what);
    if (typing != nullptr && sounds_ != nullptr && !sounds_->contains(typing->name)) {
      unknown(span.source, DiagnosticCode::unknown_sound, "no typing sound is named ", typing->name,
              names_of(*sounds_));
    }
  }
}

bool has_portrait(const Speaker& speaker, std::string_view name) {
  return std::any_of(speaker.portraits.begin(), speaker.portraits.end(),
                     [&](const Portrait& portrait) { return portrait.name == name; });
}

}  // namespace arvik::script
