#pragma once

/// Arvik times the character-by-character display of dialogue lines in games.
///
/// The model. A line of marked-up text goes one way, and each stage stands on its own:
///
///     markup ─parse─▶ MarkedText ─segment─▶ Steps ─┬─schedule(pace)────▶ Schedule ─▶ Reveal
///                                                  └─lay_out(font, box)─▶ Layout
///
/// All work that can be done once is done before the first frame. Per frame, a Reveal moves a
/// cursor along sorted arrays: it allocates nothing and costs in proportion to what newly appears.
///
/// A complete example:
///
///     arvik::Language english = arvik::Language::open("en").value();   // once
///     arvik::Typesetter typesetter(std::move(english));
///     arvik::PreparedLine line =
///         typesetter.prepare("Mind the [rate x0.5: thin ice].[hold] It sings.", arvik::Pace{},
///                            arvik::GridFont{}, arvik::Box{.width = 30}).value();
///     arvik::Reveal reveal = line.reveal();
///
///     // every frame:
///     arvik::Progress progress = reveal.tick(frame_time);
///     for (const arvik::Event& event : progress.events) game.on_event(event);
///     label.show_first(reveal.shown().code_points);
///     // the player's button:
///     if (!reveal.release_hold()) reveal.skip();
///
/// Take as much as you need. Timing only: leave the layout out, and let your engine's label show
/// the first n bytes, code points or UTF-16 units. Timing and rows: row_text() gives a string whose
/// prefixes never wrap again. Everything: Layout says where each step stands.
///
/// Units. Time is std::chrono::nanoseconds. Rates are steps per second (cps). Lengths are the
/// font's units: pixels, or cells of a grid. Text is UTF-8; offsets are bytes unless a name says
/// otherwise; a step is one extended grapheme cluster (UAX #29).
///
/// Errors. Nothing prints, aborts or throws, but for std::bad_alloc when memory runs out. What can
/// fail returns tl::expected with a Diagnostic; mistakes in markup never fail, they are listed in
/// MarkedText::diagnostics and their text is shown as it stands.
///
/// Threads. There is no global state. A Language (and so a Typesetter) serves one thread at a time;
/// results are plain values that any number of threads may read; each Reveal belongs to one thread.
///
/// Lifetimes. Results own what they hold. Only Reveal, Progress::events and EdgeWalker point into
/// other objects; handing them a temporary does not compile. What a conversation shows is a Block,
/// which lives for as long as anybody holds it.

#include "arvik/anchors.hpp"
#include "arvik/block.hpp"
#include "arvik/boundaries.hpp"
#include "arvik/box.hpp"
#include "arvik/conversation.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/dialogue_line.hpp"
#include "arvik/entrances.hpp"
#include "arvik/font.hpp"
#include "arvik/frame.hpp"
#include "arvik/language.hpp"
#include "arvik/language_runs.hpp"
#include "arvik/layout.hpp"
#include "arvik/markup.hpp"
#include "arvik/pace.hpp"
#include "arvik/place.hpp"
#include "arvik/player_settings.hpp"
#include "arvik/reveal.hpp"
#include "arvik/schedule.hpp"
#include "arvik/stage.hpp"
#include "arvik/steps.hpp"
#include "arvik/typesetter.hpp"
#include "arvik/typing_player.hpp"
#include "arvik/typing_sound.hpp"
#include "arvik/units.hpp"
