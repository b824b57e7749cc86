#pragma once

#include <string_view>
#include <tl/expected.hpp>
#include <utility>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/layout.hpp"
#include "arvik/markup.hpp"
#include "arvik/pace.hpp"
#include "arvik/reveal.hpp"
#include "arvik/schedule.hpp"

namespace arvik {

/// Everything about one line, ready to play. Owns all of it.
struct PreparedLine {
  MarkedText marked;  ///< with the diagnostics of the markup
  Steps steps;
  Schedule schedule;
  Layout layout;  ///< with the diagnostics of the layout

  /// A reveal from the start. The line must outlive it and stay where it is.
  [[nodiscard]] Reveal reveal() const& { return {steps, schedule}; }
  Reveal reveal() && = delete;
};

/// The common case in one call: parse, segment, schedule, lay out. Holds the language and working
/// memory; keep one per thread and use it for every line.
class ARVIK_API Typesetter {
 public:
  explicit Typesetter(Language language) : language_(std::move(language)) {}

  [[nodiscard]] Language& language() { return language_; }
  /// The game's named styles and values; empty at first. Change it between lines.
  [[nodiscard]] Vocabulary& vocabulary() { return vocabulary_; }

  /// Every diagnostic of what this typesetter prepares, also for a Conversation, passes through
  /// `hook` once; results have them, too. Empty at first.
  void set_diagnostic_hook(DiagnosticHook hook) { hook_ = std::move(hook); }
  /// Passes diagnostics to the hook, if there is one.
  void tell(const std::vector<Diagnostic>& diagnostics) const;
  void tell(const Diagnostic& diagnostic) const;

  /// Fills `out`, reusing its memory. Mistakes in the markup do not fail: they are in
  /// out.marked.diagnostics. Fails with bad_pace or bad_box; parts of `out` may be of the new line
  /// then, and no reveal of it may go on.
  [[nodiscard]] tl::expected<void, Diagnostic> prepare(std::string_view markup, const Pace& pace,
                                                       const Font& font, const Box& box,
                                                       PreparedLine& out);
  [[nodiscard]] tl::expected<PreparedLine, Diagnostic> prepare(std::string_view markup,
                                                               const Pace& pace, const Font& font,
                                                               const Box& box);

 private:
  Language language_;
  Vocabulary vocabulary_;
  RowStarts starts_;
  DiagnosticHook hook_;
};

}  // namespace arvik
