// What changes under a running line: box, font, language, script, and the process itself. All of it
// is one thing: the place is taken, a new block is made, and the place is found again in it.
//
// Guarded by tests/conversation/conversation_test.cpp and tests/conversation/survival_test.cpp.

#include <algorithm>

#include "../base/failure.hpp"
#include "../base/random.hpp"
#include "block.hpp"
#include "impl.hpp"

namespace arvik {

using base::failure;
using conversation::is_in_line;

namespace {

tl::unexpected<Diagnostic> bad_place(const std::string& reason) {
  return failure(DiagnosticCode::bad_place, "these lines have no such place: " + reason);
}

bool has_begun(ConversationState state) {
  return is_in_line(state) || state == ConversationState::closing;
}

// The line with an id; nothing if there is none. Where ids stand twice, that at `index` goes
// before.
std::optional<std::uint32_t> line_of_id(const std::vector<DialogueLine>& lines, std::string_view id,
                                        std::uint32_t index = 0) {
  if (index < lines.size() && lines[index].id == id) return index;
  const auto found = std::find_if(lines.begin(), lines.end(),
                                  [&](const DialogueLine& line) { return line.id == id; });
  if (found == lines.end()) return std::nullopt;
  return static_cast<std::uint32_t>(found - lines.begin());
}

// What is wrong with a place in itself.
std::optional<std::string> find_contradiction(const ConversationPlace& place) {
  const ConversationTimes& times = place.times;
  for (const Nanoseconds time :
       {times.clock, times.since, times.line_time, times.part_time, times.grace_left}) {
    if (time < Nanoseconds::zero() || time > max_duration) return "a time is out of range";
  }
  RevealState wanted = RevealState::finished;
  if (times.state == ConversationState::revealing) wanted = RevealState::revealing;
  if (times.state == ConversationState::holding) wanted = RevealState::holding;
  if (has_begun(times.state) && place.in_line.state != wanted) {
    return "the line is in another state than the conversation";
  }
  return std::nullopt;
}

}  // namespace

// Puts the reveal of line `at` into a block that is not shared yet.
void Conversation::Impl::relocate_into(Block& wanted, std::uint32_t at, const LinePlace& in_line) {
  PreparedPart& part = wanted.lines[at - wanted.first_line].part;
  Relocation relocation = relocate(in_line, part.marked.text, part.schedule);
  wanted.overdue = std::move(relocation.overdue);
  wanted.portrait = std::string(portrait);
  before = std::move(relocation.before);
  overdue_told = wanted.overdue.empty();
  reveal = Reveal(part.steps, part.schedule);
  speed_is_set = false;
  // relocate() returns a place for any place. Were it none, the line would begin anew without what
  // has passed.
  (void)reveal.go_to(relocation.place);
}

// Makes the block of the line `at` of `wanted` and goes on in it at the present place.
tl::expected<void, Diagnostic> Conversation::Impl::rebuild(DialogueLines wanted, std::uint32_t at) {
  const ConversationState state = machine.state();
  const bool is_open = state != ConversationState::closed && !wanted->empty();
  if (!is_open) {  // but a box that holds no text is refused at any time
    Box clipping = box;
    clipping.overflow = Overflow::clip;
    if (auto laid = lay_out({}, Steps{}, typesetter->language(), *font, clipping); !laid) {
      return tl::unexpected(std::move(laid.error()));
    }
    lines = std::move(wanted);
    next.reset();
    return {};
  }
  const DialogueLines told_before = std::exchange(lines, std::move(wanted));
  const BlockRequest needed = request(conversation::first_of_block(*lines, at));
  const bool same = block != nullptr && lines == told_before && block->box == needed.box &&
                    block->font == needed.font;
  if (same) return {};
  auto made = conversation::make_block(needed, *typesetter);
  if (!made) {
    lines = told_before;
    return tl::unexpected(std::move(made.error()));
  }
  next.reset();
  const bool same_text = block != nullptr && (*made)->marked.text == block->marked.text;
  const LinePlace in_line = place().in_line;
  line = at;
  if (has_begun(state)) {
    relocate_into(**made, at, in_line);
    put_block(std::move(*made));
    portrait = block->portrait;
    typing.replace(own().part.typing, reveal.position());
    if (!same_text || entrances.shown().size() != shown()) {
      entrances.begin(block->steps.size());
      entrances.put(shown());
    }
    settle_state();
  } else {
    put_block(std::move(*made));
    entrances.begin(block->steps.size());
  }
  return {};
}

// In another block a hold may be gone, and so may answers.
void Conversation::Impl::settle_state() {
  const ConversationState state = machine.state();
  ConversationState fitting = state;
  if (state == ConversationState::holding && reveal.state() != RevealState::holding) {
    fitting = ConversationState::revealing;
  }
  if (state == ConversationState::waiting || state == ConversationState::choosing) {
    fitting = has_choice() ? ConversationState::choosing : ConversationState::waiting;
  }
  if (fitting != state) machine.enter(fitting);
  const bool is_there =
      chosen && *chosen < own().choices.size() && own().choices[*chosen].available;
  if (!is_there) chosen.reset();
}

tl::expected<void, Diagnostic> Conversation::Impl::retell(DialogueLines wanted,
                                                          Typesetter& setter) {
  if (auto checked = check(*wanted); !checked) return checked;
  Typesetter* setter_before = std::exchange(typesetter, &setter);
  wanted = with_good_names(std::move(wanted));
  std::uint32_t at = 0;
  const bool is_open = machine.state() != ConversationState::closed && block != nullptr;
  if (is_open) {
    const auto found = find_line(*wanted, place());
    if (!found) {
      typesetter = setter_before;
      return tl::unexpected(found.error());
    }
    at = *found;
  }
  const std::shared_ptr<const Block> block_before = block;
  const std::uint32_t line_before = line;
  auto done = rebuild(std::move(wanted), at);
  if (!done) {
    typesetter = setter_before;
    return done;
  }
  if (is_open) retell_history();
  if (voice_plays && now().voice != block_before->source_line(line_before).voice) {
    voice_plays = false;
    spoken_before = block_before;
    spoken_line = line_before;
    typing.set_voice_end(machine.clock());
  }
  return {};
}

// In the words of the lines that are there now.
void Conversation::Impl::retell_history() {
  MarkedText marked;
  DialogueLines said_there = lines;
  std::string there = name;
  for (HistoryEntry& entry : told) {
    if (entry.conversation != there) {
      there = entry.conversation;
      said_there = there == name ? lines : settings.lines_of ? settings.lines_of(there) : nullptr;
    }
    if (said_there == nullptr || entry.line.empty()) continue;
    const auto at = line_of_id(*said_there, entry.line);
    if (!at) continue;
    const DialogueLine& said = (*said_there)[*at];
    typesetter->read(said.text, marked);
    entry.text = marked.text;
    entry.speaker = said.speaker;
    for (const Choice& choice : said.choices) {
      if (entry.answer.empty() || choice.id != entry.choice) continue;
      typesetter->read(choice.text, marked);
      entry.answer = marked.text;
    }
  }
}

// The line that a place means: by its id; without one by its text; else, among as many lines, by
// its index.
tl::expected<std::uint32_t, Diagnostic> Conversation::Impl::find_line(
    const std::vector<DialogueLine>& wanted, const ConversationPlace& place) const {
  if (!place.line.empty()) {
    if (const auto found = line_of_id(wanted, place.line, place.index)) return *found;
    return bad_place("line " + quoted_word(place.line) + " is gone");
  }
  const auto has_text = [&](std::uint32_t i) {
    MarkedText marked;
    typesetter->read(wanted[i].text, marked);
    return base::hash_of(marked.text) == place.in_line.text;
  };
  const auto size = static_cast<std::uint32_t>(wanted.size());
  const bool by_index = place.index < size;
  if (by_index && (!has_begun(place.times.state) || has_text(place.index))) return place.index;
  for (std::uint32_t distance = 1; distance < std::max(size, place.index); ++distance) {
    if (place.index >= distance && place.index - distance < size &&
        has_text(place.index - distance)) {
      return place.index - distance;
    }
    if (distance < size - std::min(place.index, size) && has_text(place.index + distance)) {
      return place.index + distance;
    }
  }
  if (by_index && place.lines == size) return place.index;
  return bad_place("a line without an id is found by its text, and no line has it; give lines ids");
}

ConversationPlace Conversation::Impl::place() const {
  ConversationPlace at{.conversation = name,
                       .index = line,
                       .lines = static_cast<std::uint32_t>(lines->size()),
                       .times = machine.times(),
                       .portrait = std::string(portrait),
                       .typing = typing.place(),
                       .history = told};
  if (block == nullptr || !block->has_line(line)) return at;
  at.line = block->source_line(line).id;
  if (!has_begun(machine.state())) return at;
  const PreparedPart& part = own().part;
  at.in_line = place_of(reveal, part.marked.text, part.schedule, before);
  return at;
}

tl::expected<void, Diagnostic> Conversation::Impl::start_at(DialogueLines wanted,
                                                            const ConversationPlace& place) {
  if (machine.state() != ConversationState::closed) {
    return failure(DiagnosticCode::conversation_runs,
                   "a conversation runs already: stop it, or wait until it has closed");
  }
  if (auto problem = find_problem(settings)) return tl::unexpected(std::move(*problem));
  if (auto checked = check(*wanted); !checked) return checked;
  if (const auto contradiction = find_contradiction(place)) return bad_place(*contradiction);
  const ConversationState state = place.times.state;
  wanted = with_good_names(std::move(wanted));
  std::uint32_t at = 0;
  const bool needs_line = has_begun(state) || !place.line.empty();
  if (needs_line || !wanted->empty()) {
    const auto found = find_line(*wanted, place);
    if (!found && state != ConversationState::closed) return tl::unexpected(found.error());
    at = found.value_or(0);
  }
  std::shared_ptr<Block> made;
  if (!wanted->empty() && state != ConversationState::closed) {
    const DialogueLines before_it = std::exchange(lines, wanted);
    auto block_of_line =
        conversation::make_block(request(conversation::first_of_block(*wanted, at)), *typesetter);
    lines = before_it;
    if (!block_of_line) return tl::unexpected(std::move(block_of_line.error()));
    made = std::move(*block_of_line);
  } else if (auto held = rebuild(wanted, 0); !held) {  // whether the box can hold text
    return held;
  }

  reset(std::move(wanted), place.conversation);
  line = at;
  const bool begins = place.times == ConversationTimes{.state = ConversationState::opening};
  begins ? machine.start() : machine.start_at(place.times);
  told = place.history;
  if (made == nullptr) return {};
  if (has_begun(state)) {
    portrait = place.portrait;
    relocate_into(*made, at, place.in_line);
  }
  const bool same_text =
      !has_begun(state) || base::hash_of(made->line(at).part.marked.text) == place.in_line.text;
  put_block(std::move(made));
  entrances.begin(block->steps.size());
  if (!has_begun(state)) return {};
  portrait = block->portrait;
  entrances.put(shown());
  typing.begin_at(own().part.typing, reveal.position(), place.typing);
  if (!same_text) retell_history();
  settle_state();
  return {};
}

}  // namespace arvik
