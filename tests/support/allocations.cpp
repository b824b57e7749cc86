#include "support/allocations.hpp"

#include <atomic>
#include <cstdlib>
#include <new>

namespace {
std::atomic<std::size_t> count{0};
std::atomic<std::size_t> bytes{0};

// ThreadSanitizer has an operator new of its own and does not let itself be replaced: there,
// nothing is counted, and the tests that count do not run.
#if defined(__has_feature)
#if __has_feature(thread_sanitizer)
#define ARVIK_COUNTS_NOTHING
#endif
#endif
}  // namespace

#ifndef ARVIK_COUNTS_NOTHING
namespace {
void* take(std::size_t size) {
  ++count;
  bytes += size;
  void* memory = std::malloc(size == 0 ? 1 : size);
  if (memory == nullptr) throw std::bad_alloc();
  return memory;
}
}  // namespace

void* operator new(std::size_t size) { return take(size); }
void* operator new[](std::size_t size) { return take(size); }
void* operator new(std::size_t size, const std::nothrow_t&) noexcept {
  ++count;
  return std::malloc(size == 0 ? 1 : size);
}
void operator delete(void* memory, const std::nothrow_t&) noexcept { std::free(memory); }
void operator delete(void* memory) noexcept { std::free(memory); }
void operator delete[](void* memory) noexcept { std::free(memory); }
void operator delete(void* memory, std::size_t) noexcept { std::free(memory); }
void operator delete[](void* memory, std::size_t) noexcept { std::free(memory); }
#endif

namespace arvik::test {
std::size_t allocations() { return count; }
std::size_t allocated_bytes() { return bytes; }
}  // namespace arvik::test
