#pragma once

#include <string>
#include <vector>

#include "arvik/pace_file.hpp"
#include "problems.hpp"

namespace arvik::script {

/// Reads an object of named paces, which stands at `pointer`, in its order. A pace may be based on
/// any other of them.
[[nodiscard]] std::vector<NamedPace> read_paces(const nlohmann::ordered_json& paces,
                                                const std::string& pointer, Problems& problems);

}  // namespace arvik::script
