// A tick is cut at every moment at which the state changes, so that what happens, and when, does
// not depend on how time was cut into ticks. Times inside a line come from the reveal: how much
// real time must pass until a moment of the line.
//
// Guarded by tests/conversation/conversation_test.cpp, against an independent model.

#include <algorithm>

#include "../base/failure.hpp"
#include "block.hpp"
#include "impl.hpp"

namespace arvik {

using conversation::is_in_line;
using conversation::Machine;

void Conversation::Impl::emit(ConversationEventKind kind, bool skipped) {
  ConversationEvent& event = events.emplace_back();
  event.kind = kind;
  event.time = machine.clock();
  event.line = line;
  event.skipped = skipped;
  event.block = block;
  if (kind == ConversationEventKind::line_started) event.portrait = portrait;
}

void Conversation::Impl::close() {
  machine.enter(ConversationState::closed);
  emit(ConversationEventKind::closed);
}

// --- blocks and lines

void Conversation::Impl::put_block(std::shared_ptr<const Block> wanted) {
  if (block != nullptr) past.push_back(std::move(block));
  block = std::move(wanted);
  make_room();
}

// Returns false where no block can be made of the line: it is told, and the conversation ends.
bool Conversation::Impl::begin_block(std::uint32_t first) {
  const BlockRequest wanted = request(first);
  const auto fits = [&](const std::shared_ptr<const Block>& ready) {
    return ready != nullptr && ready->source == lines && ready->first_line == first;
  };
  std::shared_ptr<const Block> ready;
  if (fits(next)) {
    ready = std::move(next);
  } else if (auto made = prepare_block(wanted, *typesetter)) {
    ready = std::move(*made);
  } else {
    typesetter->tell(made.error());
    return false;
  }
  next.reset();
  put_block(std::move(ready));
  entrances.begin(block->steps.size());
  return true;
}

void Conversation::Impl::start_line() {
  // While the box opened, its block stood there already.
  const bool stands = block != nullptr && block->source == lines && block->has_line(line);
  if (!stands && !begin_block(line)) {
    machine.enter(ConversationState::closing);
    return;
  }
  reveal = Reveal(own().part.steps, own().part.schedule);
  speed_is_set = false;
  before = {};
  overdue_told = true;
  chosen.reset();
  portrait = block->source_line(line).portrait;
  machine.begin_line();
  typing.begin(own().part.typing);
  begin_voice();
  emit(ConversationEventKind::line_started);
}

void Conversation::Impl::leave_line() {
  end_sounds();
  if (auto shown_line = entry()) told.push_back(std::move(*shown_line));
  emit(ConversationEventKind::line_left);
  if (chosen && !now().choices[*chosen].leads_to.empty()) {
    follow_choice(now().choices[*chosen]);
  } else if (line + 1 < lines->size()) {
    ++line;
    start_line();
  } else {
    machine.enter(ConversationState::closing);
  }
}

void Conversation::Impl::follow_choice(const Choice& choice) {
  const std::string where = choice.leads_to;  // it lives in the lines that are left
  DialogueLines found = settings.lines_of ? settings.lines_of(where) : nullptr;
  tl::expected<void, Diagnostic> good;
  if (found == nullptr) {
    good = base::failure(
        DiagnosticCode::unknown_conversation,
        "an answer leads to " + quoted_word(where) + ", but there is no such conversation");
  } else {
    good = check(*found);
  }
  if (!good || found->empty()) {
    if (!good) typesetter->tell(good.error());
    machine.enter(ConversationState::closing);
    return;
  }
  lines = with_good_names(std::move(found));
  name = where;
  line = 0;
  // An answer may lead back to the block that stands, whose text is shown and whose events are
  // told.
  past.push_back(std::move(block));
  start_line();
}

// --- revealing

void Conversation::Impl::set_speed() {
  apply(settings.player, reveal);
  if (settings.voices_set_speed && voice_plays && now().timing != nullptr &&
      now().voice_sync != VoiceSync::free) {
    reveal.set_speed(Reveal::normal_speed);
  }
  if (now().instant) reveal.set_instant(true);
  speed_is_set = true;
  hurried = machine.hurries(settings.hurry_after);
  if (hurried) {
    const std::int64_t speed = std::int64_t{reveal.speed()} * settings.hurry / 1000;
    reveal.set_speed(static_cast<std::int32_t>(
        std::clamp<std::int64_t>(speed, reveal.speed(), Reveal::max_speed)));
  }
}

bool Conversation::Impl::has_choice() const {
  const auto& choices = own().choices;
  return std::any_of(choices.begin(), choices.end(),
                     [](const ChoiceText& choice) { return choice.available; });
}

// Tells an event of the line that happens now.
void Conversation::Impl::bring(const Event& event, bool skipped) {
  if (event.kind == EventKind::portrait) {
    portrait = event.name;
    emit(ConversationEventKind::portrait_changed, skipped);
    events.back().portrait = portrait;
  } else {
    emit(ConversationEventKind::revealed, skipped);
    events.back().event = &event;
  }
  if (event.kind != EventKind::finish) return;
  emit(ConversationEventKind::line_finished, skipped);
  if (own().silent) return;
  emit(has_choice() ? ConversationEventKind::choosing : ConversationEventKind::waiting, skipped);
}

// Takes what a reveal brought; `before_it` is the reveal at the clock's present time.
void Conversation::Impl::take(const Reveal& before_it, const Progress& progress) {
  for (const Event& event : progress.events) {
    const std::size_t first = events.size();
    bring(event, progress.skipped);
    if (progress.skipped) continue;
    const Nanoseconds behind = before_it.real_time_to(event.time);
    for (std::size_t i = first; i < events.size(); ++i) {
      events[i].time = add_saturated(machine.clock(), behind);
    }
  }
}

void Conversation::Impl::after_reveal() {
  if (reveal.state() == RevealState::holding) machine.enter(ConversationState::holding);
  if (reveal.state() != RevealState::finished) return;
  if (own().silent) return leave_line();
  machine.enter(has_choice() ? ConversationState::choosing : ConversationState::waiting);
}

void Conversation::Impl::show_rest() {
  const Reveal before_it = reveal;
  const Progress progress = reveal.skip();
  take(reveal, progress);
  entrances.follow(before_it, progress, {}, own().part.first_step);
  typing.follow(before_it, reveal, progress, machine.clock(), sounds);
  if (settings.skip_ends_voice) end_voice();
  machine.showed_rest(settings.grace);
  after_reveal();
}

void Conversation::Impl::go_on_from_hold() {
  reveal.release_hold();
  machine.begin_part(reveal.shown_steps());
}

// Lets time pass in a line, up to where its state changes; returns what is left.
Nanoseconds Conversation::Impl::pass_revealing(Nanoseconds time) {
  if (!speed_is_set || machine.hurries(settings.hurry_after) != hurried) set_speed();
  // It hurries from there on.
  Nanoseconds part = std::min(time, machine.until_hurry(settings.hurry_after));
  Reveal before_it = reveal;
  const auto followed = voice_position ? follow_voice(before_it, part) : std::nullopt;
  const Progress progress = followed ? *followed : reveal.tick(part);
  if (progress.events.empty() && progress.first_step == progress.end_step) {  // mostly
    entrances.pass(part);
  } else {
    if (!progress.events.empty()) take(before_it, progress);
    const bool stopped = reveal.state() != RevealState::revealing;
    if (stopped && !progress.events.empty() && !progress.skipped) {
      part = std::min(part, before_it.real_time_to(progress.events.back().time));
    } else if (stopped) {
      part = {};  // shown at once
    }
    entrances.follow(before_it, progress, part, own().part.first_step);
  }
  if (own().heard || !progress.events.empty()) {
    typing.follow(before_it, reveal, progress, machine.clock(), sounds);
  }
  machine.pass(part);
  after_reveal();
  return time - part;
}

// --- time

void Conversation::Impl::pass(Nanoseconds time) {
  machine.pass(time);
  entrances.pass(time);
}

Nanoseconds Conversation::Impl::pass_until(Nanoseconds whole, Nanoseconds time, bool& reached) {
  const Nanoseconds left = machine.pass_until(whole, time, reached);
  entrances.pass(time - left);
  return left;
}

// Lets one stretch of time pass in the present state; returns what is left of it.
Nanoseconds Conversation::Impl::step(Nanoseconds time) {
  bool reached = false;
  switch (machine.state()) {
    case ConversationState::opening:
      time = pass_until(settings.opening, time, reached);
      if (!reached) return {};
      emit(ConversationEventKind::opened);
      lines->empty() ? close() : start_line();
      return time;
    case ConversationState::revealing:
      return pass_revealing(time);
    case ConversationState::holding:
    case ConversationState::waiting: {
      const auto wait = wait_time();
      time = pass_until(wait.value_or(max_duration), time, reached);
      if (!reached) return {};
      machine.state() == ConversationState::holding ? go_on_from_hold() : leave_line();
      return time;
    }
    case ConversationState::choosing:
      pass(time);
      return {};
    case ConversationState::closing:
      time = pass_until(settings.closing, time, reached);
      if (reached) close();
      return time;
    case ConversationState::closed:
      break;
  }
  return {};
}

void Conversation::Impl::clear_tick() {
  events.clear();
  sounds.clear();
  past.clear();
}

void Conversation::Impl::tell_overdue() {
  if (spoken_before != nullptr) {
    sounds.push_back({.kind = SoundEventKind::voice_end,
                      .time = machine.clock(),
                      .name = spoken_before->source_line(spoken_line).voice,
                      .fade = settings.voice_fade});
    past.push_back(std::move(spoken_before));
  }
  if (overdue_told) return;
  overdue_told = true;
  for (const Event& event : block->overdue) {
    bring(event, true);
    if (event.kind == EventKind::sound) {
      sounds.push_back({.kind = SoundEventKind::clip,
                        .time = machine.clock(),
                        .name = event.name,
                        .step = event.step});
    }
    before.events.push_back({event.kind, event.name});
  }
}

void Conversation::Impl::tick(Nanoseconds time, Buttons buttons) {
  clear_tick();
  run(time, buttons);
  voice_position.reset();
}

void Conversation::Impl::run(Nanoseconds time, Buttons buttons) {
  if (paused) {
    if (is_in_line(machine.state())) typing.pause(machine.clock(), sounds);
    machine.look_at_paused(buttons);
    return;
  }
  const bool in_line = is_in_line(machine.state());
  if (in_line && (!overdue_told || spoken_before != nullptr)) tell_overdue();
  const bool skippable = in_line && now().skippable;
  switch (machine.look_at(buttons, skippable, settings.hurry_after)) {
    case Machine::Wish::show_rest:
      show_rest();
      break;
    case Machine::Wish::go_on:
      machine.state() == ConversationState::holding ? go_on_from_hold() : leave_line();
      break;
    case Machine::Wish::nothing:
      break;
  }
  if (chosen && machine.state() == ConversationState::choosing) {
    emit(ConversationEventKind::chosen);
    events.back().choice = *chosen;
    leave_line();
  }
  time = std::clamp(time, Nanoseconds::zero(), max_duration);
  for (;;) {
    const ConversationState state_before = machine.state();
    const Block* block_before = block.get();
    const std::uint32_t line_before = line;
    time = step(time);
    if (machine.state() == ConversationState::closed) return;
    // With no time left, go on only through states that end at once.
    const bool changed =
        machine.state() != state_before || line != line_before || block.get() != block_before;
    if (time <= Nanoseconds::zero() && !changed) return;
  }
}

void Conversation::Impl::stop() {
  clear_tick();
  if (is_in_line(machine.state())) {
    end_sounds();
    if (auto shown_line = entry()) told.push_back(std::move(*shown_line));
    emit(ConversationEventKind::line_left);
  }
  if (machine.state() != ConversationState::closed) close();
  next.reset();
  paused = false;
}

}  // namespace arvik
