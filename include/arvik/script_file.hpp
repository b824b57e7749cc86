#pragma once

#include <cstdint>
#include <memory>
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
#include "arvik/script_files.hpp"
#include "arvik/script_map.hpp"
#include "arvik/sound_file.hpp"
#include "arvik/strings.hpp"

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

/// What is different in a locale.
struct LocaleChanges {
  std::string locale{};
  std::optional<double> rate{};       ///< a factor for every pace, 0.1 to 10
  std::vector<NamedPace> paces{};     ///< in the place of those of the same names
  NamedStyles styles{};               ///< the same
  std::vector<TypingSound> sounds{};  ///< the same
  std::optional<Box> box{};
  std::vector<std::string> fonts{};  ///< families
  std::vector<NamedClip> voices{};   ///< named by the keys of their lines, in the order of names
};

/// A pace that lines share, and how it came to be: for making it anew in another locale.
struct LinePace {
  SharedPace pace{};
  std::string name{};  ///< of the pace; empty: the default
  std::optional<RateChange> rate{};
};

struct ARVIK_API Script {
  std::string locale = "en";         ///< that its texts are in; BCP 47
  std::string source_locale = "en";  ///< that it was written in
  /// All that it has texts in, or other settings: the source locale first.
  std::vector<std::string> locales{"en"};
  std::vector<Speaker> cast{};
  std::vector<NamedPace> paces{};
  NamedStyles styles{};
  std::vector<TypingSound> sounds{};
  std::vector<NamedClip> clips{};
  Box box{};                         ///< in the font's units
  std::vector<std::string> fonts{};  ///< families that the texts want, first choice first
  std::vector<ScriptConversation> conversations{};
  std::shared_ptr<const Strings> strings{};  ///< null: it has no tables
  std::vector<LocaleChanges> changes{};
  std::vector<LinePace> line_paces{};
  std::shared_ptr<const Script> original{};  ///< that this is in another locale; null: itself
  std::vector<std::string> files{};          ///< included and tables, from the script's folder
  /// Where the timings of its voice clips are read from; null: nowhere.
  std::shared_ptr<const ScriptFiles> access{};
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

/// Reads a script with all that it includes and its tables of strings, in its source locale. `name`
/// is its own in the folder of the files, for problems; it may be empty. On failure returns every
/// problem, warnings included, with its location in the file, its JSON pointer and, for markup, its
/// location in the line's text: bad_json, bad_value, unknown_key, unknown_speaker,
/// unknown_portrait, unknown_pace, pace_loop, bad_pace, bad_sound, unknown_sound (where the script
/// has sounds or clips at all), duplicate_id, and the codes of parse(); unknown_conversation and
/// endless_loop (a warning) of what answers lead to; missing_text, where neither the line nor a
/// table has a text; of other files file_unreadable, file_outside, include_loop, and the codes of
/// parse_strings(). The timings beside the voice clips of its lines are read, too
/// (read_voice_timing()); what is wrong with them is a warning. Texts of tables are looked at in
/// every locale, but not where errors are repaired: then they are looked at when they are shown. A
/// script with warnings alone is read. Text that is not JSON always fails. Time and memory are
/// linear in the files.
///
/// With a `map`, which is filled, texts are not looked at: who asks for it does so, as check()
/// does.
[[nodiscard]] ARVIK_API tl::expected<Script, std::vector<Diagnostic>> parse_script(
    std::string_view json, ScriptErrors errors = ScriptErrors::refuse,
    const ScriptFiles& files = {}, std::string name = {}, ScriptMap* map = nullptr);

/// Reads a script from the disk, with the files of its folder. Fails as read_file() and
/// parse_script() do.
[[nodiscard]] ARVIK_API tl::expected<Script, std::vector<Diagnostic>> load_script(
    const std::string& path, ScriptErrors errors = ScriptErrors::refuse, ScriptMap* map = nullptr);

/// The script in another of its locales: texts and names of speakers by their keys in the locale,
/// its parents (locale_chain()), or else the source locale; paces, styles, sounds, box, fonts and
/// voices of the locale. Its diagnostics tell what is missing there, each once (missing_text). A
/// line without a voice clip in the locale or its parents has none. The name of a speaker has the
/// key `cast.ID`. Fails with unknown_locale if the script has neither the locale nor a parent of
/// it. Costs a copy of the script, and reads the timings beside the locale's voice clips; safe from
/// any thread, if Script::access is.
[[nodiscard]] ARVIK_API tl::expected<std::shared_ptr<const Script>, Diagnostic> in_locale(
    const std::shared_ptr<const Script>& script, std::string_view locale);

}  // namespace arvik
