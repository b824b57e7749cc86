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
  std::optional<Box> box{};  ///< without one: the script's
  /// Sounds and where answers lead are the script's.
  ConversationSettings settings{};
  /// The game's values for `[value NAME]`; may be empty.
  Vocabulary values{};
  IconSizes icon_sizes{};
  DiagnosticHook diagnostics{};
};

/// Plays the conversations of a script: holds the language, the styles, the sounds and the
/// conversation together, so that none of them can be forgotten. Keeps a reference to the font,
/// which must outlive it. One thread at a time.
class ARVIK_API ScriptPlayer {
 public:
  /// Fails with language_unavailable for a locale that ICU cannot serve, and with what
  /// find_problem() finds in the settings. The script must not be null.
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

  /// Another version of the script, or the same in another language: what runs goes on at its
  /// place. Fails as Conversation::retell() does, and with unknown_conversation if the one that
  /// runs is gone; then nothing has changed.
  [[nodiscard]] tl::expected<void, Diagnostic> set_script(std::shared_ptr<const Script> script);

  /// Time, buttons, answers, drawing: everything else.
  [[nodiscard]] Conversation& conversation() { return *conversation_; }
  [[nodiscard]] const Conversation& conversation() const { return *conversation_; }
  [[nodiscard]] const Script& script() const { return *script_; }
  [[nodiscard]] Typesetter& typesetter() { return *typesetter_; }

 private:
  ScriptPlayer() = default;

  std::shared_ptr<const Script> script_;
  Vocabulary values_;
  IconSizes icon_sizes_;
  DiagnosticHook diagnostics_;
  std::unique_ptr<Typesetter> typesetter_;  // whose address stays
  std::unique_ptr<Conversation> conversation_;
};

}  // namespace arvik
