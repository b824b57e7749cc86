#pragma once

#include "arvik/box.hpp"
#include "problems.hpp"

namespace arvik::script {

/// Reads a box: what it names is changed.
void read_box(const JsonValue& json, Problems& problems, Box& box);

}  // namespace arvik::script
