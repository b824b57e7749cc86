// Guarded by tests/check/check_report_test.cpp; tests/project/check_reports.py has other programs
// read the files.

#include "arvik/check_report.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <pugixml.hpp>
#include <sstream>

#include "arvik/translation.hpp"
#include "rules.hpp"

namespace arvik {
namespace {

using nlohmann::ordered_json;

std::string_view severity_name(Severity severity) {
  return severity == Severity::error ? "error" : "warning";
}

std::string text_of(const ordered_json& json) {
  return json.dump(2, ' ', false, ordered_json::error_handler_t::replace) + "\n";
}

std::map<std::string, std::size_t> count_by(const std::vector<Finding>& findings,
                                            std::string Finding::*member) {
  std::map<std::string, std::size_t> counts;
  for (const Finding& finding : findings) ++counts[finding.*member];
  return counts;
}

std::size_t count(const std::vector<Finding>& findings, Severity severity) {
  return static_cast<std::size_t>(
      std::count_if(findings.begin(), findings.end(),
                    [&](const Finding& finding) { return finding.severity == severity; }));
}

// A path as a relative reference, or as a URI if it is absolute (RFC 3986, RFC 8089).
std::string uri_of(std::string_view path) {
  std::string uri(path.starts_with('/') ? "file://" : "");
  for (const char c : path) {
    const auto byte = static_cast<unsigned char>(c);
    const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                       std::string_view("-._~/").find(c) != std::string_view::npos;
    uri += plain ? std::string(1, c) : fmt::format("%{:02X}", byte);
  }
  return uri;
}

std::string about(std::string_view code) {
  for (const CheckRule& rule : check_rules()) {
    if (rule.code == code) return std::string(rule.about);
  }
  return "see docs/diagnostics.md";
}

}  // namespace

std::string fingerprint_of(const Finding& finding) {
  const std::string separator(1, '\x1F');
  return fingerprint_of(finding.code + separator + finding.file + separator + finding.key +
                        separator + finding.locale + separator + finding.message);
}

std::string write_check_json(const std::vector<Finding>& findings, const CheckSummary& summary) {
  ordered_json json = {{"arvik_check", 1},
                       {"scripts", summary.scripts},
                       {"locales", summary.locales},
                       {"texts", summary.texts},
                       {"errors", count(findings, Severity::error)},
                       {"warnings", count(findings, Severity::warning)},
                       {"known", summary.known},
                       {"by_code", count_by(findings, &Finding::code)},
                       {"by_locale", count_by(findings, &Finding::locale)},
                       {"findings", ordered_json::array()}};
  for (const Finding& finding : findings) {
    ordered_json entry = {{"code", finding.code},
                          {"severity", severity_name(finding.severity)},
                          {"message", finding.message}};
    const auto put = [&](const char* name, const std::string& text) {
      if (!text.empty()) entry[name] = text;
    };
    put("hint", finding.hint);
    entry["file"] = finding.file;
    entry["row"] = finding.row;
    entry["column"] = finding.column;
    entry["begin"] = finding.range.begin;
    entry["end"] = finding.range.end;
    if (finding.text_row != 0) {
      entry["text_row"] = finding.text_row;
      entry["text_column"] = finding.text_column;
    }
    put("key", finding.key);
    put("locale", finding.locale);
    put("conversation", finding.conversation);
    put("speaker", finding.speaker);
    entry["fingerprint"] = fingerprint_of(finding);
    json["findings"].push_back(std::move(entry));
  }
  return text_of(json);
}

std::string write_sarif(const std::vector<Finding>& findings, const CheckSummary& summary) {
  ordered_json rules = ordered_json::array();
  std::map<std::string, std::size_t> indices;
  for (const auto& [code, _] : count_by(findings, &Finding::code)) {
    indices.emplace(code, rules.size());
    rules.push_back({{"id", code}, {"shortDescription", {{"text", about(code)}}}});
  }
  ordered_json results = ordered_json::array();
  for (const Finding& finding : findings) {
    ordered_json region = {{"startLine", finding.row},
                           {"startColumn", finding.column},
                           {"byteOffset", finding.range.begin},
                           {"byteLength", finding.range.end - finding.range.begin}};
    ordered_json location = {
        {"physicalLocation",
         {{"artifactLocation", {{"uri", uri_of(finding.file)}}}, {"region", std::move(region)}}}};
    if (!finding.key.empty()) {
      location["logicalLocations"] = {{{"name", finding.key}, {"kind", "resource"}}};
    }
    ordered_json result = {{"ruleId", finding.code},
                           {"ruleIndex", indices.at(finding.code)},
                           {"level", severity_name(finding.severity)},
                           {"message", {{"text", finding.message}}},
                           {"locations", {std::move(location)}},
                           {"partialFingerprints", {{"arvikFinding/v1", fingerprint_of(finding)}}}};
    if (!finding.locale.empty()) result["properties"]["locale"] = finding.locale;
    if (!finding.hint.empty()) result["properties"]["hint"] = finding.hint;
    results.push_back(std::move(result));
  }
  ordered_json driver = {{"name", "arvik"}};
  if (!summary.version.empty()) driver["version"] = summary.version;
  driver["rules"] = std::move(rules);
  const ordered_json json = {{"$schema",
                              "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/"
                              "sarif-schema-2.1.0.json"},
                             {"version", "2.1.0"},
                             {"runs",
                              {{{"tool", {{"driver", std::move(driver)}}},
                                {"columnKind", "unicodeCodePoints"},
                                {"results", std::move(results)}}}}};
  return text_of(json);
}

std::string write_junit(const std::vector<Finding>& findings, const CheckSummary& summary) {
  pugi::xml_document document;
  pugi::xml_node suites = document.append_child("testsuites");
  suites.append_attribute("name") = "arvik check";
  std::vector<std::string> names = summary.locales;
  names.emplace_back();  // what belongs to no locale
  for (const std::string& locale : names) {
    pugi::xml_node suite = suites.append_child("testsuite");
    suite.append_attribute("name") = locale.empty() ? "the whole script" : locale.c_str();
    std::size_t cases = 0, failures = 0;
    for (const Finding& finding : findings) {
      if (finding.locale != locale) continue;
      ++cases;
      pugi::xml_node test = suite.append_child("testcase");
      const std::string name = finding.code + (finding.key.empty() ? "" : " " + finding.key);
      const std::string place =
          fmt::format("{}:{}:{}: {}", finding.file, finding.row, finding.column, finding.message);
      test.append_attribute("name") = name.c_str();
      test.append_attribute("classname") = finding.file.c_str();
      if (finding.severity == Severity::error) {
        ++failures;
        pugi::xml_node failure = test.append_child("failure");
        failure.append_attribute("message") = finding.message.c_str();
        failure.append_attribute("type") = finding.code.c_str();
        failure.append_child(pugi::node_pcdata).set_value(place.c_str());
      } else {
        test.append_child("system-out")
            .append_child(pugi::node_pcdata)
            .set_value(("warning: " + place).c_str());
      }
    }
    if (cases == 0) {
      ++cases;
      pugi::xml_node test = suite.append_child("testcase");
      test.append_attribute("name") = "no finding";
      test.append_attribute("classname") = "arvik check";
    }
    suite.append_attribute("tests") = static_cast<unsigned long long>(cases);
    suite.append_attribute("failures") = static_cast<unsigned long long>(failures);
    suite.append_attribute("errors") = 0;
  }
  std::ostringstream out;
  document.save(out, "  ");
  return out.str();
}

tl::expected<Baseline, Diagnostic> read_baseline(std::string_view text) {
  const auto bad = [](DiagnosticCode code, std::string message) {
    return tl::unexpected(
        Diagnostic{.code = code, .severity = Severity::error, .message = std::move(message)});
  };
  const auto json = nlohmann::json::parse(text, nullptr, false);
  if (json.is_discarded()) return bad(DiagnosticCode::bad_json, "this is not JSON");
  if (!json.is_object() || json.value("arvik_check", nlohmann::json()) != 1 ||
      !json.contains("findings") || !json["findings"].is_array()) {
    return bad(DiagnosticCode::bad_value,
               "this is no report: write one with arvik check --format json");
  }
  Baseline baseline;
  for (const auto& finding : json["findings"]) {
    if (!finding.is_object() || !finding.contains("fingerprint") ||
        !finding["fingerprint"].is_string()) {
      return bad(DiagnosticCode::bad_value, "a finding has no fingerprint");
    }
    ++baseline[finding["fingerprint"].get<std::string>()];
  }
  return baseline;
}

std::size_t drop_known(Baseline baseline, std::vector<Finding>& findings) {
  return std::erase_if(findings, [&](const Finding& finding) {
    const auto known = baseline.find(fingerprint_of(finding));
    if (known == baseline.end() || known->second == 0) return false;
    --known->second;
    return true;
  });
}

}  // namespace arvik
