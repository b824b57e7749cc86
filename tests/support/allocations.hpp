#pragma once

#include <cstddef>

namespace arvik::test {

/// How often operator new has been called in this program. Every test program counts.
[[nodiscard]] std::size_t allocations();
/// How many bytes were asked for since the program began, freed or not.
[[nodiscard]] std::size_t allocated_bytes();

}  // namespace arvik::test
