#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "arvik/anchors.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/markup.hpp"
#include "arvik/steps.hpp"
#include "clock.hpp"

namespace arvik::pacing {

/// A place where a line must have come at a given time: an anchor, or `[at T]`.
struct Cut {
  std::uint32_t step = 0;  ///< that follows; the number of steps: the finish
  Nanoseconds time{};
  bool written = false;  ///< by `[at T]`: it stands among the edges of the text
  bool told = true;      ///< whether its owner hears of a contradiction
  bool valid = true;
  bool inside_unit = false;  ///< shown together with the step before it: found by the first walk
  TextRange source{};        ///< of `[at T]`
  // Where the cut stands in the line's own time, found by the first walk over it.
  Nanoseconds intervals{};
  Nanoseconds pauses{};
};

/// The cuts of a line in the order in which a walk meets them: `[at T]` in the order of the text,
/// and before the step of an anchor all that is written there. Those that contradict each other or
/// the text are not valid, and told; an anchor that was found (confidence below 1) gives way
/// without a word. What the writer asks for stands above anchors. `most`: of the line, if it is
/// given.
void collect_cuts(const MarkedText& marked, const Steps& steps, std::span<const Anchor> anchors,
                  std::optional<Nanoseconds> most, DiagnosticSink& problems, std::vector<Cut>& out);

/// Tells that a cut cannot be kept, and why.
void refuse(Cut& cut, const MarkedText& marked, const Steps& steps, const std::string& reason,
            DiagnosticSink& problems);

/// The pieces between the cuts that are valid, and the one behind the last of them. `end`: what the
/// line must last, if anything. `whole` has the line's own time.
void make_pieces(std::span<const Cut> cuts, const Clock& whole, std::optional<Nanoseconds> end,
                 bool keep_pauses, std::vector<Piece>& out);

}  // namespace arvik::pacing
