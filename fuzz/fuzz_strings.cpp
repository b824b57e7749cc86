#include <string_view>

#include "arvik/check.hpp"
#include "arvik/script_file.hpp"
#include "arvik/translation.hpp"
#include "fuzz/targets.hpp"

namespace arvik::fuzz {
namespace {

std::string check(const std::vector<Diagnostic>& problems) {
  if (problems.empty()) return "refused without a reason";
  if (problems.size() > max_diagnostics + 1) return "more diagnostics than the limit";
  for (const Diagnostic& problem : problems) {
    if (problem.message.empty()) return "a diagnostic without a message";
    if (problem.row == 0 || problem.column == 0) return "a diagnostic without a place";
  }
  return {};
}

// A table is written as it was read, and every place in it can be found.
std::string try_table(std::string_view text) {
  const auto table = parse_strings(text, "t.csv");
  if (!table) return check(table.error());
  const auto again = parse_strings(write_strings(*table));
  if (!again || again->rows() != table->rows()) return "a table cannot be read again";
  for (std::uint32_t row = 0; row < table->rows(); ++row) {
    if (table->find_row(table->key(row)) != row) return "a key is not found";
    for (std::size_t column = 0; column < table->columns().size(); ++column) {
      if (table->cell(row, column) != again->cell(row, column)) return "a cell has changed";
      Diagnostic problem{.range = {0, table->cell(row, column).size()}};
      table->locate(row, column, problem);
      if (problem.range.end < problem.range.begin || problem.row < 2) return "a place is none";
    }
  }
  return {};
}

// A script whose only conversation is the table.
std::string try_script(std::string_view text) {
  ScriptFiles files;
  files.read = [text](const std::string&) { return std::string(text); };
  constexpr std::string_view json =
      R"({"arvik_script": 1, "cast": {"pell": {}}, "conversations": {"c": "c.csv"}})";
  const auto script = parse_script(json, ScriptErrors::refuse, files, "main.json");
  if (!script) return check(script.error());
  const auto shared = std::make_shared<const Script>(*script);
  for (const std::string& locale : shared->locales) {
    const auto localized = in_locale(shared, locale);
    if (!localized) return "a script has not a locale that it lists";
    for (const TagForm form : {TagForm::elements, TagForm::placeholders}) {
      const auto back = read_xliff(write_xliff(*shared, locale, form), *shared);
      if (!back) return "what goes to translators does not come back";
    }
  }
  (void)in_locale(shared, right_to_left_locale);
  (void)in_locale(shared, accented_locale);
  return {};
}

// A check of the same says the same whatever the threads, and every finding has a place in its
// file.
std::string try_check(std::string_view text) {
  ScriptFiles files;
  files.read = [text](const std::string&) { return std::string(text); };
  constexpr std::string_view json =
      R"({"arvik_script": 1, "cast": {"pell": {}}, "conversations": {"c": "c.csv"}})";
  const CheckedScript script = parse_for_check(json, files, "main.json");
  const auto report = arvik::check(script, {.threads = 1});
  if (!report) return "a check fails";
  for (const Finding& finding : report->findings) {
    const std::size_t size = finding.file == "c.csv" ? text.size() : json.size();
    if (finding.range.begin > finding.range.end || finding.range.end > size) {
      return "a finding stands behind its file";
    }
    if (finding.row == 0 || finding.column == 0) return "a finding without a place";
  }
  const auto again = arvik::check(script, {.threads = 3});
  if (!again || again->findings.size() != report->findings.size()) return "threads change findings";
  return {};
}

std::string try_xliff(std::string_view text) {
  static const Script script = parse_script(R"({"arvik_script": 1, "conversations": {"c": [
        {"id": "a", "text": "[b: Stop], [hold]now."},
        {"id": "b", "text": "[plural n: [one: x][other: [value n] y]]"}]}})")
                                   .value();
  const auto read = read_xliff(text, script);
  return read ? std::string() : check(read.error());
}

}  // namespace

std::string fuzz_strings(Bytes bytes) {
  const std::string_view text(reinterpret_cast<const char*>(bytes.data()), bytes.size());
  for (const auto try_it : {try_table, try_script, try_check, try_xliff}) {
    if (std::string broken = try_it(text); !broken.empty()) return broken;
  }
  return {};
}

}  // namespace arvik::fuzz
