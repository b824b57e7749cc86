#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "arvik/anchors.hpp"
#include "arvik/pace.hpp"
#include "arvik/units.hpp"

namespace arvik {

/// A line that goes on by itself, at the earliest this long after its last character.
struct AutoAdvance {
  Nanoseconds after{};  ///< 0 to one hour
  bool reading =
      false;  ///< and not before a reader has had time for it, counted from its begin or last hold
};

/// One of the answers that the player may give at the end of a line.
struct Choice {
  std::string id{};        ///< its key; for places, history and events
  std::string text{};      ///< markup
  std::string leads_to{};  ///< a conversation; empty: the line that follows
  bool available = true;   ///< whether it can be taken now; it is shown in either case
};

/// One line of a conversation.
struct DialogueLine {
  /// Its key, unique in the conversation. A saved place finds its line by it, even if lines were
  /// added or removed since.
  std::string id{};
  std::string speaker{};
  /// At its begin. Nothing carries over from the line before: a line without a portrait has none
  /// until `[portrait NAME]` names one.
  std::string portrait{};
  std::string text{};  ///< markup
  SharedPace pace{};
  std::string typing{};  ///< typing sound, one of ConversationSettings::sounds
  std::string voice{};   ///< voice clip
  /// How the clip speaks the text, so that both keep step; null: the text plays at its own pace.
  std::shared_ptr<const VoiceTiming> timing{};
  VoiceSync voice_sync = VoiceSync::align;
  bool skippable = true;  ///< whether the advance button may show the rest at once
  std::optional<AutoAdvance> automatic{};
  bool append = false;   ///< is added after the text in the box
  bool instant = false;  ///< all of it at once
  std::vector<Choice> choices{};
};

/// The lines of a conversation, shared by everything that reads them.
using DialogueLines = std::shared_ptr<const std::vector<DialogueLine>>;

}  // namespace arvik
