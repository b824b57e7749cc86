#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <vector>

#include "arvik/script_map.hpp"
#include "script_sources.hpp"

namespace arvik::script {

/// Notes where everything of a script stands, for who checks the whole script.
class MapWriter {
 public:
  /// `map` is filled; null: nobody asks, and nothing is noted.
  explicit MapWriter(ScriptMap* map) : map_(map) {}

  [[nodiscard]] bool is_wanted() const { return map_ != nullptr; }
  /// A file of the script; before anything in it.
  void add_file(const ScriptSource& source);
  void add_name(ScriptPart part, std::string name, const JsonValue& member,
                const ScriptSource& source);
  /// All keys of an object.
  void add_names(ScriptPart part, const JsonValue& object, const ScriptSource& source);
  /// The paces that others are based on.
  void add_bases(const JsonValue& paces);
  /// A line or an answer, and the codes that are not looked for in it.
  void add_text(const JsonValue& json, std::vector<std::string> unchecked,
                const ScriptSource& source);
  /// What a file asks of checks, beside what others ask.
  void add_wishes(CheckWishes wishes);

 private:
  [[nodiscard]] ScriptSpot spot_of(TextRange range, const ScriptSource& source) const;

  ScriptMap* map_;
  std::map<const ScriptSource*, std::uint32_t> files_;
};

}  // namespace arvik::script
