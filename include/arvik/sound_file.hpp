#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/typing_sound.hpp"

/// Part of arvik::script. Typing sounds as JSON; schemas/sounds.schema.json describes the format:
///
///     {"arvik_sounds": 1,
///      "clips": {"valve-thud": "sounds/valve_thud.wav"},
///      "sounds": {"wood": {"samples": ["sounds/wood_1.wav", "sounds/wood_2.wav"],
///                          "choose": "shuffle", "gap": "55ms", "pitch": ["-1st", "1st"]}}}
///
/// What is left out keeps the value of TypingSound. Files are named, not read: by convention their
/// paths start at the folder of the JSON file.
namespace arvik {

/// What `[sound NAME]` and voices mean.
struct NamedClip {
  std::string name{};
  std::string file{};
};

struct SoundFile {
  std::vector<TypingSound> sounds{};
  std::vector<NamedClip> clips{};
};

/// Reads a file of sounds, in its order. On failure returns every problem, with its location in the
/// text: bad_json, bad_value, unknown_key, bad_sound.
[[nodiscard]] ARVIK_API tl::expected<SoundFile, std::vector<Diagnostic>> parse_sounds(
    std::string_view json);

}  // namespace arvik
