#pragma once

#include <string>
#include <vector>

#include "arvik/script_map.hpp"
#include "problems.hpp"

namespace arvik::script {

/// Reads a list of strings; `name` and `what` are for messages: "unchecked must be a list of
/// codes".
[[nodiscard]] std::vector<std::string> read_words(const JsonValue& value, const std::string& name,
                                                  const std::string& what, Problems& problems);

/// Reads what a script asks of checks (`check`).
[[nodiscard]] CheckWishes read_wishes(const JsonValue& json, Problems& problems);

}  // namespace arvik::script
