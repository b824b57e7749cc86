// Guarded by tests/script/strings_test.cpp.

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
  for (std::size_t i = 1; i < sorted_.size(); ++i) {
    if (key_at(sorted_[i - 1]) == key_at(sorted_[i])) repeated_.push_back(sorted_[i]);
  }
}

std::optional<Strings::Place> Strings::find(std::string_view key) const {
  const auto found = std::lower_bound(
      sorted_.begin(), sorted_.end(), key,
      [&](const Place& place, std::string_view name) { return key_at(place) < name; });
  if (found == sorted_.end() || key_at(*found) != key) return std::nullopt;
  return *found;
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
  const auto place = find(key);
  return place ? text_at(*place, locale) : std::nullopt;
}

std::optional<std::string_view> Strings::text(std::string_view key,
                                              const std::vector<std::string>& chain) const {
  const auto place = find(key);
  if (!place) return std::nullopt;
  for (const std::string& locale : chain) {
    if (const auto text = text_at(*place, locale)) return text;
  }
  return std::nullopt;
}

}  // namespace arvik
