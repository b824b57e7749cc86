#pragma once

#include <string>
#include <vector>

#include "arvik/sound_file.hpp"
#include "problems.hpp"

namespace arvik::script {

/// Reads an object of named typing sounds, which stands at `pointer`.
[[nodiscard]] std::vector<TypingSound> read_sounds(const nlohmann::ordered_json& sounds,
                                                   const std::string& pointer, Problems& problems);
/// Reads an object of named clips.
[[nodiscard]] std::vector<NamedClip> read_clips(const nlohmann::ordered_json& clips,
                                                const std::string& pointer, Problems& problems);

}  // namespace arvik::script
