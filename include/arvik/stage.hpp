#pragma once

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/conversation.hpp"
#include "arvik/export.hpp"

namespace arvik {

/// What to do if something runs on a target already.
enum class WhenBusy : std::uint8_t {
  refuse,    ///< the new one does not begin (target_busy)
  end_first  ///< the one that runs is stopped, with all its events, and the new one begins
};

/// What begins on a target.
struct StageEntry {
  std::string target{};   ///< the game's name of the box: "dialogue", "bubble-odrun", "corner", …
  DialogueLines lines{};  ///< a single line, or many
  std::string from{};     ///< id of the line to begin at; empty: the first
  std::string name{};     ///< of the conversation, for places
  Box box{};
  const Font* font = nullptr;  ///< must outlive the entry; null: the stage's
  /// Its player is the stage's.
  ConversationSettings settings{};
  WhenBusy when_busy = WhenBusy::end_first;
};

/// An event of one of the conversations.
struct StageEvent {
  std::string_view target;
  ConversationEvent event;
};

/// A sound of one of them. Channels and loops belong to the target: ending one ends no other's.
struct StageSound {
  std::string_view target;
  SoundEvent sound;
};

/// All that is said on the screen at once: conversations, bubbles, signs, a line in a corner. One
/// clock, one pause, one player's settings for all; each target has one conversation at most.
///
/// Keeps references to the typesetter and the font. One thread at a time.
class ARVIK_API Stage {
 public:
  Stage(Typesetter& typesetter, const Font& font, PlayerSettings player = {});
  Stage(Typesetter&, const Font&&, PlayerSettings = {}) = delete;
  Stage(Stage&&) noexcept;
  Stage& operator=(Stage&&) noexcept;
  ~Stage();

  /// Begins on a target. Fails as Conversation::start() does, and with target_busy; then nothing
  /// has changed, nor was anything ended.
  [[nodiscard]] tl::expected<void, Diagnostic> start(StageEntry entry);
  /// The same at a saved place.
  [[nodiscard]] tl::expected<void, Diagnostic> start_at(StageEntry entry,
                                                        const ConversationPlace& place);

  /// Lets time pass for all. The buttons go to the targets in focus; for the others none is held.
  void tick(Nanoseconds time, Buttons buttons = {});
  /// Which targets get the buttons; none at first.
  void set_focus(std::vector<std::string> targets);
  [[nodiscard]] const std::vector<std::string>& focus() const;

  /// Of the last tick and of what was stopped since: target by target in the order in which they
  /// began, each in order of time. Live until the next tick().
  [[nodiscard]] std::span<const StageEvent> events() const;
  [[nodiscard]] std::span<const StageSound> sounds() const;

  /// Ends what runs on a target, or everywhere; its events and sounds come with events() and
  /// sounds().
  void stop(std::string_view target);
  void stop_all();

  /// Null if nothing runs there. Lives until it has closed and the next tick begins. For drawing,
  /// choosing, boxes and places; time, pause and the player's settings are the stage's.
  [[nodiscard]] Conversation* find(std::string_view target);
  /// The targets on which something runs, in the order in which they began.
  [[nodiscard]] std::vector<std::string> targets() const;

  void pause();
  void resume();
  [[nodiscard]] bool paused() const;
  [[nodiscard]] Nanoseconds clock() const;

  /// Takes effect at once and everywhere. Fails with what find_problem() finds.
  [[nodiscard]] tl::expected<void, Diagnostic> set_player(PlayerSettings player);
  [[nodiscard]] const PlayerSettings& player() const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace arvik
