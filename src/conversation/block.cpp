// Appended lines share one layout, so that the first of them already stands where it will stand
// when the last has come. Each has its own pace, so each is scheduled alone; drawn they are as one
// line, whose schedule has them one after the other with time for entrances in between.

#include "block.hpp"

#include <algorithm>

namespace arvik::conversation {
namespace {

constexpr Nanoseconds between_lines = std::chrono::hours(2);  // longer than any entrance

template <typename Range>
void move_range(Range& range, std::size_t by) {
  range.begin += by;
  range.end += by;
}

void append(const MarkedText& line, std::size_t source_offset, MarkedText& text) {
  const std::size_t offset = text.text.size();
  text.text += line.text;
  for (Span span : line.spans) {
    move_range(span, offset);
    move_range(span.source, source_offset);
    text.spans.push_back(std::move(span));
  }
  for (Point point : line.points) {
    point.at += offset;
    move_range(point.source, source_offset);
    text.points.push_back(std::move(point));
  }
}

void append(const Steps& line, Steps& steps) {
  const Extent before = steps.extents.back();
  for (std::size_t i = 1; i < line.extents.size(); ++i) {
    const Extent& extent = line.extents[i];
    steps.extents.push_back({before.bytes + extent.bytes, before.code_points + extent.code_points,
                             before.utf16_units + extent.utf16_units});
  }
  steps.kinds.insert(steps.kinds.end(), line.kinds.begin(), line.kinds.end());
  steps.right_to_left = steps.right_to_left || line.right_to_left;
}

// Those starts of the text that lie inside a line, counted from its begin.
std::vector<std::uint32_t> inside(const std::vector<std::uint32_t>& starts, const BlockLine& line) {
  std::vector<std::uint32_t> own;
  for (const std::uint32_t start : starts) {
    const bool begins_line = start == line.first_step && line.first_step == 0;
    if (!begins_line && start >= line.first_step && start < line.first_step + line.steps.size()) {
      own.push_back(start - line.first_step);
    }
  }
  return own;
}

}  // namespace

void lay_out_again(std::span<const DialogueLine> lines, Typesetter& typesetter, const Font& font,
                   const Box& box, const ConversationSettings& settings, Block& block) {
  ConversationText& text = block.text;
  Language& language = typesetter.language();
  block.diagnostics.clear();
  for (const BlockLine& line : block.lines) {
    const auto& own = line.marked.diagnostics;
    block.diagnostics.insert(block.diagnostics.end(), own.begin(), own.end());
  }
  const auto laid = lay_out(text.marked, text.steps, language, font, box, text.layout);
  if (!laid) {
    block.diagnostics.push_back(laid.error());
    typesetter.tell(laid.error());
    Box clipping = box;
    clipping.overflow = Overflow::clip;
    // start() and set_box() have seen that such a box holds text.
    (void)lay_out(text.marked, text.steps, language, font, clipping, text.layout);
  }
  const auto& of_layout = text.layout.diagnostics;
  block.diagnostics.insert(block.diagnostics.end(), of_layout.begin(), of_layout.end());
  typesetter.tell(of_layout);
  const RowStarts starts = row_starts(text.layout);
  text.schedule = {};
  for (std::size_t i = 0; i < block.lines.size(); ++i) {
    BlockLine& line = block.lines[i];
    const Pace pace = adjusted(settings.player, lines[i].pace);
    // start() has seen that the pace is good.
    (void)schedule(line.marked, line.steps, language, pace, line.schedule,
                   {inside(starts.rows, line), inside(starts.pages, line)});
    // Nor can a sound be bad.
    line.typing = plan_typing(line.marked, line.steps, language, line.schedule, settings.sounds,
                              lines[i].typing, lines[i].pace)
                      .value_or(TypingPlan{});
    for (const auto* problems : {&line.schedule.diagnostics, &line.typing.diagnostics}) {
      block.diagnostics.insert(block.diagnostics.end(), problems->begin(), problems->end());
      typesetter.tell(*problems);
    }
    line.begin =
        i == 0 ? Nanoseconds::zero() : add_saturated(text.schedule.duration, between_lines);
    for (const Nanoseconds onset : line.schedule.onsets) {
      text.schedule.onsets.push_back(add_saturated(line.begin, onset));
    }
    text.schedule.duration = add_saturated(line.begin, line.schedule.duration);
  }
}

void prepare_block(std::span<const DialogueLine> lines, Typesetter& typesetter, const Font& font,
                   const Box& box, const ConversationSettings& settings, Block& out) {
  out.lines.clear();
  out.text = {};
  std::size_t source_offset = 0;
  for (const DialogueLine& dialogue : lines) {
    BlockLine& line = out.lines.emplace_back();
    parse(dialogue.text, line.marked, typesetter.vocabulary());
    typesetter.tell(line.marked.diagnostics);
    typesetter.language().segment(line.marked.text, line.steps);
    line.first_step = out.text.steps.size();
    append(line.marked, source_offset, out.text.marked);
    append(line.steps, out.text.steps);
    source_offset += dialogue.text.size() + 1;
  }
  lay_out_again(lines, typesetter, font, box, settings, out);
}

}  // namespace arvik::conversation
