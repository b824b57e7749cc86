// Counts what is taken from the heap, by thread, so that the game can show what Arvik takes: the
// audio thread has a count of its own.

#include "allocations.hpp"

#include <cstdlib>
#include <new>

namespace {
thread_local std::size_t count = 0;
}

std::size_t allocations_so_far() { return count; }

void* operator new(std::size_t size) {
  ++count;
  if (void* memory = std::malloc(size == 0 ? 1 : size)) return memory;
  throw std::bad_alloc();
}
void* operator new(std::size_t size, const std::nothrow_t&) noexcept {
  ++count;
  return std::malloc(size == 0 ? 1 : size);
}
void operator delete(void* memory, const std::nothrow_t&) noexcept { std::free(memory); }
void operator delete(void* memory) noexcept { std::free(memory); }
void operator delete(void* memory, std::size_t) noexcept { std::free(memory); }
