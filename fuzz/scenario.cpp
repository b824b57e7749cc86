#include "fuzz/scenario.hpp"

#include <algorithm>
#include <array>
#include <cstring>
#include <optional>
#include <random>
#include <tuple>
#include <vector>

#include "arvik/arvik.hpp"

namespace arvik::fuzz {
namespace {

using Random = std::mt19937_64;

Typesetter& typesetter_for(std::uint64_t choice) {
  static std::array typesetters{Typesetter(Language::open("en").value()),
                                Typesetter(Language::open("ja").value()),
                                Typesetter(Language::open("th").value())};
  return typesetters[choice % typesetters.size()];
}

// Every step has an extent, extents rise, and the last is the whole text.
std::string check_text(const std::string& markup, const PreparedLine& line) {
  const std::string& text = line.marked.text;
  // U+FFFD may be two bytes longer than the byte that it stands for.
  if (text.size() > 3 * markup.size()) return "the text is longer than the input";
  const bool plain = markup.find_first_of("[]") == std::string::npos;
  const bool repaired = !line.marked.diagnostics.empty();
  if (plain && !repaired && text != markup) return "plain text came out changed";
  if (!repaired && text.size() > markup.size()) return "text grew without a diagnostic";
  for (std::uint32_t i = 0; i < line.steps.size(); ++i) {
    if (line.steps.end_byte(i) <= line.steps.begin_byte(i)) return "a step without text";
  }
  if (line.steps.extents.back().bytes != text.size()) return "steps do not cover the text";
  for (const Diagnostic& d : line.marked.diagnostics) {
    if (d.range.begin > d.range.end || d.range.end > markup.size()) return "a diagnostic outside";
    if (d.row == 0 || d.column == 0) return "a diagnostic without place";
  }
  for (const Span& span : line.marked.spans) {
    if (span.begin > span.end || span.end > text.size()) return "a span outside the text";
  }
  return {};
}

std::string check_schedule(const PreparedLine& line, const Pace& pace) {
  const Schedule& schedule = line.schedule;
  if (schedule.onsets.size() != line.steps.size()) return "not one onset a step";
  if (!std::is_sorted(schedule.onsets.begin(), schedule.onsets.end())) return "onsets decrease";
  if (schedule.events.empty() || schedule.events.back().kind != EventKind::finish) {
    return "no finish at the end";
  }
  if (schedule.events.back().time != schedule.duration) return "finish is not the duration";
  if (pace.fit && schedule.duration != *pace.fit) return "a fitted line lasts another time";
  if (pace.most && schedule.duration > *pace.most) return "a line lasts longer than the most";
  std::uint32_t step = 0;
  Nanoseconds time{};
  for (const Event& event : schedule.events) {
    if (event.step < step || event.time < time) return "events out of order";
    if (event.step > 0 && event.time < schedule.onsets[event.step - 1]) return "event too early";
    if (event.step < schedule.onsets.size() && event.time > schedule.onsets[event.step]) {
      return "event too late";
    }
    step = event.step;
    time = event.time;
  }
  return {};
}

std::string check_layout(const PreparedLine& line, const Box& box) {
  const Layout& layout = line.layout;
  std::uint32_t step = 0;
  for (const Row& row : layout.rows) {
    if (row.first_step != step || row.end_step < step || row.end_ink_step > row.end_step) {
      return "rows do not follow each other";
    }
    step = row.end_step;
    const bool single = row.end_ink_step <= row.first_step + 1;
    if (row.width > box.width && !single && layout.diagnostics.empty()) return "a row is too wide";
  }
  if (step != line.steps.size()) return "rows do not hold every step";
  for (std::size_t i = 1; i < layout.steps.size(); ++i) {
    if (layout.steps[i].row < layout.steps[i - 1].row) return "a step above the one before it";
  }
  const RowText rows = row_text(line.marked, line.steps, layout);
  if (rows.extents.size() != line.steps.size() + 1u) return "row text without all extents";
  if (!rows.extents.empty() && rows.extents.back().bytes > rows.text.size()) {
    return "row text is too short";
  }
  return {};
}

// What a player sees and hears, for comparing two ways of playing.
struct Heard {
  std::vector<const Event*> events;
  std::vector<std::uint32_t> shown;
  std::vector<std::tuple<Nanoseconds, SoundEventKind, std::uint32_t, std::uint16_t>> sounds;
  friend bool operator==(const Heard&, const Heard&) = default;
};

enum class Act : std::uint8_t { tick, skip, release, pause, resume, speed };

struct Action {
  Act act{};
  std::int64_t value = 0;
};

std::vector<Action> random_actions(Random& random) {
  std::vector<Action> actions;
  const std::size_t count = 20 + random() % 40;
  for (std::size_t i = 0; i < count; ++i) {
    switch (random() % 16) {
      case 0:
        actions.push_back({Act::skip, 0});
        break;
      case 1:
      case 2:
        actions.push_back({Act::release, 0});
        break;
      case 3:
        actions.push_back({Act::pause, 0});
        break;
      case 4:
      case 5:
        actions.push_back({Act::resume, 0});
        break;
      case 6:
        actions.push_back({Act::speed, static_cast<std::int64_t>(random() % 4000)});
        break;
      default:
        actions.push_back({Act::tick, static_cast<std::int64_t>(random() % 400'000'000)});
        break;
    }
  }
  return actions;
}

// Follows one reveal with ears.
class Listener {
 public:
  Listener(const TypingPlan& plan, Heard& heard) : heard_(heard) { player_.begin(plan); }

  void note(const Reveal& before, const Reveal& after, const Progress& progress, Nanoseconds time) {
    for (const Event& event : progress.events) heard_.events.push_back(&event);
    sounds_.clear();
    player_.follow(before, after, progress, now_, sounds_);
    for (const SoundEvent& sound : sounds_) {
      heard_.sounds.emplace_back(sound.time, sound.kind, sound.step, sound.sample);
    }
    now_ += time;
  }

 private:
  Heard& heard_;
  TypingPlayer player_;
  std::vector<SoundEvent> sounds_;
  Nanoseconds now_{};
};

// Plays the actions; ticks are cut into frames of at most `frame`, 0 for whole.
Heard play(const PreparedLine& line, const TypingPlan& plan, const std::vector<Action>& actions,
           std::int64_t frame, Random random) {
  Heard heard;
  Listener listener(plan, heard);
  Reveal reveal = line.reveal();
  const auto skip = [&] {
    const Reveal before = reveal;
    const Progress progress = reveal.skip();
    listener.note(before, reveal, progress, {});
  };
  for (const Action& action : actions) {
    switch (action.act) {
      case Act::tick:
        for (std::int64_t left = action.value; left > 0;) {
          const std::int64_t most =
              frame == 0
                  ? left
                  : 1 + static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(frame));
          const std::int64_t now = std::min(left, most);
          if (random() % 8 == 0) reveal = Reveal(reveal);  // a copy goes on as well
          const Reveal before = reveal;
          const Progress progress = reveal.tick(Nanoseconds(now));
          listener.note(before, reveal, progress, Nanoseconds(now));
          left -= now;
        }
        break;
      case Act::skip:
        skip();
        break;
      case Act::release:
        reveal.release_hold();
        break;
      case Act::pause:
        reveal.pause();
        break;
      case Act::resume:
        reveal.resume();
        break;
      case Act::speed:
        reveal.set_speed(static_cast<std::int32_t>(action.value));
        break;
    }
    heard.shown.push_back(reveal.shown_steps());
  }
  reveal.resume();
  while (reveal.state() != RevealState::finished) {  // to the end
    reveal.release_hold();
    skip();
  }
  heard.shown.push_back(reveal.shown_steps());
  return heard;
}

// Two sounds, one of them a loop in one case of four.
std::vector<TypingSound> random_sounds(Random& random) {
  std::vector<TypingSound> sounds{{.name = "a", .samples = {"x", "y", "z"}},
                                  {.name = "name", .samples = {"x"}, .loop = random() % 2 == 0}};
  TypingSound& first = sounds[0];
  first.choice = static_cast<SampleChoice>(random() % 3);
  first.every = 1 + static_cast<std::uint32_t>(random() % 3);
  first.gap = Nanoseconds(5'000'000 + static_cast<std::int64_t>(random() % 200'000'000));
  first.heard = {.letters = random() % 4 != 0, .punctuation = random() % 2 == 0};
  first.question_pitch = static_cast<double>(random() % 5);
  first.statement_pitch = -first.question_pitch;
  first.ending = static_cast<SoundEnding>(random() % 2);
  first.loop = random() % 4 == 0;
  if (first.loop) first.samples.resize(1);
  return sounds;
}

std::string check_sounds(const Heard& heard, const std::vector<TypingSound>& sounds) {
  Nanoseconds last{};
  std::optional<Nanoseconds> last_start;
  bool loop = false;
  for (const auto& [time, kind, step, sample] : heard.sounds) {
    if (time < last) return "sounds out of order";
    last = time;
    if (kind == SoundEventKind::loop_begin || kind == SoundEventKind::loop_end) {
      if (loop == (kind == SoundEventKind::loop_begin)) return "a loop begins or ends twice";
      loop = !loop;
    }
    if (kind != SoundEventKind::typing) continue;
    const Nanoseconds gap = std::min(sounds[0].gap, sounds[1].gap);
    if (last_start && time - *last_start < gap) return "sounds come too close";
    last_start = time;
  }
  return loop ? "a loop goes on after the line" : "";
}

std::string check_playback(const PreparedLine& line, Language& language, const Pace& pace,
                           Random& random) {
  const std::vector<TypingSound> sounds = random_sounds(random);
  const auto plan =
      plan_typing(line.marked, line.steps, language, line.schedule, sounds, "a", pace);
  if (!plan) return "good sounds were refused: " + plan.error().message;
  const std::vector<Action> actions = random_actions(random);
  const Heard whole = play(line, *plan, actions, 0, random);
  if (std::string broken = check_sounds(whole, sounds); !broken.empty()) return broken;
  if (whole.events.size() != line.schedule.events.size()) return "events lost or doubled";
  for (std::size_t i = 0; i < whole.events.size(); ++i) {
    if (whole.events[i] != &line.schedule.events[i]) return "events out of order in playback";
  }
  if (!std::is_sorted(whole.shown.begin(), whole.shown.end())) return "the shown count fell";
  if (whole.shown.back() != line.steps.size()) return "the end does not show everything";
  for (const std::int64_t frame : {1'000'000, 16'666'667, 33'000'001, 250'000'000}) {
    if (play(line, *plan, actions, frame, random) != whole) return "frames change what happens";
  }
  return {};
}

}  // namespace

std::string broken_promise(const std::string& markup, std::uint64_t seed) {
  Random random(seed);
  Pace pace;
  pace.rate = 0.5 + static_cast<double>(random() % 2000) / 10;
  if (random() % 2 == 0) pace.space = Nanoseconds(random() % 50'000'000);
  if (random() % 4 == 0) pace.sentence = {};
  if (random() % 3 == 0) pace.jitter = static_cast<double>(random() % 101) / 100;
  if (random() % 3 == 0) pace.unit = static_cast<RevealUnit>(random() % 4);
  if (random() % 4 == 0) pace.characters = {{"a", std::chrono::milliseconds(70)}, {"…", {}}};
  if (random() % 4 == 0) pace.fit = Nanoseconds(1 + random() % 20'000'000'000);
  if (!pace.fit && random() % 4 == 0) pace.most = Nanoseconds(1 + random() % 5'000'000'000);
  if (random() % 2 == 0) pace.fit_pauses = FitPauses::keep;
  const Box box{.width = static_cast<float>(1 + random() % 40),
                .align = static_cast<Align>(random() % 3)};
  PreparedLine line;
  Typesetter& typesetter = typesetter_for(random());
  const auto prepared = typesetter.prepare(markup, pace, GridFont(), box, line);
  if (!prepared) return "a good pace and box were refused: " + prepared.error().message;
  for (std::string broken :
       {check_text(markup, line), check_schedule(line, pace), check_layout(line, box),
        check_playback(line, typesetter.language(), pace, random)}) {
    if (!broken.empty()) return broken;
  }
  return {};
}

std::string broken_promise(std::span<const std::uint8_t> bytes) {
  std::uint64_t seed = 0;
  const std::size_t used = std::min(bytes.size(), sizeof seed);
  if (used > 0) std::memcpy(&seed, bytes.data(), used);
  const auto rest = bytes.subspan(used);
  return broken_promise(std::string(rest.begin(), rest.end()), seed);
}

}  // namespace arvik::fuzz
