// Guarded by tests/c/c_test.cpp, and by the same example in C, Python and C++.

#include <functional>
#include <optional>
#include <utility>

#include "arvik/place_file.hpp"
#include "arvik/script_player.hpp"
#include "objects.hpp"

using namespace arvik;
using namespace arvik::c;

static_assert(static_cast<int>(ConversationState::closing) == ARVIK_TALK_CLOSING);

struct arvik_talk {
  std::shared_ptr<const Font> font;
  arvik_sounds sounds;
  ScriptPlayer player;  // refers to the font
  std::string name;
  Conversation& talk;
  std::span<const ConversationEvent> events{};
  Nanoseconds begin{};                   // of the last tick
  std::shared_ptr<const Block> block{};  // of which the line was made
  std::unique_ptr<arvik_line> line{};    // what stands in the box, once it was asked for
  std::vector<HistoryEntry> history{};   // when it was asked for
  std::string place{};

  arvik_talk(std::shared_ptr<const Font> face, ScriptPlayer opened, std::string called)
      : font(std::move(face)),
        sounds(opened.script().sounds, opened.script().clips),
        player(std::move(opened)),
        name(std::move(called)),
        talk(player.conversation()) {}

  void forget() {
    events = {};
    line.reset();
    block.reset();
  }
};

namespace {

// Null where there is nothing.
const ConversationEvent* event_of(const arvik_talk* talk, uint32_t index) {
  return talk == nullptr || index >= talk->events.size() ? nullptr : &talk->events[index];
}

std::unique_ptr<arvik_line> line_of(const Block& text) {
  auto line = std::make_shared<Line>(Line{.prepared = {.marked = text.marked,
                                                       .steps = text.steps,
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

int32_t no_talk(arvik_error* error) {
  put_error("bad-value", "there is no talk", error);
  return 0;
}

}  // namespace

arvik_talk* arvik_talk_create(arvik_setter* setter, const char* script, size_t bytes,
                              const char* name, const arvik_font* font, const arvik_box* box,
                              arvik_error* error) {
  return guarded(error, [&]() -> arvik_talk* {
    auto read = parse_script(text_of(script, bytes));
    if (!read) {
      put_error(read.error()[0], error);
      return nullptr;
    }
    const auto in_box = box == nullptr ? tl::expected<Box, Diagnostic>(read->box) : box_of(box);
    if (!in_box) return put_error(in_box.error(), error), nullptr;
    const ScriptConversation* found = name != nullptr               ? read->find_conversation(name)
                                      : read->conversations.empty() ? nullptr
                                                                    : &read->conversations[0];
    if (found == nullptr) {
      put_error("bad-value", "the script has no such conversation", error);
      return nullptr;
    }
    std::string called = found->name;
    ScriptPlayerOptions options{.box = *in_box};
    if (setter != nullptr) {
      options.values.value =
          [values = setter->values](std::string_view key) -> std::optional<std::string> {
        const auto value = values.find(key);
        if (value == values.end()) return std::nullopt;
        return value->second;
      };
    }
    std::shared_ptr<const Font> face = font_of(font);
    auto player = ScriptPlayer::open(std::make_shared<const Script>(std::move(*read)), *face,
                                     std::move(options));
    if (!player) return put_error(player.error(), error), nullptr;
    return new arvik_talk(std::move(face), std::move(*player), std::move(called));
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
               .reduced_motion = 0};
}

int32_t arvik_talk_configure(arvik_talk* talk, const arvik_talk_settings* settings) {
  if (talk == nullptr) return 0;
  const arvik_talk_settings given = taken(settings, arvik_talk_settings_init);
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
    now.player = {
        .speeds = std::move(speeds), .speed = 0, .reduced_motion = given.reduced_motion != 0};
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

int32_t arvik_talk_start(arvik_talk* talk, arvik_error* error) {
  if (talk == nullptr) return no_talk(error);
  return guarded(error, [&]() -> int32_t {
    const auto started = talk->player.start(talk->name);
    if (!started) return put_error(started.error(), error), 0;
    talk->forget();
    return 1;
  });
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
       .kind = (inner ? event_kind_name(inner->kind) : conversation_event_name(found->kind)).data(),
       .time_ns = found->time.count(),
       .line = found->line,
       .skipped = found->skipped ? 1 : 0,
       .step = inner ? inner->step : 0,
       .attributes = inner ? static_cast<uint32_t>(inner->attributes.size()) : 0,
       .name = inner ? inner->name.c_str() : whole(found->portrait),
       .line_id = found->line < lines.size() ? lines[found->line].id.c_str() : ""},
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

int32_t arvik_talk_history_entry(const arvik_talk* talk, uint32_t index, const char** speaker,
                                 const char** text) {
  if (talk == nullptr || index >= talk->history.size() || speaker == nullptr || text == nullptr) {
    return 0;
  }
  const HistoryEntry& entry = talk->history[index];
  *speaker = entry.speaker.c_str();
  *text = entry.text.c_str();
  return 1;
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
    const auto read = read_place(text_of(place, bytes));
    if (!read) return put_error(read.error(), error), 0;
    const auto started = talk->player.start_at(*read);
    // A place that does not fit leaves a talk that has closed, without what it had brought.
    if (started || talk->talk.state() == ConversationState::closed) talk->forget();
    if (!started) return put_error(started.error(), error), 0;
    return 1;
  });
}
