#pragma once

#include <deque>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/script_files.hpp"
#include "arvik/strings_table.hpp"
#include "fields.hpp"

/// The files that a script consists of.
namespace arvik::script {

/// One JSON text of a script, with what is wrong with it. Stays where it is.
class ScriptSource {
 public:
  /// `text` must outlive it. The document must be that of the text.
  ScriptSource(std::string in_folder, std::string name, std::string_view text, JsonDocument json,
               Problems::Relocate relocate = {})
      : path(std::move(in_folder)),
        text_(text),
        is_made_(relocate != nullptr),
        document_(std::move(json)),
        problems(text, document_, std::move(name), std::move(relocate)) {}
  ScriptSource(const ScriptSource&) = delete;
  ScriptSource& operator=(const ScriptSource&) = delete;

  [[nodiscard]] JsonValue root() const { return document_.root(); }
  [[nodiscard]] std::string_view text() const { return text_; }
  /// Whether it was made from a table.
  [[nodiscard]] bool is_made() const { return is_made_; }
  /// The path of a sound's file, which is named from the folder of the file that names it; absolute
  /// ones stay.
  [[nodiscard]] std::string beside(const std::string& file) const;

  const std::string path;  ///< from the script's folder

 private:
  std::string_view text_;
  bool is_made_;
  JsonDocument document_;

 public:
  Problems problems;
};

/// A script, what it includes, and its tables: each file once.
class ScriptSources {
 public:
  /// Reads what the script names. Everything must outlive the sources. `name` is the script's own
  /// in its folder; it may be empty.
  ScriptSources(std::string_view json, const ScriptFiles& files, std::string name,
                TableErrors errors);

  /// Included files before those that include them; the script itself is the last. Empty if the
  /// script is not JSON.
  [[nodiscard]] const std::vector<ScriptSource*>& in_order() const { return order_; }
  /// The tables, in the order in which they are named; taken once, before conversation().
  [[nodiscard]] std::vector<StringsTable> take_tables() { return std::move(tables_); }
  /// Which of the tables a source names so; nothing if it could not be read, which was told.
  [[nodiscard]] std::optional<std::size_t> table(const ScriptSource& source,
                                                 const JsonValue& name) const;
  /// The lines of a table that is a whole conversation, as a list in JSON without texts. What is
  /// wrong with them is told as wrong with the table's cells. The table must outlive it.
  ScriptSource& conversation(const StringsTable& table);

  /// The files that were read, but for the script itself, as it names them.
  [[nodiscard]] const std::vector<std::string>& files() const { return names_; }
  /// Whether the files can be asked for voices.
  [[nodiscard]] const ScriptFiles& access() const { return files_; }
  /// Something else is wrong.
  void add(Diagnostic problem) { others_.push_back(std::move(problem)); }
  /// Everything that is wrong: the script first.
  [[nodiscard]] std::vector<Diagnostic> problems() const;

 private:
  std::optional<std::string> read(ScriptSource& from, const JsonValue& name, std::string& path);
  void load(std::string path, std::string name, std::string_view text);
  void include(ScriptSource& from);
  void load_tables(ScriptSource& from);
  void load_table(ScriptSource& from, const JsonValue& name);
  template <typename Visit>
  void each_name(ScriptSource& from, std::string_view key, Visit visit);

  const ScriptFiles& files_;
  TableErrors errors_;
  std::deque<std::string> texts_;  // whose addresses stay
  std::deque<ScriptSource> sources_;
  std::vector<ScriptSource*> order_;
  std::vector<std::string> chain_;               // that are being read
  std::set<std::string> seen_;                   // paths that were read, or tried
  std::map<std::string, std::size_t> table_of_;  // by path
  std::vector<StringsTable> tables_;
  std::vector<std::string> names_;
  std::vector<Diagnostic> others_;
};

}  // namespace arvik::script
