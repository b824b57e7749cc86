// libFuzzer's entry for the target that ARVIK_FUZZ_TARGET names.

#include <cstdio>
#include <cstdlib>

#include "fuzz/targets.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string broken = arvik::fuzz::ARVIK_FUZZ_TARGET({data, size});
  if (!broken.empty()) {
    std::fprintf(stderr, "broken promise: %s\n", broken.c_str());
    std::abort();
  }
  return 0;
}
