#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"

/// Part of arvik::script: where a script's parts stand in its JSON files, for tools that look at
/// the whole of it. Games do not need it.
namespace arvik {

/// A value in one of a script's JSON files.
struct ScriptSpot {
  static constexpr std::uint32_t no_file = 0xFFFFFFFF;
  std::uint32_t file = no_file;  ///< index in ScriptMap::files; no_file: it stands in none
  std::uint32_t begin = 0;       ///< bytes of the file, of a string with its quotes
  std::uint32_t end = 0;
  [[nodiscard]] bool is_known() const { return file != no_file; }
};

enum class ScriptPart : std::uint8_t {
  conversation,
  speaker,
  portrait,  ///< its name is SPEAKER.PORTRAIT
  pace,
  style,
  sound,  ///< a typing sound
  clip
};
struct NamedSpot {
  ScriptPart part{};
  std::string name{};
  ScriptSpot spot{};  ///< of its key
};

/// A line or an answer.
struct TextSpot {
  ScriptSpot whole{};  ///< the object; of a row of a table, nothing
  ScriptSpot text{};   ///< its text, if it stands here
};

/// What a script says of its own check: the object under the key `check`.
struct CheckWishes {
  std::vector<std::string> off{};       ///< codes of findings that nobody wants
  std::vector<std::string> on{};        ///< of rules that are off by default
  std::vector<std::string> starts{};    ///< conversations that the game begins itself
  bool has_starts = false;              ///< whether it names them, all of them
  std::vector<std::string> own_keys{};  ///< texts of the game itself; a `*` stands for anything
  std::map<std::string, double, std::less<>> limits{};
};

struct ARVIK_API ScriptMap {
  struct File {
    std::string name{};  ///< as the script names it
    std::string text{};
  };
  std::vector<File> files{};
  /// In the script's order: conversation by conversation each line, behind it its answers.
  std::vector<TextSpot> texts{};
  /// Codes that a line or answer is not checked for, by its index in `texts`.
  std::map<std::uint32_t, std::vector<std::string>> unchecked{};
  std::vector<NamedSpot> names{};
  std::vector<std::string> base_paces{};  ///< that other paces are based on
  CheckWishes wishes{};

  /// A range of a string's text as one of the file that it stands in; of other values, and for an
  /// empty range at its begin, the whole value. The spot must be known.
  [[nodiscard]] TextRange in_file(const ScriptSpot& spot, TextRange in_text) const;
};

}  // namespace arvik
