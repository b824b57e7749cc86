// Runs every target with its seeds, a folder for each in fuzz/seeds. Usage: run_seeds SEEDS_DIR

#include <cstdio>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <vector>

#include "fuzz/targets.hpp"

int main(int argc, char** argv) {
  using namespace arvik::fuzz;
  struct Target {
    const char* name;
    std::string (*run)(Bytes);
  };
  constexpr Target targets[] = {
      {"scenario", fuzz_scenario}, {"json", fuzz_json}, {"audio", fuzz_audio},
      {"fonts", fuzz_fonts},       {"c", fuzz_c},       {"conversation", fuzz_conversation},
      {"strings", fuzz_strings}};
  if (argc != 2) return 2;
  int broken = 0;
  for (const Target& target : targets) {
    int seeds = 0;
    for (const auto& entry :
         std::filesystem::directory_iterator(std::filesystem::path(argv[1]) / target.name)) {
      std::ifstream file(entry.path(), std::ios::binary);
      std::vector<std::uint8_t> bytes{std::istreambuf_iterator<char>(file),
                                      std::istreambuf_iterator<char>()};
      ++seeds;
      // Whole, and cut off anywhere.
      for (const std::size_t size : {bytes.size(), bytes.size() / 2, bytes.size() / 7}) {
        const std::string problem = target.run(Bytes(bytes).first(size));
        if (problem.empty()) continue;
        std::printf("%s: %s\n", entry.path().c_str(), problem.c_str());
        ++broken;
      }
    }
    std::printf("%s: %d seeds\n", target.name, seeds);
    if (seeds == 0) ++broken;
  }
  return broken == 0 ? 0 : 1;
}
