#pragma once

#include <memory>
#include <span>
#include <string_view>
#include <tl/expected.hpp>
#include <utility>
#include <vector>

#include "arvik/anchors.hpp"
#include "arvik/export.hpp"
#include "arvik/layout.hpp"
#include "arvik/markup.hpp"
#include "arvik/pace.hpp"
#include "arvik/reveal.hpp"
#include "arvik/schedule.hpp"
#include "arvik/typing_sound.hpp"

namespace arvik {

/// Everything about one line, ready to play. Owns all of it.
struct PreparedLine {
  MarkedText marked;  ///< with the diagnostics of the markup
  Steps steps;
  std::vector<Boundary> boundaries;
  Schedule schedule;
  Layout layout;  ///< with the diagnostics of the layout

  /// A reveal from the start. The line must outlive it and stay where it is.
  [[nodiscard]] Reveal reveal() const& { return {steps, schedule}; }
  Reveal reveal() && = delete;
};

/// What one of several lines that stand in a box together is made from. Only read.
struct PartSource {
  std::string_view markup;
  const Pace* pace = nullptr;          ///< null: the default pace
  std::string_view typing{};           ///< the typing sound that it begins with
  const VoiceTiming* voice = nullptr;  ///< how its recording is spoken; null: there is none
  VoiceSync sync = VoiceSync::align;
};

/// One of the lines that stand in a box together. Its steps and times are its own, from 0.
struct PreparedPart {
  MarkedText marked;
  Steps steps;
  std::vector<Boundary> boundaries;
  std::vector<std::uint16_t> weights;  ///< of the steps; empty if all are letters (step_weights())
  Schedule schedule;
  TypingPlan typing;
  std::uint32_t first_step = 0;  ///< of its steps in the whole text
};

/// Lines that stand in a box together: one layout, so that the first already stands where it will
/// stand when the last has come, and a schedule and a typing plan for each.
struct PreparedText {
  MarkedText marked;
  Steps steps;
  Layout layout;
  std::vector<PreparedPart> parts;
  std::vector<Diagnostic> diagnostics;  ///< of markup, layout, schedules and sounds
};

/// The one pipeline: parse, segment, read the boundaries, lay out, schedule, plan the typing
/// sounds. Holds the language and working memory; keep one per thread and use it for every line.
class ARVIK_API Typesetter {
 public:
  explicit Typesetter(Language language);
  Typesetter(Typesetter&&) noexcept;
  Typesetter& operator=(Typesetter&&) noexcept;
  ~Typesetter();

  [[nodiscard]] Language& language() { return language_; }
  /// The game's named styles and values; empty at first. Change it between lines.
  [[nodiscard]] Vocabulary& vocabulary() { return vocabulary_; }
  /// How large inline pictures are; empty at first.
  void set_icon_sizes(IconSizes sizes) { icon_sizes_ = std::move(sizes); }

  /// Every diagnostic of what this typesetter prepares, also for a Conversation, passes through
  /// `hook` once; results have them, too. Empty at first.
  void set_diagnostic_hook(DiagnosticHook hook) { hook_ = std::move(hook); }
  /// Passes diagnostics to the hook, if there is one.
  void tell(const std::vector<Diagnostic>& diagnostics) const;
  void tell(const Diagnostic& diagnostic) const;

  /// Fills `out`, reusing its memory. Mistakes in the markup do not fail: they are in
  /// out.marked.diagnostics. Fails with bad_pace or bad_box; parts of `out` may be of the new line
  /// then, and no reveal of it may go on. With `voice` the line is in step with its recording
  /// (anchors_of()).
  [[nodiscard]] tl::expected<void, Diagnostic> prepare(std::string_view markup, const Pace& pace,
                                                       const Font& font, const Box& box,
                                                       PreparedLine& out,
                                                       const VoiceTiming* voice = nullptr);
  [[nodiscard]] tl::expected<PreparedLine, Diagnostic> prepare(std::string_view markup,
                                                               const Pace& pace, const Font& font,
                                                               const Box& box,
                                                               const VoiceTiming* voice = nullptr);

  /// Lines that stand in a box together. `sounds` are all that their typing may name. A text that
  /// the box refuses is clipped, with the reason among the diagnostics. Fails with bad_pace,
  /// bad_sound, bad_box.
  [[nodiscard]] tl::expected<PreparedText, Diagnostic> prepare_together(
      std::span<const PartSource> parts, const TypingSounds& sounds, const Font& font,
      const Box& box);

  /// The first stage alone, and the first two, for looking at a text that is not shown.
  void read(std::string_view markup, MarkedText& marked);
  void read(std::string_view markup, MarkedText& marked, Steps& steps);

 private:
  void read_boundaries_of(const MarkedText& marked, const Steps& steps, const Pace& pace,
                          std::vector<Boundary>& out);
  std::span<const Anchor> find_anchors(const MarkedText& marked, const Steps& steps,
                                       const VoiceTiming* voice, VoiceSync sync);
  tl::expected<void, Diagnostic> set_in_box(const MarkedText& marked, const Steps& steps,
                                            const std::vector<Boundary>& boundaries,
                                            const Font& font, const Box& box, Layout& out);

  struct Scratch;

  Language language_;
  std::unique_ptr<Scratch> scratch_;
  Vocabulary vocabulary_;
  RowStarts starts_;
  std::vector<LanguageRun> others_;
  IconSizes icon_sizes_;
  DiagnosticHook hook_;
};

}  // namespace arvik
