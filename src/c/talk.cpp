// Guarded by tests/c/c_talk_test.cpp, and by the same example in C, Python and C++.

#include <functional>
#include <optional>
#include <utility>

#include "arvik/place_file.hpp"
#include "arvik/script_player.hpp"
#include "objects.hpp"

using namespace arvik;
using namespace arvik::c;

static_assert(static_cast<int>(ConversationState::closing) == ARVIK_TALK_CLOSING);

namespace {

// Null where there is nothing.
const ConversationEvent* event_of(const arvik_talk* talk, uint32_t index) {
  return talk == nullptr || index >= talk->events.size() ? nullptr : &talk->events[index];
}

std::unique_ptr<arvik_line> line_of(const Block& text) {
  auto line = std::make_shared<Line>(Line{.prepared = {.marked = text.marked,
                                                       .steps = text.steps,
                                                       .boundaries = {},
                                                       .schedule = {},
                                                       .layout = text.layout},
                                          .diagnostics = text.diagnostics});
  // Each of its lines has times of its own; here they stand one after the other.
  Schedule& all = line->prepared.schedule;
  for (const BlockLine& part : text.lines) {
    const Schedule& own = part.part.schedule;
    for (const Nanoseconds onset : own.onsets) {
      all.onsets.push_back(add_saturated(all.duration, onset));
    }
    all.duration = add_saturated(all.duration, own.duration);
  }
  line->rows = row_text(text.marked, text.steps, text.layout);
  return std::make_unique<arvik_line>(arvik_line{std::move(line)});
}

// One kind of codes for what happens in lines and in conversations.
int32_t code_of(const ConversationEvent& event) {
  switch (event.kind) {
    case ConversationEventKind::opened:
      return ARVIK_EVENT_OPENED;
    case ConversationEventKind::line_started:
      return ARVIK_EVENT_LINE_STARTED;
    case ConversationEventKind::revealed:
      return static_cast<int32_t>(event.event->kind);
    case ConversationEventKind::portrait_changed:
      return ARVIK_EVENT_PORTRAIT;
    case ConversationEventKind::line_finished:
      return ARVIK_EVENT_LINE_FINISHED;
    case ConversationEventKind::waiting:
      return ARVIK_EVENT_WAITING;
    case ConversationEventKind::choosing:
      return ARVIK_EVENT_CHOOSING;
    case ConversationEventKind::chosen:
      return ARVIK_EVENT_CHOSEN;
    case ConversationEventKind::line_left:
      return ARVIK_EVENT_LINE_LEFT;
    case ConversationEventKind::closed:
      return ARVIK_EVENT_CLOSED;
  }
  return ARVIK_EVENT_CLOSED;
}

bool is_good(const arvik_script* script, arvik_error* error) {
  if (script == nullptr) {
    put_error("bad-value", "there is no script", error);
  } else if (script->script == nullptr) {
    put_error(script->problems[0], error);
  }
  return script != nullptr && script->script != nullptr;
}

int32_t no_talk(arvik_error* error) {
  put_error("bad-value", "there is no talk", error);
  return 0;
}

}  // namespace

arvik_talk* arvik_talk_create(arvik_setter* setter, const arvik_script* script,
                              const arvik_font* font, const arvik_box* box, arvik_error* error) {
  if (!is_good(script, error)) return nullptr;
  return guarded(error, [&]() -> arvik_talk* {
    ScriptPlayerOptions options;
    if (box != nullptr) {
      const auto in_box = box_of(box);
      if (!in_box) return put_error(in_box.error(), error), nullptr;
      options.box = *in_box;
    }
    if (setter != nullptr) {
      options.icon_sizes = setter->icon_sizes;
      options.values.value =
          [values = setter->values](std::string_view key) -> std::optional<TextValue> {
        const auto value = values.find(key);
        if (value == values.end()) return std::nullopt;
        return value->second;
      };
    }
    std::shared_ptr<const Font> face = font_of(font);
    auto player = ScriptPlayer::open(script->script, *face, std::move(options));
    if (!player) return put_error(player.error(), error), nullptr;
    return new arvik_talk(std::move(face), std::move(*player));
  });
}

void arvik_talk_destroy(arvik_talk* talk) { delete talk; }

void arvik_talk_settings_init(arvik_talk_settings* settings) {
  if (settings == nullptr) return;
  const ConversationSettings defaults;
  *settings = {.size = sizeof *settings,
               .opening_ns = defaults.opening.count(),
               .closing_ns = defaults.closing.count(),
               .grace_ns = defaults.grace.count(),
               .hurry_after_ns = defaults.hurry_after.count(),
               .hurry = defaults.hurry,
               .by_itself = defaults.play_by_itself ? 1 : 0,
               .reading_rate = defaults.reading_rate,
               .least_reading_ns = defaults.least_reading.count(),
               .indicator_period_ns = defaults.indicator_period.count(),
               .voice_fade_ns = defaults.voice_fade.count(),
               .speed = Reveal::normal_speed,
               .instant = 0,
               .reduced_motion = 0,
               .no_ruby = 0,
               .voices_set_speed = defaults.voices_set_speed ? 1 : 0,
               .voices_outlast_skip = defaults.skip_ends_voice ? 0 : 1};
}

int32_t arvik_talk_configure(arvik_talk* talk, const arvik_talk_settings* settings) {
  if (talk == nullptr) return 0;
  const auto from = taken(settings, arvik_talk_settings_init);
  if (!from) return 0;
  const arvik_talk_settings& given = *from;
  const auto time = [](int64_t value) {
    return std::clamp(Nanoseconds(value), Nanoseconds::zero(), max_written_time);
  };
  return guarded(nullptr, [&]() -> int32_t {
    std::vector<PlayerSpeed> speeds{{.thousandths = given.speed, .instant = given.instant != 0}};
    ConversationSettings now = talk->talk.settings();
    now.opening = time(given.opening_ns);
    now.closing = time(given.closing_ns);
    now.grace = time(given.grace_ns);
    now.hurry_after = time(given.hurry_after_ns);
    now.hurry = given.hurry;
    now.play_by_itself = given.by_itself != 0;
    now.reading_rate = given.reading_rate;
    now.least_reading = time(given.least_reading_ns);
    now.indicator_period = time(given.indicator_period_ns);
    now.voice_fade = time(given.voice_fade_ns);
    now.voices_set_speed = given.voices_set_speed != 0;
    now.skip_ends_voice = given.voices_outlast_skip == 0;
    now.player = {.speeds = std::move(speeds),
                  .speed = 0,
                  .reduced_motion = given.reduced_motion != 0,
                  .ruby = given.no_ruby == 0};
    return talk->talk.set_settings(std::move(now)) ? 1 : 0;
  });
}

void arvik_talk_set_voice_length(arvik_talk* talk, arvik_voice_length length, void* user) {
  if (talk == nullptr) return;
  guarded(nullptr, [&] {
    std::function<Nanoseconds(std::string_view)> answer;
    if (length != nullptr) {
      answer = [length, user](std::string_view voice) {
        return std::clamp(Nanoseconds(length(user, whole(voice))), Nanoseconds::zero(),
                          max_written_time);
      };
    }
    ConversationSettings settings = talk->talk.settings();
    settings.voice_length = std::move(answer);
    return talk->talk.set_settings(std::move(settings)) ? 1 : 0;
  });
}

int32_t arvik_talk_start(arvik_talk* talk, const char* conversation, const char* from,
                         arvik_error* error) {
  if (talk == nullptr) return no_talk(error);
  return guarded(error, [&]() -> int32_t {
    const auto started = talk->player.start(text_of(conversation), text_of(from));
    if (!started) return put_error(started.error(), error), 0;
    talk->forget();
    return 1;
  });
}

void arvik_talk_set_voice_position(arvik_talk* talk, int64_t position_ns) {
  if (talk != nullptr) talk->talk.set_voice_position(Nanoseconds(position_ns));
}

uint32_t arvik_talk_tick(arvik_talk* talk, int64_t real_ns, uint32_t buttons) {
  if (talk == nullptr) return 0;
  talk->events = {};
  return guarded(nullptr, [&]() -> uint32_t {
    talk->begin = talk->talk.clock();
    talk->events =
        talk->talk.tick(Nanoseconds(real_ns), {.advance = (buttons & ARVIK_BUTTON_ADVANCE) != 0,
                                               .skip = (buttons & ARVIK_BUTTON_SKIP) != 0});
    return static_cast<uint32_t>(talk->events.size());
  });
}

uint32_t arvik_talk_stop(arvik_talk* talk) {
  if (talk == nullptr) return 0;
  talk->forget();
  return guarded(nullptr, [&]() -> uint32_t {
    talk->begin = talk->talk.clock();
    talk->events = talk->talk.stop();
    return static_cast<uint32_t>(talk->events.size());
  });
}

void arvik_talk_pause(arvik_talk* talk) {
  if (talk != nullptr) talk->talk.pause();
}

void arvik_talk_resume(arvik_talk* talk) {
  if (talk != nullptr) talk->talk.resume();
}

int32_t arvik_talk_event_at(const arvik_talk* talk, uint32_t index, arvik_talk_event* event) {
  const ConversationEvent* found = event_of(talk, index);
  if (found == nullptr) return 0;
  const Event* inner = found->event;
  static const std::vector<DialogueLine> none;
  const auto& lines = found->block == nullptr ? none : *found->block->source;
  return put<arvik_talk_event>(
      {.size = sizeof *event,
       .kind = code_of(*found),
       .kind_name =
           (inner ? event_kind_name(inner->kind) : conversation_event_name(found->kind)).data(),
       .time_ns = found->time.count(),
       .line = found->line,
       .skipped = found->skipped ? 1 : 0,
       .step = inner ? inner->step : 0,
       .attributes = inner ? static_cast<uint32_t>(inner->attributes.size()) : 0,
       .name = inner ? inner->name.c_str() : whole(found->portrait),
       .line_id = found->line < lines.size() ? lines[found->line].id.c_str() : "",
       .choice = found->choice},
      event);
}

int32_t arvik_talk_attribute(const arvik_talk* talk, uint32_t event, uint32_t index,
                             const char** key, const char** value) {
  const ConversationEvent* found = event_of(talk, event);
  if (found == nullptr || found->event == nullptr) return 0;
  return put_attribute(*found->event, index, key, value);
}

uint32_t arvik_talk_sounds(const arvik_talk* talk) {
  return talk == nullptr ? 0 : static_cast<uint32_t>(talk->talk.sounds().size());
}

int32_t arvik_talk_sound(const arvik_talk* talk, uint32_t index, arvik_sound* sound) {
  if (index >= arvik_talk_sounds(talk)) return 0;
  return put_sound(talk->talk.sounds()[index], talk->begin, sound);
}

const arvik_sounds* arvik_talk_script_sounds(const arvik_talk* talk) {
  return talk == nullptr ? nullptr : &talk->sounds;
}

int32_t arvik_talk_view_now(const arvik_talk* talk, arvik_talk_view* view) {
  if (talk == nullptr) return 0;
  const ConversationView now = talk->talk.view();
  const Block* text = now.block.get();
  const Extent shown = text == nullptr ? Extent{} : text->steps.extents[now.shown];
  return put<arvik_talk_view>({.size = sizeof *view,
                               .state = static_cast<int32_t>(now.state),
                               .openness = now.openness,
                               .text = text == nullptr ? nullptr : text->marked.text.c_str(),
                               .text_bytes = text == nullptr ? 0 : text->marked.text.size(),
                               .shown_steps = now.shown,
                               .shown_bytes = shown.bytes,
                               .shown_code_points = shown.code_points,
                               .shown_utf16_units = shown.utf16_units,
                               .speaker = whole(now.speaker),
                               .portrait = whole(now.portrait),
                               .indicator = now.indicator ? 1 : 0,
                               .phase = now.phase,
                               .line = talk->talk.line(),
                               .now_ns = now.now.count()},
                              view);
}

const arvik_line* arvik_talk_line(arvik_talk* talk) {
  if (talk == nullptr) return nullptr;
  const std::shared_ptr<const Block> block = talk->talk.view().block;
  if (block == nullptr) return nullptr;
  if (talk->line == nullptr || talk->block != block) {
    talk->line = guarded(nullptr, [&] { return line_of(*block); });
    talk->block = block;
  }
  return talk->line.get();
}

int32_t arvik_talk_set_box(arvik_talk* talk, const arvik_box* box, arvik_error* error) {
  if (talk == nullptr) return no_talk(error);
  return guarded(error, [&]() -> int32_t {
    const auto in_box = box_of(box);
    if (!in_box) return put_error(in_box.error(), error), 0;
    const auto set = talk->talk.set_box(*in_box);
    if (!set) return put_error(set.error(), error), 0;
    return 1;
  });
}

int32_t arvik_talk_set_font(arvik_talk* talk, const arvik_font* font, arvik_error* error) {
  if (talk == nullptr) return no_talk(error);
  return guarded(error, [&]() -> int32_t {
    std::shared_ptr<const Font> face = font_of(font);
    talk->former.reserve(talk->former.size() + 1);
    const auto set = talk->talk.set_font(*face);
    if (!set) return put_error(set.error(), error), 0;
    talk->former.push_back(std::exchange(talk->font, std::move(face)));
    return 1;
  });
}

int32_t arvik_talk_set_script(arvik_talk* talk, const arvik_script* script, arvik_error* error) {
  if (talk == nullptr) return no_talk(error);
  if (!is_good(script, error)) return 0;
  return guarded(error, [&]() -> int32_t {
    arvik_sounds sounds(script->script->sounds, script->script->clips);
    const auto set = talk->player.set_script(script->script);
    if (!set) return put_error(set.error(), error), 0;
    talk->sounds = std::move(sounds);
    return 1;
  });
}

int32_t arvik_talk_set_locale(arvik_talk* talk, const char* locale, const arvik_font* font,
                              arvik_error* error) {
  if (talk == nullptr) return no_talk(error);
  return guarded(error, [&]() -> int32_t {
    std::shared_ptr<const Font> face = font == nullptr ? talk->font : font_of(font);
    talk->former.reserve(talk->former.size() + 1);
    const auto set = talk->player.set_locale(text_of(locale), face.get());
    if (!set) return put_error(set.error(), error), 0;
    if (face != talk->font) talk->former.push_back(std::exchange(talk->font, std::move(face)));
    const Script& script = talk->player.script();
    talk->sounds = arvik_sounds(script.sounds, script.clips);
    return 1;
  });
}

const char* arvik_talk_locale(const arvik_talk* talk) {
  return talk == nullptr ? nullptr : talk->player.locale().c_str();
}

void arvik_talk_prepare_next(arvik_talk* talk) {
  if (talk == nullptr) return;
  guarded(nullptr, [&] { return talk->talk.prepare_next() ? 1 : 0; });
}

// --- answers

uint32_t arvik_talk_choices(const arvik_talk* talk) {
  return talk == nullptr ? 0 : static_cast<uint32_t>(talk->talk.view().choices.size());
}

int32_t arvik_talk_choice(const arvik_talk* talk, uint32_t index, arvik_choice* choice) {
  if (index >= arvik_talk_choices(talk)) return 0;
  const ChoiceText& found = talk->talk.view().choices[index];
  return put<arvik_choice>({.size = sizeof *choice,
                            .id = found.id.c_str(),
                            .text = found.marked.text.c_str(),
                            .available = found.available ? 1 : 0},
                           choice);
}

arvik_line* arvik_talk_choice_line(const arvik_talk* talk, uint32_t index) {
  if (index >= arvik_talk_choices(talk)) return nullptr;
  return guarded(nullptr, [&] {
    const ChoiceText& found = talk->talk.view().choices[index];
    Block block{.marked = found.marked, .steps = found.steps, .layout = found.layout};
    return line_of(block).release();
  });
}

int32_t arvik_talk_choose(arvik_talk* talk, uint32_t index, arvik_error* error) {
  if (talk == nullptr) return no_talk(error);
  return guarded(error, [&]() -> int32_t {
    const auto chosen = talk->talk.choose(index);
    if (!chosen) return put_error(chosen.error(), error), 0;
    return 1;
  });
}

// --- of the script

int32_t arvik_talk_speaker(const arvik_talk* talk, const char* id, arvik_speaker* speaker) {
  const Speaker* found =
      talk == nullptr ? nullptr : talk->player.script().find_speaker(text_of(id));
  if (found == nullptr) return 0;
  return put<arvik_speaker>({.size = sizeof *speaker,
                             .name = found->name.c_str(),
                             .color = found->color ? packed(*found->color) : 0,
                             .has_color = found->color ? 1 : 0},
                            speaker);
}

const char* arvik_talk_portrait(const arvik_talk* talk, const char* speaker, const char* portrait) {
  const Speaker* found =
      talk == nullptr ? nullptr : talk->player.script().find_speaker(text_of(speaker));
  if (found == nullptr) return nullptr;
  for (const Portrait& one : found->portraits) {
    if (one.name == text_of(portrait)) return one.picture.c_str();
  }
  return nullptr;
}

uint32_t arvik_talk_history(arvik_talk* talk) {
  if (talk == nullptr) return 0;
  return guarded(nullptr, [&] {
    talk->history = talk->talk.history();
    return static_cast<uint32_t>(talk->history.size());
  });
}

int32_t arvik_talk_history_at(const arvik_talk* talk, uint32_t index, arvik_history_entry* entry) {
  if (talk == nullptr || index >= talk->history.size()) return 0;
  const HistoryEntry& found = talk->history[index];
  return put<arvik_history_entry>({.size = sizeof *entry,
                                   .line_id = found.line.c_str(),
                                   .speaker = found.speaker.c_str(),
                                   .text = found.text.c_str(),
                                   .choice = found.choice.c_str(),
                                   .answer = found.answer.c_str()},
                                  entry);
}

// --- saved places

const char* arvik_talk_write_place(arvik_talk* talk, size_t* bytes) {
  if (bytes != nullptr) *bytes = 0;
  if (talk == nullptr) return nullptr;
  return guarded(nullptr, [&]() -> const char* {
    talk->place = write_place(talk->talk.place());
    if (bytes != nullptr) *bytes = talk->place.size();
    return talk->place.c_str();
  });
}

int32_t arvik_talk_start_at(arvik_talk* talk, const char* place, size_t bytes, arvik_error* error) {
  if (talk == nullptr) return no_talk(error);
  return guarded(error, [&]() -> int32_t {
    const auto text = good_text(place, bytes, error);
    if (!text) return 0;
    const auto read = read_place(*text);
    if (!read) return put_error(read.error(), error), 0;
    const auto started = talk->player.start_at(*read);
    // A place that does not fit leaves a talk that has closed, without what it had brought.
    if (started || talk->talk.state() == ConversationState::closed) talk->forget();
    if (!started) return put_error(started.error(), error), 0;
    return 1;
  });
}
