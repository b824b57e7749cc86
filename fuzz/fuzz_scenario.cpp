#include "fuzz/scenario.hpp"
#include "fuzz/targets.hpp"

namespace arvik::fuzz {

std::string fuzz_scenario(Bytes bytes) { return broken_promise(bytes); }

}  // namespace arvik::fuzz
