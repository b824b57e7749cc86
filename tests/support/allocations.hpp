#pragma once

#include <cstddef>

namespace arvik::test {

/// How often operator new has been called in this program. Every test program counts.
[[nodiscard]] std::size_t allocations();

}  // namespace arvik::test
