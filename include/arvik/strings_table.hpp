#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"

/// Part of arvik::script. A table of strings: one text a row, by its key, and one locale a column.
///
///     key,en,pl,#context
///     stop_06,I know. Breathe.,Wiem. Oddychaj.,"Odrun, not looking up"
///
/// A file of comma-separated values (RFC 4180) in UTF-8, with or without a byte order mark, CR LF
/// or LF; semicolons or tabs instead of commas where the first row has more of them. The first
/// column holds the keys. What the other columns are, their headers tell: a BCP 47 tag is a locale;
/// what begins with # is for people; a field of a line (`speaker`, `pace`, …) makes the table a
/// whole conversation. An empty cell is a text that is not there yet; `[]` is one that is empty on
/// purpose.
namespace arvik {

enum class ColumnKind : std::uint8_t { key, locale, note, field };

struct StringsColumn {
  std::string header{};  ///< as it stands in the file
  ColumnKind kind = ColumnKind::note;
  std::string locale{};  ///< of a locale: its tag as it is usually written; else empty
};

/// The fields of a line that a column may give; `answer` makes the row an answer to the line above.
[[nodiscard]] ARVIK_API const std::vector<std::string_view>& line_columns();

/// The cell of a text that is empty on purpose.
inline constexpr std::string_view empty_on_purpose = "[]";

/// What becomes of a table that has errors.
enum class TableErrors : std::uint8_t {
  refuse,
  /// Where only rows are wrong, it is read: of keys that stand twice the first row counts, rows
  /// without a key are never found. All of it is told in the warnings.
  repair
};

class ARVIK_API StringsTable {
 public:
  /// With the column of keys alone.
  StringsTable();

  /// The name of its file, for places; may be empty.
  [[nodiscard]] const std::string& file() const { return file_; }
  [[nodiscard]] const std::vector<StringsColumn>& columns() const { return columns_; }
  [[nodiscard]] std::uint32_t rows() const {
    return static_cast<std::uint32_t>(cells_.size() / columns_.size());
  }
  [[nodiscard]] std::string_view key(std::uint32_t row) const { return cell(row, 0); }
  /// A cell as it was read; views live until the table is changed, moved or gone.
  [[nodiscard]] std::string_view cell(std::uint32_t row, std::size_t column) const {
    const Cell& at = cells_[row * columns_.size() + column];
    return std::string_view(text_).substr(at.begin, at.size);
  }
  /// The row of a key: a few comparisons.
  [[nodiscard]] std::optional<std::uint32_t> find_row(std::string_view key) const;
  /// The column of a header, or of a locale by its tag as it is usually written.
  [[nodiscard]] std::optional<std::size_t> find_column(std::string_view header) const;
  /// Whether it is a whole conversation.
  [[nodiscard]] bool has_fields() const;

  void set(std::uint32_t row, std::size_t column, std::string_view text);
  /// A row with that key, at the end; the one that is there if there is one.
  std::uint32_t add_row(std::string_view key);
  /// A column at the end, of what its header tells; the one that is there if there is one.
  std::size_t add_column(std::string_view header);

  /// Something is wrong in a cell that was read from a file: gives the problem its file, row,
  /// column, key and locale. A range is that in the cell's text before, and that in the file after.
  void locate(std::uint32_t row, std::size_t column, Diagnostic& problem) const;

 private:
  friend class StringsReader;
  friend ARVIK_API tl::expected<StringsTable, std::vector<Diagnostic>> parse_strings(
      std::string_view csv, std::string file, std::vector<Diagnostic>* warnings,
      TableErrors errors);
  friend ARVIK_API std::string write_strings(const StringsTable& table);
  struct Cell {
    std::uint32_t begin = 0;  // in text_
    std::uint32_t size : 31 = 0;
    std::uint32_t quoted : 1 = 0;
  };
  struct RowPlace {  // in the file; of rows that were not read, the end
    std::uint32_t offset = 0;
    std::uint32_t row = 0;
  };
  [[nodiscard]] std::vector<std::uint32_t>::const_iterator lower_bound(std::string_view key) const;

  std::string file_;
  std::vector<StringsColumn> columns_;
  std::string text_;                   // of all cells
  std::vector<Cell> cells_;            // row by row, without the headers
  std::vector<RowPlace> places_;       // of the rows
  std::vector<std::uint32_t> sorted_;  // rows by their keys
  std::size_t file_size_ = 0;
  char delimiter_ = ',';
  bool has_mark_ = false;
  std::string_view row_end_ = "\r\n";
};

/// Reads a table. On failure returns every problem, each with its place: bad_table (what is no
/// CSV, a cell without a header, a header that is nothing of the above), unknown_locale (a header
/// like a tag, of no language), duplicate_id (a key or a header that stands twice). Bytes that are
/// not UTF-8 become U+FFFD, with a warning in `warnings` if that is given. Markup is not looked at.
/// Linear in the file but for sorting the keys.
[[nodiscard]] ARVIK_API tl::expected<StringsTable, std::vector<Diagnostic>> parse_strings(
    std::string_view csv, std::string file = {}, std::vector<Diagnostic>* warnings = nullptr,
    TableErrors errors = TableErrors::refuse);

/// The table as a file: delimiter, byte order mark and row ends as it was read.
[[nodiscard]] ARVIK_API std::string write_strings(const StringsTable& table);

}  // namespace arvik
