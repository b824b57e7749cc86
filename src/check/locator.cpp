// Guarded by tests/check/check_test.cpp.

#include "locator.hpp"

#include <algorithm>

#include "arvik/locale.hpp"

namespace arvik::checking {
namespace {

constexpr std::size_t row_distance = 4096;

void take(Diagnostic& from, Finding& to) {
  to.file = std::move(from.file);
  to.range = from.range;
  to.row = from.row;
  to.column = from.column;
}

}  // namespace

UncheckedCode read_unchecked(std::string_view word) {
  const std::size_t at = word.find('@');
  UncheckedCode code{.code = std::string(word.substr(0, at))};
  if (at != std::string_view::npos) {
    code.locale = canonical_locale(word.substr(at + 1)).value_or(std::string(word.substr(at + 1)));
  }
  return code;
}

std::vector<UncheckedCode> read_unchecked_cell(std::string_view cell) {
  std::vector<UncheckedCode> codes;
  for (std::size_t at = 0; at < cell.size();) {
    const std::size_t begin = cell.find_first_not_of(" ,;\t\n\r", at);
    if (begin == std::string_view::npos) break;
    const std::size_t end = std::min(cell.find_first_of(" ,;\t\n\r", begin), cell.size());
    codes.push_back(read_unchecked(cell.substr(begin, end - begin)));
    at = end;
  }
  return codes;
}

TextLocator::Location Locator::location(std::uint32_t file, std::size_t offset) {
  const std::string& text = input_.map.files[file].text;
  std::vector<Row>& rows = rows_[file];
  if (rows.empty()) {
    TextLocator locator(text);
    for (std::size_t at = 0; at <= text.size(); at += row_distance) {
      std::size_t begin = at;
      while (begin < text.size() && (static_cast<unsigned char>(text[begin]) & 0xC0U) == 0x80U) {
        ++begin;
      }
      rows.push_back({begin, locator.locate(begin)});
    }
  }
  const auto behind =
      std::upper_bound(rows.begin(), rows.end(), offset,
                       [](std::size_t at, const Row& row) { return at < row.offset; });
  const Row& row = *std::prev(behind);
  const auto rest =
      TextLocator(std::string_view(text).substr(row.offset)).locate(offset - row.offset);
  TextLocator::Location found = row.at;
  found.column = rest.row == 1 ? found.column + rest.column - 1 : rest.column;
  found.row += rest.row - 1;
  return found;
}

void Locator::locate_spot(const ScriptSpot& spot, TextRange in_text, Finding& finding) {
  if (!spot.is_known()) return;
  finding.file = input_.map.files[spot.file].name;
  finding.range = input_.map.in_file(spot, in_text);
  const auto at = location(spot.file, finding.range.begin);
  finding.row = at.row;
  finding.column = at.column;
}

// The cell of a text, or, where it is missing, where it should stand.
bool Locator::locate_in_table(const RawFinding& raw, const std::string& key,
                              Finding& finding) const {
  const auto& strings = input_.script->strings;
  if (!strings || key.empty()) return false;
  Diagnostic problem;
  const auto locate = [&](const Strings::Place& place, std::size_t column, TextRange range) {
    const StringsTable& table = strings->tables()[place.table];
    problem.range =
        range.begin == range.end ? TextRange{0, table.cell(place.row, column).size()} : range;
    table.locate(place.row, column, problem);
    take(problem, finding);
    return true;
  };
  const auto places = strings->find(key);
  for (const std::string& tag : locale_chain(raw.locale)) {
    for (const Strings::Place& place : places) {
      const StringsTable& table = strings->tables()[place.table];
      const auto column = table.find_column(tag);
      if (column && (raw.is_missing || !table.cell(place.row, *column).empty())) {
        return locate(place, *column, raw.range);
      }
    }
  }
  return !places.empty() && locate(places[0], 0, {});
}

Finding Locator::locate(const RawFinding& raw) {
  Finding finding{.code = raw.code,
                  .severity = raw.severity,
                  .message = raw.message,
                  .hint = raw.hint,
                  .key = raw.key,
                  .locale = raw.locale};
  const Script& script = *input_.script;
  const bool has_range = raw.range.begin != raw.range.end;
  if (raw.text == no_text) {
    if (!locate_in_table(raw, raw.key, finding)) locate_spot(raw.spot, {}, finding);
    if (finding.file.empty()) finding.file = input_.name;
    return finding;
  }
  finding.text = raw.text;
  const TextRef& of = texts_[raw.text];
  const TextSpot& spots = input_.map.texts[raw.text];
  const ScriptConversation& conversation = script.conversations[of.conversation];
  finding.conversation = conversation.name;
  finding.speaker = conversation.lines[of.line].speaker;
  finding.key = key_in(script, of);
  const bool is_source = raw.locale == script.source_locale;
  if (is_source && spots.text.is_known()) {
    locate_spot(spots.text, raw.range, finding);
  } else if (!locate_in_table(raw, finding.key, finding)) {
    locate_spot(spots.text.is_known() ? spots.text : spots.whole, {}, finding);
  }
  if (finding.file.empty()) finding.file = input_.name;
  if (has_range && !raw.is_missing) {
    std::string_view text = is_source ? std::string_view(text_in(script, of)) : std::string_view();
    if (!is_source && script.strings) {
      text = script.strings->text(finding.key, locale_chain(raw.locale)).value_or(text);
    }
    const auto at = TextLocator(text).locate(raw.range.begin);
    finding.text_row = at.row;
    finding.text_column = at.column;
  }
  return finding;
}

Finding Locator::locate(const Diagnostic& problem) const {
  return {.code = std::string(diagnostic_name(problem.code)),
          .severity = problem.severity,
          .message = problem.message,
          .hint = problem.hint,
          .file = problem.file.empty() ? input_.name : problem.file,
          .range = problem.range,
          .row = problem.row,
          .column = problem.column,
          .key = problem.key,
          .locale = problem.locale};
}

bool Locator::is_unchecked(const RawFinding& raw) const {
  const auto means = [&](const UncheckedCode& code) {
    return code.code == raw.code && (code.locale.empty() || code.locale == raw.locale);
  };
  if (raw.text != no_text) {
    const auto listed = input_.map.unchecked.find(raw.text);
    if (listed != input_.map.unchecked.end() &&
        std::any_of(listed->second.begin(), listed->second.end(),
                    [&](const std::string& word) { return means(read_unchecked(word)); })) {
      return true;
    }
  }
  const auto& strings = input_.script->strings;
  const std::string& key = raw.text == no_text ? raw.key : key_in(*input_.script, texts_[raw.text]);
  if (!strings || key.empty()) return false;
  for (const Strings::Place& place : strings->find(key)) {
    const StringsTable& table = strings->tables()[place.table];
    const auto column = table.find_column(unchecked_header);
    if (!column) continue;
    const auto codes = read_unchecked_cell(table.cell(place.row, *column));
    if (std::any_of(codes.begin(), codes.end(), means)) return true;
  }
  return false;
}

}  // namespace arvik::checking
