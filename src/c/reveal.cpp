// Guarded by tests/c/c_line_test.cpp.

#include <utility>

#include "objects.hpp"

using namespace arvik;
using namespace arvik::c;

namespace {

static_assert(static_cast<int>(RevealState::finished) == ARVIK_FINISHED);
static_assert(static_cast<int>(SoundEventKind::cut) == ARVIK_SOUND_CUT);
static_assert(static_cast<int>(SoundEventKind::voice_end) == ARVIK_SOUND_VOICE_END);

constexpr std::size_t usual_sounds = 32;  // of one tick; more grow the memory once

}  // namespace

// --- playing

namespace {

void put_progress(const arvik_reveal& reveal, const Progress& progress, arvik_progress* out) {
  const auto& events = reveal.line->prepared.schedule.events;
  const auto first =
      progress.events.empty() ? 0 : static_cast<uint32_t>(progress.events.data() - events.data());
  put<arvik_progress>({.size = sizeof *out,
                       .first_step = progress.first_step,
                       .end_step = progress.end_step,
                       .first_event = first,
                       .end_event = first + static_cast<uint32_t>(progress.events.size()),
                       .skipped = progress.skipped ? 1 : 0},
                      out);
}

}  // namespace

arvik_reveal* arvik_reveal_create(const arvik_line* line, arvik_error* error) {
  if (line == nullptr) {
    put_error("bad-value", "there is no line", error);
    return nullptr;
  }
  return guarded(error, [&] {
    std::unique_ptr<arvik_reveal> reveal(
        new arvik_reveal{line->line, line->line->prepared.reveal()});
    reveal->entrances.begin(line->line->prepared.steps.size());
    return reveal.release();
  });
}

void arvik_reveal_destroy(arvik_reveal* reveal) { delete reveal; }

void arvik_reveal_tick(arvik_reveal* reveal, int64_t real_ns, arvik_progress* progress) {
  if (reveal == nullptr) return;
  const Nanoseconds time(real_ns);
  guarded(nullptr, [&] {
    put_progress(*reveal, reveal->play(time, [&] { return reveal->reveal.tick(time); }), progress);
    return 0;
  });
}

void arvik_reveal_advance_to(arvik_reveal* reveal, int64_t line_ns, arvik_progress* progress) {
  if (reveal == nullptr) return;
  const Nanoseconds to(line_ns);
  const Nanoseconds time = std::max(to, reveal->reveal.position()) - reveal->reveal.position();
  guarded(nullptr, [&] {
    put_progress(*reveal, reveal->play(time, [&] { return reveal->reveal.advance_to(to); }),
                 progress);
    return 0;
  });
}

void arvik_reveal_skip(arvik_reveal* reveal, arvik_progress* progress) {
  if (reveal == nullptr) return;
  guarded(nullptr, [&] {
    put_progress(*reveal, reveal->play({}, [&] { return reveal->reveal.skip(); }), progress);
    return 0;
  });
}

int32_t arvik_reveal_release_hold(arvik_reveal* reveal) {
  return reveal != nullptr && reveal->reveal.release_hold() ? 1 : 0;
}

void arvik_reveal_pause(arvik_reveal* reveal) {
  if (reveal != nullptr) reveal->reveal.pause();
}

void arvik_reveal_resume(arvik_reveal* reveal) {
  if (reveal != nullptr) reveal->reveal.resume();
}

void arvik_reveal_set_speed(arvik_reveal* reveal, int32_t thousandths) {
  if (reveal != nullptr) reveal->reveal.set_speed(thousandths);
}

void arvik_reveal_set_instant(arvik_reveal* reveal, int32_t instant) {
  if (reveal != nullptr) reveal->reveal.set_instant(instant != 0);
}

int32_t arvik_reveal_state(const arvik_reveal* reveal) {
  return reveal == nullptr ? ARVIK_FINISHED : static_cast<int32_t>(reveal->reveal.state());
}

int64_t arvik_reveal_position_ns(const arvik_reveal* reveal) {
  return reveal == nullptr ? 0 : reveal->reveal.position().count();
}

int32_t arvik_reveal_shown(const arvik_reveal* reveal, arvik_extent* extent) {
  if (reveal == nullptr) return 0;
  return put(extent_of(*reveal->line, reveal->reveal.shown_steps()), extent);
}

int32_t arvik_reveal_place(const arvik_reveal* reveal, arvik_line_place* place) {
  if (reveal == nullptr) return 0;
  const RevealPlace found = reveal->reveal.place();
  return put<arvik_line_place>({.size = sizeof *place,
                                .position_ns = found.position.count(),
                                .remainder = found.remainder,
                                .shown = found.shown,
                                .next_event = found.next_event,
                                .state = static_cast<int32_t>(found.state)},
                               place);
}

int32_t arvik_reveal_go_to(arvik_reveal* reveal, const arvik_line_place* place) {
  if (reveal == nullptr || place == nullptr || place->size < sizeof *place) return 0;
  if (place->state < 0 || place->state > ARVIK_FINISHED) return 0;
  if (!reveal->reveal.go_to({.position = Nanoseconds(place->position_ns),
                             .remainder = place->remainder,
                             .shown = place->shown,
                             .next_event = place->next_event,
                             .state = static_cast<RevealState>(place->state)})) {
    return 0;
  }
  reveal->entrances.put(place->shown);
  if (reveal->plan != nullptr) reveal->typing.replace(*reveal->plan, reveal->reveal.position());
  return 1;
}

// --- sounds

arvik_sounds::arvik_sounds(std::vector<TypingSound> typing, const std::vector<NamedClip>& clips)
    : sounds(std::move(typing)) {
  const auto add = [&](const std::string& name, const std::string& file) {
    const bool known = std::any_of(files.begin(), files.end(),
                                   [&](const NamedClip& other) { return other.name == name; });
    if (!known) files.push_back({name, file});
  };
  for (const TypingSound& sound : sounds) {
    for (const std::string& sample : sound.samples) add(sample, sample);
  }
  for (const NamedClip& clip : clips) add(clip.name, clip.file);
}

arvik_sounds* arvik_sounds_create(const char* json, size_t bytes, arvik_error* error) {
  return guarded(error, [&]() -> arvik_sounds* {
    auto read = parse_sounds(text_of(json, bytes));
    if (!read) {
      put_error(read.error()[0], error);
      return nullptr;
    }
    return new arvik_sounds(std::move(read->sounds), read->clips);
  });
}

void arvik_sounds_destroy(arvik_sounds* sounds) { delete sounds; }

uint32_t arvik_sounds_files(const arvik_sounds* sounds) {
  return sounds == nullptr ? 0 : static_cast<uint32_t>(sounds->files.size());
}

int32_t arvik_sounds_file(const arvik_sounds* sounds, uint32_t index, const char** name,
                          const char** path) {
  if (index >= arvik_sounds_files(sounds) || name == nullptr || path == nullptr) return 0;
  *name = sounds->files[index].name.c_str();
  *path = sounds->files[index].file.c_str();
  return 1;
}

int32_t arvik_reveal_hear(arvik_reveal* reveal, arvik_setter* setter, const arvik_sounds* sounds,
                          const char* typing, arvik_error* error) {
  if (reveal == nullptr || setter == nullptr || sounds == nullptr) {
    put_error("bad-value", "hearing needs a reveal, a setter and sounds", error);
    return 0;
  }
  return guarded(error, [&]() -> int32_t {
    const PreparedLine& line = reveal->line->prepared;
    auto plan = plan_typing(line.marked, line.steps, setter->typesetter.language(), line.schedule,
                            sounds->sounds, typing == nullptr ? "" : typing, reveal->line->pace);
    if (!plan) {
      put_error(plan.error(), error);
      return 0;
    }
    put(arvik_error{}, error);
    if (!plan->diagnostics.empty()) put_error(plan->diagnostics[0], error);
    reveal->sounds.reserve(usual_sounds);
    reveal->sounds.clear();  // they point into the old plan
    auto kept = std::make_unique<const TypingPlan>(std::move(*plan));
    reveal->typing.replace(*kept, reveal->reveal.position());
    reveal->plan = std::move(kept);
    return 1;
  });
}

uint32_t arvik_reveal_sounds(const arvik_reveal* reveal) {
  return reveal == nullptr ? 0 : static_cast<uint32_t>(reveal->sounds.size());
}

int32_t arvik_reveal_sound(const arvik_reveal* reveal, uint32_t index, arvik_sound* sound) {
  if (index >= arvik_reveal_sounds(reveal)) return 0;
  return put_sound(reveal->sounds[index], reveal->begin, sound);
}
