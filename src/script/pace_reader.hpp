#pragma once

#include <string>
#include <vector>

#include "arvik/pace_file.hpp"
#include "problems.hpp"

namespace arvik::script {

/// Reads an object of named paces, in its order. A pace may be based on any other of them.
[[nodiscard]] std::vector<NamedPace> read_paces(const JsonValue& paces, Problems& problems);

}  // namespace arvik::script
