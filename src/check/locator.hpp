#pragma once

#include <map>
#include <string>
#include <vector>

#include "job.hpp"

namespace arvik::checking {

/// Finds where findings stand in the files of a script.
class Locator {
 public:
  /// Keeps references to both.
  Locator(const CheckedScript& input, const std::vector<TextRef>& texts)
      : input_(input), texts_(texts), rows_(input.map.files.size()) {}

  [[nodiscard]] Finding locate(const RawFinding& raw);
  [[nodiscard]] Finding locate(const Diagnostic& problem) const;

  /// Whether a finding is one that its line is not checked for.
  [[nodiscard]] bool is_unchecked(const RawFinding& raw) const;

 private:
  // What stands at a byte of a file: kept every few kilobytes, so that many findings cost little.
  struct Row {
    std::size_t offset = 0;
    TextLocator::Location at{};
  };
  void locate_spot(const ScriptSpot& spot, TextRange in_text, Finding& finding);
  bool locate_in_table(const RawFinding& raw, const std::string& key, Finding& finding) const;
  [[nodiscard]] TextLocator::Location location(std::uint32_t file, std::size_t offset);

  const CheckedScript& input_;
  const std::vector<TextRef>& texts_;
  std::vector<std::vector<Row>> rows_;  // by file of the map
};

/// The codes in a cell of the column `#unchecked`, with the locale of each: "double-blank",
/// "more-pages@de". An empty locale means all.
struct UncheckedCode {
  std::string code{};
  std::string locale{};
};
[[nodiscard]] UncheckedCode read_unchecked(std::string_view word);
[[nodiscard]] std::vector<UncheckedCode> read_unchecked_cell(std::string_view cell);
/// The header of that column.
inline constexpr std::string_view unchecked_header = "#unchecked";

}  // namespace arvik::checking
