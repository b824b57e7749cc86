#include <cstdio>
#include <cstdlib>

#include "fuzz/scenario.hpp"

// libFuzzer's entry.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string broken = arvik::fuzz::broken_promise({data, size});
  if (!broken.empty()) {
    std::fprintf(stderr, "broken promise: %s\n", broken.c_str());
    std::abort();
  }
  return 0;
}
