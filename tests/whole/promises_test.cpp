// The promises of the design on generated input: whole scenarios (text, pace, box, what the player
// does) from fuzz/scenario.cpp, which also serves the fuzzer.

#include <catch2/catch.hpp>

#include "fuzz/scenario.hpp"
#include "support/generator.hpp"

using namespace arvik;

TEST_CASE("promises hold for markup of every kind") {
  test::Random random(20);
  for (int i = 0; i < 1500; ++i) {
    const std::string markup = test::random_markup(random, 1 + test::below(random, 40));
    const std::uint64_t seed = random();
    INFO("markup: " << markup << "\nseed: " << seed);
    REQUIRE(fuzz::broken_promise(markup, seed) == "");
  }
}

TEST_CASE("promises hold for plain text of many scripts") {
  test::Random random(21);
  for (int i = 0; i < 800; ++i) {
    const std::string text = test::random_text(random, 1 + test::below(random, 40));
    const std::uint64_t seed = random();
    INFO("text: " << text << "\nseed: " << seed);
    REQUIRE(fuzz::broken_promise(text, seed) == "");
  }
}

TEST_CASE("promises hold for random bytes") {
  test::Random random(22);
  for (int i = 0; i < 1500; ++i) {
    std::vector<std::uint8_t> bytes(test::below(random, 120));
    for (auto& byte : bytes) {
      // Brackets and letters often enough for tags to happen by chance.
      constexpr std::string_view likely = "[]:b mx0.5[]";
      byte = test::below(random, 3) == 0
                 ? static_cast<std::uint8_t>(likely[test::below(random, likely.size())])
                 : static_cast<std::uint8_t>(random());
    }
    INFO("case " << i);
    REQUIRE(fuzz::broken_promise(bytes) == "");
  }
}
