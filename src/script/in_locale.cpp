// A script in one of its locales: a copy of the original with other texts, paces, sounds, box,
// fonts and voices. Guarded by tests/script/locales_test.cpp.

#include "in_locale.hpp"

#include <algorithm>
#include <map>

#include "../base/failure.hpp"
#include "arvik/locale.hpp"
#include "arvik/translation.hpp"
#include "translation_tags.hpp"
#include "voice_timings.hpp"

namespace arvik {
namespace script {
namespace {

template <typename Named>
void replace(const std::vector<Named>& changes, std::vector<Named>& in) {
  for (const Named& change : changes) {
    const auto found = std::find_if(in.begin(), in.end(),
                                    [&](const Named& entry) { return entry.name == change.name; });
    if (found != in.end()) *found = change;
  }
}

void speed_up(double factor, Pace& pace) {
  pace.rate = std::clamp(pace.rate * factor, min_rate, max_rate);
}

class Localizer {
 public:
  Localizer(std::shared_ptr<const Script> original, const std::string& locale)
      : original_(std::move(original)), locale_(locale), chain_(locale_chain(locale)) {
    if (chain_.empty())
      chain_.push_back(locale);  // the source locale, of a language without a code
  }

  Script run() {
    script_ = *original_;
    script_.original = original_;
    script_.locale = locale_;
    script_.diagnostics.clear();
    script_.changes.clear();
    script_.line_paces.clear();
    for (auto tag = chain_.rbegin(); tag != chain_.rend(); ++tag) {
      for (const LocaleChanges& changes : original_->changes) {
        if (changes.locale == *tag) take(changes);
      }
    }
    for (NamedPace& named : script_.paces) speed_up(rate_, named.pace);
    make_paces();
    is_source_ = std::find(chain_.begin(), chain_.end(), original_->source_locale) != chain_.end();
    is_pseudo_ = is_made_up(*original_, locale_);
    if (is_pseudo_) vocabulary_ = any_vocabulary(*original_);
    for (Speaker& speaker : script_.cast) {
      if (is_pseudo_) {
        speaker.name = pseudo_text(speaker.name, locale_);
      } else if (const auto name = text("cast." + speaker.id)) {
        speaker.name = *name;
      }
    }
    for (ScriptConversation& conversation : script_.conversations) {
      for (DialogueLine& line : conversation.lines) tell_in_locale(line);
    }
    if (missing_ > max_diagnostics) {
      script_.diagnostics.push_back(
          {.code = DiagnosticCode::too_many_diagnostics,
           .severity = Severity::warning,
           .message = std::to_string(missing_ - max_diagnostics) + " more texts are missing"});
    }
    return std::move(script_);
  }

 private:
  void take(const LocaleChanges& changes) {
    replace(changes.paces, script_.paces);
    replace(changes.sounds, script_.sounds);
    for (const auto& [name, style] : changes.styles) script_.styles.insert_or_assign(name, style);
    if (changes.box) script_.box = *changes.box;
    if (!changes.fonts.empty()) script_.fonts = changes.fonts;
    if (changes.rate) rate_ = *changes.rate;
  }

  // The paces of lines, each of which many share.
  void make_paces() {
    if (rate_ != 1) {
      Pace standard;
      speed_up(rate_, standard);
      paces_.emplace(&*SharedPace(), std::move(standard));
    }
    std::map<std::string_view, const Pace*> by_name;
    for (const NamedPace& named : script_.paces) by_name.emplace(named.name, &named.pace);
    for (const LinePace& line : original_->line_paces) {
      const auto named = by_name.find(line.name);
      Pace pace;
      if (named != by_name.end()) {
        pace = *named->second;
      } else {
        speed_up(rate_, pace);
      }
      if (line.rate) apply(*line.rate, pace);
      paces_.emplace(&*line.pace, std::move(pace));
    }
  }

  void tell_in_locale(DialogueLine& line) {
    put_text(line.id, line.text);
    for (Choice& choice : line.choices) put_text(choice.id, choice.text);
    const auto pace = paces_.find(&*line.pace);
    if (pace != paces_.end()) line.pace = pace->second;
    if (const NamedClip* voice = find_voice(line.id)) {
      line.voice = voice->file;
      script_.clips.push_back({voice->file, voice->file});
    } else if (!is_source_) {
      line.voice.clear();
    }
  }

  [[nodiscard]] std::optional<std::string_view> text(std::string_view key) const {
    return original_->strings ? original_->strings->text(key, chain_) : std::nullopt;
  }

  // What the script says itself in its source locale is not looked up.
  void put_text(const std::string& key, std::string& out) {
    if (key.empty() && out.empty()) return;
    if (is_pseudo_) {
      out = pseudo_text(out, locale_, vocabulary_);
      return;
    }
    const auto found = key.empty() ? std::nullopt : text(key);
    if (found) {
      if (!is_source_ || chain_.front() != original_->source_locale) out = *found;
      return;
    }
    if (is_source_) return;
    if (++missing_ > max_diagnostics) return;
    script_.diagnostics.push_back(
        {.code = DiagnosticCode::missing_text,
         .severity = Severity::warning,
         .message = key.empty()
                        ? "a line without an id has no other text than " + quoted_word(out)
                        : quoted_word(key) + " has no text in the locale " + quoted_word(locale_) +
                              "; the one in " + quoted_word(original_->source_locale) + " is shown",
         .key = key,
         .locale = locale_});
  }

  [[nodiscard]] const NamedClip* find_voice(const std::string& key) const {
    if (key.empty()) return nullptr;
    for (const std::string& tag : chain_) {
      for (const LocaleChanges& changes : original_->changes) {
        if (changes.locale != tag) continue;
        const auto found = std::lower_bound(
            changes.voices.begin(), changes.voices.end(), key,
            [](const NamedClip& clip, const std::string& name) { return clip.name < name; });
        if (found != changes.voices.end() && found->name == key) return &*found;
      }
    }
    return nullptr;
  }

  std::shared_ptr<const Script> original_;
  std::string locale_;
  std::vector<std::string> chain_;
  Script script_;
  double rate_ = 1;
  bool is_source_ = false;
  bool is_pseudo_ = false;
  Vocabulary vocabulary_;
  std::size_t missing_ = 0;
  std::map<const Pace*, SharedPace> paces_;
};

}  // namespace

bool is_made_up(const Script& original, std::string_view locale) {
  if (locale != accented_locale && locale != right_to_left_locale) return false;
  return std::find(original.locales.begin(), original.locales.end(), locale) ==
         original.locales.end();
}

void apply(const RateChange& change, Pace& pace) {
  const double value = change.relative ? pace.rate * change.value : change.value;
  pace.rate = std::clamp(value, min_rate, max_rate);
}

Script in_own_locale(const std::shared_ptr<const Script>& original, const std::string& locale) {
  return Localizer(original, locale).run();
}

}  // namespace script

tl::expected<std::shared_ptr<const Script>, Diagnostic> in_locale(
    const std::shared_ptr<const Script>& script, std::string_view locale) {
  if (locale == script->locale) return script;
  const auto& original = script->original != nullptr ? script->original : script;
  const auto chain = locale_chain(locale);
  const auto& locales = original->locales;
  const bool known = std::any_of(chain.begin(), chain.end(), [&](const std::string& tag) {
    return std::find(locales.begin(), locales.end(), tag) != locales.end();
  });
  if (!known && !script::is_made_up(*original, locale)) {
    std::string list;
    for (const std::string& tag : locales) list += (list.empty() ? "" : ", ") + tag;
    return base::failure(DiagnosticCode::unknown_locale,
                         "the script has no locale " + quoted_word(locale) + "; it has: " + list);
  }
  auto own = std::make_shared<Script>(script::in_own_locale(original, chain.front()));
  script::load_timings(*own);
  return own;
}

}  // namespace arvik
