// Every rule of arvik::check on a small script with one fault, which it finds in its place, and on
// a twin without it, of which it says nothing. tests/check/cases has the scripts; a fault's
// description says what is to be found: code, file, row, column, key and locale.

#include <algorithm>
#include <catch2/catch.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <set>

#include "arvik/check.hpp"
#include "arvik/read_file.hpp"
#include "support/fonts.hpp"

using namespace arvik;
namespace fs = std::filesystem;

namespace {

const fs::path cases_folder = ARVIK_SOURCE_DIR "/tests/check/cases";

// A clip whose name says its length, its lead and its tail in milliseconds: "1200-100-0.wav".
tl::expected<SpokenClip, Diagnostic> clip_by_name(const std::string& file) {
  int length = 0, lead = 0, tail = 0;
  const std::string name = fs::path(file).filename().string();
  if (std::sscanf(name.c_str(), "%d-%d-%d", &length, &lead, &tail) != 3) {
    return tl::unexpected(
        Diagnostic{.code = DiagnosticCode::bad_audio, .message = "cannot read " + file});
  }
  return SpokenClip{std::chrono::milliseconds(length), std::chrono::milliseconds(lead),
                    std::chrono::milliseconds(tail), 7};
}

CheckOptions options_of(const Script& script) {
  CheckOptions options{.threads = 1, .clip = clip_by_name};
  options.exists = [](const std::string& file) { return !file.starts_with("missing"); };
  if (!script.fonts.empty()) {
    options.font = [](const Script&) -> tl::expected<std::shared_ptr<const Font>, Diagnostic> {
      return std::make_shared<const FontSet>(test::dejavu(16));
    };
  }
  return options;
}

std::vector<std::string> findings_of(const fs::path& path, std::vector<std::string> off = {}) {
  const auto script = load_for_check(path.string());
  REQUIRE(script);
  REQUIRE(script->script != nullptr);
  CheckOptions options = options_of(*script->script);
  options.off = std::move(off);
  const auto report = check(*script, options);
  REQUIRE(report);
  std::vector<std::string> all;
  const auto word = [](const std::string& text) { return text.empty() ? "-" : text; };
  for (const Finding& finding : report->findings) {
    all.push_back(finding.code + ' ' + finding.file + ' ' + std::to_string(finding.row) + ':' +
                  std::to_string(finding.column) + ' ' + word(finding.key) + ' ' +
                  word(finding.locale));
  }
  return all;
}

std::vector<fs::path> faults() {
  std::vector<fs::path> paths;
  for (const auto& entry : fs::directory_iterator(cases_folder)) {
    const std::string name = entry.path().filename().string();
    if (name.ends_with(".json") && !name.ends_with(".twin.json")) paths.push_back(entry.path());
  }
  std::sort(paths.begin(), paths.end());
  return paths;
}

fs::path twin_of(const fs::path& fault) {
  return cases_folder / (fault.stem().string() + ".twin.json");
}

std::string expected(const fs::path& fault) {
  return nlohmann::json::parse(read_file(fault.string()).value())["description"];
}

}  // namespace

TEST_CASE("a fault is found in its place, and nothing else, and nothing in its twin") {
  for (const fs::path& fault : faults()) {
    INFO(fault.filename().string());
    CHECK(findings_of(fault) == std::vector{expected(fault)});
    CHECK(findings_of(twin_of(fault)) == std::vector<std::string>{});
  }
}

// Taking a rule out is seen: each has a case, and the case needs this very rule.
TEST_CASE("every rule has a case that fails without it") {
  std::set<std::string> codes;
  for (const fs::path& fault : faults()) {
    const std::string wanted = expected(fault);
    const std::string code = wanted.substr(0, wanted.find(' '));
    codes.insert(code);
    INFO(fault.filename().string());
    if (code == "unknown-code") continue;  // the script itself names what is off
    CHECK(findings_of(fault, {code}).empty());
  }
  for (const CheckRule& rule : check_rules()) {
    INFO(rule.code);
    CHECK(codes.contains(std::string(rule.code)));
  }
}
