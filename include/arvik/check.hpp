#pragma once

#include <atomic>
#include <cstddef>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/box.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/font.hpp"
#include "arvik/script_file.hpp"
#include "arvik/script_map.hpp"
#include "arvik/units.hpp"

/// Part of arvik::check: reads a whole script in all its locales as its players will, and tells
/// what they would stumble over. docs/checking.md has every rule with an example.
namespace arvik {

enum class CheckGroup : std::uint8_t {
  texts,  ///< what is wrong with a text by itself
  kept,   ///< what a translation must keep of its source
  box,    ///< what does not fit
  time,   ///< what comes too fast, and what is spoken
  whole   ///< what nothing uses, and what leads nowhere
};
/// "texts", …
[[nodiscard]] ARVIK_API std::string_view check_group_name(CheckGroup group);

/// One kind of finding. Beside these, the diagnostics of scripts, markup and layouts are findings,
/// by their own names (diagnostic_name()).
struct CheckRule {
  std::string_view code{};  ///< stable: "double-blank"
  CheckGroup group{};
  Severity severity = Severity::warning;
  bool by_default = true;    ///< whether it is looked for unless somebody asks
  std::string_view about{};  ///< what it finds, in one sentence
};
/// All rules, group by group.
[[nodiscard]] ARVIK_API std::span<const CheckRule> check_rules();

/// A number that a rule goes by, and what it may be. A script sets its own under `check`.
struct CheckLimit {
  std::string_view name{};
  double value = 0;  ///< by default
  double least = 0;
  double most = 0;
  std::string_view about{};
};
[[nodiscard]] ARVIK_API std::span<const CheckLimit> check_limits();

/// Something that a player would stumble over, and where it stands.
struct Finding {
  std::string code{};
  Severity severity = Severity::warning;
  std::string message{};        ///< one sentence, without full stop
  std::string hint{};           ///< what may be meant, or what to do; may be empty
  std::string file{};           ///< as the script names it; its own name for the script itself
  TextRange range{};            ///< bytes of the file
  std::size_t row = 1;          ///< in the file, from 1
  std::size_t column = 1;       ///< code point in that row, from 1
  std::size_t text_row = 0;     ///< in the text, as it is written, from 1; 0: no text is meant
  std::size_t text_column = 0;  ///< code point in that row, from 1
  std::string key{};            ///< of the line or answer
  std::string locale{};         ///< in which it is so
  std::string conversation{};
  std::string speaker{};                ///< its id
  std::optional<std::uint32_t> text{};  ///< index in ScriptMap::texts
};

/// What a voice clip is like.
struct SpokenClip {
  Nanoseconds length{};
  Nanoseconds lead{};             ///< silence before the voice …
  Nanoseconds tail{};             ///< … and behind it
  std::uint64_t fingerprint = 0;  ///< of its bytes (VoiceTiming::clip); 0: not known
};

struct CheckOptions {
  std::vector<std::string> locales{};  ///< empty: all that the script has
  std::vector<std::string> off{};      ///< codes that are not wanted
  std::vector<std::string> on{};       ///< rules that are off by default
  std::optional<Box> box{};            ///< in the place of the script's
  unsigned threads = 0;                ///< 0: as many as the machine has
  /// Opens the font of a locale, once a locale; threads share it. Empty: a grid. Where it fails,
  /// that is a finding, and the locale is laid out on a grid.
  std::function<tl::expected<std::shared_ptr<const Font>, Diagnostic>(const Script& in_locale)>
      font{};
  /// Opens the faces that a locale has, to find characters that none of them has, where texts are
  /// laid out on a grid. Empty, or nothing: nobody looks.
  std::function<std::shared_ptr<const Font>(const Script& in_locale)> faces{};
  /// Reads a sound file, by its path from the script's folder; called from several threads at once.
  /// Empty: clips are not looked at.
  std::function<tl::expected<SpokenClip, Diagnostic>(const std::string& file)> clip{};
  /// Whether there is a file, by its path from the script's folder. Empty: nobody asks.
  std::function<bool(const std::string& file)> exists{};
  /// Hears how many texts are done, now and then. Called from several threads, never at once.
  std::function<void(std::size_t done, std::size_t all)> progress{};
  /// Becomes true when the check is to stop.
  const std::atomic<bool>* stop = nullptr;
};

struct CheckReport {
  /// File by file, in the order in which they stand there; the same whatever the threads.
  std::vector<Finding> findings{};
  std::vector<std::string> locales{};  ///< that were checked
  std::size_t texts = 0;               ///< lines and answers, each once a locale
  bool stopped = false;                ///< before it was done
};

/// A script as it is read for checking: what is wrong with it does not keep its texts from being
/// looked at.
struct CheckedScript {
  std::shared_ptr<const Script> script{};  ///< null: it is not JSON
  ScriptMap map{};
  std::string name{};                     ///< of its file, in its folder
  std::vector<Diagnostic> diagnostics{};  ///< of reading it
};
/// Reads a script with the files of its folder. Fails with file_unreadable.
[[nodiscard]] ARVIK_API tl::expected<CheckedScript, Diagnostic> load_for_check(
    const std::string& path);
/// The same from a text.
[[nodiscard]] ARVIK_API CheckedScript parse_for_check(std::string_view json,
                                                      const ScriptFiles& files = {},
                                                      std::string name = {});

/// Checks a script. Each text goes through the one pipeline, with the font, box and pace of its
/// locale. Fails with unknown_locale for a locale that the script has not, with bad_value for a
/// code that no rule has. What a text cannot be prepared with, a bad box, is a finding. Memory
/// beyond the script grows with the findings.
[[nodiscard]] ARVIK_API tl::expected<CheckReport, Diagnostic> check(
    const CheckedScript& script, const CheckOptions& options = {});

}  // namespace arvik
