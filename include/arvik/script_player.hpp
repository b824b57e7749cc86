#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/conversation.hpp"
#include "arvik/export.hpp"
#include "arvik/script_file.hpp"

/// Part of arvik::script: from a script to a conversation that runs, in one call.
namespace arvik {

/// The lines of one of a script's conversations, sharing the script; null if there is none.
[[nodiscard]] ARVIK_API DialogueLines lines_of(const std::shared_ptr<const Script>& script,
                                               std::string_view conversation);

struct ScriptPlayerOptions {
  std::string locale{};      ///< to begin in; empty: the script's source locale
  std::optional<Box> box{};  ///< without one: the script's
  /// Sounds and where answers lead are the script's.
  ConversationSettings settings{};
  /// The game's values for `[value NAME]`; may be empty.
  Vocabulary values{};
  IconSizes icon_sizes{};
  /// Hears of the texts that a locale lacks, too, each time that the player goes to it.
  DiagnosticHook diagnostics{};
};

/// Plays the conversations of a script: holds the language, the styles, the sounds and the
/// conversation together, so that none of them can be forgotten. Keeps a reference to the font,
/// which must outlive it. One thread at a time.
class ARVIK_API ScriptPlayer {
 public:
  /// Fails with unknown_locale for a locale that the script has not, with language_unavailable for
  /// one that ICU cannot serve, and with what find_problem() finds in the settings. The script must
  /// not be null.
  [[nodiscard]] static tl::expected<ScriptPlayer, Diagnostic> open(
      std::shared_ptr<const Script> script, const Font& font, ScriptPlayerOptions options = {});
  static tl::expected<ScriptPlayer, Diagnostic> open(std::shared_ptr<const Script>, const Font&&,
                                                     ScriptPlayerOptions = {}) = delete;

  /// Begins a conversation, the script's first if `name` is empty, at the line with the id `from`.
  /// Fails with unknown_conversation and as Conversation::start() does.
  [[nodiscard]] tl::expected<void, Diagnostic> start(std::string_view name = {},
                                                     std::string_view from = {});
  /// Goes on at a saved place: the conversation is the one that the place names.
  [[nodiscard]] tl::expected<void, Diagnostic> start_at(const ConversationPlace& place);

  /// Another version of the script, in the player's locale: what runs goes on at its place. Fails
  /// as Conversation::retell() does, with unknown_locale, and with unknown_conversation if the one
  /// that runs is gone; then nothing has changed.
  [[nodiscard]] tl::expected<void, Diagnostic> set_script(std::shared_ptr<const Script> script);

  /// Goes to another of the script's locales, at any moment: the line under way goes on at the same
  /// place in the other language, with its texts, answers, paces, sounds and box, and with `font`,
  /// which must outlive the player, or the one before (null); the history is told in it, too. No
  /// event is lost or comes twice. A voice clip ends with a fade; the next line speaks the new
  /// language. Fails as set_script() does; then nothing has changed.
  [[nodiscard]] tl::expected<void, Diagnostic> set_locale(std::string_view locale,
                                                          const Font* font = nullptr);
  [[nodiscard]] const std::string& locale() const { return script_->locale; }

  /// Time, buttons, answers, drawing: everything else.
  [[nodiscard]] Conversation& conversation() { return *conversation_; }
  [[nodiscard]] const Conversation& conversation() const { return *conversation_; }
  /// The script in the player's locale.
  [[nodiscard]] const Script& script() const { return *script_; }
  [[nodiscard]] const std::shared_ptr<const Script>& shared_script() const { return script_; }
  [[nodiscard]] Typesetter& typesetter() { return *typesetter_; }

 private:
  ScriptPlayer() = default;
  [[nodiscard]] tl::expected<void, Diagnostic> go_to(std::shared_ptr<const Script> script,
                                                     const Font* font);

  std::shared_ptr<const Script> script_;
  Vocabulary values_;
  IconSizes icon_sizes_;
  DiagnosticHook diagnostics_;
  bool has_own_box_ = false;                // of the game
  std::unique_ptr<Typesetter> typesetter_;  // whose address stays
  std::unique_ptr<Conversation> conversation_;
};

}  // namespace arvik
