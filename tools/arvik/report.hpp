#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "arvik/diagnostic.hpp"

namespace arvik::tool {

/// Writes diagnostics to stderr, each as `name:row:col: error: message` with the source row and a
/// caret under the place. `row_offset` is added to every row.
void report(std::string_view name, std::string_view source,
            const std::vector<Diagnostic>& diagnostics, std::size_t row_offset = 0);

/// The row of `source` around a range, cut to 70 cells, with carets under it, as two rows that
/// begin with `indent`; empty if there is nothing to show.
[[nodiscard]] std::string excerpt(std::string_view source, TextRange range,
                                  std::string_view indent);

/// Text made fit for a terminal: control characters, which could do anything there, as U+FFFD, tabs
/// and row ends as blanks.
[[nodiscard]] std::string printable(std::string_view text);

/// A bar on stderr for long work; clears itself away. Shows nothing unless stderr is a terminal.
/// Where results go to the same terminal, the caller must not write any meanwhile.
class ProgressBar {
 public:
  explicit ProgressBar(std::size_t total);
  [[nodiscard]] bool visible() const { return visible_; }
  ProgressBar(const ProgressBar&) = delete;
  ProgressBar& operator=(const ProgressBar&) = delete;
  ~ProgressBar();
  void set(std::size_t done);

 private:
  std::size_t total_;
  std::size_t shown_percent_ = 101;
  bool visible_;
};

}  // namespace arvik::tool
