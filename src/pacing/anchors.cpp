// Anchors cut a line into pieces, each of which is stretched for itself. What is wrong with them is
// found before the first walk, but for one thing that only the walk knows: whether a step is shown
// together with the one before it.
//
// Guarded by tests/pacing/anchors_test.cpp.

#include "anchors.hpp"

#include <algorithm>
#include <string>

#include "../base/random.hpp"

namespace arvik::pacing {
namespace {

std::string seconds(Nanoseconds time) {
  const std::string parts = std::to_string(1000 + time / std::chrono::milliseconds(1) % 1000);
  return std::to_string(time / std::chrono::seconds(1)) + "." + parts.substr(1) + " s";
}

void collect_written(const MarkedText& marked, const Steps& steps, std::vector<Cut>& out) {
  std::uint32_t step = 0;
  for (const Point& point : marked.points) {
    const auto* at = std::get_if<tag::At>(&point.what);
    if (at == nullptr) continue;
    step = steps.step_from(point.at, step);
    out.push_back({.step = step, .time = at->time, .written = true, .source = point.source});
  }
}

// Puts the anchors between what is written, in one order.
void add_anchors(std::span<const Anchor> anchors, std::vector<Cut>& out) {
  const auto written = static_cast<std::ptrdiff_t>(out.size());
  for (const Anchor& anchor : anchors) {
    out.push_back({.step = anchor.step, .time = anchor.time, .told = anchor.confidence >= 1});
  }
  const auto by_step = [](const Cut& a, const Cut& b) { return a.step < b.step; };
  std::stable_sort(out.begin() + written, out.end(), by_step);
  std::inplace_merge(out.begin(), out.begin() + written, out.end(), by_step);
}

}  // namespace

void refuse(Cut& cut, const MarkedText& marked, const Steps& steps, const std::string& reason,
            DiagnosticSink& problems) {
  cut.valid = false;
  if (!cut.told) return;
  std::string what = "[at] " + seconds(cut.time);
  if (!cut.written) {
    what = "the anchor of step " + std::to_string(cut.step) + " at " + seconds(cut.time);
    if (cut.step < steps.size()) {
      what += " (" + quoted_word(steps.text(marked.text, cut.step)) + ")";
    }
  }
  problems.add({.code = DiagnosticCode::bad_anchor,
                .severity = Severity::warning,
                .message = what + " is left out: " + reason,
                .range = cut.source});
}

void collect_cuts(const MarkedText& marked, const Steps& steps, std::span<const Anchor> anchors,
                  std::optional<Nanoseconds> most, DiagnosticSink& problems,
                  std::vector<Cut>& out) {
  out.clear();
  collect_written(marked, steps, out);
  if (!anchors.empty()) add_anchors(anchors, out);
  const auto refused = [&](Cut& cut, const std::string& reason) {
    refuse(cut, marked, steps, reason, problems);
  };
  // What is written, first; then the anchors, each against its neighbours.
  Nanoseconds last{};
  for (Cut& cut : out) {
    if (!cut.written) continue;
    if (cut.time < last) {
      refused(cut, "what stands before it comes later, at " + seconds(last));
    } else if (most && cut.time > *most) {
      refused(cut, "the line lasts only " + seconds(*most));
    } else {
      last = cut.time;
    }
  }
  // The earliest time that is written behind each cut, from the end on.
  std::vector<Nanoseconds> behind(out.size(), most.value_or(max_duration));
  for (std::size_t i = out.size(); i-- > 1;) {
    const bool counts = out[i].written && out[i].valid;
    behind[i - 1] = counts ? out[i].time : behind[i];
  }
  last = {};
  const Cut* before = nullptr;
  for (std::size_t i = 0; i < out.size(); ++i) {
    Cut& cut = out[i];
    if (!cut.valid) continue;
    if (!cut.written) {
      if (cut.step >= steps.size()) {
        refused(cut, "the text has only " + std::to_string(steps.size()) + " steps");
      } else if (cut.time < Nanoseconds::zero() || cut.time > max_duration) {
        refused(cut, "it must be 0 to one hour");
      } else if (before != nullptr && before->step == cut.step) {
        refused(cut, "this step has a time already, " + seconds(before->time));
      } else if (cut.time < last) {
        refused(cut, "what stands before it comes later, at " + seconds(last));
      } else if (cut.time > behind[i]) {
        refused(cut, "what follows comes earlier, at " + seconds(behind[i]));
      }
      if (!cut.valid) continue;
    }
    last = cut.time;
    before = &cut;
  }
}

void make_pieces(std::span<const Cut> cuts, const Clock& whole, std::optional<Nanoseconds> end,
                 bool keep_pauses, std::vector<Piece>& out) {
  out.clear();
  Piece piece;
  const auto close = [&](Nanoseconds intervals, Nanoseconds pauses, Nanoseconds time) {
    const Nanoseconds target = time - piece.begin;
    const Nanoseconds own_pauses = pauses - piece.pauses;
    const bool keep = keep_pauses && own_pauses <= target;
    piece.stretch = {keep ? Stretch::What::intervals : Stretch::What::all,
                     intervals - piece.intervals, own_pauses, target};
    out.push_back(piece);
    piece = {.stretch = {}, .intervals = intervals, .pauses = pauses, .begin = time};
  };
  for (const Cut& cut : cuts) {
    if (cut.valid) close(cut.intervals, cut.pauses, cut.time);
  }
  if (end) {
    close(whole.intervals(), whole.pauses(), *end);
  } else {
    out.push_back(piece);
  }
}

}  // namespace arvik::pacing

namespace arvik {

std::uint64_t text_fingerprint(std::string_view text) { return base::hash_of(text); }

void anchors_of(const VoiceTiming& timing, VoiceSync sync, std::string_view text,
                const Steps& steps, std::vector<Anchor>& out) {
  out.clear();
  if (sync == VoiceSync::free || timing.end <= timing.begin) return;
  if (sync == VoiceSync::align && !timing.anchors.empty() &&
      timing.text == text_fingerprint(text)) {
    out = timing.anchors;
    return;
  }
  std::uint32_t first = 0;
  std::uint32_t end = steps.size();
  while (first < end && !has_ink(steps.kinds[first])) ++first;
  while (first < end && !has_ink(steps.kinds[end - 1])) --end;
  if (first == end) return;
  constexpr float found = 0.5F;
  out.push_back({first, timing.begin, found});
  if (end - 1 > first) out.push_back({end - 1, timing.end, found});
}

}  // namespace arvik
