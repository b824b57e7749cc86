#pragma once

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <memory>
#include <new>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/arvik.h"
#include "arvik/arvik.hpp"
#include "arvik/script_player.hpp"
#include "arvik/sound_file.hpp"

/// What the functions of the C interface share: every one checks what it is given, catches what may
/// be thrown (memory that runs out), and copies structs by the smaller of both sizes.
namespace arvik::c {

inline tl::unexpected<Diagnostic> bad_value(std::string message) {
  return tl::unexpected(Diagnostic{.code = DiagnosticCode::bad_value,
                                   .severity = Severity::error,
                                   .message = std::move(message)});
}

/// Copies `value` to `out`. Fields beyond the caller's size are not written.
template <typename Struct>
int32_t put(const Struct& value, Struct* out) {
  if (out == nullptr || out->size < sizeof out->size) return 0;
  const std::size_t size = std::min(out->size, sizeof value);
  constexpr std::size_t head = sizeof out->size;
  std::memcpy(reinterpret_cast<char*>(out) + head, reinterpret_cast<const char*>(&value) + head,
              size - head);
  return 1;
}

/// What the caller's struct has, on top of the defaults. Fails for a struct without a size.
template <typename Struct>
tl::expected<Struct, Diagnostic> taken(const Struct* in, void (*set_defaults)(Struct*)) {
  Struct value;
  set_defaults(&value);
  if (in == nullptr) return value;
  if (in->size < sizeof in->size) {
    return bad_value("the size of a struct is not set: let its _init function do it");
  }
  std::memcpy(static_cast<void*>(&value), in, std::min(in->size, sizeof value));
  value.size = sizeof value;
  return value;
}

template <std::size_t size>
void copy_text(std::string_view text, char (&out)[size]) {
  std::size_t length = std::min(text.size(), size - 1);
  // Not in the middle of a character.
  while (length < text.size() && length > 0 &&
         (static_cast<unsigned char>(text[length]) & 0xC0U) == 0x80U) {
    --length;
  }
  std::memcpy(out, text.data(), length);
  out[length] = '\0';
}

inline int32_t put_error(const Diagnostic& problem, arvik_error* error) {
  arvik_error value{};
  copy_text(diagnostic_name(problem.code), value.code);
  copy_text(problem.message, value.message);
  value.row = static_cast<std::uint32_t>(problem.row);
  value.column = static_cast<std::uint32_t>(problem.column);
  return put(value, error);
}

inline int32_t put_error(const char* code, const char* message, arvik_error* error) {
  arvik_error value{};
  copy_text(code, value.code);
  copy_text(message, value.message);
  return put(value, error);
}

/// Runs what may run out of memory; returns its result, or nothing.
template <typename Function>
auto guarded(arvik_error* error, Function function) -> decltype(function()) {
  try {
    return function();
  } catch (const std::bad_alloc&) {
    put_error("no-memory", "there is no memory left", error);
  } catch (const std::exception& problem) {
    put_error("internal", problem.what(), error);
  }
  return {};
}

inline std::string_view text_of(const char* text, std::size_t bytes = ARVIK_NUL) {
  if (text == nullptr) return {};
  return bytes == ARVIK_NUL ? std::string_view(text) : std::string_view(text, bytes);
}

/// The same of a length that a caller may have got wrong: nothing, and an error, if it is absurd.
inline std::optional<std::string_view> good_text(const char* text, std::size_t bytes,
                                                 arvik_error* error) {
  if (text == nullptr || bytes == ARVIK_NUL || bytes <= ARVIK_MAX_BYTES)
    return text_of(text, bytes);
  put_error("text-too-long", "a length is more than a gigabyte", error);
  return std::nullopt;
}

inline int32_t put_problem(const std::vector<Diagnostic>& problems, uint32_t index,
                           arvik_problem* out) {
  if (index >= problems.size()) return 0;
  const Diagnostic& problem = problems[index];
  return put<arvik_problem>({.size = sizeof *out,
                             .code = diagnostic_name(problem.code).data(),
                             .message = problem.message.c_str(),
                             .hint = problem.hint.c_str(),
                             .pointer = problem.pointer.c_str(),
                             .row = static_cast<std::uint32_t>(problem.row),
                             .column = static_cast<std::uint32_t>(problem.column),
                             .is_error = problem.severity == Severity::error ? 1 : 0,
                             .file = problem.file.c_str(),
                             .key = problem.key.c_str(),
                             .locale = problem.locale.c_str()},
                            out);
}

/// A line and what is derived from it; never changes.
struct Line {
  PreparedLine prepared;
  RowText rows{};
  std::vector<Diagnostic> diagnostics{};
  Pace pace{};  ///< it was prepared with
};

inline arvik_extent extent_of(const Line& line, std::uint32_t steps) {
  const Extent& extent = line.prepared.steps.extents[steps];
  return {.size = sizeof(arvik_extent),
          .steps = steps,
          .bytes = extent.bytes,
          .code_points = extent.code_points,
          .utf16_units = extent.utf16_units,
          .row_text_bytes = line.rows.extents[steps].bytes};
}

/// The font of a handle; a grid where there is none.
[[nodiscard]] std::shared_ptr<const Font> font_of(const arvik_font* font);
/// The pace of a struct; the default where there is none. Fails with what is wrong with it.
[[nodiscard]] tl::expected<Pace, Diagnostic> pace_of(const arvik_pace* given);
/// The box of a struct; no limits where there is none. Fails with bad_box.
[[nodiscard]] tl::expected<Box, Diagnostic> box_of(const arvik_box* given);

/// 0xRRGGBBAA.
inline uint32_t packed(const Rgba& color) {
  return uint32_t{color.red} << 24U | uint32_t{color.green} << 16U | uint32_t{color.blue} << 8U |
         color.alpha;
}

/// Views of names are of whole strings, which end with a NUL.
inline const char* whole(std::string_view text) { return text.empty() ? "" : text.data(); }

inline int32_t put_attribute(const Event& event, uint32_t index, const char** key,
                             const char** value) {
  if (index >= event.attributes.size() || key == nullptr || value == nullptr) return 0;
  *key = event.attributes[index].key.c_str();
  *value = event.attributes[index].value.c_str();
  return 1;
}

/// Returns a sound event; `begin` is when the tick began, on the clock of its time.
inline int32_t put_sound(const SoundEvent& sound, Nanoseconds begin, arvik_sound* out) {
  return put<arvik_sound>({.size = sizeof *out,
                           .kind = static_cast<int32_t>(sound.kind),
                           .step = sound.step,
                           .kind_name = sound_event_name(sound.kind).data(),
                           .name = whole(sound.name),
                           .delay_ns = (sound.time - begin).count(),
                           .fade_ns = sound.fade.count(),
                           .sound = sound.sound,
                           .channel = sound.channel,
                           .pitch = sound.pitch,
                           .gain = sound.gain,
                           .pan = sound.pan},
                          out);
}

}  // namespace arvik::c

struct arvik_setter {
  arvik::Typesetter typesetter;
  std::map<std::string, arvik::TextValue, std::less<>> values{};
  arvik::IconSizes icon_sizes{};

  explicit arvik_setter(arvik::Language language) : typesetter(std::move(language)) {
    typesetter.vocabulary().value =
        [this](std::string_view name) -> std::optional<arvik::TextValue> {
      const auto found = values.find(name);
      if (found == values.end()) return std::nullopt;
      return found->second;
    };
  }
};

struct arvik_font {
  std::shared_ptr<const arvik::Font> font;
};

struct arvik_line {
  std::shared_ptr<const arvik::c::Line> line;
};

struct arvik_script {
  std::shared_ptr<arvik::Script> script{};  ///< null if it was refused; shared with its talks
  std::vector<arvik::Diagnostic> problems{};
};

/// What can be heard, as a file or a script names it.
struct arvik_sounds {
  std::vector<arvik::TypingSound> sounds{};
  std::vector<arvik::NamedClip> files{};  ///< samples and clips, each once

  arvik_sounds(std::vector<arvik::TypingSound> typing, const std::vector<arvik::NamedClip>& clips);
};

struct arvik_reveal {
  std::shared_ptr<const arvik::c::Line> line;
  arvik::Reveal reveal;
  arvik::Entrances entrances{};
  std::unique_ptr<const arvik::TypingPlan> plan{};
  arvik::TypingPlayer typing{};
  arvik::Nanoseconds heard{};  ///< the real time so far
  arvik::Nanoseconds begin{};  ///< of the last tick
  std::vector<arvik::SoundEvent> sounds{};

  /// Plays on by `advance`, which takes `time`, and hears what it brings.
  template <typename Advance>
  arvik::Progress play(arvik::Nanoseconds time, Advance advance) {
    const arvik::Reveal before = reveal;
    const arvik::Progress progress = advance();
    time = std::max(time, arvik::Nanoseconds::zero());
    if (!before.paused() || progress.skipped) entrances.follow(before, progress, time);
    if (plan == nullptr) return progress;
    begin = heard;
    sounds.clear();
    typing.follow(before, reveal, progress, heard, sounds);
    heard = arvik::add_saturated(heard, time);
    return progress;
  }
};

struct arvik_talk {
  std::shared_ptr<const arvik::Font> font;
  arvik_sounds sounds;
  arvik::ScriptPlayer player;  // refers to the font
  arvik::Conversation& talk;
  std::span<const arvik::ConversationEvent> events{};
  arvik::Nanoseconds begin{};                   // of the last tick
  std::shared_ptr<const arvik::Block> block{};  // of which the line was made
  std::unique_ptr<arvik_line> line{};           // what stands in the box, once it was asked for
  std::vector<arvik::HistoryEntry> history{};   // when it was asked for
  std::string place{};
  std::vector<std::shared_ptr<const arvik::Font>> former{};  // that blocks may refer to

  arvik_talk(std::shared_ptr<const arvik::Font> face, arvik::ScriptPlayer opened)
      : font(std::move(face)),
        sounds(opened.script().sounds, opened.script().clips),
        player(std::move(opened)),
        talk(player.conversation()) {}

  void forget() {
    events = {};
    line.reset();
    block.reset();
  }
};
