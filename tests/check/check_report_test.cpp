// Findings as JSON, SARIF and JUnit's XML. tests/project/check_reports.py has other programs read
// them.

#include "arvik/check_report.hpp"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace arvik;

namespace {

std::vector<Finding> two_findings() {
  return {{.code = "lost-tag",
           .severity = Severity::error,
           .message = "the translation has lost <[mark \"x\"]> & more",
           .hint = "put it back",
           .file = "demo/the clock.csv",
           .range = {10, 14},
           .row = 2,
           .column = 11,
           .text_row = 1,
           .text_column = 3,
           .key = "stop_01",
           .locale = "de",
           .conversation = "the_stop",
           .speaker = "odrun"},
          {.code = "unused-pace", .message = "nothing has it", .file = "/s.json", .row = 4}};
}

const CheckSummary two_texts{
    .scripts = {"s.json"}, .locales = {"en", "de"}, .texts = 8, .version = "1"};

}  // namespace

TEST_CASE("findings as JSON") {
  const auto json = nlohmann::json::parse(write_check_json(two_findings(), two_texts));
  CHECK(json["arvik_check"] == 1);
  CHECK(json["errors"] == 1);
  CHECK(json["warnings"] == 1);
  CHECK(json["by_code"]["lost-tag"] == 1);
  CHECK(json["by_locale"]["de"] == 1);
  const auto& first = json["findings"][0];
  CHECK(first["severity"] == "error");
  CHECK(first["begin"] == 10);
  CHECK(first["text_column"] == 3);
  CHECK(first["hint"] == "put it back");
  CHECK_FALSE(json["findings"][1].contains("key"));
  CHECK(first["fingerprint"] == fingerprint_of(two_findings()[0]));
}

TEST_CASE("findings as SARIF") {
  const auto json = nlohmann::json::parse(write_sarif(two_findings(), two_texts));
  CHECK(json["version"] == "2.1.0");
  const auto& run = json["runs"][0];
  CHECK(run["columnKind"] == "unicodeCodePoints");
  const auto& result = run["results"][0];
  CHECK(result["level"] == "error");
  const std::size_t rule = result["ruleIndex"];
  CHECK(run["tool"]["driver"]["rules"][rule]["id"] == "lost-tag");
  const auto& place = result["locations"][0]["physicalLocation"];
  CHECK(place["artifactLocation"]["uri"] == "demo/the%20clock.csv");
  CHECK(place["region"]["startLine"] == 2);
  CHECK(place["region"]["byteLength"] == 4);
  CHECK(run["results"][1]["locations"][0]["physicalLocation"]["artifactLocation"]["uri"] ==
        "file:///s.json");
  CHECK(nlohmann::json::parse(write_sarif({}, {}))["runs"][0]["results"].empty());
}

TEST_CASE("findings as JUnit's XML") {
  const std::string xml = write_junit(two_findings(), two_texts);
  CHECK(xml.find("<testsuite name=\"de\" tests=\"1\" failures=\"1\" errors=\"0\">") !=
        std::string::npos);
  CHECK(xml.find("<testsuite name=\"en\" tests=\"1\" failures=\"0\" errors=\"0\">") !=
        std::string::npos);
  CHECK(xml.find("&lt;[mark &quot;x&quot;]> &amp; more") != std::string::npos);
  CHECK(xml.find("warning: /s.json:4:1: nothing has it") != std::string::npos);
}

TEST_CASE("fingerprints tell findings apart and do not depend on rows") {
  Finding finding = two_findings()[0];
  const std::string before = fingerprint_of(finding);
  finding.row = 99;
  finding.range = {1, 2};
  CHECK(fingerprint_of(finding) == before);
  finding.locale = "pl";
  CHECK(fingerprint_of(finding) != before);
}
