#pragma once

#include <cstddef>

/// How often this thread has taken memory from the heap.
[[nodiscard]] std::size_t allocations_so_far();
