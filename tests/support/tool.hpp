#pragma once

#include <string>
#include <vector>

#include "support/process.hpp"

namespace arvik::test {

/// Runs the tool without a terminal, on real time.
[[nodiscard]] inline Outcome arvik_tool(std::vector<std::string> arguments,
                                        const std::string& input = {}) {
  arguments.insert(arguments.begin(), ARVIK_TOOL);
  return run(arguments, input);
}

[[nodiscard]] inline bool contains(const std::string& text, const std::string& part) {
  return text.find(part) != std::string::npos;
}

}  // namespace arvik::test
