// Languages through the C interface: scripts with their files, numbers in texts, and another locale
// under way.

#include <catch2/catch.hpp>
#include <string>

#include "c/c_objects.hpp"

using namespace arvik::test;

namespace {

const std::string demo_script = std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.script.json";

std::string text_of(const arvik_talk* talk) {
  arvik_talk_view view{};
  view.size = sizeof view;
  REQUIRE(arvik_talk_view_now(talk, &view) == 1);
  return view.text == nullptr ? "" : view.text;
}

}  // namespace

TEST_CASE("a script with its files, in another of its locales, from C") {
  arvik_error error{};
  error.size = sizeof error;
  const Script script{arvik_script_load(demo_script.c_str(), 0, &error)};
  REQUIRE(arvik_script_is_good(script) == 1);
  CHECK(std::string(arvik_script_locale(script, 0)) == "en");
  CHECK(std::string(arvik_script_locale(script, 4)) == "ar");
  CHECK(arvik_script_locale(script, 5) == nullptr);
  CHECK(arvik_script_locale(nullptr, 0) == nullptr);

  const Setter setter{arvik_setter_create("en", &error)};
  CHECK(arvik_setter_set_number(setter, "drops", 1234) == 1);
  CHECK(arvik_setter_set_number(nullptr, "drops", 1) == 0);
  const Talk talk{arvik_talk_create(setter, script, nullptr, nullptr, &error)};
  REQUIRE(arvik_talk_start(talk, "ledger", nullptr, &error) == 1);
  arvik_talk_tick(talk, 1'000'000'000, 0);
  CHECK(text_of(talk) == "1,234 DROPS SINCE NOON.");
  REQUIRE(arvik_talk_set_locale(talk, "pl", nullptr, &error) == 1);
  CHECK(std::string(arvik_talk_locale(talk)) == "pl");
  CHECK(text_of(talk) == "1234 KROPLE OD POŁUDNIA.");
  CHECK(arvik_talk_set_locale(talk, "fr", nullptr, &error) == 0);
  CHECK(std::string(error.code) == "unknown-locale");
  CHECK(arvik_talk_set_locale(nullptr, "pl", nullptr, &error) == 0);
  CHECK(arvik_talk_set_locale(talk, nullptr, nullptr, &error) == 0);
  CHECK(std::string(arvik_talk_locale(talk)) == "pl");
  CHECK(arvik_talk_locale(nullptr) == nullptr);
  REQUIRE(arvik_talk_set_locale(talk, "de-AT", nullptr, &error) == 1);
  CHECK(text_of(talk).ends_with("TROPFEN SEIT MITTAG."));
}

TEST_CASE("what is wrong with a script's files is told in C") {
  arvik_error error{};
  error.size = sizeof error;
  CHECK(arvik_script_load("/no/such.json", 0, &error) == nullptr);
  CHECK(std::string(error.code) == "file-unreadable");
  CHECK(arvik_script_load(nullptr, 0, &error) == nullptr);
  // A script in memory has no other files.
  const std::string json = R"({"arvik_script": 1, "strings": "s.csv", "conversations": {}})";
  const Script script{arvik_script_read(json.data(), json.size(), 0, &error)};
  REQUIRE(script.object != nullptr);
  CHECK(arvik_script_is_good(script) == 0);
  arvik_problem problem{};
  problem.size = sizeof problem;
  REQUIRE(arvik_script_problem(script, 0, &problem) == 1);
  CHECK(std::string(problem.code) == "file-unreadable");
  CHECK(std::string(problem.pointer) == "/strings");
  CHECK(std::string(problem.key).empty());
}
