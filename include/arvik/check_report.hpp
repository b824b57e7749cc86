#pragma once

#include <cstddef>
#include <map>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/check.hpp"
#include "arvik/export.hpp"

/// Part of arvik::check: findings as files for people's other tools.
namespace arvik {

/// What was checked together: one script or several.
struct CheckSummary {
  std::vector<std::string> scripts{};  ///< paths
  std::vector<std::string> locales{};
  std::size_t texts = 0;
  std::size_t known = 0;  ///< findings that a baseline kept quiet
  std::string version{};  ///< of the tool
};

/// What tells a finding from others, also when rows were put in before it: eight hexadecimal digits
/// of its code, file, key, locale and message.
[[nodiscard]] ARVIK_API std::string fingerprint_of(const Finding& finding);

/// As JSON; schemas/check.schema.json describes it.
[[nodiscard]] ARVIK_API std::string write_check_json(const std::vector<Finding>& findings,
                                                     const CheckSummary& summary);
/// As SARIF 2.1.0 (OASIS), for code review and continuous integration.
[[nodiscard]] ARVIK_API std::string write_sarif(const std::vector<Finding>& findings,
                                                const CheckSummary& summary);
/// As the XML that JUnit made common: a suite a locale, a case a finding. Errors are failures;
/// warnings pass, with what was found as their output.
[[nodiscard]] ARVIK_API std::string write_junit(const std::vector<Finding>& findings,
                                                const CheckSummary& summary);

/// Findings that are known: how often each, by fingerprint.
using Baseline = std::map<std::string, std::size_t, std::less<>>;
/// Reads what write_check_json() wrote. Fails with bad_json or bad_value.
[[nodiscard]] ARVIK_API tl::expected<Baseline, Diagnostic> read_baseline(std::string_view json);
/// Leaves out what is known, each as often as the baseline has it. Returns how many those were.
ARVIK_API std::size_t drop_known(Baseline baseline, std::vector<Finding>& findings);

}  // namespace arvik
