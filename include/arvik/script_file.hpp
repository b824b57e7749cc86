#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/box.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/dialogue_line.hpp"
#include "arvik/export.hpp"
#include "arvik/markup.hpp"
#include "arvik/pace_file.hpp"
#include "arvik/sound_file.hpp"

/// Part of arvik::script. A script is one JSON file: who speaks, how, and what is said;
/// schemas/script.schema.json describes it, docs/formats.md tells of it.
namespace arvik {

struct Portrait {
  std::string name{};
  std::string picture{};  ///< whatever the game finds it by
};

/// One of the cast.
struct Speaker {
  std::string id{};
  std::string name{};  ///< as shown; the id if the script has none
  std::optional<Rgba> color{};
  std::string pace{};    ///< name of a pace; empty: the default
  std::string typing{};  ///< name of a typing sound; may be empty
  std::vector<Portrait> portraits{};
};

struct ScriptConversation {
  std::string name{};
  std::vector<DialogueLine> lines{};  ///< with paces and typing sounds looked up
};

struct ARVIK_API Script {
  std::string locale = "en";  ///< BCP 47
  std::vector<Speaker> cast{};
  std::vector<NamedPace> paces{};
  NamedStyles styles{};
  std::vector<TypingSound> sounds{};
  std::vector<NamedClip> clips{};
  Box box{};  ///< in the font's units
  std::vector<ScriptConversation> conversations{};
  /// What is wrong with it: warnings; errors, too, where they are repaired.
  std::vector<Diagnostic> diagnostics{};

  /// Null if there is none of that id or name. The script must outlive what is found.
  [[nodiscard]] const Speaker* find_speaker(std::string_view id) const&;
  const Speaker* find_speaker(std::string_view id) && = delete;
  [[nodiscard]] const ScriptConversation* find_conversation(std::string_view name) const&;
  const ScriptConversation* find_conversation(std::string_view name) && = delete;
};

/// What becomes of a script that has errors.
enum class ScriptErrors : std::uint8_t {
  refuse,  ///< it is not loaded: for tools, and for games while they are made
  /// It is loaded as far as it goes, for the players of a game: markup that cannot be read is shown
  /// as it stands, a pace that is not there is the default, a line that is none is left out. All of
  /// it is told in Script::diagnostics.
  repair
};

/// Reads a script. On failure returns every problem, warnings included, with its location in the
/// file, its JSON pointer and, for markup, its location in the line's text: bad_json, bad_value,
/// unknown_key, unknown_speaker, unknown_portrait, unknown_pace, pace_loop, bad_pace, bad_sound,
/// unknown_sound (where the script has sounds or clips at all), duplicate_id, and the codes of
/// parse(); unknown_conversation and endless_loop (a warning) of what answers lead to. A script
/// with warnings alone is read. Text that is not JSON always fails. Time and memory are linear in
/// the file.
[[nodiscard]] ARVIK_API tl::expected<Script, std::vector<Diagnostic>> parse_script(
    std::string_view json, ScriptErrors errors = ScriptErrors::refuse);

}  // namespace arvik
