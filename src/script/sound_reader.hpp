#pragma once

#include <string>
#include <vector>

#include "arvik/sound_file.hpp"
#include "problems.hpp"

namespace arvik::script {

/// Reads an object of named typing sounds.
[[nodiscard]] std::vector<TypingSound> read_sounds(const JsonValue& sounds, Problems& problems);
/// Reads an object of named clips.
[[nodiscard]] std::vector<NamedClip> read_clips(const JsonValue& clips, Problems& problems);

}  // namespace arvik::script
