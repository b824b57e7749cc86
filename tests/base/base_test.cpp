// Times and rates as people write them, likely slips, locations in a text.

#include <catch2/catch.hpp>

#include "arvik/diagnostic.hpp"
#include "arvik/units.hpp"

using namespace arvik;
using namespace std::chrono_literals;

TEST_CASE("times are read with their unit") {
  struct Row {
    const char* word;
    Nanoseconds expected;
  };
  const Row rows[] = {{"400ms", 400ms}, {"1.5s", 1500ms}, {"0s", 0ms},         {"0.25s", 250ms},
                      {".5s", 500ms},   {"3600s", 3600s}, {"0.000001ms", 1ns}, {"1.ms", 1ms}};
  for (const Row& row : rows) {
    INFO(row.word);
    CHECK(parse_time(row.word).value() == row.expected);
  }
  for (const char* wrong : {"", "400", "ms", "s", "-1s", "1e3s", "infs", "nans", "1.2.3s", "1 s",
                            "4000s", "x0.5", "1,5s", "+1s"}) {
    INFO(wrong);
    CHECK_FALSE(parse_time(wrong).has_value());
  }
  CHECK(parse_time("400").error() == "\"400\" is not a time: write it like 400ms or 1.5s");
  CHECK(parse_time("4000s").error() == "\"4000s\" is too long: a time is one hour at most");
}

TEST_CASE("rates are absolute or relative") {
  CHECK(parse_rate("30cps").value() == 30.0);
  CHECK(parse_rate_change("x0.5").value() == RateChange{0.5, true});
  CHECK(parse_rate_change("20cps").value() == RateChange{20, false});
  for (const char* wrong : {"30", "0cps", "cps", "fast", "-3cps", "x", "x0", "x101", "200000cps"}) {
    INFO(wrong);
    CHECK_FALSE(parse_rate_change(wrong).has_value());
  }
  CHECK(parse_rate("0cps").error() == "\"0cps\" is out of range: a rate is 0.01cps to 100000cps");
}

TEST_CASE("intervals are rounded to the nearest nanosecond and bounded") {
  CHECK(interval_of(30) == 33333333ns);
  CHECK(interval_of(3) == 333333333ns);
  CHECK(interval_of(0) == 100s);
  CHECK(interval_of(1e12) == 10us);
  CHECK(add_saturated(max_duration, 1ns) == max_duration);
  CHECK(add_saturated(1ns, 2ns) == 3ns);
}

TEST_CASE("slips find the name that was meant") {
  const std::vector<std::string_view> names{"pause", "hold", "rate", "b", "whole", "color"};
  CHECK(nearest_name("puase", names) == "pause");
  CHECK(nearest_name("colour", names) == "color");
  CHECK(nearest_name("hole", names) != "");
  CHECK(nearest_name("wave", names) == "");
  CHECK(nearest_name("x", names) == "");
  CHECK(nearest_name(std::string(10'000, 'p'), names) == "");
}

TEST_CASE("places are rows and code points from 1") {
  const std::string_view text = "aé\nb👍c";
  TextLocator locator(text);
  const auto at = [&](std::size_t offset) {
    const auto place = locator.locate(offset);
    return std::pair(place.row, place.column);
  };
  CHECK(at(0) == std::pair<std::size_t, std::size_t>(1, 1));
  CHECK(at(3) == std::pair<std::size_t, std::size_t>(1, 3));
  CHECK(at(4) == std::pair<std::size_t, std::size_t>(2, 1));
  CHECK(at(9) == std::pair<std::size_t, std::size_t>(2, 3));
  CHECK(at(99) == std::pair<std::size_t, std::size_t>(2, 4));
  CHECK(at(1) == std::pair<std::size_t, std::size_t>(1, 2));  // back again
}

TEST_CASE("a flood of problems is counted, not kept") {
  std::vector<Diagnostic> out;
  DiagnosticSink sink("text", out);
  for (int i = 0; i < 1000; ++i) sink.add({.code = DiagnosticCode::stray_bracket, .message = "x"});
  REQUIRE(out.size() == max_diagnostics + 1);
  CHECK(out.back().code == DiagnosticCode::too_many_diagnostics);
  CHECK(out.back().message == "900 more problems from here on");
  CHECK(has_errors(out));
}
