#pragma once

#include <string>
#include <vector>

#include "arvik/pace_file.hpp"
#include "problems.hpp"

namespace arvik::script {

/// An object of named paces.
struct PaceSource {
  JsonValue paces;
  Problems* problems = nullptr;
};

/// Reads named paces, in their order. A pace may be based on any other of them, and on those of
/// `known` whose names they do not have, or that have its own name. A name that stands in an object
/// before is told.
[[nodiscard]] std::vector<NamedPace> read_paces(const std::vector<PaceSource>& sources,
                                                const std::vector<NamedPace>& known = {});

}  // namespace arvik::script
