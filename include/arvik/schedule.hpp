#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/anchors.hpp"
#include "arvik/boundaries.hpp"
#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/markup.hpp"
#include "arvik/pace.hpp"
#include "arvik/steps.hpp"

namespace arvik {

/// The rest after a step, for the steps that have one.
struct StepPause {
  std::uint32_t step = 0;
  Nanoseconds automatic{};  ///< by punctuation, from the pace
  Nanoseconds written{};    ///< by `[pause T]`
  BoundaryKind reason{};    ///< of the automatic part
};

enum class EventKind : std::uint8_t {
  mark,
  mark_begin,
  mark_end,
  hold,
  finish,
  page,          ///< a new page begins; behind the hold at the end of the last one
  sound,         ///< a one-off sound
  typing_begin,  ///< another typing sound from here on …
  typing_end,
  mute_begin,  ///< … or none
  mute_end,
  portrait  ///< the speaker's portrait changes
};

/// "mark", "mark_begin", …, as in exported files.
[[nodiscard]] ARVIK_API std::string_view event_kind_name(EventKind kind);

/// Something that the game is told of at an exact time.
struct Event {
  EventKind kind{};
  /// How many steps stand before the event; the step with this index follows it.
  std::uint32_t step = 0;
  Nanoseconds time{};  ///< from the start of the line
  std::string name{};  ///< of marks, sounds, typing sounds and portraits; else empty
  std::vector<Attribute> attributes{};
  /// Not the writer's: a page turn, or the hold before one. Another box puts it elsewhere.
  bool by_layout = false;
};

// How long a step takes beside a letter of an alphabet, in thousandths.
inline constexpr std::uint16_t letter_weight = 1000;
inline constexpr std::uint16_t kana_weight = 1300;
inline constexpr std::uint16_t syllable_weight = 2000;  ///< Hangul
inline constexpr std::uint16_t ideograph_weight = 3000;

/// The weight of each step; empty if all are letter_weight. With them an English line of 30
/// characters and its translations of 16 in Japanese or Korean and of 10 in Chinese last alike.
ARVIK_API void step_weights(const Steps& steps, std::vector<std::uint16_t>& out);

/// When everything in a line happens. Stands without text, steps and layout.
struct Schedule {
  std::vector<Nanoseconds> onsets{};  ///< one a step, never decreasing
  std::vector<StepPause> pauses{};    ///< by step; only of steps that have one
  std::vector<Event>
      events{};            ///< by time, then in the order of the text; the last is the only finish
  Nanoseconds duration{};  ///< when the line finishes; holds take no time
  /// How many letters of an alphabet its steps are worth (Pace::by_script); their number otherwise.
  double letters = 0;
  /// Warnings: fit_too_short, bad_anchor.
  std::vector<Diagnostic> diagnostics{};
};

/// Times a line. `steps` must be the steps of `marked.text`, segmented by `language`.
///
/// onset[0] is 0, plus written pauses at the line's begin;
/// onset[i+1] = onset[i] + interval[i] + pause[i]. The interval is 1/rate, times the step's weight
/// (Pace::by_script, Pace::blank); row ends and unseen
/// steps have none, nor has any but the last step of a `whole` span. Automatic pauses after the
/// last step with ink are left out, so that they never delay the finish. A hold cancels the
/// automatic pause before it.
///
/// Where words or rows appear at once, all their steps have the onset of the first, and their
/// intervals together pass before the next step. Written pauses, holds and page turns inside a word
/// or row cut it in two.
///
/// Where the line must last a given time (Pace::fit, least, most), intervals and pauses are scaled
/// together, or the intervals alone (FitPauses::keep). If the pauses alone are longer than that,
/// they are scaled, too, and a fit_too_short warning says so. A line with nothing to scale waits at
/// its end. The duration is then exact.
///
/// `anchors` are steps that appear at given times, as a recorded voice speaks them; `[at T]` in the
/// text is one, for the step after it. The line is cut there, and each piece is stretched by
/// itself, in the same way: its first step appears exactly on time, the others in proportion. After
/// the last anchor the line goes on at its own pace. Anchors that contradict each other, the text
/// or the line's length are left out, each with a bad_anchor warning; those with a confidence below
/// 1 are dropped without a warning. `[at T]` wins over anchors.
///
/// `starts` are those of the line's layout; without them rows end where the writer ends them, and
/// there is one page. `boundaries` are those of the text, read with the pace's abbreviations and
/// characters; null: they are read here. Each page but the first begins with a hold, unless the
/// writer put one there, and then a page event. A page that begins at step 0 (of a line that is
/// appended to another) turns without a hold.
///
/// Fails with bad_pace; `out` is unchanged then. Linear; reuses the memory of `out`.
[[nodiscard]] ARVIK_API tl::expected<void, Diagnostic> schedule(
    const MarkedText& marked, const Steps& steps, Language& language, const Pace& pace,
    Schedule& out, const RowStarts& starts = {}, const std::vector<Boundary>* boundaries = nullptr,
    std::span<const Anchor> anchors = {});
[[nodiscard]] tl::expected<Schedule, Diagnostic> schedule(const MarkedText& marked,
                                                          const Steps& steps, Language& language,
                                                          const Pace& pace = {},
                                                          const RowStarts& starts = {});

}  // namespace arvik
