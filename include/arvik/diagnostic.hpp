#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/export.hpp"

/// What is wrong, and where. Functions that can fail return a Diagnostic as the error of
/// tl::expected; functions that repair and go on (parse, lay_out) put diagnostics in their result.
namespace arvik {

enum class Severity : std::uint8_t { warning, error };

/// Stable: codes are added at the end and never change their meaning. diagnostic_name() gives the
/// name that tools print.
enum class DiagnosticCode : std::uint8_t {
  unknown_tag,           ///< markup: no tag has this name; its source text is shown
  missing_argument,      ///< markup: the tag needs an argument that is not there
  bad_argument,          ///< markup: an argument that the tag cannot read
  extra_argument,        ///< markup: more arguments than the tag takes
  not_a_span,            ///< markup: a point was written with a colon and content
  not_a_point,           ///< markup: a span was written without content
  missing_bracket,       ///< markup: a tag that is never closed
  stray_bracket,         ///< markup: a bracket that opens or closes nothing
  too_deep,              ///< markup: more than max_nesting spans inside each other
  invalid_utf8,          ///< text: bytes that are not UTF-8, replaced by U+FFFD
  text_too_long,         ///< text: longer than max_text_bytes; the rest is not read
  too_many_diagnostics,  ///< more problems than max_diagnostics; the rest is only counted
  bad_pace,              ///< pace: a value out of its range
  bad_box,               ///< layout: a box that cannot hold text
  word_broken,           ///< layout: a word longer than the row, broken between two steps
  step_too_wide,         ///< layout: a single step wider than the row
  language_unavailable,  ///< unicode: ICU cannot serve this language
  file_unreadable,       ///< files: cannot be opened or read
  bad_json,              ///< files: not JSON
  bad_value,             ///< files: a value of the wrong type or form
  unknown_key,           ///< files: a key that the format does not have
  bad_font,              ///< fonts: no font, or a size out of range
  missing_glyph,         ///< layout: no face has a character; a box is shown
  text_overflows,        ///< layout: the text does not fit into the box
  unknown_style,         ///< markup: no named style has this name
  unknown_value,         ///< markup: the game gives no text for this name
  fit_too_short,         ///< pacing: the pauses alone are longer than the line may last
  unknown_pace,          ///< files: no pace has this name
  pace_loop,             ///< files: a pace is based on itself
  conversation_runs,     ///< conversation: started while one runs
  bad_place,             ///< conversation: a saved place that these lines do not have
  unknown_speaker,       ///< files: nobody of the cast has this id
  unknown_portrait,      ///< files: the speaker has no portrait of this name
  duplicate_id,          ///< files: two lines or keys have the same name
  nothing_to_say,        ///< files: a conversation without lines, or a line without text
  bad_sound,             ///< sound: a value of a typing sound out of its range
  unknown_sound,         ///< sound: no typing sound or clip has this name
  bad_audio,             ///< audio: a file without sound in it, or one that cannot be understood
  file_unwritable,       ///< files: cannot be written
  bad_settings,          ///< conversation: a setting out of its range
  bad_choice,            ///< conversation: an answer that cannot be given now
  unknown_conversation,  ///< files: a choice leads to a conversation that is not there
  endless_loop,          ///< files: choices lead round and round without a way out
  target_busy,           ///< stage: something runs on this target already
  unknown_branch,        ///< markup: a branch of a choice that no value takes
  missing_branch,        ///< markup: a choice without a branch that the language needs
  bad_table,             ///< files: not a table of strings
  unknown_locale,        ///< files: no locale has this tag, or the script has no texts in it
  missing_text,          ///< strings: a text that is not there in a locale
  include_loop,          ///< files: a file that is included by itself
  file_outside,          ///< files: a name that leads out of the script's folder
  bad_xliff,             ///< files: not XLIFF 1.2, or not of this script
  changed_tags,          ///< strings: a translation has lost or invented tags
  bad_anchor,            ///< pacing: a step that cannot appear at the time it was given
  voice_silent,          ///< audio: a recording in which nobody speaks
  voice_length,          ///< audio: a recording too short or too long for its text
  voice_doubtful,        ///< audio: a recording that does not sound like its text
};

/// The stable name of a code, e.g. "unknown-tag".
[[nodiscard]] ARVIK_API std::string_view diagnostic_name(DiagnosticCode code);

/// Half-open range of byte offsets in the source text.
struct TextRange {
  std::size_t begin = 0;
  std::size_t end = 0;
  friend bool operator==(const TextRange&, const TextRange&) = default;
};

struct Diagnostic {
  DiagnosticCode code{};
  Severity severity = Severity::error;
  std::string message{};   ///< one sentence, without location and without full stop
  TextRange range{};       ///< bytes of the source that are meant; empty when there is no source
  std::size_t row = 1;     ///< row of range.begin in the source, from 1
  std::size_t column = 1;  ///< code point in that row, from 1
  std::string hint{};      ///< the nearest known name, or empty
  std::string pointer{};   ///< in JSON files: the value's JSON pointer (RFC 6901)
  std::string file{};      ///< of scripts of several files: as the script names it
  std::string key{};       ///< of texts in tables of strings
  std::string locale{};    ///< the same
};

/// Hears of diagnostics, for a game's log. Called in the thread of the call that found them.
using DiagnosticHook = std::function<void(const Diagnostic&)>;

/// No result holds more diagnostics than this: then one last too_many_diagnostics tells how many
/// more there were.
inline constexpr std::size_t max_diagnostics = 100;

[[nodiscard]] ARVIK_API bool has_errors(const std::vector<Diagnostic>& diagnostics);

/// The name among `known` that is nearest to `word` by edits (insert, delete, replace, swap of
/// neighbours), if it is near enough to be a likely slip; else empty. The view is one of `known`.
[[nodiscard]] ARVIK_API std::string_view nearest_name(std::string_view word,
                                                      const std::vector<std::string_view>& known);

/// A word of the input as messages quote it: in double quotes, and cut with an ellipsis when long.
[[nodiscard]] ARVIK_API std::string quoted_word(std::string_view word);

/// Finds row and column of rising byte offsets of one text. Going forward costs in proportion to
/// the bytes passed, so that locating every problem of a text is one pass over it.
class ARVIK_API TextLocator {
 public:
  /// Keeps the view; the text must outlive the locator.
  explicit TextLocator(std::string_view text) : text_(text) {}
  explicit TextLocator(std::string&&) = delete;
  struct Location {
    std::size_t row = 1;
    std::size_t column = 1;
  };
  /// `offset` beyond the text counts as its end. An offset before the last one starts over.
  Location locate(std::size_t offset);

 private:
  std::string_view text_;
  std::size_t at_ = 0;
  Location location_;
};

/// Collects the diagnostics of one source text: fills in row and column, and keeps to
/// max_diagnostics.
class ARVIK_API DiagnosticSink {
 public:
  /// Keeps both references for its own life.
  DiagnosticSink(std::string_view source, std::vector<Diagnostic>& out)
      : locator_(source), out_(out) {}
  void add(Diagnostic diagnostic);

 private:
  TextLocator locator_;
  std::vector<Diagnostic>& out_;
  std::size_t swallowed_ = 0;
};

}  // namespace arvik
