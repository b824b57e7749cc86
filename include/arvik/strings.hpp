#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/strings_table.hpp"

/// Part of arvik::script.
namespace arvik {

/// The texts of a script in its locales: all its tables.
class ARVIK_API Strings {
 public:
  struct Place {
    std::uint32_t table = 0;
    std::uint32_t row = 0;
  };

  Strings() = default;
  explicit Strings(std::vector<StringsTable> tables);

  [[nodiscard]] const std::vector<StringsTable>& tables() const { return tables_; }
  /// The locales of all tables, each once, in the order of their columns.
  [[nodiscard]] const std::vector<std::string>& locales() const { return locales_; }
  /// Where a key stands, in each of its tables: one file for each locale is as good as one for all.
  [[nodiscard]] std::span<const Place> find(std::string_view key) const;
  /// The places of keys that another table has in the same locale, too.
  [[nodiscard]] const std::vector<Place>& repeated() const { return repeated_; }

  /// The text of a key in just this locale; nothing where it is missing, an empty one where it is
  /// empty on purpose. The view lives as long as the strings.
  [[nodiscard]] std::optional<std::string_view> text(std::string_view key,
                                                     std::string_view locale) const;
  /// The same in the first locale of a chain (locale_chain()) that has one.
  [[nodiscard]] std::optional<std::string_view> text(std::string_view key,
                                                     const std::vector<std::string>& chain) const;

 private:
  [[nodiscard]] bool shares_locale(std::uint32_t a, std::uint32_t b) const;
  [[nodiscard]] std::string_view key_at(const Place& place) const {
    return tables_[place.table].key(place.row);
  }
  [[nodiscard]] std::optional<std::string_view> text_at(const Place& place,
                                                        std::string_view locale) const;

  std::vector<StringsTable> tables_;
  std::vector<std::string> locales_;
  std::vector<Place> sorted_;  // by key
  std::vector<Place> repeated_;
};

}  // namespace arvik
