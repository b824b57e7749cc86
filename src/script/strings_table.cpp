// libcsv says where cells end; it is fed up to the next character that may end one, so that each
// cell's place in the file is known. Only where rows begin is kept: what stands before a cell in
// its row says the rest. Guarded by tests/script/strings_table_test.cpp.

#include "arvik/strings_table.hpp"

#include <csv.h>

#include <algorithm>
#include <array>
#include <limits>
#include <memory>

#include "../unicode/characters.hpp"
#include "arvik/locale.hpp"

namespace arvik {
namespace {

constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
constexpr std::size_t max_columns = 1000;
constexpr std::string_view replacement = "\xEF\xBF\xBD";

bool ends_row(char c) { return c == '\n' || c == '\r'; }

// The separator that stands most often outside quotes in the first row.
char find_delimiter(std::string_view csv) {
  constexpr std::array<char, 3> known{',', ';', '\t'};
  std::array<std::size_t, 3> count{};
  bool quoted = false;
  csv.remove_prefix(std::min(csv.find_first_not_of("\r\n"), csv.size()));
  for (const char c : csv) {
    if (!quoted && ends_row(c)) break;
    if (c == '"') quoted = !quoted;
    for (std::size_t i = 0; i < known.size(); ++i) {
      if (!quoted && c == known[i]) ++count[i];
    }
  }
  return known[static_cast<std::size_t>(std::max_element(count.begin(), count.end()) -
                                        count.begin())];
}

// A header that was meant as a tag, so that a slip in one is not taken for anything else.
bool looks_like_locale(std::string_view header) {
  const std::size_t language = std::min(header.find_first_of("-_"), header.size());
  return (language == 2 || language == 3) && std::all_of(header.begin(), header.end(), [](char c) {
           return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                  c == '-' || c == '_';
         });
}

StringsColumn column_of(std::string_view header) {
  StringsColumn column{.header = std::string(header)};
  const auto& fields = line_columns();
  if (std::find(fields.begin(), fields.end(), header) != fields.end()) {
    column.kind = ColumnKind::field;
  } else if (looks_like_locale(header)) {
    column.kind = ColumnKind::locale;
    column.locale = canonical_locale(header).value_or("");
  }
  return column;
}

}  // namespace

const std::vector<std::string_view>& line_columns() {
  static const std::vector<std::string_view> columns{
      "speaker", "portrait", "pace",    "rate",   "typing",   "voice",     "skippable",
      "auto",    "append",   "instant", "answer", "leads_to", "available", "voice_timing"};
  return columns;
}

class StringsReader {
 public:
  StringsReader(std::string_view csv, StringsTable& table, std::vector<Diagnostic>* warnings)
      : csv_(csv), table_(table), sink_(csv, problems_) {
    if (warnings != nullptr) warnings_.emplace(csv, *warnings);
    table_.columns_.clear();
  }

  std::vector<Diagnostic> run() {
    if (csv_.size() >= std::numeric_limits<std::uint32_t>::max() / 2) {
      bad_table({0, 0}, "the file is larger than 2 GiB");
      return std::move(problems_);
    }
    table_.text_.reserve(csv_.size());
    table_.file_size_ = csv_.size();
    if (csv_.starts_with(byte_order_mark)) {
      table_.has_mark_ = true;
      at_ = byte_order_mark.size();
    }
    table_.delimiter_ = find_delimiter(csv_.substr(at_));
    const std::size_t first_end = csv_.find_first_of("\r\n");
    const bool bare = first_end != std::string_view::npos && csv_.substr(first_end, 2) != "\r\n";
    table_.row_end_ = bare ? csv_.substr(first_end, 1) == "\n" ? "\n" : "\r" : "\r\n";
    cell_begin_ = row_begin_ = at_;
    cut();
    if (table_.columns_.empty() && problems_.empty()) {
      bad_table({0, csv_.size()}, "the table is empty: its first row must be headers");
    }
    if (!stopped_ && !table_.columns_.empty()) sort();
    return std::move(problems_);
  }

  /// Whether rows were read to the end, and sorted.
  [[nodiscard]] bool has_all_rows() const { return !stopped_ && !table_.columns_.empty(); }

 private:
  void cut() {
    csv_parser parser{};
    csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI);
    const std::unique_ptr<csv_parser, decltype(&csv_free)> freed(&parser, &csv_free);
    csv_set_delim(&parser, static_cast<unsigned char>(table_.delimiter_));
    csv_set_space_func(&parser, [](unsigned char) { return 0; });
    const auto on_cell = [](void* text, std::size_t size, void* self) {
      static_cast<StringsReader*>(self)->end_cell({static_cast<const char*>(text), size});
    };
    const auto on_row = [](int, void* self) { static_cast<StringsReader*>(self)->end_row(); };
    while (at_ < csv_.size() && !stopped_) {
      std::size_t end = at_;
      while (end < csv_.size() && csv_[end] != table_.delimiter_ && !ends_row(csv_[end])) ++end;
      end = std::min(end + 1, csv_.size());
      if (!in_row_ && end == at_ + 1 &&
          ends_row(csv_[at_])) {  // the rest of CR LF, or an empty row
        at_ = cell_begin_ = row_begin_ = end;
        continue;
      }
      in_row_ = true;
      end_ = end;
      const std::size_t size = end - at_;
      const std::size_t done = csv_parse(&parser, csv_.data() + at_, size, on_cell, on_row, this);
      if (done != size) {
        const std::size_t place = at_ + done;
        if (csv_error(&parser) == CSV_ENOMEM) throw std::bad_alloc();
        bad_table({place, place + 1},
                  "a quote inside a cell must be doubled, and the whole cell quoted");
        stopped_ = true;  // in the middle of a row
        return;
      }
      at_ = end;
    }
    end_ = csv_.size() + 1;  // as if a separator came behind the last cell
    if (!stopped_ && csv_fini(&parser, on_cell, on_row, this) != 0) {
      bad_table({cell_begin_, cell_begin_ + 1}, "this quote is never closed");
      stopped_ = true;
    }
  }

  // The separator behind the cell was just read.
  void end_cell(std::string_view text) {
    const std::size_t begin = std::exchange(cell_begin_, end_);
    const bool quoted = begin < csv_.size() && csv_[begin] == '"';
    const std::size_t end = std::max(begin, end_ - 1);
    if (table_.columns_.empty() || in_header_) {
      in_header_ = true;
      add_column(text, {begin, end});
      return;
    }
    const std::size_t column = column_++;
    if (column >= table_.columns_.size()) {
      if (column == table_.columns_.size() && !text.empty()) {
        bad_table({begin, end}, "this cell stands in a column without a header");
      }
      return;
    }
    const std::size_t at = table_.text_.size();
    append(text, {begin, end});
    table_.cells_.push_back({static_cast<std::uint32_t>(at),
                             static_cast<std::uint32_t>(table_.text_.size() - at) & 0x7FFFFFFFU,
                             quoted ? 1U : 0U});
  }

  void end_row() {
    const std::size_t begin = std::exchange(row_begin_, end_);
    in_row_ = false;
    if (std::exchange(in_header_, false)) {
      check_headers();
      return;
    }
    auto& cells = table_.cells_;
    const std::size_t columns = table_.columns_.size();
    cells.resize(cells.size() + columns - std::min(std::exchange(column_, 0), columns));
    const std::size_t row = locator_.locate(begin).row;
    table_.places_.push_back({static_cast<std::uint32_t>(begin), static_cast<std::uint32_t>(row)});
    const std::uint32_t last = table_.rows() - 1;
    if (!table_.key(last).empty()) return;
    const auto has_text = [&](std::size_t column) { return !table_.cell(last, column).empty(); };
    for (std::size_t column = 1; column < columns; ++column) {
      if (!has_text(column)) continue;
      bad_table({begin, begin}, "this row has no key");
      break;
    }
    // A row of separators alone, as spreadsheets leave them.
    cells.resize(cells.size() - columns);
    table_.places_.pop_back();
  }

  void add_column(std::string_view header, TextRange range) {
    ranges_.push_back(range);
    if (table_.columns_.empty()) {
      StringsColumn& key = table_.columns_.emplace_back();
      key.header = repaired(header, range);
      key.kind = ColumnKind::key;
      return;
    }
    table_.columns_.push_back(column_of(repaired(header, range)));
  }

  void check_headers() {
    auto& columns = table_.columns_;
    while (columns.size() > 1 && columns.back().header.empty()) columns.pop_back();
    if (columns.size() > max_columns) {
      bad_table(ranges_[max_columns],
                "a table has at most " + std::to_string(max_columns) + " columns");
      stopped_ = true;
      return;
    }
    const std::string& first = columns[0].header;
    if (first.empty()) bad_table(ranges_[0], "the first column, of the keys, has no header");
    const bool is_locale =
        canonical_locale(first) && (first.size() == 2 || first.find('-') != std::string::npos);
    if (is_locale && first != "id") {
      bad_table(ranges_[0],
                "the first column must hold the keys, not the locale " + quoted_word(first));
    }
    for (std::size_t i = 1; i < columns.size(); ++i) {
      const StringsColumn& column = columns[i];
      const auto same = [&](const StringsColumn& other) {
        return other.header == column.header ||
               (!column.locale.empty() && other.locale == column.locale);
      };
      if (std::any_of(columns.begin() + 1, columns.begin() + static_cast<std::ptrdiff_t>(i),
                      same)) {
        add(ranges_[i], DiagnosticCode::duplicate_id,
            "a column " + quoted_word(column.header) + " is there already");
      } else if (column.kind == ColumnKind::locale && column.locale.empty()) {
        add(ranges_[i], DiagnosticCode::unknown_locale,
            quoted_word(column.header) +
                " is no locale: write a tag like de or pt-BR, or begin the header with # if the "
                "column is for people");
      } else if (column.kind == ColumnKind::note && !column.header.starts_with('#')) {
        add(ranges_[i], DiagnosticCode::bad_table,
            quoted_word(column.header) +
                " is neither a locale nor a field of a line; begin the header with # if the "
                "column is for people",
            std::string(nearest_name(column.header, line_columns())));
      }
    }
    if (!problems_.empty()) stopped_ = true;  // no cell would have its right column
  }

  void append(std::string_view text, TextRange range) {
    std::size_t at = 0;
    while (at < text.size()) {
      std::size_t good = at;
      unicode::Decoded next{};
      while (good < text.size() && (next = unicode::decode(text, good)).valid) good += next.size;
      table_.text_.append(text, at, good - at);
      at = good;
      if (at == text.size()) return;
      table_.text_ += replacement;
      at += next.size;
      if (!warnings_) continue;
      warnings_->add({.code = DiagnosticCode::invalid_utf8,
                      .severity = Severity::warning,
                      .message = "these bytes are not UTF-8 and are shown as U+FFFD",
                      .range = range,
                      .file = table_.file_});
    }
  }

  std::string repaired(std::string_view text, TextRange range) {
    const std::size_t at = table_.text_.size();
    append(text, range);
    std::string good = table_.text_.substr(at);
    table_.text_.resize(at);
    return good;
  }

  void sort() {
    auto& sorted = table_.sorted_;
    sorted.resize(table_.rows());
    for (std::uint32_t row = 0; row < sorted.size(); ++row) sorted[row] = row;
    std::stable_sort(sorted.begin(), sorted.end(), [&](std::uint32_t a, std::uint32_t b) {
      return table_.key(a) < table_.key(b);
    });
    for (std::size_t i = 1; i < sorted.size(); ++i) {
      if (table_.key(sorted[i - 1]) != table_.key(sorted[i])) continue;
      const std::size_t begin = table_.places_[sorted[i]].offset;
      add({begin, begin + table_.key(sorted[i]).size()}, DiagnosticCode::duplicate_id,
          "the key " + quoted_word(table_.key(sorted[i])) + " stands in row " +
              std::to_string(table_.places_[sorted[i - 1]].row) + ", too");
    }
  }

  void bad_table(TextRange range, std::string message) {
    add(range, DiagnosticCode::bad_table, std::move(message));
  }
  void add(TextRange range, DiagnosticCode code, std::string message, std::string hint = {}) {
    sink_.add({.code = code,
               .severity = Severity::error,
               .message = std::move(message),
               .range = range,
               .hint = std::move(hint),
               .file = table_.file_});
  }

  std::string_view csv_;
  StringsTable& table_;
  std::optional<DiagnosticSink> warnings_;
  std::vector<Diagnostic> problems_;
  DiagnosticSink sink_;
  TextLocator locator_{csv_};
  std::vector<TextRange> ranges_;  // of the headers
  std::size_t at_ = 0;
  std::size_t end_ = 0;  // behind what is being read
  std::size_t cell_begin_ = 0;
  std::size_t row_begin_ = 0;
  std::size_t column_ = 0;
  bool in_row_ = false;
  bool in_header_ = false;
  bool stopped_ = false;
};

StringsTable::StringsTable() : columns_{{.header = "key", .kind = ColumnKind::key}} {}

std::vector<std::uint32_t>::const_iterator StringsTable::lower_bound(
    std::string_view wanted) const {
  return std::lower_bound(
      sorted_.begin(), sorted_.end(), wanted,
      [&](std::uint32_t row, std::string_view name) { return key(row) < name; });
}

std::optional<std::uint32_t> StringsTable::find_row(std::string_view wanted) const {
  const auto found = lower_bound(wanted);
  if (found == sorted_.end() || key(*found) != wanted) return std::nullopt;
  return *found;
}

std::optional<std::size_t> StringsTable::find_column(std::string_view header) const {
  const auto found = std::find_if(columns_.begin(), columns_.end(), [&](const auto& column) {
    return column.header == header || (!column.locale.empty() && column.locale == header);
  });
  if (found == columns_.end()) return std::nullopt;
  return static_cast<std::size_t>(found - columns_.begin());
}

bool StringsTable::has_fields() const {
  return std::any_of(columns_.begin(), columns_.end(),
                     [](const auto& column) { return column.kind == ColumnKind::field; });
}

void StringsTable::set(std::uint32_t row, std::size_t column, std::string_view text) {
  const std::string kept(text);  // it may be one of this table's own
  Cell& cell = cells_[row * columns_.size() + column];
  cell.begin = static_cast<std::uint32_t>(text_.size());
  cell.size = static_cast<std::uint32_t>(kept.size()) & 0x7FFFFFFFU;
  text_ += kept;
}

std::uint32_t StringsTable::add_row(std::string_view wanted) {
  const auto place = lower_bound(wanted);
  if (place != sorted_.end() && key(*place) == wanted) return *place;
  const std::uint32_t row = rows();
  const auto at = place - sorted_.begin();
  cells_.resize(cells_.size() + columns_.size());
  places_.push_back({});
  set(row, 0, wanted);
  sorted_.insert(sorted_.begin() + at, row);
  return row;
}

std::size_t StringsTable::add_column(std::string_view header) {
  StringsColumn added = column_of(header);
  if (const auto found = find_column(added.locale.empty() ? added.header : added.locale)) {
    return *found;
  }
  const std::uint32_t count = rows();
  const std::size_t width = columns_.size();
  std::vector<Cell> wider;
  wider.reserve(count * (width + 1));
  for (std::uint32_t row = 0; row < count; ++row) {
    const auto begin = cells_.begin() + static_cast<std::ptrdiff_t>(row * width);
    wider.insert(wider.end(), begin, begin + static_cast<std::ptrdiff_t>(width));
    wider.emplace_back();
  }
  cells_ = std::move(wider);
  columns_.push_back(std::move(added));
  return width;
}

void StringsTable::locate(std::uint32_t row, std::size_t column, Diagnostic& problem) const {
  problem.file = file_;
  problem.key = key(row);
  problem.locale = columns_[column].locale;
  const RowPlace& place = places_[row];
  TextLocator::Location at{place.row, 1};
  std::size_t offset = place.offset;
  const auto pass = [&](std::string_view text, bool quoted) {
    for (const char c : text) {
      const std::size_t count = quoted && c == '"' ? 2 : 1;
      offset += count;
      if (c == '\n') {
        ++at.row;
        at.column = 1;
      } else if ((static_cast<unsigned char>(c) & 0xC0U) != 0x80U) {
        at.column += count;
      }
    }
  };
  const auto open = [&](const Cell& cell) {
    if (cell.quoted == 0) return;
    ++offset;
    ++at.column;
  };
  const Cell* cells = &cells_[row * columns_.size()];
  for (std::size_t before = 0; before < column; ++before) {
    open(cells[before]);
    pass(cell(row, before), cells[before].quoted != 0);
    open(cells[before]);
    ++offset;  // the separator
    ++at.column;
  }
  open(cells[column]);
  const std::string_view text = cell(row, column);
  const bool quoted = cells[column].quoted != 0;
  const std::size_t begin = std::min(problem.range.begin, text.size());
  const std::size_t end = std::clamp(problem.range.end, begin, text.size());
  pass(text.substr(0, begin), quoted);
  problem.row = at.row;
  problem.column = at.column;
  const std::size_t first = offset;
  pass(text.substr(begin, end - begin), quoted);
  // Bytes that were repaired are longer here than in the file.
  problem.range = {std::min(first, file_size_), std::min(offset, file_size_)};
}

tl::expected<StringsTable, std::vector<Diagnostic>> parse_strings(std::string_view csv,
                                                                  std::string file,
                                                                  std::vector<Diagnostic>* warnings,
                                                                  TableErrors errors) {
  StringsTable table;
  table.file_ = std::move(file);
  StringsReader reader(csv, table, warnings);
  auto problems = reader.run();
  if (!problems.empty() && (errors == TableErrors::refuse || !reader.has_all_rows())) {
    return tl::unexpected(std::move(problems));
  }
  if (warnings != nullptr) warnings->insert(warnings->end(), problems.begin(), problems.end());
  return table;
}

std::string write_strings(const StringsTable& table) {
  std::string out(table.has_mark_ ? byte_order_mark : "");
  const std::size_t last = table.columns_.size() - 1;
  // Where other separators could be taken for the one of the file.
  bool in_header = true;
  const auto put = [&](std::string_view text, bool at_end) {
    const bool blank_end = !text.empty() && (text.front() == ' ' || text.back() == ' ');
    const bool quoted = blank_end || std::any_of(text.begin(), text.end(), [&](char c) {
                          return c == '"' || c == table.delimiter_ || ends_row(c) ||
                                 (in_header && (c == ',' || c == ';' || c == '\t'));
                        });
    if (quoted) out += '"';
    for (const char c : text) {
      if (c == '"') out += c;
      out += c;
    }
    if (quoted) out += '"';
    if (at_end) {
      out += table.row_end_;
    } else {
      out += table.delimiter_;
    }
  };
  for (std::size_t i = 0; i <= last; ++i) put(table.columns_[i].header, i == last);
  in_header = last == 0;
  for (std::uint32_t row = 0; row < table.rows(); ++row) {
    for (std::size_t i = 0; i <= last; ++i) put(table.cell(row, i), i == last);
  }
  return out;
}

}  // namespace arvik
