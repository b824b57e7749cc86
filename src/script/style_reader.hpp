#pragma once

#include <string>
#include <vector>

#include "arvik/markup.hpp"
#include "problems.hpp"

namespace arvik::script {

/// Reads an object of named styles, which stands at `pointer`.
[[nodiscard]] std::vector<NamedStyle> read_styles(const nlohmann::ordered_json& styles,
                                                  const std::string& pointer, Problems& problems);

}  // namespace arvik::script
