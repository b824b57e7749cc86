// A conversation is a small machine of states. A tick is cut at every moment at which the state
// changes, so that what happens, and when, does not depend on how time was cut into ticks. Times
// inside a line come from the reveal: how much real time must pass until a moment of the line.
//
// The buttons are looked at once, at the begin of a tick. A press is used up by the first state
// that sees it.
//
// Guarded by tests/conversation/conversation_test.cpp, against an independent model.

#include "arvik/conversation.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "../base/failure.hpp"
#include "../unicode/characters.hpp"
#include "block.hpp"

namespace arvik {
namespace {

using base::failure;
using conversation::Block;
using conversation::BlockLine;

bool is_in_line(ConversationState state) {
  return state == ConversationState::revealing || state == ConversationState::holding ||
         state == ConversationState::waiting;
}

}  // namespace

std::string_view conversation_state_name(ConversationState state) {
  static constexpr std::array<std::string_view, 6> names{"closed",  "opening", "revealing",
                                                         "holding", "waiting", "closing"};
  return names[static_cast<std::size_t>(state)];
}

std::string_view conversation_event_name(ConversationEventKind kind) {
  static constexpr std::array<std::string_view, 8> names{
      "opened",        "line_started", "revealed",  "portrait_changed",
      "line_finished", "waiting",      "line_left", "closed"};
  return names[static_cast<std::size_t>(kind)];
}

std::optional<Diagnostic> find_problem(const ConversationSettings& settings) {
  const auto bad = [](std::string message) {
    return Diagnostic{.code = DiagnosticCode::bad_settings,
                      .severity = Severity::error,
                      .message = std::move(message)};
  };
  struct Time {
    std::string_view name;
    Nanoseconds value;
  };
  for (const Time& time : {Time{"opening", settings.opening}, Time{"closing", settings.closing},
                           Time{"grace", settings.grace}, Time{"hurry_after", settings.hurry_after},
                           Time{"least_reading", settings.least_reading},
                           Time{"indicator_period", settings.indicator_period},
                           Time{"voice_fade", settings.voice_fade}}) {
    if (time.value < Nanoseconds::zero() || time.value > max_written_time) {
      return bad(std::string(time.name) + " is out of range: it must be 0 to one hour");
    }
  }
  if (settings.hurry < 1 || settings.hurry > Reveal::max_speed) {
    return bad("hurry is out of range: it must be 1 to " + std::to_string(Reveal::max_speed));
  }
  if (!(settings.reading_rate >= min_rate && settings.reading_rate <= max_rate)) {  // NaN, too
    return bad("reading_rate is out of range: it must be 0.01 to 100000 characters a second");
  }
  if (auto problem = find_problem(settings.player)) return problem;
  return find_problem(settings.sounds);
}

struct Conversation::Impl {
  Typesetter& typesetter;
  const Font& font;
  Box box;
  ConversationSettings settings;

  std::vector<DialogueLine> lines;
  std::unique_ptr<Block> block;              // what stands in the box
  std::vector<std::unique_ptr<Block>> past;  // what events and views of this tick may look at
  std::vector<HistoryEntry> history;
  std::vector<ConversationEvent> events;
  std::vector<SoundEvent> sounds;
  TypingPlayer typing;
  bool voice_plays = false;

  ConversationState state = ConversationState::closed;
  std::uint32_t line = 0;
  Reveal reveal;
  Nanoseconds clock{};
  Nanoseconds since{};           // in the state
  Nanoseconds line_time{};       // since the line's begin
  Nanoseconds part_time{};       // since the line's begin or the last hold in it
  std::uint32_t part_shown = 0;  // steps that were there then
  Nanoseconds shown_for{};       // since the last character came, for entrances
  Nanoseconds grace_left{};
  std::string_view portrait;  // of a line, an event, or the place that was gone to
  std::string place_portrait;
  bool paused = false;

  Buttons last{};
  bool armed = false;              // the button that is held was pressed in this line
  Nanoseconds held_for{};          // how long, while armed
  bool pressed_in_reveal = false;  // a press that will hurry, or show the rest when it ends

  Impl(Typesetter& setter, const Font& face, const Box& rectangle, ConversationSettings choices)
      : typesetter(setter), font(face), box(rectangle), settings(std::move(choices)) {
    events.reserve(32);
    sounds.reserve(32);
  }

  [[nodiscard]] const DialogueLine& now() const { return lines[line]; }
  [[nodiscard]] const BlockLine& own() const { return block->lines[line - block->first_line]; }
  [[nodiscard]] bool hurries() const { return settings.hurry_after > Nanoseconds::zero(); }

  void emit(ConversationEventKind kind, bool skipped = false) {
    ConversationEvent& event = events.emplace_back();
    event.kind = kind;
    event.time = clock;
    event.line = line;
    event.skipped = skipped;
    if (kind == ConversationEventKind::line_started) event.portrait = portrait;
  }

  void enter(ConversationState next) {
    state = next;
    since = {};
  }

  tl::expected<void, Diagnostic> check(const std::vector<DialogueLine>& wanted) const {
    if (state != ConversationState::closed) {
      return failure(DiagnosticCode::conversation_runs,
                     "a conversation runs already: stop it, or wait until it has closed");
    }
    for (const DialogueLine& entry : wanted) {
      if (auto problem = find_problem(entry.pace)) return tl::unexpected(std::move(*problem));
    }
    if (auto problem = find_problem(settings)) return tl::unexpected(std::move(*problem));
    return check(box);
  }

  // Any text can be laid out in a box that holds none, if need be clipped.
  tl::expected<void, Diagnostic> check(Box wanted) const {
    wanted.overflow = Overflow::clip;
    return lay_out({}, Steps{}, typesetter.language(), font, wanted).map([](auto&&) {});
  }

  void reset(std::vector<DialogueLine> wanted) {
    lines = std::move(wanted);
    for (DialogueLine& entry : lines) repair_names(entry);
    if (block != nullptr) past.push_back(std::move(block));
    history.clear();
    events.clear();
    sounds.clear();
    typing = {};
    voice_plays = false;
    line = 0;
    reveal = {};
    clock = since = line_time = part_time = shown_for = grace_left = held_for = {};
    part_shown = 0;
    portrait = {};
    paused = armed = pressed_in_reveal = false;
  }

  // Names go into events, sounds and saved places as they are.
  void repair_names(DialogueLine& entry) const {
    for (std::string* name :
         {&entry.id, &entry.speaker, &entry.portrait, &entry.typing, &entry.voice}) {
      if (unicode::is_valid(*name)) continue;
      *name = unicode::repaired(*name);
      typesetter.tell(
          {.code = DiagnosticCode::invalid_utf8,
           .severity = Severity::warning,
           .message = "a name of a line is not UTF-8; it is read as " + quoted_word(*name)});
    }
  }

  // --- lines

  [[nodiscard]] std::span<const DialogueLine> lines_of_block(std::uint32_t first) const {
    std::size_t end = first + 1;
    while (end < lines.size() && lines[end].append) ++end;
    return std::span(lines).subspan(first, end - first);
  }

  void prepare(std::uint32_t first) {
    if (block != nullptr) past.push_back(std::move(block));
    block = std::make_unique<Block>();
    block->first_line = first;
    conversation::prepare_block(lines_of_block(first), typesetter, font, box, settings, *block);
    make_room();
  }

  // So that no tick inside the block takes anything from the heap, however much it brings.
  void make_room() {
    std::size_t most_events = 16;
    std::size_t most_sounds = 16;
    for (const BlockLine& entry : block->lines) {
      most_events += entry.schedule.events.size() + 4;
      most_sounds +=
          entry.steps.size() + entry.schedule.events.size() + 4 * entry.typing.loops.size();
    }
    events.reserve(events.size() + most_events);
    sounds.reserve(sounds.size() + most_sounds);
  }

  void start_line() {
    const bool stands = block != nullptr && line < block->first_line + block->lines.size();
    if (!stands) prepare(line);
    reveal = Reveal(own().steps, own().schedule);
    line_time = part_time = shown_for = {};
    part_shown = 0;
    portrait = now().portrait;
    armed = pressed_in_reveal = false;
    held_for = {};
    history.push_back({now().speaker, own().marked.text});
    typing.begin(own().typing);
    begin_voice();
    emit(ConversationEventKind::line_started);
    enter(ConversationState::revealing);
  }

  [[nodiscard]] Nanoseconds voice_length() const {
    if (!settings.voice_length || now().voice.empty()) return {};
    return std::max(settings.voice_length(now().voice), Nanoseconds::zero());
  }

  void begin_voice() {
    if (now().voice.empty()) return;
    typing.set_voice_end(add_saturated(clock, voice_length()));
    sounds.push_back({.kind = SoundEventKind::voice_begin, .time = clock, .name = now().voice});
    voice_plays = true;
  }

  void end_sounds() {
    typing.stop(clock, sounds);
    typing.set_voice_end(clock);
    if (!voice_plays) return;
    voice_plays = false;
    sounds.push_back({.kind = SoundEventKind::voice_end,
                      .time = clock,
                      .name = now().voice,
                      .fade = settings.voice_fade});
  }

  void leave_line() {
    end_sounds();
    emit(ConversationEventKind::line_left);
    if (line + 1 < lines.size()) {
      ++line;
      start_line();
    } else {
      enter(ConversationState::closing);
    }
  }

  void close() {
    enter(ConversationState::closed);
    emit(ConversationEventKind::closed);
  }

  // --- revealing

  void set_speed() {
    apply(settings.player, reveal);
    if (now().instant) reveal.set_instant(true);
    if (is_hurrying()) {
      const std::int64_t speed = std::int64_t{reveal.speed()} * settings.hurry / 1000;
      reveal.set_speed(static_cast<std::int32_t>(
          std::clamp<std::int64_t>(speed, reveal.speed(), Reveal::max_speed)));
    }
  }

  [[nodiscard]] bool is_hurrying() const {
    return hurries() && armed && pressed_in_reveal && now().skippable &&
           held_for >= settings.hurry_after;
  }

  // Takes what a reveal brought; `before` is the reveal at `clock`.
  void take(const Reveal& before, const Progress& progress) {
    const Nanoseconds begin = clock;
    for (const Event& event : progress.events) {
      const Nanoseconds behind =
          progress.skipped ? Nanoseconds::zero() : before.real_time_to(event.time);
      clock = begin + behind;
      if (event.kind == EventKind::portrait) {
        portrait = event.name;
        emit(ConversationEventKind::portrait_changed, progress.skipped);
        events.back().portrait = event.name;
      } else {
        emit(ConversationEventKind::revealed, progress.skipped);
        events.back().event = &event;
      }
      if (event.kind == EventKind::finish) {
        emit(ConversationEventKind::line_finished, progress.skipped);
        emit(ConversationEventKind::waiting, progress.skipped);
      }
    }
    clock = begin;
  }

  void after_reveal() {
    if (reveal.state() == RevealState::holding) enter(ConversationState::holding);
    if (reveal.state() == RevealState::finished) enter(ConversationState::waiting);
    if (state != ConversationState::revealing) shown_for = {};
  }

  void show_rest() {
    const Reveal before = reveal;
    const Progress progress = reveal.skip();
    take(reveal, progress);
    typing.follow(before, reveal, progress, clock, sounds);
    grace_left = settings.grace;
    pressed_in_reveal = false;
    after_reveal();
  }

  // Lets time pass in a line, up to where its state changes; returns how much passed.
  Nanoseconds pass_revealing(Nanoseconds time) {
    set_speed();
    Nanoseconds part = time;
    if (armed && pressed_in_reveal && held_for < settings.hurry_after) {
      part = std::min(part, settings.hurry_after - held_for);  // it hurries from there on
    }
    const Reveal before = reveal;
    const Progress progress = reveal.tick(part);
    take(before, progress);
    typing.follow(before, reveal, progress, clock, sounds);
    const bool stopped = reveal.state() != RevealState::revealing;
    if (stopped && !progress.events.empty() && !progress.skipped) {
      part = std::min(part, before.real_time_to(progress.events.back().time));
    } else if (stopped) {
      part = {};  // shown at once
    }
    return part;
  }

  // --- time

  void pass(Nanoseconds time) {
    clock = add_saturated(clock, time);
    since = add_saturated(since, time);
    line_time = add_saturated(line_time, time);
    part_time = add_saturated(part_time, time);
    grace_left = std::max(grace_left - time, Nanoseconds::zero());
    if (armed) held_for = add_saturated(held_for, time);
    if (state == ConversationState::holding || state == ConversationState::waiting) {
      shown_for = add_saturated(shown_for, time);
    }
  }

  // How long a line waits that goes on by itself; nothing if it does not.
  [[nodiscard]] std::optional<Nanoseconds> wait_time() const {
    if (!now().automatic && !settings.play_by_itself) return std::nullopt;
    const AutoAdvance how = now().automatic.value_or(AutoAdvance{.reading = true});
    Nanoseconds wait = std::max(how.after, Nanoseconds::zero());
    if (how.reading) wait = std::max(wait, reading_time() - (part_time - since));
    if (state == ConversationState::waiting) {
      wait = std::max(wait, voice_length() - (line_time - since));
    }
    return wait;
  }

  // Of what came since the line's begin or the last hold in it.
  [[nodiscard]] Nanoseconds reading_time() const {
    const double seconds =
        static_cast<double>(reveal.shown_steps() - part_shown) / settings.reading_rate;
    const double most = in_seconds(max_written_time);
    const auto time = std::chrono::duration_cast<Nanoseconds>(
        std::chrono::duration<double>(std::min(seconds, most)));
    return std::max(time, settings.least_reading);
  }

  // --- buttons

  void look_at(Buttons buttons) {
    const bool pressed = buttons.advance && !last.advance;
    const bool released = !buttons.advance && last.advance;
    const bool skip_pressed = buttons.skip && !last.skip;
    last = buttons;
    if (pressed) {
      armed = true;
      held_for = {};
    }
    const bool shows_rest =
        released && armed && pressed_in_reveal && held_for < settings.hurry_after;
    if (released) armed = false;
    if (state == ConversationState::revealing) {
      const bool counts = is_graceless();
      if (hurries() && pressed && counts) pressed_in_reveal = true;
      if (released) pressed_in_reveal = false;
      const bool tapped = hurries() ? shows_rest : pressed && counts;
      if ((tapped || (skip_pressed && counts)) && now().skippable) show_rest();
      return;
    }
    if (!pressed || !is_graceless()) return;
    if (state == ConversationState::holding)
      go_on_from_hold();
    else if (state == ConversationState::waiting)
      leave_line();
  }

  [[nodiscard]] bool is_graceless() const { return grace_left <= Nanoseconds::zero(); }

  void go_on_from_hold() {
    reveal.release_hold();
    part_time = {};
    part_shown = reveal.shown_steps();
    pressed_in_reveal = false;
    enter(ConversationState::revealing);
  }

  // Lets one stretch of time pass in the present state; returns what is left of it.
  Nanoseconds step(Nanoseconds time) {
    switch (state) {
      case ConversationState::opening: {
        const Nanoseconds part = std::clamp(settings.opening - since, Nanoseconds::zero(), time);
        pass(part);
        if (since < settings.opening) return {};
        emit(ConversationEventKind::opened);
        if (lines.empty()) {
          close();
        } else {
          start_line();
        }
        return time - part;
      }
      case ConversationState::revealing: {
        const Nanoseconds part = pass_revealing(time);
        pass(part);
        after_reveal();
        return time - part;
      }
      case ConversationState::holding:
      case ConversationState::waiting: {
        const auto wait = wait_time();
        const Nanoseconds part = wait ? std::clamp(*wait - since, Nanoseconds::zero(), time) : time;
        pass(part);
        if (!wait || since < *wait) return {};
        state == ConversationState::holding ? go_on_from_hold() : leave_line();
        return time - part;
      }
      case ConversationState::closing: {
        const Nanoseconds part = std::clamp(settings.closing - since, Nanoseconds::zero(), time);
        pass(part);
        if (since >= settings.closing) close();
        return time - part;
      }
      case ConversationState::closed:
        break;
    }
    return {};
  }

  void tick(Nanoseconds time, Buttons buttons) {
    past.clear();
    events.clear();
    sounds.clear();
    if (paused) {
      if (is_in_line(state)) typing.pause(clock, sounds);
      last = buttons;
      return;
    }
    look_at(buttons);
    time = std::clamp(time, Nanoseconds::zero(), max_duration);
    for (;;) {
      const ConversationState before = state;
      const std::uint32_t line_before = line;
      time = step(time);
      if (state == ConversationState::closed) return;
      // With no time left, go on only through states that end at once.
      const bool changed = state != before || line != line_before;
      if (time <= Nanoseconds::zero() && !changed) return;
    }
  }
};

Conversation::Conversation(Typesetter& typesetter, const Font& font, const Box& box,
                           ConversationSettings settings)
    : impl_(std::make_unique<Impl>(typesetter, font, box, std::move(settings))) {}
Conversation::Conversation(Conversation&&) noexcept = default;
Conversation& Conversation::operator=(Conversation&&) noexcept = default;
Conversation::~Conversation() = default;

tl::expected<void, Diagnostic> Conversation::start(std::vector<DialogueLine> lines) {
  return impl_->check(lines).map([&] {
    impl_->reset(std::move(lines));
    impl_->enter(ConversationState::opening);
  });
}

std::span<const ConversationEvent> Conversation::tick(Nanoseconds time, Buttons buttons) {
  impl_->tick(time, buttons);
  return impl_->events;
}

std::span<const ConversationEvent> Conversation::stop() {
  Impl& impl = *impl_;
  impl.events.clear();
  impl.sounds.clear();
  if (is_in_line(impl.state)) {
    impl.end_sounds();
    impl.emit(ConversationEventKind::line_left);
  }
  if (impl.state != ConversationState::closed) impl.close();
  impl.paused = false;
  return impl.events;
}

std::span<const SoundEvent> Conversation::sounds() const { return impl_->sounds; }
std::uint32_t Conversation::swallowed_sounds() const { return impl_->typing.swallowed(); }
void Conversation::pause() { impl_->paused = true; }
void Conversation::resume() { impl_->paused = false; }
bool Conversation::paused() const { return impl_->paused; }
ConversationState Conversation::state() const { return impl_->state; }
std::uint32_t Conversation::line() const { return impl_->line; }
const std::vector<DialogueLine>& Conversation::lines() const { return impl_->lines; }
Nanoseconds Conversation::clock() const { return impl_->clock; }
const std::vector<HistoryEntry>& Conversation::history() const { return impl_->history; }
const ConversationSettings& Conversation::settings() const { return impl_->settings; }

tl::expected<void, Diagnostic> Conversation::set_settings(ConversationSettings settings) {
  if (auto problem = find_problem(settings)) return tl::unexpected(std::move(*problem));
  impl_->settings = std::move(settings);
  return {};
}

tl::expected<void, Diagnostic> Conversation::set_player(PlayerSettings player) {
  if (auto problem = find_problem(player)) return tl::unexpected(std::move(*problem));
  impl_->settings.player = std::move(player);
  return {};
}

std::vector<Diagnostic> Conversation::diagnostics() const {
  return impl_->block == nullptr ? std::vector<Diagnostic>{} : impl_->block->diagnostics;
}

ConversationView Conversation::view() const {
  const Impl& impl = *impl_;
  ConversationView view;
  view.state = impl.state;
  const auto share = [&](Nanoseconds whole) {
    if (whole <= Nanoseconds::zero()) return 1.0F;
    return std::clamp(static_cast<float>(impl.since.count()) / static_cast<float>(whole.count()),
                      0.0F, 1.0F);
  };
  switch (impl.state) {
    case ConversationState::closed:
      return view;
    case ConversationState::opening:
      view.openness =
          impl.settings.opening > Nanoseconds::zero() ? share(impl.settings.opening) : 0;
      return view;
    case ConversationState::closing:
      view.openness = 1 - share(impl.settings.closing);
      return view;
    default:
      view.openness = 1;
  }
  const BlockLine& own = impl.own();
  view.text = &impl.block->text;
  view.shown = own.first_step + impl.reveal.shown_steps();
  view.now = own.begin + impl.reveal.position() + impl.shown_for;
  view.speaker = impl.now().speaker;
  view.portrait = impl.portrait;
  view.typing = impl.now().typing;
  view.indicator =
      impl.state == ConversationState::waiting || impl.state == ConversationState::holding;
  if (view.indicator && impl.settings.indicator_period > Nanoseconds::zero()) {
    view.phase = static_cast<float>((impl.since % impl.settings.indicator_period).count()) /
                 static_cast<float>(impl.settings.indicator_period.count());
  }
  return view;
}

namespace {

// The events of a line that its layout puts in: page turns, and the holds before them but those
// that the writer put there.
std::vector<bool> events_of_layout(const BlockLine& line) {
  const auto& events = line.schedule.events;
  const auto is_written = [&](std::uint32_t step) {
    return std::any_of(line.marked.points.begin(), line.marked.points.end(), [&](const Point& p) {
      return std::holds_alternative<tag::Hold>(p.what) && line.steps.step_from(p.at) == step;
    });
  };
  std::vector<bool> of_layout(events.size());
  for (std::size_t i = 0; i < events.size(); ++i) {
    if (events[i].kind != EventKind::page) continue;
    of_layout[i] = true;
    if (i > 0 && !is_written(events[i].step)) of_layout[i - 1] = true;
  }
  return of_layout;
}

// The place in a line's new schedule at which the same steps are shown and the writer's same events
// have come.
RevealPlace same_place(const RevealPlace& before, std::size_t written_events,
                       Nanoseconds behind_onset, const BlockLine& line) {
  const Schedule& schedule = line.schedule;
  const std::vector<bool> of_layout = events_of_layout(line);
  RevealPlace place = before;
  place.next_event = 0;
  for (std::size_t written = 0; place.next_event < schedule.events.size(); ++place.next_event) {
    const Event& event = schedule.events[place.next_event];
    const bool passed =
        of_layout[place.next_event] ? event.step < before.shown : written < written_events;
    if (!passed) break;
    written += of_layout[place.next_event] ? 0 : 1;
  }
  const Nanoseconds onset =
      before.shown > 0 ? schedule.onsets[before.shown - 1] : Nanoseconds::zero();
  Nanoseconds latest = schedule.duration;
  if (before.shown < schedule.onsets.size()) {
    latest = std::min(latest, schedule.onsets[before.shown] - Nanoseconds(1));
  }
  if (place.next_event < schedule.events.size()) {
    latest = std::min(latest, schedule.events[place.next_event].time);
  }
  place.position = std::clamp(onset + behind_onset, onset, std::max(latest, onset));
  const bool at_hold =
      place.next_event > 0 && schedule.events[place.next_event - 1].kind == EventKind::hold;
  if (before.state == RevealState::holding && !at_hold) place.state = RevealState::revealing;
  return place;
}

}  // namespace

tl::expected<void, Diagnostic> Conversation::set_box(const Box& box) {
  Impl& impl = *impl_;
  if (auto checked = impl.check(box); !checked) return checked;
  impl.box = box;
  if (!is_in_line(impl.state)) return {};
  const RevealPlace before = impl.reveal.place();
  const BlockLine& old_line = impl.own();
  const std::vector<bool> of_layout = events_of_layout(old_line);
  const auto written_events = static_cast<std::size_t>(
      std::count(of_layout.begin(), of_layout.begin() + before.next_event, false));
  const Nanoseconds onset =
      before.shown > 0 ? old_line.schedule.onsets[before.shown - 1] : Nanoseconds::zero();
  impl.place_portrait = std::string(impl.portrait);  // it may stand in the old schedule
  impl.portrait = impl.place_portrait;
  // Events and sounds of the last tick point into the old block.
  auto block = std::make_unique<Block>(*impl.block);
  conversation::lay_out_again(impl.lines_of_block(block->first_line), impl.typesetter, impl.font,
                              box, impl.settings, *block);
  impl.past.push_back(std::exchange(impl.block, std::move(block)));
  const BlockLine& line = impl.own();
  const RevealPlace place = same_place(before, written_events, before.position - onset, line);
  impl.reveal = Reveal(line.steps, line.schedule);
  impl.reveal.go_to(place);
  impl.typing.replace(line.typing, place.position);
  if (impl.state == ConversationState::holding && place.state == RevealState::revealing) {
    impl.enter(ConversationState::revealing);
  }
  return {};
}

ConversationPlace Conversation::place() const {
  const Impl& impl = *impl_;
  return {.state = impl.state,
          .line = impl.line,
          .clock = impl.clock,
          .since = impl.since,
          .line_time = impl.line_time,
          .part_time = impl.part_time,
          .part_shown = impl.part_shown,
          .shown_for = impl.shown_for,
          .reveal = is_in_line(impl.state) ? impl.reveal.place() : RevealPlace{},
          .portrait = std::string(impl.portrait)};
}

tl::expected<void, Diagnostic> Conversation::start_at(std::vector<DialogueLine> lines,
                                                      const ConversationPlace& place) {
  Impl& impl = *impl_;
  if (auto checked = impl.check(lines); !checked) return checked;
  const auto bad_place = [&] {
    impl.reset({});
    impl.enter(ConversationState::closed);
    return failure(DiagnosticCode::bad_place, "these lines have no such place");
  };
  const bool in_line = is_in_line(place.state);
  const bool line_exists = place.line < lines.size();
  for (const Nanoseconds time :
       {place.clock, place.since, place.line_time, place.part_time, place.shown_for}) {
    if (time < Nanoseconds::zero() || time > max_duration) return bad_place();
  }
  if ((in_line || place.state == ConversationState::closing) && !line_exists) return bad_place();
  impl.reset(std::move(lines));
  impl.clock = place.clock;
  const bool begun = in_line || place.state == ConversationState::closing;
  for (std::uint32_t i = 0; begun && i <= place.line; ++i) {
    const DialogueLine& entry = impl.lines[i];
    impl.history.push_back({entry.speaker, parse(entry.text, impl.typesetter.vocabulary()).text});
  }
  impl.line = line_exists ? place.line : 0;
  if (in_line) {
    std::uint32_t first = place.line;
    while (first > 0 && impl.lines[first].append) --first;
    impl.prepare(first);
    impl.reveal = Reveal(impl.own().steps, impl.own().schedule);
    const auto reveal_state = place.state == ConversationState::holding   ? RevealState::holding
                              : place.state == ConversationState::waiting ? RevealState::finished
                                                                          : RevealState::revealing;
    if (place.reveal.state != reveal_state || !impl.reveal.go_to(place.reveal)) return bad_place();
    impl.typing.replace(impl.own().typing, place.reveal.position);
  }
  impl.enter(place.state);
  impl.since = place.since;
  impl.line_time = place.line_time;
  impl.part_time = place.part_time;
  impl.part_shown = std::min(place.part_shown, place.reveal.shown);
  impl.shown_for = place.shown_for;
  impl.place_portrait = place.portrait;
  impl.portrait = impl.place_portrait;
  return {};
}

}  // namespace arvik
