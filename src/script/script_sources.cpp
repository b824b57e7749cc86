// Guarded by tests/script/locales_test.cpp.

#include "script_sources.hpp"

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>

namespace arvik::script {
namespace {

constexpr std::size_t max_includes = 32;  // inside each other

// Which cell of a table a piece of JSON was made from.
struct Origin {
  std::size_t begin = 0;
  std::uint32_t row = 0;
  std::size_t column = 0;
};

// The lines of a table as JSON: a row becomes an object of its fields, an answer one of the choices
// of the line above.
class TableLines {
 public:
  explicit TableLines(const StringsTable& table) : table_(table) {}

  std::string run(std::vector<Diagnostic>& problems) {
    json_ = "[";
    for (std::uint32_t row = 0; row < table_.rows(); ++row) {
      const bool answer = is_answer(row, problems);
      if (answer && line_open_) {
        json_ += in_choices_ ? "," : ",\"choices\":[";
        in_choices_ = true;
      } else {
        close_line();
        if (json_.size() > 1) json_ += ',';
        line_open_ = true;
      }
      put_row(row);
      if (answer) json_ += '}';
    }
    close_line();
    return json_ + "]";
  }

  std::vector<Origin> take_origins() { return std::move(origins_); }

 private:
  bool is_answer(std::uint32_t row, std::vector<Diagnostic>& problems) const {
    const auto column = table_.find_column("answer");
    if (!column) return false;
    const std::string_view cell = table_.cell(row, *column);
    const bool answer = cell == "true";
    std::string message;
    if (!answer && !cell.empty() && cell != "false") message = "answer must be true or false";
    if (answer && row == 0) message = "there is no line above to answer to";
    if (!message.empty()) {
      Diagnostic problem{.code = DiagnosticCode::bad_value,
                         .message = std::move(message),
                         .range = {0, cell.size()}};
      table_.locate(row, *column, problem);
      problems.push_back(std::move(problem));
    }
    return answer && row > 0;
  }

  void close_line() {
    if (in_choices_) json_ += ']';
    if (line_open_) json_ += '}';
    in_choices_ = line_open_ = false;
  }

  // Up to its closing brace.
  void put_row(std::uint32_t row) {
    origins_.push_back({json_.size(), row, 0});
    json_ += "{\"id\":" + nlohmann::json(table_.key(row)).dump();
    const auto& columns = table_.columns();
    for (std::size_t i = 1; i < columns.size(); ++i) {
      const std::string_view cell = table_.cell(row, i);
      if (columns[i].kind != ColumnKind::field || cell.empty() || columns[i].header == "answer") {
        continue;
      }
      json_ += ',';
      origins_.push_back({json_.size(), row, i});
      const bool plain = cell == "true" || cell == "false";
      json_ += nlohmann::json(columns[i].header).dump() + ":";
      json_ += plain ? std::string(cell) : nlohmann::json(cell).dump();
    }
  }

  const StringsTable& table_;
  std::string json_;
  std::vector<Origin> origins_;
  bool line_open_ = false;
  bool in_choices_ = false;
};

}  // namespace

std::string ScriptSource::beside(const std::string& file) const {
  const std::filesystem::path name(file);
  if (name.is_absolute()) return file;
  return (std::filesystem::path(path).parent_path() / name).lexically_normal().generic_string();
}

ScriptSources::ScriptSources(std::string_view json, const ScriptFiles& files, std::string name,
                             TableErrors errors)
    : files_(files), errors_(errors) {
  const std::string path = name;
  load(path, std::move(name), json);
  for (ScriptSource* source : order_) load_tables(*source);
}

void ScriptSources::load(std::string path, std::string name, std::string_view text) {
  auto document = JsonDocument::parse(text);
  if (!document) {
    document.error().file = std::move(name);
    others_.push_back(std::move(document.error()));
    return;
  }
  ScriptSource& source = sources_.emplace_back(path, std::move(name), text, std::move(*document));
  chain_.push_back(std::move(path));
  include(source);
  chain_.pop_back();
  order_.push_back(&source);
}

// The names under a key: a string, or a list of strings.
template <typename Visit>
void ScriptSources::each_name(ScriptSource& from, std::string_view key, Visit visit) {
  if (!from.root().is_object()) return;
  const auto names = from.root().find(key);
  if (!names) return;
  const auto one = [&](const JsonValue& name) {
    if (name.is_string()) {
      visit(name);
    } else {
      from.problems.bad_value(name, std::string(key) + " must be the name of a file, or a list");
    }
  };
  names->is_array() ? names->each(one) : one(*names);
}

// The content of a file that a source names, and its path; nothing if it cannot be had.
std::optional<std::string> ScriptSources::read(ScriptSource& from, const JsonValue& name,
                                               std::string& path) {
  const auto beside = file_beside(from.path, name.text());
  if (!beside) {
    from.problems.add(name, beside.error().code, beside.error().message);
    return std::nullopt;
  }
  path = *beside;
  if (!files_.read) {
    from.problems.add(name, DiagnosticCode::file_unreadable,
                      "other files cannot be read from here, and " + quoted_word(path) + " is one");
    return std::nullopt;
  }
  auto content = files_.read(path);
  if (content) {
    names_.push_back(path);
    return std::move(*content);
  }
  from.problems.add(name, content.error().code, content.error().message);
  return std::nullopt;
}

void ScriptSources::include(ScriptSource& from) {
  each_name(from, "include", [&](const JsonValue& name) {
    const auto beside = file_beside(from.path, name.text());
    const auto open = beside ? std::find(chain_.begin(), chain_.end(), *beside) : chain_.end();
    if (open != chain_.end()) {
      std::string way;
      for (auto at = open; at != chain_.end(); ++at) way += *at + " → ";
      from.problems.add(name, DiagnosticCode::include_loop,
                        "this file is included by itself: " + way + *beside);
      return;
    }
    if (chain_.size() > max_includes) {
      from.problems.add(name, DiagnosticCode::too_deep,
                        "more than " + std::to_string(max_includes) + " files inside each other");
      return;
    }
    if (beside && !seen_.insert(*beside).second) return;
    std::string path;
    if (auto content = read(from, name, path)) {
      load(path, path, texts_.emplace_back(std::move(*content)));
    }
  });
}

void ScriptSources::load_tables(ScriptSource& from) {
  each_name(from, "strings", [&](const JsonValue& name) { load_table(from, name); });
  const auto conversations =
      from.root().is_object() ? from.root().find("conversations") : std::nullopt;
  if (!conversations) return;
  conversations->each([&](const JsonValue& lines) {
    if (lines.is_string()) load_table(from, lines);
  });
}

void ScriptSources::load_table(ScriptSource& from, const JsonValue& name) {
  const auto beside = file_beside(from.path, name.text());
  if (beside && !seen_.insert(*beside).second) return;
  std::string path;
  const auto content = read(from, name, path);
  if (!content) return;
  auto table = parse_strings(*content, path, &others_, errors_);
  if (!table) {
    others_.insert(others_.end(), table.error().begin(), table.error().end());
    return;
  }
  table_of_.emplace(path, tables_.size());
  tables_.push_back(std::move(*table));
}

std::optional<std::size_t> ScriptSources::table(const ScriptSource& source,
                                                const JsonValue& name) const {
  const auto path = file_beside(source.path, name.text());
  const auto found = path ? table_of_.find(*path) : table_of_.end();
  if (found == table_of_.end()) return std::nullopt;
  return found->second;
}

ScriptSource& ScriptSources::conversation(const StringsTable& table) {
  TableLines lines(table);
  const std::string& text = texts_.emplace_back(lines.run(others_));
  const auto relocate = [&table, origins = lines.take_origins()](Diagnostic& problem) {
    const auto behind = std::upper_bound(
        origins.begin(), origins.end(), problem.range.begin,
        [](std::size_t begin, const Origin& origin) { return begin < origin.begin; });
    if (behind == origins.begin()) return;  // of the table as a whole
    const Origin& origin = *std::prev(behind);
    problem.range = {0, table.cell(origin.row, origin.column).size()};
    table.locate(origin.row, origin.column, problem);
  };
  return sources_.emplace_back(table.file(), table.file(), text, JsonDocument::parse(text).value(),
                               relocate);
}

std::vector<Diagnostic> ScriptSources::problems() const {
  std::vector<Diagnostic> all;
  std::size_t swallowed = 0;
  const auto take = [&](const std::vector<Diagnostic>& some) {
    for (const Diagnostic& problem : some) {
      if (all.size() < max_diagnostics || problem.code == DiagnosticCode::too_many_diagnostics) {
        all.push_back(problem);
      } else {
        ++swallowed;
      }
    }
  };
  if (!order_.empty()) take(order_.back()->problems.list());
  for (const ScriptSource& source : sources_) {
    if (order_.empty() || &source != order_.back()) take(source.problems.list());
  }
  take(others_);
  if (swallowed > 0 && all.back().code != DiagnosticCode::too_many_diagnostics) {
    all.push_back({.code = DiagnosticCode::too_many_diagnostics,
                   .message = std::to_string(swallowed) + " more problems in other files"});
  }
  return all;
}

}  // namespace arvik::script
