// A block is what the pipeline makes of a line and those that are appended to it, with the answers
// that stand below. Guarded by tests/conversation/block_test.cpp.

#include "block.hpp"

#include <algorithm>
#include <deque>
#include <variant>

namespace arvik {
namespace {

// Whether a text shows nothing, but something happens in it.
bool shows_nothing(const PreparedPart& part) {
  const auto& kinds = part.steps.kinds;
  if (std::any_of(kinds.begin(), kinds.end(), has_ink)) return false;
  return std::any_of(
      part.schedule.events.begin(), part.schedule.events.end(), [](const Event& event) {
        return event.kind == EventKind::mark || event.kind == EventKind::mark_begin ||
               event.kind == EventKind::sound || event.kind == EventKind::portrait;
      });
}

tl::expected<ChoiceText, Diagnostic> prepare_choice(const Choice& choice,
                                                    const BlockRequest& request,
                                                    Typesetter& typesetter) {
  const PartSource source{.markup = choice.text};
  auto text = typesetter.prepare_together({&source, 1}, {}, *request.font, request.choice_box);
  if (!text) return tl::unexpected(std::move(text.error()));
  return ChoiceText{.id = choice.id,
                    .available = choice.available,
                    .marked = std::move(text->marked),
                    .steps = std::move(text->steps),
                    .layout = std::move(text->layout)};
}

}  // namespace

namespace conversation {

std::uint32_t first_of_block(const std::vector<DialogueLine>& lines, std::uint32_t line) {
  while (line > 0 && lines[line].append) --line;
  return line;
}

tl::expected<std::shared_ptr<Block>, Diagnostic> make_block(const BlockRequest& request,
                                                            Typesetter& typesetter) {
  const std::vector<DialogueLine>& all = *request.lines;
  std::size_t end = request.first_line + std::size_t{1};
  while (end < all.size() && all[end].append) ++end;
  const auto said = std::span(all).subspan(request.first_line, end - request.first_line);

  std::vector<PartSource> sources;
  std::deque<Pace> calm;  // whose addresses stay
  for (const DialogueLine& line : said) {
    const Pace* pace = &*line.pace;
    if (request.reduced_motion) pace = &calm.emplace_back(with_reduced_motion(line.pace));
    sources.push_back({.markup = line.text,
                       .pace = pace,
                       .typing = line.typing,
                       .voice = line.timing.get(),
                       .sync = line.voice_sync});
  }
  auto text = typesetter.prepare_together(sources, request.sounds, *request.font, request.box);
  if (!text) return tl::unexpected(std::move(text.error()));

  auto block = std::make_shared<Block>();
  block->source = request.lines;
  block->first_line = request.first_line;
  block->marked = std::move(text->marked);
  block->steps = std::move(text->steps);
  block->layout = std::move(text->layout);
  block->box = request.box;
  block->font = request.font;
  block->diagnostics = std::move(text->diagnostics);
  for (std::size_t i = 0; i < said.size(); ++i) {
    BlockLine& line = block->lines.emplace_back();
    line.part = std::move(text->parts[i]);
    const auto& sounding = line.part.typing.steps;
    line.heard = !line.part.typing.loops.empty() ||
                 std::any_of(sounding.begin(), sounding.end(),
                             [](const StepSound& step) { return step.sound != StepSound::none; });
    line.silent = shows_nothing(line.part) && said[i].choices.empty() && said[i].voice.empty() &&
                  !said[i].automatic;
    for (const Choice& choice : said[i].choices) {
      auto prepared = prepare_choice(choice, request, typesetter);
      if (!prepared) return tl::unexpected(std::move(prepared.error()));
      line.choices.push_back(std::move(*prepared));
    }
  }
  return block;
}

}  // namespace conversation

tl::expected<std::shared_ptr<const Block>, Diagnostic> prepare_block(const BlockRequest& request,
                                                                     Typesetter& typesetter) {
  return conversation::make_block(request, typesetter);
}

}  // namespace arvik
