#pragma once

#include <exception>
#include <new>

namespace arvik::base {

/// Memory has run out: throws std::bad_alloc. In a library that was built without exceptions it
/// ends the program, as operator new does there.
[[noreturn]] inline void out_of_memory() {
#ifdef __cpp_exceptions
  throw std::bad_alloc();
#else
  std::terminate();
#endif
}

}  // namespace arvik::base
