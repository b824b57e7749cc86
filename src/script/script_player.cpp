// Guarded by tests/script/script_player_test.cpp.

#include "arvik/script_player.hpp"

#include "../base/failure.hpp"

namespace arvik {
namespace {

tl::expected<std::unique_ptr<Typesetter>, Diagnostic> typesetter_of(
    const Script& script, const Vocabulary& values, const IconSizes& icon_sizes,
    const DiagnosticHook& diagnostics) {
  auto language = Language::open(script.locale);
  if (!language) return tl::unexpected(std::move(language.error()));
  auto typesetter = std::make_unique<Typesetter>(std::move(*language));
  typesetter->vocabulary() = values;
  for (const auto& style : script.styles) typesetter->vocabulary().styles.insert(style);
  typesetter->set_icon_sizes(icon_sizes);
  typesetter->set_diagnostic_hook(diagnostics);
  return typesetter;
}

// The script's sounds and answers in the game's settings.
void put_into(const std::shared_ptr<const Script>& script, ConversationSettings& settings) {
  settings.sounds = script->sounds;
  settings.lines_of = [script](std::string_view name) { return lines_of(script, name); };
}

tl::unexpected<Diagnostic> no_conversation(std::string_view name) {
  return base::failure(DiagnosticCode::unknown_conversation,
                       "the script has no conversation " + quoted_word(name));
}

}  // namespace

DialogueLines lines_of(const std::shared_ptr<const Script>& script, std::string_view conversation) {
  const ScriptConversation* found = script->find_conversation(conversation);
  return found == nullptr ? nullptr : DialogueLines(script, &found->lines);
}

tl::expected<ScriptPlayer, Diagnostic> ScriptPlayer::open(std::shared_ptr<const Script> script,
                                                          const Font& font,
                                                          ScriptPlayerOptions options) {
  ScriptPlayer player;
  if (!options.locale.empty()) {
    auto localized = in_locale(script, options.locale);
    if (!localized) return tl::unexpected(std::move(localized.error()));
    script = std::move(*localized);
  }
  player.script_ = std::move(script);
  player.has_own_box_ = options.box.has_value();
  player.values_ = std::move(options.values);
  player.icon_sizes_ = std::move(options.icon_sizes);
  player.diagnostics_ = std::move(options.diagnostics);
  auto typesetter =
      typesetter_of(*player.script_, player.values_, player.icon_sizes_, player.diagnostics_);
  if (!typesetter) return tl::unexpected(std::move(typesetter.error()));
  player.typesetter_ = std::move(*typesetter);
  put_into(player.script_, options.settings);
  if (auto problem = find_problem(options.settings)) return tl::unexpected(std::move(*problem));
  player.conversation_ = std::make_unique<Conversation>(*player.typesetter_, font,
                                                        options.box.value_or(player.script_->box),
                                                        std::move(options.settings));
  player.typesetter_->tell(player.script_->diagnostics);
  return player;
}

tl::expected<void, Diagnostic> ScriptPlayer::start(std::string_view name, std::string_view from) {
  std::string wanted(name);
  if (wanted.empty() && !script_->conversations.empty()) wanted = script_->conversations[0].name;
  DialogueLines lines = lines_of(script_, wanted);
  if (lines == nullptr) return no_conversation(wanted);
  return conversation_->start(std::move(lines), from, wanted);
}

tl::expected<void, Diagnostic> ScriptPlayer::start_at(const ConversationPlace& place) {
  DialogueLines lines = lines_of(script_, place.conversation);
  if (lines == nullptr) return no_conversation(place.conversation);
  return conversation_->start_at(std::move(lines), place);
}

tl::expected<void, Diagnostic> ScriptPlayer::set_script(std::shared_ptr<const Script> script) {
  if (script_->original == nullptr || script_->locale == script_->source_locale) {
    return go_to(std::move(script), nullptr);
  }
  auto localized = in_locale(script, script_->locale);
  if (!localized) return tl::unexpected(std::move(localized.error()));
  return go_to(std::move(*localized), nullptr);
}

tl::expected<void, Diagnostic> ScriptPlayer::set_locale(std::string_view locale, const Font* font) {
  auto localized = in_locale(script_, locale);
  if (!localized) return tl::unexpected(std::move(localized.error()));
  return go_to(std::move(*localized), font);
}

tl::expected<void, Diagnostic> ScriptPlayer::go_to(std::shared_ptr<const Script> script,
                                                   const Font* font) {
  const bool runs = conversation_->state() != ConversationState::closed;
  DialogueLines lines = lines_of(script, conversation_->name());
  if (runs && lines == nullptr) return no_conversation(conversation_->name());
  auto typesetter = typesetter_of(*script, values_, icon_sizes_, diagnostics_);
  if (!typesetter) return tl::unexpected(std::move(typesetter.error()));
  ConversationSettings before = conversation_->settings();
  ConversationSettings settings = before;
  put_into(script, settings);
  if (auto set = conversation_->set_settings(std::move(settings)); !set) return set;
  RetellOptions others{.font = font};
  if (!has_own_box_) others.box = script->box;
  auto retold = conversation_->retell(std::move(lines), **typesetter, others);
  if (!retold) {
    (void)conversation_->set_settings(std::move(before));  // they were good
    return retold;
  }
  typesetter_ = std::move(*typesetter);
  script_ = std::move(script);
  typesetter_->tell(script_->diagnostics);
  return {};
}

}  // namespace arvik
