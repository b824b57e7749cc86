// Guarded by tests/script/strings_table_test.cpp.

#include "arvik/strings.hpp"

#include <algorithm>

namespace arvik {

Strings::Strings(std::vector<StringsTable> tables) : tables_(std::move(tables)) {
  for (std::uint32_t i = 0; i < tables_.size(); ++i) {
    const StringsTable& table = tables_[i];
    for (std::uint32_t row = 0; row < table.rows(); ++row) sorted_.push_back({i, row});
    for (const StringsColumn& column : table.columns()) {
      if (column.kind != ColumnKind::locale) continue;
      const auto known = std::find(locales_.begin(), locales_.end(), column.locale);
      if (known == locales_.end()) locales_.push_back(column.locale);
    }
  }
  std::stable_sort(sorted_.begin(), sorted_.end(),
                   [&](const Place& a, const Place& b) { return key_at(a) < key_at(b); });
  // In one table the first row of a key counts; the others were told when it was read.
  const auto same = [&](const Place& a, const Place& b) {
    return a.table == b.table && key_at(a) == key_at(b);
  };
  sorted_.erase(std::unique(sorted_.begin(), sorted_.end(), same), sorted_.end());
  for (std::size_t i = 1; i < sorted_.size(); ++i) {
    for (std::size_t before = i; before-- > 0 && key_at(sorted_[before]) == key_at(sorted_[i]);) {
      if (!shares_locale(sorted_[before].table, sorted_[i].table)) continue;
      repeated_.push_back(sorted_[i]);
      break;
    }
  }
}

bool Strings::shares_locale(std::uint32_t a, std::uint32_t b) const {
  const auto& columns = tables_[a].columns();
  return std::any_of(columns.begin(), columns.end(), [&](const StringsColumn& column) {
    return column.kind == ColumnKind::locale && tables_[b].find_column(column.locale);
  });
}

std::span<const Strings::Place> Strings::find(std::string_view key) const {
  const auto begin = std::lower_bound(
      sorted_.begin(), sorted_.end(), key,
      [&](const Place& place, std::string_view name) { return key_at(place) < name; });
  auto end = begin;
  while (end != sorted_.end() && key_at(*end) == key) ++end;
  return {begin, end};
}

std::optional<std::string_view> Strings::text_at(const Place& place,
                                                 std::string_view locale) const {
  const StringsTable& table = tables_[place.table];
  const auto column = table.find_column(locale);
  if (!column || table.columns()[*column].kind != ColumnKind::locale) return std::nullopt;
  const std::string_view cell = table.cell(place.row, *column);
  if (cell.empty()) return std::nullopt;
  return cell == empty_on_purpose ? std::string_view() : cell;
}

std::optional<std::string_view> Strings::text(std::string_view key, std::string_view locale) const {
  for (const Place& place : find(key)) {
    if (const auto text = text_at(place, locale)) return text;
  }
  return std::nullopt;
}

std::optional<std::string_view> Strings::text(std::string_view key,
                                              const std::vector<std::string>& chain) const {
  const auto places = find(key);
  for (const std::string& locale : chain) {
    for (const Place& place : places) {
      if (const auto text = text_at(place, locale)) return text;
    }
  }
  return std::nullopt;
}

}  // namespace arvik
