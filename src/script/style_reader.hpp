#pragma once

#include <string>

#include "arvik/markup.hpp"
#include "problems.hpp"

namespace arvik::script {

/// Reads an object of named styles.
[[nodiscard]] NamedStyles read_styles(const JsonValue& styles, Problems& problems);

}  // namespace arvik::script
