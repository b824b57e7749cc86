// A conversation from the first line to the last: a table of what happens when, an independent
// model with random buttons, and every way of cutting time.
#include <catch2/catch.hpp>
#include <deque>
#include <sstream>

#include "arvik/conversation.hpp"
#include "support/english.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::grid;
using test::typesetter;

namespace {

// Ten steps a second and no pauses by punctuation, so that times are easy to read.
Pace plain() {
  return {.rate = 10,
          .sentence = {},
          .clause = {},
          .dash = {},
          .ellipsis = {},
          .row_end = {},
          .paragraph = {}};
}

DialogueLine line(const std::string& text) {
  return {.id = text, .speaker = "odrun", .text = text, .pace = plain()};
}

Conversation conversation(const ConversationSettings& settings = {}) {
  return {typesetter(), grid(), Box{.width = 30}, settings};
}

std::string describe(const ConversationEvent& event) {
  std::ostringstream out;
  out << std::chrono::duration_cast<std::chrono::milliseconds>(event.time).count() << ' ';
  if (event.event) {
    out << event_kind_name(event.event->kind);
    if (!event.event->name.empty()) out << ' ' << event.event->name;
  } else {
    out << conversation_event_name(event.kind);
  }
  if (!event.portrait.empty()) out << ' ' << event.portrait;
  out << " #" << event.line << (event.skipped ? " skipped" : "");
  return out.str();
}

void note(std::string& log, std::span<const ConversationEvent> events) {
  for (const ConversationEvent& event : events) log += describe(event) + '\n';
}

struct Press {
  Nanoseconds begin{};
  Nanoseconds end{};
  bool skip = false;  // the skip button
};

// Plays with frames of random or given length; frames also end where a button changes.
std::string play(Conversation& talk, Nanoseconds until, const std::vector<Press>& presses,
                 Nanoseconds frame, std::uint64_t seed = 0) {
  test::Random random(seed);
  std::string log;
  Nanoseconds now{};
  while (now < until) {
    Buttons buttons;
    Nanoseconds next =
        now + (frame > 0ns ? frame : std::chrono::milliseconds(1 + test::below(random, 120)));
    for (const Press& press : presses) {
      if (press.begin <= now && now < press.end)
        (press.skip ? buttons.skip : buttons.advance) = true;
      for (const Nanoseconds edge : {press.begin, press.end}) {
        if (now < edge && edge < next) next = edge;
      }
    }
    note(log, talk.tick(next - now, buttons));
    now = next;
  }
  return log;
}

std::string play(std::vector<DialogueLine> lines, const ConversationSettings& settings,
                 Nanoseconds until, const std::vector<Press>& presses = {},
                 Nanoseconds frame = 16ms) {
  Conversation talk = conversation(settings);
  REQUIRE(talk.start(std::move(lines)).has_value());
  return play(talk, until, presses, frame);
}

}  // namespace

TEST_CASE("a conversation opens, reveals, waits, goes on and closes") {
  DialogueLine first = line("ab[mark m]c");
  first.portrait = "calm";
  const std::string log =
      play({first, line("d[portrait awake]e")}, {.opening = 100ms, .closing = 50ms}, 2s,
           {{400ms, 410ms}, {700ms, 720ms}});
  CHECK(log ==
        "100 opened #0\n"
        "100 line_started calm #0\n"
        "300 mark m #0\n"
        "300 finish #0\n"
        "300 line_finished #0\n"
        "300 waiting #0\n"
        "400 line_left #0\n"
        "400 line_started #1\n"
        "500 portrait_changed awake #1\n"
        "500 finish #1\n"
        "500 line_finished #1\n"
        "500 waiting #1\n"
        "700 line_left #1\n"
        "750 closed #1\n");
}

TEST_CASE("a press shows the rest, and never also goes on") {
  const std::vector<DialogueLine> lines{line("abcdefghij"), line("klm")};
  // One long press: it shows the rest, and nothing more.
  CHECK(play(lines, {}, 3s, {{250ms, 2900ms}}) ==
        "0 opened #0\n0 line_started #0\n250 finish #0 skipped\n250 line_finished #0 skipped\n"
        "250 waiting #0 skipped\n");
  // A press inside the grace time is not meant for what came then; the next one is.
  const std::string log =
      play(lines, {.grace = 150ms}, 2s, {{250ms, 260ms}, {300ms, 310ms}, {420ms, 430ms}});
  CHECK(log.find("420 line_left #0") != std::string::npos);
  CHECK(log.find("300 line_left") == std::string::npos);
  // Held since the line before: the next line is revealed in its own time.
  const std::string held = play(lines, {}, 4s, {{1500ms, 4s}});
  CHECK(held.find("1500 line_started #1") != std::string::npos);
  CHECK(held.find("1700 finish #1\n") != std::string::npos);
}

TEST_CASE("skips stop at holds, and holds let go on a press") {
  const std::vector<DialogueLine> lines{line("ab[hold]cd[mark m]ef")};
  CHECK(play(lines, {.grace = 0ms}, 2s, {{50ms, 60ms}, {100ms, 110ms}, {150ms, 160ms}}) ==
        "0 opened #0\n0 line_started #0\n50 hold #0 skipped\n150 mark m #0 skipped\n"
        "150 finish #0 skipped\n150 line_finished #0 skipped\n150 waiting #0 skipped\n");
  // The skip button shows the rest, but does not go on.
  CHECK(play(lines, {.grace = 0ms}, 2s, {{50ms, 60ms, true}, {100ms, 110ms, true}}) ==
        "0 opened #0\n0 line_started #0\n50 hold #0 skipped\n");
}

TEST_CASE("a line that may not be skipped waits for its end") {
  DialogueLine slow = line("abcdef");
  slow.skippable = false;
  const std::string log = play({slow}, {}, 2s, {{100ms, 110ms}, {200ms, 210ms, true}});
  CHECK(log.find("500 finish #0\n") != std::string::npos);
  CHECK(log.find("skipped") == std::string::npos);
  const std::string hurried = play({slow}, {.hurry_after = 50ms}, 2s, {{100ms, 1s}});
  CHECK(hurried.find("500 finish #0\n") != std::string::npos);
}

TEST_CASE("a held button hurries, a short one shows the rest when it ends") {
  const ConversationSettings settings{.grace = 0ms, .hurry_after = 200ms, .hurry = 4000};
  const std::vector<DialogueLine> lines{line("abcdefghijk")};  // one second
  // From 100 + 200 ms on four times as fast: the 700 ms left take 175.
  CHECK(play(lines, settings, 2s, {{100ms, 1s}}).find("475 finish #0\n") != std::string::npos);
  // Let go at 400 ms: 400 ms of the line have passed quickly, 300 are left at the usual speed.
  CHECK(play(lines, settings, 2s, {{100ms, 400ms}}).find("700 finish #0\n") != std::string::npos);
  CHECK(play(lines, settings, 2s, {{100ms, 250ms}}).find("250 finish #0 skipped\n") !=
        std::string::npos);
  // The press that went on to this line does not hurry it.
  const std::string next = play({line("a"), line("abcdefghijk")}, settings, 3s, {{100ms, 3s}});
  CHECK(next.find("1100 finish #1\n") != std::string::npos);
}

TEST_CASE("the skip button keeps to the grace time, with hurrying, too") {
  // The skip at 50 ms ends at the hold; advance is not heard until 250 ms, nor is skip.
  const ConversationSettings settings{.grace = 200ms, .hurry_after = 100ms};
  const std::string log =
      play({line("ab[hold]cdefghijk")}, settings, 3s,
           {{50ms, 60ms, true}, {260ms, 270ms}, {300ms, 310ms, true}, {350ms, 360ms, true}});
  CHECK(log.find("50 hold #0 skipped") != std::string::npos);
  CHECK(log.find("300 finish #0 skipped") != std::string::npos);
  DialogueLine by_itself = line("ab[hold]cdefghijk");
  by_itself.automatic = AutoAdvance{};
  const std::string early =
      play({by_itself}, settings, 3s, {{50ms, 60ms, true}, {100ms, 110ms, true}});
  CHECK(early.find("100 finish") == std::string::npos);
}

TEST_CASE("lines go on by themselves after a time, a reading time, and never before their voice") {
  DialogueLine timed = line("abc");
  timed.automatic = AutoAdvance{.after = 500ms};
  CHECK(play({timed}, {}, 2s).find("700 line_left #0") != std::string::npos);
  DialogueLine read = line(std::string(30, 'x'));  // 2.9 s to reveal, 3 s to read at 10 a second
  read.automatic = AutoAdvance{.after = 50ms, .reading = true};
  CHECK(play({read}, {.reading_rate = 10}, 5s).find("3000 line_left") != std::string::npos);
  CHECK(play({read}, {.reading_rate = 20}, 5s).find("2950 line_left") != std::string::npos);
  timed.voice = "odrun_01";
  const ConversationSettings voiced{.voice_length = [](std::string_view) { return 1500ms; }};
  CHECK(play({timed}, voiced, 2s).find("1500 line_left #0") != std::string::npos);
  CHECK(play({timed}, voiced, 2s, {{600ms, 610ms}}).find("600 line_left #0") != std::string::npos);
  // The player's own choice, for every line and hold.
  const std::string all =
      play({line("a[hold]b"), line("c")}, {.least_reading = 300ms, .play_by_itself = true}, 3s);
  CHECK(all.find("900 closed #1") != std::string::npos);
}

TEST_CASE("instant lines and players are there at once") {
  DialogueLine at_once = line("abc[hold]def");
  at_once.instant = true;
  CHECK(play({at_once}, {}, 1s) == "0 opened #0\n0 line_started #0\n0 hold #0 skipped\n");
  ConversationSettings settings;
  settings.player.speed = 3;
  CHECK(play({line("abc")}, settings, 1s).find("0 finish #0 skipped") != std::string::npos);
}

TEST_CASE("an empty conversation closes at once, and is told once") {
  CHECK(play(std::vector<DialogueLine>{}, {.opening = 0ms}, 1s) == "0 opened #0\n0 closed #0\n");
  CHECK(play({line("")}, {}, 1s, {{100ms, 110ms}}) ==
        "0 opened #0\n0 line_started #0\n0 finish #0\n0 line_finished #0\n0 waiting #0\n"
        "100 line_left #0\n100 closed #0\n");
}

TEST_CASE("starting is refused while one runs, with a reason; stopping leaves a clean state") {
  Conversation talk = conversation();
  REQUIRE(talk.start({line("abc")}).has_value());
  talk.tick(150ms);
  const auto again = talk.start({line("x")});
  REQUIRE_FALSE(again.has_value());
  CHECK(again.error().code == DiagnosticCode::conversation_runs);
  CHECK(talk.view().shown == 2);
  std::string log;
  note(log, talk.stop());
  CHECK(log == "150 line_left #0\n150 closed #0\n");
  CHECK(talk.stop().empty());
  CHECK(talk.tick(1s).empty());
  CHECK(talk.view().block == nullptr);
  REQUIRE(talk.start({line("xyz")}).has_value());
  note(log = {}, talk.tick(1s));
  CHECK(talk.history().size() == 1);
  CHECK(talk.history()[0].text == "xyz");

  Conversation other = conversation();
  DialogueLine bad = line("x");
  bad.pace = Pace{.rate = 0};
  CHECK(other.start({bad}).error().code == DiagnosticCode::bad_pace);
  Conversation narrow(typesetter(), grid(), Box{.width = 0});
  CHECK(narrow.start({line("x")}).error().code == DiagnosticCode::bad_box);
  CHECK(narrow.state() == ConversationState::closed);
}

TEST_CASE("pausing stops everything, and a press meanwhile does not count") {
  Conversation talk = conversation();
  REQUIRE(talk.start({line("abc")}).has_value());
  talk.tick(50ms);
  talk.pause();
  CHECK(talk.tick(10s, {.advance = true}).empty());
  CHECK(talk.clock() == 50ms);
  talk.resume();
  CHECK(talk.tick(1ms, {.advance = true}).empty());
  CHECK(talk.view().shown == 1);
}

TEST_CASE("what there is to draw: openness, text, indicator, history") {
  Conversation talk = conversation({.opening = 100ms, .closing = 100ms, .indicator_period = 200ms});
  REQUIRE(talk.start({line("abc"), line("de")}).has_value());
  talk.tick(25ms);
  CHECK(talk.view().openness == Approx(0.25));
  // Speaker, text and size are there before the box is open.
  REQUIRE(talk.view().block != nullptr);
  CHECK(talk.view().block->marked.text == "abc");
  CHECK(talk.view().speaker == "odrun");
  CHECK(talk.view().shown == 0);
  talk.tick(100ms);
  CHECK(talk.view().openness == 1);
  CHECK(talk.view().shown == 1);
  CHECK_FALSE(talk.view().indicator);
  talk.tick(225ms);
  CHECK(talk.state() == ConversationState::waiting);
  CHECK(talk.view().indicator);
  CHECK(talk.view().phase == Approx(0.25));
  CHECK(talk.view().speaker == "odrun");
  talk.tick(1ms, {.advance = true});
  CHECK(talk.view().block->marked.text == "de");  // nothing of the last line
  CHECK(talk.view().shown == 1);
  talk.tick(1s);
  talk.tick(25ms, {.advance = true});
  CHECK(talk.state() == ConversationState::closing);
  CHECK(talk.view().openness == Approx(0.75));
  REQUIRE(talk.view().block != nullptr);
  CHECK(talk.view().shown == 2);
  REQUIRE(talk.history().size() == 2);
  CHECK(talk.history()[1].text == "de");
}

TEST_CASE("appended lines go on behind the text that stands, and nothing moves") {
  DialogueLine more = line(" and more of it");
  more.append = true;
  more.pace = Pace{.rate = 100};
  Conversation talk(typesetter(), grid(), Box{.width = 12, .align = Align::center});
  REQUIRE(talk.start({line("The tide"), more, line("alone")}).has_value());
  talk.tick(5s);
  const ConversationView first = talk.view();
  CHECK(first.shown == 8);
  const std::vector<StepPosition> places = first.block->layout.steps;
  CHECK(first.block->marked.text == "The tide and more of it");
  talk.tick(1ms, {.advance = true});
  talk.tick(100ms);
  CHECK(talk.line() == 1);
  const ConversationView second = talk.view();
  CHECK(second.shown == 8 + 11);
  for (std::size_t i = 0; i < places.size(); ++i) {
    CHECK(second.block->layout.steps[i].x == places[i].x);
    CHECK(second.block->layout.steps[i].row == places[i].row);
  }
  REQUIRE(second.steps.size() == second.shown);
  CHECK(second.steps[8].at == second.now - 101ms);
  CHECK(second.steps.back().at <= second.now);
  talk.tick(5s);
  talk.tick(1ms, {.advance = true});
  CHECK(talk.view().block->marked.text == "alone");
  CHECK(talk.history().size() == 3);
}

TEST_CASE("pages are holds, and a box that refuses clips with a diagnostic") {
  Conversation talk(typesetter(), grid(), Box{.width = 8, .max_rows = 1});
  REQUIRE(talk.start({line("The tide clock stopped")}).has_value());
  talk.tick(10s);
  CHECK(talk.state() == ConversationState::holding);
  talk.tick(1ms, {.advance = true});
  talk.tick(10s);
  CHECK(talk.state() == ConversationState::holding);
  Conversation refusing(typesetter(), grid(),
                        Box{.width = 8, .max_rows = 1, .overflow = Overflow::refuse});
  REQUIRE(refusing.start({line("The tide clock stopped [bold: x]")}).has_value());
  refusing.tick(10s);
  CHECK(refusing.state() == ConversationState::waiting);
  REQUIRE(refusing.diagnostics().size() == 3);
  CHECK(refusing.diagnostics()[0].code == DiagnosticCode::unknown_tag);
  CHECK(refusing.diagnostics()[1].code == DiagnosticCode::text_overflows);
}

TEST_CASE("another box keeps the portrait that an event brought") {
  Conversation talk = conversation();
  REQUIRE(talk.start({line("a[portrait a-name-too-long-for-any-small-string]bc")}).has_value());
  talk.tick(150ms);
  REQUIRE(talk.set_box(Box{.width = 2}).has_value());
  CHECK(talk.view().portrait == "a-name-too-long-for-any-small-string");
  CHECK(talk.place().portrait == "a-name-too-long-for-any-small-string");
}

TEST_CASE("what a tick brought stays as it is when the box changes before the next") {
  Conversation talk = conversation();
  REQUIRE(talk.start({line("a[mark a-name-too-long-for-any-small-string]bc def")}).has_value());
  const auto events = talk.tick(150ms);
  const ConversationView view = talk.view();
  REQUIRE(talk.set_box(Box{.width = 3}).has_value());
  REQUIRE(talk.set_box(Box{.width = 2}).has_value());
  REQUIRE(events.back().event != nullptr);
  CHECK(events.back().event->name == "a-name-too-long-for-any-small-string");
  CHECK(view.block->layout.rows.size() == 1);
  CHECK(talk.view().block->layout.rows.size() > 1);
}

TEST_CASE("a box that holds no text is refused, and nothing changes") {
  Conversation talk = conversation();
  REQUIRE(talk.start({line("The tide clock stopped.")}).has_value());
  talk.tick(150ms);
  const std::size_t rows = talk.view().block->layout.rows.size();
  for (const Box& bad : {Box{.width = 0}, Box{.width = -3}, Box{.height = 0},
                         Box{.width = 4, .padding = {.left = 3, .right = 3}}}) {
    const auto set = talk.set_box(bad);
    REQUIRE_FALSE(set.has_value());
    CHECK(set.error().code == DiagnosticCode::bad_box);
    CHECK(talk.view().block->layout.rows.size() == rows);
  }
  talk.tick(10s);
  CHECK(talk.state() == ConversationState::waiting);
}

TEST_CASE("another box keeps the place") {
  test::Random random(71);
  for (int i = 0; i < 300; ++i) {
    Conversation talk(typesetter(), grid(), Box{.width = 40, .max_rows = 2});
    REQUIRE(talk.start({line("The tide [mark a]clock stopped, [hold]and nobody[mark b] heard it at "
                             "all.[mark c]")})
                .has_value());
    std::string log;
    int turns = 0;
    while (talk.state() != ConversationState::closed && turns++ < 400) {
      note(log, talk.tick(std::chrono::milliseconds(test::below(random, 200)),
                          {.advance = test::below(random, 6) == 0}));
      if (test::below(random, 4) != 0) continue;
      const std::uint32_t shown = talk.view().shown;
      const bool in_line = talk.view().block != nullptr;
      REQUIRE(talk.set_box({.width = static_cast<float>(6 + test::below(random, 40)),
                            .max_rows = static_cast<std::uint32_t>(1 + test::below(random, 3))})
                  .has_value());
      if (in_line) REQUIRE(talk.view().shown == shown);
    }
    const auto count = [&](const std::string& what) {
      int found = 0;
      for (std::size_t at = log.find(what); at != std::string::npos; at = log.find(what, at + 1)) {
        ++found;
      }
      return found;
    };
    INFO(log);
    REQUIRE(count("mark a") == 1);
    REQUIRE(count("mark b") == 1);
    REQUIRE(count("mark c") == 1);
    REQUIRE(count("line_finished") == 1);
    REQUIRE(count("closed") == 1);
  }
}

namespace {

std::vector<DialogueLine> random_lines(test::Random& random) {
  static const char* texts[] = {"",
                                "a",
                                "abc",
                                "ab[hold]cd",
                                "[hold]",
                                "ab[mark m]cd[pause 300ms]",
                                "[whole: abcd] e",
                                "a[sound s]b",
                                "[pause 200ms]a"};
  std::vector<DialogueLine> lines;
  const std::size_t count = test::below(random, 5);
  for (std::size_t i = 0; i < count; ++i) {
    DialogueLine entry = line(texts[test::below(random, std::size(texts))]);
    entry.skippable = test::below(random, 4) != 0;
    if (test::below(random, 3) == 0) {
      entry.automatic =
          AutoAdvance{.after = std::chrono::milliseconds(100 * test::below(random, 4))};
    }
    entry.instant = test::below(random, 8) == 0;
    entry.append = i > 0 && test::below(random, 4) == 0;
    lines.push_back(entry);
  }
  return lines;
}

std::vector<Press> random_presses(test::Random& random) {
  std::vector<Press> presses;
  Nanoseconds now{};
  for (int i = 0; i < 25; ++i) {
    now += std::chrono::milliseconds(1 + test::below(random, 300));
    const Nanoseconds end = now + std::chrono::milliseconds(1 + test::below(random, 200));
    presses.push_back({now, end, test::below(random, 5) == 0});
    now = end;
  }
  return presses;
}

// The same states told again as simply as can be: millisecond by millisecond.
class Model {
 public:
  Model(const std::vector<DialogueLine>& lines, const ConversationSettings& settings)
      : lines_(lines), settings_(settings) {
    for (const DialogueLine& entry : lines) {
      const MarkedText marked = parse(entry.text);
      const Steps steps = typesetter().language().segment(marked.text);
      schedules_.push_back(schedule(marked, steps, typesetter().language(), entry.pace).value());
    }
  }

  std::string run(Nanoseconds until, const std::vector<Press>& presses) {
    Buttons last;
    for (now_ = 0ms; now_ < until; now_ += 1ms) {
      Buttons buttons;
      for (const Press& press : presses) {
        if (press.begin <= now_ && now_ < press.end) {
          (press.skip ? buttons.skip : buttons.advance) = true;
        }
      }
      settle();
      press(buttons.advance && !last.advance, buttons.skip && !last.skip);
      last = buttons;
      settle();
      if (state_ == ConversationState::revealing) position_ += 1ms;
    }
    settle();
    return log_;
  }

 private:
  void say(const std::string& what, bool skipped = false) {
    log_ += std::to_string(std::chrono::duration_cast<std::chrono::milliseconds>(now_).count()) +
            ' ' + what + " #" + std::to_string(line_) + (skipped ? " skipped" : "") + '\n';
  }

  void begin_line() {
    say("line_started");
    next_ = 0;
    position_ = 0ms;
    state_ = ConversationState::revealing;
  }

  void leave() {
    say("line_left");
    if (line_ + 1 == lines_.size()) {
      state_ = ConversationState::closing;
      entered_ = now_;
    } else {
      ++line_;
      begin_line();
    }
  }

  void deliver(bool all) {
    const auto& events = schedules_[line_].events;
    while (state_ == ConversationState::revealing && next_ < events.size() &&
           (all || events[next_].time <= position_)) {
      const Event& event = events[next_++];
      say(std::string(event_kind_name(event.kind)) + (event.name.empty() ? "" : " " + event.name),
          all);
      if (all) position_ = event.time;
      if (event.kind == EventKind::hold) state_ = ConversationState::holding;
      if (event.kind == EventKind::finish) {
        say("line_finished", all);
        say("waiting", all);
        state_ = ConversationState::waiting;
      }
      entered_ = now_;
    }
  }

  void settle() {
    for (ConversationState before{}; state_ != ConversationState::closed;) {
      before = state_;
      const std::size_t line_before = line_;
      switch (state_) {
        case ConversationState::opening:
          if (now_ < settings_.opening) return;
          say("opened");
          if (lines_.empty()) {
            say("closed");
            state_ = ConversationState::closed;
          } else {
            begin_line();
          }
          break;
        case ConversationState::revealing:
          deliver(lines_[line_].instant);
          break;
        case ConversationState::waiting:
        case ConversationState::holding:
          if (!lines_[line_].automatic || now_ - entered_ < lines_[line_].automatic->after) return;
          if (state_ == ConversationState::holding) {
            state_ = ConversationState::revealing;
          } else {
            leave();
          }
          break;
        case ConversationState::closing:
          if (now_ - entered_ < settings_.closing) return;
          say("closed");
          state_ = ConversationState::closed;
          break;
        case ConversationState::choosing:
        case ConversationState::closed:
          return;
      }
      if (state_ == before && line_ == line_before) return;
    }
  }

  void press(bool advance, bool skip) {
    if (now_ < ignored_until_) return;
    if (state_ == ConversationState::revealing) {
      if (!(advance || skip) || !lines_[line_].skippable) return;
      deliver(true);
      ignored_until_ = now_ + settings_.grace;
    } else if (advance && state_ == ConversationState::holding) {
      state_ = ConversationState::revealing;
    } else if (advance && state_ == ConversationState::waiting) {
      leave();
    }
  }

  const std::vector<DialogueLine>& lines_;
  const ConversationSettings& settings_;
  std::vector<Schedule> schedules_;
  ConversationState state_ = ConversationState::opening;
  std::size_t line_ = 0;
  std::size_t next_ = 0;
  Nanoseconds now_{};
  Nanoseconds position_{};
  Nanoseconds entered_{};
  Nanoseconds ignored_until_{};
  std::string log_;
};

}  // namespace

TEST_CASE("random conversations do what a simple model does, however time is cut") {
  test::Random random(72);
  for (int i = 0; i < 300; ++i) {
    const std::vector<DialogueLine> lines = random_lines(random);
    const std::vector<Press> presses = random_presses(random);
    const ConversationSettings settings{
        .opening = std::chrono::milliseconds(50 * test::below(random, 3)),
        .closing = std::chrono::milliseconds(50 * test::below(random, 3)),
        .grace = std::chrono::milliseconds(100 * test::below(random, 3))};
    const std::string expected = Model(lines, settings).run(8s, presses);
    for (const Nanoseconds frame :
         {Nanoseconds(1ms), Nanoseconds(16ms), Nanoseconds(33ms), Nanoseconds(0)}) {
      if (frame == 1ms && i % 8 != 0) continue;  // they take most of the time
      Conversation talk = conversation(settings);
      REQUIRE(talk.start(lines).has_value());
      REQUIRE(play(talk, 8s, presses, frame, static_cast<std::uint64_t>(i)) == expected);
    }
  }
}

TEST_CASE("whatever is pressed, every line that starts is left, and it closes once") {
  test::Random random(73);
  for (int i = 0; i < 400; ++i) {
    ConversationSettings settings{
        .opening = 30ms,
        .closing = 30ms,
        .hurry_after = std::chrono::milliseconds(test::below(random, 100)),
        .play_by_itself = test::below(random, 5) == 0};
    settings.player.speed = test::below(random, 4);
    const std::vector<DialogueLine> lines = random_lines(random);
    Conversation talk = conversation(settings);
    REQUIRE(talk.start(lines).has_value());
    std::vector<int> started(lines.size());
    std::vector<int> left(lines.size());
    std::vector<int> finished(lines.size());
    int closed = 0;
    Nanoseconds last{};
    const auto take = [&](std::span<const ConversationEvent> events) {
      for (const ConversationEvent& event : events) {
        REQUIRE(event.time >= last);
        last = event.time;
        if (event.kind == ConversationEventKind::line_started) ++started[event.line];
        if (event.kind == ConversationEventKind::line_left) ++left[event.line];
        if (event.kind == ConversationEventKind::line_finished) ++finished[event.line];
        if (event.kind == ConversationEventKind::closed) ++closed;
      }
    };
    for (int t = 0; t < 3000 && talk.state() != ConversationState::closed; ++t) {
      take(
          talk.tick(std::chrono::microseconds(test::below(random, 40'000)),
                    {.advance = test::below(random, 3) == 0, .skip = test::below(random, 9) == 0}));
      if (test::below(random, 500) == 0) take(talk.stop());
    }
    take(talk.stop());
    REQUIRE(closed == 1);
    REQUIRE(started == left);
    for (std::size_t l = 0; l < lines.size(); ++l) {
      REQUIRE(started[l] <= 1);
      REQUIRE(finished[l] <= started[l]);
    }
  }
}

TEST_CASE("hurrying and speeds do not depend on how time is cut") {
  const std::vector<DialogueLine> lines{line("abcdefghij[mark m]klmno"), line("pqr[hold]stu")};
  const std::vector<Press> presses{{100ms, 900ms}, {2s, 2900ms}, {3s, 3010ms}, {3500ms, 4s}};
  ConversationSettings settings{.grace = 0ms, .hurry_after = 130ms, .hurry = 3700};
  settings.player.speeds = {{.name = "odd", .thousandths = 1337}};
  std::string first;
  for (const Nanoseconds frame : {Nanoseconds(1ms), Nanoseconds(16'666'667ns), Nanoseconds(33ms),
                                  Nanoseconds(5s), Nanoseconds(0)}) {
    Conversation talk = conversation(settings);
    REQUIRE(talk.start(lines).has_value());
    std::string log;
    for (Nanoseconds now{}; now < 6s;) {
      Nanoseconds next = now + (frame > 0ns ? frame : Nanoseconds(7'777'777));
      bool advance = false;
      for (const Press& press : presses) {
        advance = advance || (press.begin <= now && now < press.end);
        for (const Nanoseconds edge : {press.begin, press.end}) {
          if (now < edge && edge < next) next = edge;
        }
      }
      for (const ConversationEvent& event : talk.tick(next - now, {.advance = advance})) {
        log += std::to_string(event.time.count()) + ' ' + describe(event) + '\n';
      }
      now = next;
    }
    if (first.empty()) first = log;
    CHECK(log == first);
  }
  CHECK(first.find("mark m") != std::string::npos);
}

TEST_CASE("a saved place goes on exactly where it was") {
  test::Random random(74);
  for (int i = 0; i < 300; ++i) {
    const std::vector<DialogueLine> lines = random_lines(random);
    const ConversationSettings settings{.opening = 60ms, .closing = 60ms, .play_by_itself = true};
    Conversation whole = conversation(settings);
    REQUIRE(whole.start(lines).has_value());
    std::string rest;
    whole.tick(std::chrono::milliseconds(test::below(random, 3000)));
    const ConversationPlace place = whole.place();
    const bool running = whole.state() != ConversationState::closed;
    const std::size_t told = whole.history().size();
    note(rest, whole.tick(20s));
    if (!running) continue;
    Conversation later = conversation(settings);
    REQUIRE(later.start_at(lines, place).has_value());
    CHECK(later.place() == place);
    CHECK(later.history().size() == told);
    std::string log;
    note(log, later.tick(20s));
    REQUIRE(log == rest);
  }
}

TEST_CASE("places that contradict themselves are refused") {
  Conversation talk = conversation();
  const std::vector<DialogueLine> lines{line("abc")};
  const auto refused = [&](const ConversationPlace& place) {
    const auto result = talk.start_at(lines, place);
    CHECK(talk.state() == ConversationState::closed);
    return !result.has_value() && result.error().code == DiagnosticCode::bad_place;
  };
  REQUIRE(talk.start(lines).has_value());
  talk.tick(100ms);
  const ConversationPlace good = talk.place();
  talk.stop();
  ConversationPlace bad = good;
  bad.line = "xyz";
  CHECK(refused(bad));
  bad = good;
  bad.times.clock = -1ns;
  CHECK(refused(bad));
  bad = good;
  bad.times.state = ConversationState::waiting;
  CHECK(refused(bad));
  bad.times.state = ConversationState::holding;
  CHECK(refused(bad));
  CHECK(talk.start_at(lines, good).has_value());
}
