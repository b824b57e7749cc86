// The stages of a line are wired here and nowhere else. Lines that stand in a box together share
// one layout; each has its own pace, so each is scheduled alone.

#include "arvik/typesetter.hpp"

#include <algorithm>

#include "../layout/text_shape.hpp"
#include "../pacing/pauses.hpp"

namespace arvik {
namespace {

template <typename Range>
void move_range(Range& range, std::size_t by) {
  range.begin += by;
  range.end += by;
}

void append(const MarkedText& part, std::size_t source_offset, MarkedText& text) {
  const std::size_t offset = text.text.size();
  text.text += part.text;
  for (Span span : part.spans) {
    move_range(span, offset);
    move_range(span.source, source_offset);
    text.spans.push_back(std::move(span));
  }
  for (Point point : part.points) {
    point.at += offset;
    move_range(point.source, source_offset);
    text.points.push_back(std::move(point));
  }
}

void append(const Steps& part, Steps& steps) {
  const Extent before = steps.extents.back();
  for (std::size_t i = 1; i < part.extents.size(); ++i) {
    const Extent& extent = part.extents[i];
    steps.extents.push_back({before.bytes + extent.bytes, before.code_points + extent.code_points,
                             before.utf16_units + extent.utf16_units});
  }
  steps.kinds.insert(steps.kinds.end(), part.kinds.begin(), part.kinds.end());
  steps.traits.insert(steps.traits.end(), part.traits.begin(), part.traits.end());
  steps.left_to_right = steps.left_to_right || part.left_to_right;
  steps.numbers = steps.numbers || part.numbers;
  steps.right_to_left = steps.right_to_left || part.right_to_left;
}

// Those starts of the text that lie inside a part, counted from its begin. The first of all needs
// no row or page to begin.
std::vector<std::uint32_t> inside(const std::vector<std::uint32_t>& starts,
                                  const PreparedPart& part) {
  std::vector<std::uint32_t> own;
  auto start = std::lower_bound(starts.begin(), starts.end(), part.first_step);
  for (; start != starts.end() && *start < part.first_step + part.steps.size(); ++start) {
    if (*start > 0) own.push_back(*start - part.first_step);
  }
  return own;
}

}  // namespace

struct Typesetter::Scratch {
  layout::Scratch layout;
  pacing::Scratch pacing;
  std::vector<Anchor> anchors;
};

Typesetter::Typesetter(Language language)
    : language_(std::move(language)), scratch_(std::make_unique<Scratch>()) {}
Typesetter::Typesetter(Typesetter&&) noexcept = default;
Typesetter& Typesetter::operator=(Typesetter&&) noexcept = default;
Typesetter::~Typesetter() = default;

void Typesetter::read(std::string_view markup, MarkedText& marked) {
  parse(markup, marked, vocabulary_, &language_);
}

void Typesetter::read(std::string_view markup, MarkedText& marked, Steps& steps) {
  read(markup, marked);
  language_.segment(marked.text, steps);
  tell(marked.diagnostics);
}

void Typesetter::read_boundaries_of(const MarkedText& marked, const Steps& steps, const Pace& pace,
                                    std::vector<Boundary>& out) {
  find_languages(marked, steps, others_);
  read_boundaries(marked.text, steps, language_, others_,
                  {.abbreviations = pace.abbreviations, .characters = pace.characters}, out);
}

std::span<const Anchor> Typesetter::find_anchors(const MarkedText& marked, const Steps& steps,
                                                 const VoiceTiming* voice, VoiceSync sync) {
  scratch_->anchors.clear();
  if (voice != nullptr) anchors_of(*voice, sync, marked.text, steps, scratch_->anchors);
  return scratch_->anchors;
}

tl::expected<void, Diagnostic> Typesetter::set_in_box(const MarkedText& marked, const Steps& steps,
                                                      const std::vector<Boundary>& boundaries,
                                                      const Font& font, const Box& box,
                                                      Layout& out) {
  return layout::lay_out(marked, steps, language_, font, box, icon_sizes_, &boundaries,
                         scratch_->layout, out)
      .map([&] {
        tell(out.diagnostics);
        row_starts(out, starts_);
      });
}

tl::expected<void, Diagnostic> Typesetter::prepare(std::string_view markup, const Pace& pace,
                                                   const Font& font, const Box& box,
                                                   PreparedLine& out, const VoiceTiming* voice) {
  read(markup, out.marked, out.steps);
  read_boundaries_of(out.marked, out.steps, pace, out.boundaries);
  auto done =
      set_in_box(out.marked, out.steps, out.boundaries, font, box, out.layout).and_then([&] {
        return pacing::schedule(out.marked, out.steps, language_, pace, starts_, &out.boundaries,
                                find_anchors(out.marked, out.steps, voice, VoiceSync::align),
                                scratch_->pacing, out.schedule);
      });
  done ? tell(out.schedule.diagnostics) : tell(done.error());
  return done;
}

tl::expected<PreparedLine, Diagnostic> Typesetter::prepare(std::string_view markup,
                                                           const Pace& pace, const Font& font,
                                                           const Box& box,
                                                           const VoiceTiming* voice) {
  PreparedLine out;
  return prepare(markup, pace, font, box, out, voice).map([&] { return std::move(out); });
}

tl::expected<PreparedText, Diagnostic> Typesetter::prepare_together(
    std::span<const PartSource> parts, const TypingSounds& sounds, const Font& font,
    const Box& box) {
  const Pace default_pace;
  PreparedText out;
  const auto keep = [&out](const std::vector<Diagnostic>& problems) {
    out.diagnostics.insert(out.diagnostics.end(), problems.begin(), problems.end());
  };
  out.parts.reserve(parts.size());
  std::size_t source_offset = 0;
  std::vector<Boundary> boundaries;  // of the whole text
  for (const PartSource& source : parts) {
    PreparedPart& part = out.parts.emplace_back();
    read(source.markup, part.marked, part.steps);
    keep(part.marked.diagnostics);
    part.first_step = out.steps.size();
    step_weights(part.steps, part.weights);
    const Pace& pace = source.pace != nullptr ? *source.pace : default_pace;
    read_boundaries_of(part.marked, part.steps, pace, part.boundaries);
    for (Boundary boundary : part.boundaries) {
      boundary.step += part.first_step;
      boundaries.push_back(boundary);
    }
    append(part.marked, source_offset, out.marked);
    append(part.steps, out.steps);
    source_offset += source.markup.size() + 1;
  }
  auto laid = set_in_box(out.marked, out.steps, boundaries, font, box, out.layout);
  if (!laid && box.overflow != Overflow::clip) {
    out.diagnostics.push_back(laid.error());
    tell(laid.error());
    Box clipping = box;
    clipping.overflow = Overflow::clip;
    laid = set_in_box(out.marked, out.steps, boundaries, font, clipping, out.layout);
  }
  if (!laid) return tl::unexpected(std::move(laid.error()));
  keep(out.layout.diagnostics);
  for (std::size_t i = 0; i < parts.size(); ++i) {
    PreparedPart& part = out.parts[i];
    const Pace& pace = parts[i].pace != nullptr ? *parts[i].pace : default_pace;
    auto timed = pacing::schedule(
        part.marked, part.steps, language_, pace,
        {inside(starts_.rows, part), inside(starts_.pages, part)}, &part.boundaries,
        find_anchors(part.marked, part.steps, parts[i].voice, parts[i].sync), scratch_->pacing,
        part.schedule);
    if (!timed) return tl::unexpected(std::move(timed.error()));
    auto planned = plan_typing(part.marked, part.steps, language_, part.schedule, sounds,
                               parts[i].typing, pace, &part.boundaries);
    if (!planned) return tl::unexpected(std::move(planned.error()));
    part.typing = std::move(*planned);
    for (const auto* problems : {&part.schedule.diagnostics, &part.typing.diagnostics}) {
      keep(*problems);
      tell(*problems);
    }
  }
  return out;
}

void Typesetter::tell(const std::vector<Diagnostic>& diagnostics) const {
  if (!hook_) return;
  for (const Diagnostic& diagnostic : diagnostics) hook_(diagnostic);
}

void Typesetter::tell(const Diagnostic& diagnostic) const {
  if (hook_) hook_(diagnostic);
}

}  // namespace arvik
