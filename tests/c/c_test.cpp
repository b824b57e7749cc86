// The C interface as C sees it, wrong calls included.
#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <fstream>
#include <string>

#include "arvik/arvik.h"
#include "support/allocations.hpp"
#include "support/generator.hpp"

namespace {

// Destroys with the scope.
template <typename Object, void (*destroy)(Object*)>
struct Owned {
  Object* object;
  ~Owned() { destroy(object); }
  operator Object*() const { return object; }  // NOLINT: stands for the pointer
};
using Setter = Owned<arvik_setter, arvik_setter_destroy>;
using Line = Owned<arvik_line, arvik_line_destroy>;
using Reveal = Owned<arvik_reveal, arvik_reveal_destroy>;
using CFont = Owned<arvik_font, arvik_font_destroy>;
using Sounds = Owned<arvik_sounds, arvik_sounds_destroy>;
using Talk = Owned<arvik_talk, arvik_talk_destroy>;
using Script = Owned<arvik_script, arvik_script_destroy>;
using CFrame = Owned<arvik_frame, arvik_frame_destroy>;

Setter english() { return {arvik_setter_create(nullptr, nullptr)}; }

Line prepare(arvik_setter* setter, const char* markup, const arvik_font* font = nullptr,
             const arvik_box* box = nullptr) {
  arvik_pace pace;
  arvik_pace_init(&pace);
  pace.rate = 10;
  return {arvik_line_prepare(setter, markup, ARVIK_NUL, &pace, font, box, nullptr)};
}

arvik_error new_error() {
  arvik_error error{};
  error.size = sizeof error;
  return error;
}

// A talk of a script's text; it keeps the script alive.
arvik_talk* new_talk(arvik_setter* setter, const char* json, const arvik_font* font,
                     const arvik_box* box, arvik_error* error) {
  const Script script{arvik_script_read(json, ARVIK_NUL, 0, error)};
  return arvik_talk_create(setter, script, font, box, error);
}

template <typename Struct>
Struct sized() {
  Struct value{};
  value.size = sizeof value;
  return value;
}

}  // namespace

TEST_CASE("a line from C: text, times, events, rows, places") {
  const Setter setter = english();
  arvik_setter_set_value(setter, "who", "Pell", ARVIK_NUL);
  arvik_box box;
  arvik_box_init(&box);
  box.width = 10;
  const Line line = prepare(
      setter, "Hi [value who], [mark m a=b][b: [color teal: tick]] tock 👍🏽", nullptr, &box);
  REQUIRE(line.object != nullptr);
  std::size_t bytes = 0;
  CHECK(std::string(arvik_line_text(line, &bytes)) == "Hi Pell, tick tock 👍🏽");
  CHECK(bytes == 27);
  CHECK(std::string(arvik_line_row_text(line, &bytes)) == "Hi Pell,\ntick tock\n👍🏽");
  CHECK(arvik_line_steps(line) == 20);
  CHECK(arvik_line_onset_ns(line, 1) == 100'000'000);
  CHECK(arvik_line_duration_ns(line) == 2'020'000'000);
  arvik_extent extent{};
  extent.size = sizeof extent;
  REQUIRE(arvik_line_extent(line, 20, &extent) == 1);
  CHECK(extent.bytes == 27);
  CHECK(extent.code_points == 21);
  CHECK(extent.utf16_units == 23);
  CHECK(extent.row_text_bytes == 27);

  REQUIRE(arvik_line_events(line) == 2);
  arvik_event event{};
  event.size = sizeof event;
  REQUIRE(arvik_line_event(line, 0, &event) == 1);
  CHECK(event.kind == ARVIK_EVENT_MARK);
  CHECK(std::string(event.kind_name) == "mark");
  CHECK(std::string(event.name) == "m");
  CHECK(event.step == 9);
  const char* key = nullptr;
  const char* value = nullptr;
  REQUIRE(arvik_line_attribute(line, 0, 0, &key, &value) == 1);
  CHECK(std::string(key) + value == "ab");

  CHECK(arvik_line_rows(line) == 3);
  CHECK(arvik_line_pages(line) == 1);
  arvik_row row{};
  row.size = sizeof row;
  REQUIRE(arvik_line_row(line, 1, &row) == 1);
  CHECK(row.first_step == 9);
  CHECK(row.y == 1);
  arvik_step step{};
  step.size = sizeof step;
  REQUIRE(arvik_line_step(line, 10, &step) == 1);
  CHECK(step.row == 1);
  CHECK(step.x == 1);
  CHECK(step.style == (1U | 16U));
  CHECK(step.color == 0x008080FFU);
  CHECK(arvik_line_glyphs(line) == 0);
}

TEST_CASE("playing from C: ticks, skips, holds, places; nothing on the heap") {
  const Setter setter = english();
  const Line line = prepare(setter, "abc[hold]def");
  const Reveal reveal{arvik_reveal_create(line, nullptr)};
  arvik_progress progress{};
  progress.size = sizeof progress;
  arvik_extent shown{};
  shown.size = sizeof shown;
  const std::size_t before = arvik::test::allocations();
  arvik_reveal_tick(reveal, 100'000'000, &progress);
  CHECK(progress.first_step == 0);
  CHECK(progress.end_step == 2);
  arvik_reveal_shown(reveal, &shown);
  CHECK(shown.code_points == 2);
  arvik_line_place place{};
  place.size = sizeof place;
  REQUIRE(arvik_reveal_place(reveal, &place) == 1);
  arvik_reveal_skip(reveal, &progress);
  CHECK(progress.skipped == 1);
  CHECK(progress.end_event - progress.first_event == 1);
  CHECK(arvik_reveal_state(reveal) == ARVIK_HOLDING);
  CHECK(arvik_reveal_release_hold(reveal) == 1);
  CHECK(arvik_reveal_release_hold(reveal) == 0);
  arvik_reveal_pause(reveal);
  arvik_reveal_tick(reveal, 1'000'000'000, &progress);
  CHECK(progress.first_step == progress.end_step);
  arvik_reveal_resume(reveal);
  arvik_reveal_set_speed(reveal, 2000);
  arvik_reveal_tick(reveal, 1'000'000'000, nullptr);
  CHECK(arvik_reveal_state(reveal) == ARVIK_FINISHED);
  CHECK(arvik_reveal_go_to(reveal, &place) == 1);
  CHECK(arvik_reveal_position_ns(reveal) == 100'000'000);
  place.shown = 99;
  CHECK(arvik_reveal_go_to(reveal, &place) == 0);
  arvik_reveal_set_instant(reveal, 1);
  arvik_reveal_tick(reveal, 0, &progress);
  CHECK(progress.end_step == 3);
  const std::size_t after = arvik::test::allocations();
  CHECK(after == before);
}

TEST_CASE("a reveal keeps its line alive") {
  const Setter setter = english();
  arvik_line* line =
      arvik_line_prepare(setter, "abc", ARVIK_NUL, nullptr, nullptr, nullptr, nullptr);
  const Reveal reveal{arvik_reveal_create(line, nullptr)};
  arvik_line_destroy(line);
  arvik_reveal_tick(reveal, 10'000'000'000, nullptr);
  CHECK(arvik_reveal_state(reveal) == ARVIK_FINISHED);
}

TEST_CASE("fonts from C: a measuring callback, and a real one") {
  const Setter setter = english();
  const auto measure = [](void* user, const char*, std::size_t bytes, std::uint32_t style,
                          float size) {
    return static_cast<float>(*static_cast<int*>(user)) * static_cast<float>(bytes + style) * size;
  };
  int unit = 7;
  const CFont font{arvik_font_create_measured(measure, &unit, 20, 15, nullptr)};
  const Line line = prepare(setter, "ab[b: c][size 200%: d]", font);
  arvik_step step{};
  step.size = sizeof step;
  arvik_line_step(line, 2, &step);
  CHECK(step.x == 14);
  CHECK(step.width == 14);
  arvik_line_step(line, 3, &step);
  CHECK(step.width == 14);
  CHECK(step.text_size == 2);
  arvik_error error = new_error();
  CHECK(arvik_font_create_measured(nullptr, nullptr, 20, 15, &error) == nullptr);
  CHECK(std::string(error.code) == "bad-font");

  std::ifstream file("/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf", std::ios::binary);
  const std::string data{std::istreambuf_iterator<char>(file), {}};
  const CFont real{arvik_font_create(data.data(), data.size(), 0, 20, &error)};
  REQUIRE(real.object != nullptr);
  const Line shaped = prepare(setter, "office", real);
  REQUIRE(arvik_line_glyphs(shaped) > 3);
  arvik_glyph glyph{};
  glyph.size = sizeof glyph;
  REQUIRE(arvik_line_glyph(shaped, 1, &glyph) == 1);
  CHECK(glyph.id != 0);
  CHECK(glyph.x > 8);
  CHECK(arvik_font_create(data.data(), 100, 0, 20, &error) == nullptr);
  CHECK(std::string(error.code) == "bad-font");
}

TEST_CASE("wrong calls are answered, not crashed on") {
  const Setter setter = english();
  arvik_error error = new_error();
  CHECK(arvik_setter_create("not a tag!", &error) == nullptr);
  CHECK(std::string(error.code) == "language-unavailable");
  CHECK(arvik_line_prepare(nullptr, "x", 1, nullptr, nullptr, nullptr, &error) == nullptr);
  arvik_pace pace;
  arvik_pace_init(&pace);
  pace.rate = -1;
  CHECK(arvik_line_prepare(setter, "x", 1, &pace, nullptr, nullptr, &error) == nullptr);
  CHECK(std::string(error.code) == "bad-pace");
  arvik_pace_init(&pace);
  pace.json = R"({"arvik_pace": 1, "rate": "wrong"})";
  CHECK(arvik_line_prepare(setter, "x", 1, &pace, nullptr, nullptr, &error) == nullptr);
  CHECK(std::string(error.code) == "bad-value");
  CHECK(error.column == 27);
  pace.json = R"({"arvik_pace": 1, "rate": "5cps"})";
  const Line slow{arvik_line_prepare(setter, "xyz", ARVIK_NUL, &pace, nullptr, nullptr, &error)};
  CHECK(arvik_line_onset_ns(slow, 1) == 200'000'000);
  CHECK(arvik_line_onset_ns(slow, 3) == 0);
  arvik_box box;
  arvik_box_init(&box);
  box.align = 9;
  CHECK(arvik_line_prepare(setter, "x", 1, nullptr, nullptr, &box, &error) == nullptr);
  CHECK(std::string(error.code) == "bad-box");

  const Line line = prepare(setter, "[bold: x]");
  REQUIRE(arvik_line_problems(line) == 1);
  auto problem = sized<arvik_problem>();
  REQUIRE(arvik_line_problem(line, 0, &problem) == 1);
  CHECK(std::string(problem.code) == "unknown-tag");
  CHECK(std::string(problem.hint) == "b");
  CHECK(arvik_line_problem(line, 1, &problem) == 0);
  arvik_event event{};
  event.size = sizeof event;
  CHECK(arvik_line_event(line, 99, &event) == 0);
  event.size = 3;  // forgotten
  CHECK(arvik_line_event(line, 0, &event) == 0);
  CHECK(arvik_line_text(nullptr, nullptr) == nullptr);
  CHECK(arvik_line_steps(nullptr) == 0);
  CHECK(arvik_reveal_create(nullptr, nullptr) == nullptr);
  arvik_reveal_tick(nullptr, 1, nullptr);
  arvik_line_destroy(nullptr);
  CHECK(new_talk(setter, "{", nullptr, nullptr, &error) == nullptr);
  CHECK(std::string(error.code) == "bad-json");
}

TEST_CASE("an older caller's struct is filled as far as it goes, and its values count") {
  const Setter setter = english();
  const Line line = prepare(setter, "abc");
  struct OldRow {  // of a version that knew no more
    std::size_t size;
    std::uint32_t first_step, end_step;
    std::uint32_t canary;
  } row{offsetof(arvik_row, end_step) + sizeof(std::uint32_t), 9, 9, 77};
  REQUIRE(arvik_line_row(line, 0, reinterpret_cast<arvik_row*>(&row)) == 1);
  CHECK(row.end_step == 3);
  CHECK(row.canary == 77);
  arvik_pace pace{};
  pace.size = offsetof(arvik_pace, sentence_ns);  // the rate alone
  pace.rate = 5;
  const Line slow{arvik_line_prepare(setter, "a. b", 4, &pace, nullptr, nullptr, nullptr)};
  CHECK(arvik_line_onset_ns(slow, 1) == 200'000'000);
  CHECK(arvik_line_onset_ns(slow, 2) == 640'000'000);  // and the default pause
}

TEST_CASE("a conversation from C: view and events") {
  const Setter setter = english();
  const char* script = R"({"arvik_script": 1, "cast": {"odrun": {"portraits": {"calm": "x"}}},
      "conversations": {"a": [{"speaker": "odrun", "portrait": "calm", "text": "Hé."}]}})";
  arvik_error error = new_error();
  const Talk talk{new_talk(setter, script, nullptr, nullptr, &error)};
  REQUIRE(talk.object != nullptr);
  arvik_talk_settings settings;
  arvik_talk_settings_init(&settings);
  settings.opening_ns = 1'000'000'000;
  REQUIRE(arvik_talk_configure(talk, &settings) == 1);
  CHECK(arvik_talk_start(talk, "b", nullptr, &error) == 0);
  CHECK(std::string(error.code) == "unknown-conversation");
  REQUIRE(arvik_talk_start(talk, nullptr, nullptr, &error) == 1);
  CHECK(arvik_talk_start(talk, nullptr, nullptr, &error) == 0);
  CHECK(std::string(error.code) == "conversation-runs");
  arvik_talk_view view{};
  view.size = sizeof view;
  arvik_talk_tick(talk, 500'000'000, 0);
  arvik_talk_view_now(talk, &view);
  CHECK(view.state == ARVIK_TALK_OPENING);
  CHECK(view.openness == 0.5F);
  CHECK(std::string(view.text) == "Hé.");
  CHECK(view.shown_steps == 0);
  arvik_talk_tick(talk, 540'000'000, 0);
  arvik_talk_view_now(talk, &view);
  CHECK(std::string(view.speaker) + view.portrait == "odruncalm");
  CHECK(view.shown_bytes == 3);
  CHECK(view.shown_utf16_units == 2);
  const std::uint32_t count = arvik_talk_tick(talk, 0, ARVIK_BUTTON_SKIP);
  REQUIRE(count == 3);
  arvik_talk_event event{};
  event.size = sizeof event;
  REQUIRE(arvik_talk_event_at(talk, 0, &event) == 1);
  CHECK(std::string(event.kind_name) == "finish");
  CHECK(event.skipped == 1);
  CHECK(arvik_talk_event_at(talk, 3, &event) == 0);
  arvik_talk_pause(talk);
  CHECK(arvik_talk_tick(talk, 1'000'000'000, ARVIK_BUTTON_ADVANCE) == 0);
  arvik_talk_resume(talk);
  arvik_talk_tick(talk, 1'000'000'000, 0);
  arvik_talk_tick(talk, 0, ARVIK_BUTTON_ADVANCE);
  arvik_talk_view_now(talk, &view);
  CHECK(view.state == ARVIK_TALK_CLOSED);
}

namespace {

const char* const sounds_json = R"({"arvik_sounds": 1, "clips": {"thud": "thud.wav"},
    "sounds": {"wood": {"samples": ["w1", "w2"], "gap": "50ms", "pan": -0.5, "ending": "cut"},
               "hum": {"samples": ["h"], "loop": true}}})";

// "typing w1 +0, …": what the last tick brought, with milliseconds behind its begin.
template <typename Object>
std::string heard(const Object* object, std::uint32_t (*count)(const Object*),
                  std::int32_t (*at)(const Object*, std::uint32_t, arvik_sound*)) {
  std::string result;
  for (std::uint32_t i = 0; i < count(object); ++i) {
    arvik_sound sound{};
    sound.size = sizeof sound;
    REQUIRE(at(object, i, &sound) == 1);
    if (i > 0) result += ", ";
    result += std::string(sound.kind_name) + ' ' + sound.name + " +" +
              std::to_string(sound.delay_ns / 1'000'000);
  }
  return result;
}
std::string heard(const arvik_reveal* reveal) {
  return heard(reveal, arvik_reveal_sounds, arvik_reveal_sound);
}
std::string heard(const arvik_talk* talk) {
  return heard(talk, arvik_talk_sounds, arvik_talk_sound);
}

const char* const talk_script = R"({"arvik_script": 1,
    "cast": {"pell": {"name": "Pell", "color": "#102030", "typing": "wood", "pace": "slow",
                      "portraits": {"still": "pell.png"}}},
    "paces": {"slow": {"rate": "10cps"}},
    "styles": {"loud": ["b"]},
    "clips": {"hello": "hello.wav"},
    "sounds": {"wood": {"samples": ["w1"], "gap": "50ms", "under_voice": "silent"}},
    "box": {"width": 8},
    "conversations": {"a": [
      {"id": "one", "speaker": "pell", "portrait": "still", "voice": "hello",
       "text": "Tick [mark gear teeth=9][style loud: tock] tick"},
      {"id": "two", "speaker": "pell", "portrait": "still", "text": "Boom."}]}})";

}  // namespace

TEST_CASE("the sounds of a line from C, without a tick on the heap") {
  const Setter setter = english();
  arvik_error error = new_error();
  const Sounds sounds{arvik_sounds_create(sounds_json, ARVIK_NUL, &error)};
  REQUIRE(sounds.object != nullptr);
  REQUIRE(arvik_sounds_files(sounds) == 4);
  const char* name = nullptr;
  const char* path = nullptr;
  REQUIRE(arvik_sounds_file(sounds, 3, &name, &path) == 1);
  CHECK(std::string(name) + path == "thudthud.wav");
  CHECK(arvik_sounds_file(sounds, 4, &name, &path) == 0);

  const Line line = prepare(setter, "ab[sound thud] c[typing hum: d][typing hm: e]f");
  const Reveal reveal{arvik_reveal_create(line, nullptr)};
  arvik_reveal_tick(reveal, 0, nullptr);
  CHECK(arvik_reveal_sounds(reveal) == 0);  // nobody listens yet
  REQUIRE(arvik_reveal_hear(reveal, setter, sounds, "wood", &error) == 1);
  CHECK(std::string(error.code) == "unknown-sound");  // hm
  const std::size_t before = arvik::test::allocations();
  arvik_reveal_tick(reveal, 210'000'000, nullptr);
  const std::size_t after = arvik::test::allocations();
  CHECK(after == before);
  CHECK(heard(reveal) == "typing w1 +100, clip thud +200");
  arvik_sound sound{};
  sound.size = sizeof sound;
  arvik_reveal_sound(reveal, 0, &sound);
  CHECK(sound.kind == ARVIK_SOUND_TYPING);
  CHECK(sound.pan == -0.5F);
  CHECK(arvik_reveal_sound(reveal, 2, &sound) == 0);
  arvik_reveal_tick(reveal, 300'000'000, nullptr);
  CHECK(heard(reveal) == "typing w2 +90, loop_begin h +190, loop_end  +290");
  arvik_line_place place{};
  place.size = sizeof place;
  arvik_reveal_place(reveal, &place);
  arvik_reveal_skip(reveal, nullptr);
  CHECK(heard(reveal) == "cut  +0");
  // Back there, it is heard again.
  REQUIRE(arvik_reveal_go_to(reveal, &place) == 1);
  arvik_reveal_tick(reveal, 1'000'000'000, nullptr);
  CHECK(heard(reveal) == "typing w1 +90, cut  +90");

  CHECK(arvik_reveal_hear(reveal, setter, sounds, nullptr, &error) == 1);
  CHECK(arvik_reveal_sounds(reveal) == 0);
  CHECK(arvik_reveal_hear(reveal, setter, nullptr, nullptr, &error) == 0);
  CHECK(arvik_sounds_create("{}", ARVIK_NUL, &error) == nullptr);
  CHECK(std::string(error.code) == "bad-value");
}

TEST_CASE("a conversation from C: sounds, attributes, rows, cast, history") {
  const Setter setter = english();
  arvik_error error = new_error();
  const Talk talk{new_talk(setter, talk_script, nullptr, nullptr, &error)};
  INFO(error.message);
  REQUIRE(talk.object != nullptr);
  CHECK(arvik_sounds_files(arvik_talk_script_sounds(talk)) == 2);
  CHECK(arvik_talk_line(talk) == nullptr);
  std::int64_t length = 250'000'000;
  arvik_talk_set_voice_length(
      talk,
      [](void* user, const char* voice) {
        return std::string(voice) == "hello" ? *static_cast<std::int64_t*>(user) : 0;
      },
      &length);
  REQUIRE(arvik_talk_start(talk, nullptr, nullptr, &error) == 1);
  arvik_talk_tick(talk, 310'000'000, 0);
  CHECK(heard(talk) == "voice_begin hello +0, typing w1 +300");  // silent under the voice

  // The mark with its attribute.
  const std::uint32_t count = arvik_talk_tick(talk, 300'000'000, 0);
  REQUIRE(count == 1);
  arvik_talk_event event{};
  event.size = sizeof event;
  REQUIRE(arvik_talk_event_at(talk, 0, &event) == 1);
  CHECK(std::string(event.kind_name) + event.name + event.line_id == "markgearone");
  REQUIRE(event.attributes == 1);
  const char* key = nullptr;
  const char* value = nullptr;
  REQUIRE(arvik_talk_attribute(talk, 0, 0, &key, &value) == 1);
  CHECK(std::string(key) + value == "teeth9");
  CHECK(arvik_talk_attribute(talk, 0, 1, &key, &value) == 0);
  CHECK(arvik_talk_attribute(talk, 1, 0, &key, &value) == 0);

  // What stands in the box is a line.
  const arvik_line* line = arvik_talk_line(talk);
  REQUIRE(line != nullptr);
  CHECK(std::string(arvik_line_row_text(line, nullptr)) == "Tick\ntock\ntick");
  arvik_step step{};
  step.size = sizeof step;
  arvik_line_step(line, 5, &step);
  CHECK(step.style == 1);
  arvik_talk_view view{};
  view.size = sizeof view;
  arvik_talk_view_now(talk, &view);
  CHECK(view.line == 0);
  CHECK(view.now_ns == 610'000'000);
  arvik_extent extent{};
  extent.size = sizeof extent;
  REQUIRE(arvik_line_extent(line, view.shown_steps, &extent) == 1);
  CHECK(extent.row_text_bytes == 7);
  CHECK(extent.code_points == view.shown_code_points);
  CHECK(arvik_talk_line(talk) == line);

  arvik_box box;
  arvik_box_init(&box);
  box.width = 40;
  REQUIRE(arvik_talk_set_box(talk, &box, &error) == 1);
  CHECK(arvik_line_rows(arvik_talk_line(talk)) == 1);
  box.width = -1;
  CHECK(arvik_talk_set_box(talk, &box, &error) == 0);
  CHECK(std::string(error.code) == "bad-box");
  CHECK(arvik_line_rows(arvik_talk_line(talk)) == 1);

  arvik_speaker speaker{};
  speaker.size = sizeof speaker;
  REQUIRE(arvik_talk_speaker(talk, view.speaker, &speaker) == 1);
  CHECK(std::string(speaker.name) == "Pell");
  CHECK(speaker.color == 0x102030FFU);
  CHECK(arvik_talk_speaker(talk, "nobody", &speaker) == 0);
  CHECK(std::string(arvik_talk_portrait(talk, view.speaker, view.portrait)) == "pell.png");
  CHECK(arvik_talk_portrait(talk, view.speaker, "proud") == nullptr);

  arvik_talk_tick(talk, 0, ARVIK_BUTTON_SKIP);
  arvik_talk_tick(talk, 200'000'000, 0);
  arvik_talk_tick(talk, 0, ARVIK_BUTTON_ADVANCE);
  CHECK(heard(talk) == "voice_end hello +0, typing w1 +0");
  CHECK(std::string(arvik_line_text(arvik_talk_line(talk), nullptr)) == "Boom.");
  REQUIRE(arvik_talk_history(talk) == 2);
  auto entry = sized<arvik_history_entry>();
  REQUIRE(arvik_talk_history_at(talk, 0, &entry) == 1);
  CHECK(std::string(entry.speaker) + entry.text + entry.line_id == "pellTick tock tickone");
  CHECK(arvik_talk_history_at(talk, 2, &entry) == 0);
  REQUIRE(arvik_talk_stop(talk) == 2);
  arvik_talk_event_at(talk, 1, &event);
  CHECK(std::string(event.kind_name) == "closed");
  CHECK(arvik_talk_line(talk) == nullptr);
}

TEST_CASE("a conversation from C: the player's speed, and a saved place") {
  const Setter setter = english();
  arvik_error error = new_error();
  const Talk talk{new_talk(nullptr, talk_script, nullptr, nullptr, &error)};
  arvik_talk_settings settings;
  arvik_talk_settings_init(&settings);
  settings.speed = 2000;
  REQUIRE(arvik_talk_configure(talk, &settings) == 1);
  REQUIRE(arvik_talk_start(talk, nullptr, nullptr, &error) == 1);
  arvik_talk_tick(talk, 210'000'000, 0);
  arvik_talk_view view{};
  view.size = sizeof view;
  arvik_talk_view_now(talk, &view);
  CHECK(view.shown_steps == 5);
  std::size_t bytes = 0;
  const char* place = arvik_talk_write_place(talk, &bytes);
  REQUIRE(place != nullptr);
  const std::string saved(place, bytes);

  const Talk later{new_talk(nullptr, talk_script, nullptr, nullptr, &error)};
  CHECK(arvik_talk_start_at(later, "{", 1, &error) == 0);
  CHECK(std::string(error.code) == "bad-json");
  REQUIRE(arvik_talk_start_at(later, saved.data(), saved.size(), &error) == 1);
  arvik_talk_view_now(later, &view);
  CHECK(view.shown_steps == 5);
  settings.instant = 1;
  arvik_talk_configure(later, &settings);
  arvik_talk_tick(later, 1, 0);
  arvik_talk_view_now(later, &view);
  CHECK(view.state == ARVIK_TALK_WAITING);
  CHECK(view.shown_steps == 14);
  arvik_talk_event event{};
  event.size = sizeof event;
  CHECK(arvik_talk_event_at(later, 0, &event) == 1);
  CHECK(arvik_talk_start_at(later, saved.data(), saved.size(), &error) == 0);
  CHECK(std::string(error.code) == "conversation-runs");
  CHECK(arvik_talk_event_at(later, 0, &event) == 1);  // it goes on as it was
  REQUIRE(arvik_talk_stop(later) > 0);
  // A place whose line is gone leaves nothing of the last tick.
  std::string elsewhere = saved;
  elsewhere.replace(elsewhere.find("\"line\":\""), 8, "\"line\":\"gone");
  CHECK(arvik_talk_start_at(later, elsewhere.data(), elsewhere.size(), &error) == 0);
  CHECK(std::string(error.code) == "bad-place");
  CHECK(arvik_talk_event_at(later, 0, &event) == 0);
  CHECK(arvik_talk_line(later) == nullptr);
}

TEST_CASE("all problems of a script from C, with hints and places") {
  arvik_error error = new_error();
  const char* json = R"({"arvik_script": 1, "cast": {"odrun": {}},
    "conversations": {"a": [{"speaker": "odrum", "text": "[colr red: x]"}, {"text": 5}]}})";
  const Script refused{arvik_script_read(json, ARVIK_NUL, 0, &error)};
  REQUIRE(refused.object != nullptr);
  CHECK(arvik_script_is_good(refused) == 0);
  REQUIRE(arvik_script_problems(refused) == 3);
  auto problem = sized<arvik_problem>();
  REQUIRE(arvik_script_problem(refused, 0, &problem) == 1);
  CHECK(std::string(problem.code) == "unknown-speaker");
  CHECK(std::string(problem.hint) == "odrun");
  CHECK(std::string(problem.pointer) == "/conversations/a/0/speaker");
  CHECK(problem.row == 2);
  CHECK(problem.is_error == 1);
  CHECK(arvik_script_problem(refused, 3, &problem) == 0);
  CHECK(arvik_talk_create(nullptr, refused, nullptr, nullptr, &error) == nullptr);
  CHECK(std::string(error.code) == "unknown-speaker");
  const Script repaired{arvik_script_read(json, ARVIK_NUL, 1, &error)};
  CHECK(arvik_script_is_good(repaired) == 1);
  CHECK(arvik_script_problems(repaired) == 3);
  CHECK(std::string(arvik_script_conversation(repaired, 0)) == "a");
  CHECK(arvik_script_conversation(repaired, 1) == nullptr);
  CHECK(arvik_talk_create(nullptr, nullptr, nullptr, nullptr, &error) == nullptr);
}

TEST_CASE("structs without a size and absurd lengths are refused") {
  const Setter setter = english();
  arvik_error error = new_error();
  arvik_box box;
  arvik_box_init(&box);
  box.size = 0;
  CHECK(arvik_line_prepare(setter, "x", 1, nullptr, nullptr, &box, &error) == nullptr);
  CHECK(std::string(error.code) == "bad-value");
  CHECK(std::string(error.message).find("size") != std::string::npos);
  arvik_pace pace{};
  CHECK(arvik_line_prepare(setter, "x", 1, &pace, nullptr, nullptr, &error) == nullptr);
  CHECK(arvik_line_prepare(setter, "x", SIZE_MAX - 1, nullptr, nullptr, nullptr, &error) ==
        nullptr);
  CHECK(std::string(error.code) == "text-too-long");
  CHECK(arvik_script_read("x", SIZE_MAX / 2, 0, &error) == nullptr);
  CHECK(arvik_font_create("x", ARVIK_NUL, 0, 20, &error) == nullptr);
  const Talk talk{new_talk(setter, talk_script, nullptr, nullptr, &error)};
  arvik_talk_settings settings{};
  CHECK(arvik_talk_configure(talk, &settings) == 0);
  arvik_talk_view view{};
  CHECK(arvik_talk_view_now(talk, &view) == 0);
  CHECK(arvik_talk_start_at(talk, "x", SIZE_MAX - 1, &error) == 0);
}

TEST_CASE("a conversation that the game makes, with answers and another language, from C") {
  const Setter setter = english();
  arvik_error error = new_error();
  const auto make = [&](const char* locale, const char* ask, const char* yes) {
    arvik_script* script = arvik_script_create(locale, &error);
    arvik_line_source source;
    arvik_line_source_init(&source);
    source.id = "ask";
    source.speaker = "pell";
    source.text = ask;
    arvik_pace pace;
    arvik_pace_init(&pace);
    pace.rate = 10;
    source.pace = &pace;
    REQUIRE(arvik_script_add_line(script, "pier", &source, &error) == 1);
    REQUIRE(arvik_script_add_choice(script, "pier", "yes", yes, ARVIK_NUL, "inside", 1, &error) ==
            1);
    REQUIRE(arvik_script_add_choice(script, "pier", "no", "No", 2, nullptr, 0, &error) == 1);
    source.id = "in";
    source.text = "Then come.";
    REQUIRE(arvik_script_add_line(script, "inside", &source, &error) == 1);
    return script;
  };
  const Script english_script{make("en", "0123456789[mark m]0123456789", "Yes")};
  const Script polish{make("pl", "0123456789[mark m]01234", "Tak")};
  CHECK(arvik_script_create("no such!", &error) == nullptr);
  CHECK(arvik_script_add_choice(english_script, "nowhere", "x", "y", 1, nullptr, 1, &error) == 0);
  arvik_pace bad;
  arvik_pace_init(&bad);
  bad.rate = -1;
  arvik_line_source wrong;
  arvik_line_source_init(&wrong);
  wrong.pace = &bad;
  CHECK(arvik_script_add_line(english_script, "pier", &wrong, &error) == 0);
  CHECK(std::string(error.code) == "bad-pace");

  const Talk talk{arvik_talk_create(setter, english_script, nullptr, nullptr, &error)};
  REQUIRE(arvik_talk_start(talk, "pier", nullptr, &error) == 1);
  arvik_talk_tick(talk, 1'490'000'000, 0);
  auto view = sized<arvik_talk_view>();
  arvik_talk_view_now(talk, &view);
  CHECK(view.shown_steps == 15);
  REQUIRE(arvik_talk_set_script(talk, polish, &error) == 1);
  arvik_talk_view_now(talk, &view);
  CHECK(view.shown_steps == 13);
  const std::uint32_t count = arvik_talk_tick(talk, 5'000'000'000, 0);
  auto event = sized<arvik_talk_event>();
  REQUIRE(arvik_talk_event_at(talk, count - 1, &event) == 1);
  CHECK(event.kind == ARVIK_EVENT_CHOOSING);
  CHECK(count == 3);  // the mark has come already
  REQUIRE(arvik_talk_choices(talk) == 2);
  auto choice = sized<arvik_choice>();
  REQUIRE(arvik_talk_choice(talk, 0, &choice) == 1);
  CHECK(std::string(choice.id) + ' ' + choice.text == "yes Tak");
  const Line answer{arvik_talk_choice_line(talk, 0)};
  auto layout = sized<arvik_layout>();
  REQUIRE(arvik_line_layout(answer, &layout) == 1);
  CHECK(layout.box_width == 3);
  CHECK(arvik_talk_choose(talk, 1, &error) == 0);
  CHECK(std::string(error.code) == "bad-choice");
  REQUIRE(arvik_talk_choose(talk, 0, &error) == 1);
  arvik_talk_tick(talk, 3'000'000'000, 0);
  arvik_talk_event_at(talk, 0, &event);
  CHECK(event.kind == ARVIK_EVENT_CHOSEN);
  CHECK(event.choice == 0);
  arvik_talk_view_now(talk, &view);
  CHECK(std::string(view.text) == "Then come.");
  REQUIRE(arvik_talk_history(talk) == 2);
  auto entry = sized<arvik_history_entry>();
  REQUIRE(arvik_talk_history_at(talk, 0, &entry) == 1);
  CHECK(std::string(entry.answer) == "Tak");
  CHECK(std::string(entry.choice) == "yes");
  const Script other{arvik_script_create(nullptr, &error)};
  CHECK(arvik_talk_set_script(talk, other, &error) == 0);
  CHECK(std::string(error.code) == "unknown-conversation");
}

TEST_CASE("faces, icons, boxes and frames from C") {
  const Setter setter = english();
  arvik_error error = new_error();
  const auto file = [](const char* name) {
    std::ifstream in(std::string("/usr/share/fonts/truetype/noto/") + name, std::ios::binary);
    return std::string(std::istreambuf_iterator<char>(in), {});
  };
  const std::string latin = file("NotoSerif-Regular.ttf");
  const std::string hebrew = file("NotoSansHebrew-Regular.ttf");
  arvik_face faces[2]{};
  faces[0].size = faces[1].size = sizeof faces[0];
  faces[0].data = latin.data();
  faces[0].bytes = latin.size();
  faces[1].data = hebrew.data();
  faces[1].bytes = hebrew.size();
  faces[1].family = 1;
  const CFont font{arvik_font_create_faces(faces, 2, 20, &error)};
  REQUIRE(font.object != nullptr);
  arvik_setter_set_icon_size(
      setter, [](void*, const char*, float* width, float* height) { *width = *height = 33; },
      nullptr);
  arvik_box box;
  arvik_box_init(&box);
  box.width = 300;
  box.padding_left = 40;
  box.picture_width = 50;
  box.fit_to_text = 1;
  const Line line{arvik_line_prepare(setter, "[color teal: a][icon valve]ש", ARVIK_NUL, nullptr,
                                     font, &box, &error)};
  REQUIRE(arvik_line_glyphs(line) == 3);
  auto glyph = sized<arvik_glyph>();
  arvik_line_glyph(line, 0, &glyph);
  CHECK(glyph.face == 0);
  CHECK(glyph.x == 90);
  CHECK(glyph.style == 16);
  CHECK(glyph.color == 0x008080FF);
  arvik_line_glyph(line, 1, &glyph);
  CHECK(glyph.face == ARVIK_ICON_FACE);
  CHECK(glyph.width == 33);
  CHECK(std::string(arvik_line_icon(line, glyph.id)) == "valve");
  arvik_line_glyph(line, 2, &glyph);
  CHECK(glyph.face == 1);
  CHECK(glyph.right_to_left == 1);
  auto layout = sized<arvik_layout>();
  arvik_line_layout(line, &layout);
  CHECK(layout.box_width < 200);

  const Reveal reveal{arvik_reveal_create(line, &error)};
  const CFrame frame{arvik_frame_create(&error)};
  arvik_frame_options options;
  arvik_frame_options_init(&options);
  options.entrance = ARVIK_ENTRANCE_FADE;
  options.entrance_ns = 100'000'000;
  CHECK(arvik_frame_of_reveal(frame, reveal, &options) == 0);
  arvik_reveal_tick(reveal, 10'000'000, nullptr);
  CHECK(arvik_frame_of_reveal(frame, reveal, &options) == 1);
  auto drawn = sized<arvik_frame_glyph>();
  REQUIRE(arvik_frame_glyph_at(frame, 0, &drawn) == 1);
  CHECK(drawn.opacity == Approx(0.1F));
  arvik_reveal_pause(reveal);
  arvik_reveal_tick(reveal, 900'000'000, nullptr);
  arvik_frame_of_reveal(frame, reveal, &options);
  arvik_frame_glyph_at(frame, 0, &drawn);
  CHECK(drawn.opacity == Approx(0.1F));
  arvik_reveal_resume(reveal);
  arvik_reveal_tick(reveal, 900'000'000, nullptr);
  CHECK(arvik_frame_of_reveal(frame, reveal, &options) == 3);
  CHECK(arvik_frame_glyph_at(frame, 3, &drawn) == 0);
  options.size = 0;
  CHECK(arvik_frame_of_reveal(frame, reveal, &options) == 0);

  const Talk talk{new_talk(setter, talk_script, font, nullptr, &error)};
  REQUIRE(arvik_talk_start(talk, nullptr, nullptr, &error) == 1);
  arvik_talk_tick(talk, 500'000'000, 0);
  CHECK(arvik_frame_of_talk(frame, talk, nullptr) > 2);
  CHECK(arvik_frame_page(frame) == 0);
  REQUIRE(arvik_talk_set_font(talk, nullptr, &error) == 1);  // a grid: nothing to draw
  CHECK(arvik_frame_of_talk(frame, talk, nullptr) == 0);
  arvik_talk_prepare_next(talk);
}

TEST_CASE("named styles from C") {
  const Setter setter = english();
  arvik_error error = new_error();
  const char* styles = R"({"arvik_styles": 1, "styles": {"dread": ["i", "color teal"]}})";
  CHECK(arvik_line_problems(prepare(setter, "[style dread: x]")) == 1);
  REQUIRE(arvik_setter_read_styles(setter, styles, ARVIK_NUL, &error) == 1);
  const Line line = prepare(setter, "[style dread: x]");
  CHECK(arvik_line_problems(line) == 0);
  arvik_step step{};
  step.size = sizeof step;
  arvik_line_step(line, 0, &step);
  CHECK(step.style == (2U | 16U));
  CHECK(arvik_setter_read_styles(setter, "[]", ARVIK_NUL, &error) == 0);
  CHECK(arvik_line_problems(prepare(setter, "[style dread: x]")) == 0);
}

TEST_CASE("any calls in any order: nothing crashes, and what is shown never runs past the text") {
  arvik::test::Random random(20261125);
  const auto below = [&](std::uint64_t count) { return arvik::test::below(random, count); };
  const Setter setter = english();
  const Sounds sounds{arvik_sounds_create(sounds_json, ARVIK_NUL, nullptr)};
  arvik_box box;
  arvik_box_init(&box);
  arvik_talk_settings settings;
  arvik_talk_settings_init(&settings);
  for (int round = 0; round < 150; ++round) {
    const std::string markup = arvik::test::random_markup(random, 12);
    arvik_line* line = arvik_line_prepare(setter, markup.data(), markup.size(), nullptr, nullptr,
                                          nullptr, nullptr);
    const Reveal reveal{arvik_reveal_create(line, nullptr)};
    const std::uint32_t steps = arvik_line_steps(line);
    arvik_line_destroy(line);
    const Talk talk{
        new_talk(below(2) == 0 ? setter.object : nullptr, talk_script, nullptr, nullptr, nullptr)};
    arvik_line_place place{};
    place.size = sizeof place;
    std::string saved = "{}";
    for (int call = 0; call < 60; ++call) {
      // Negative, huge and everyday times.
      const auto time = static_cast<std::int64_t>(
          below(8) == 0 ? random() : below(3) * 40'000'000 - below(2) * 10'000'000);
      switch (below(20)) {
        case 0:
          arvik_reveal_hear(reveal, setter, sounds, below(2) == 0 ? "wood" : "hum", nullptr);
          break;
        case 1:
          arvik_reveal_skip(reveal, nullptr);
          break;
        case 2:
          arvik_reveal_release_hold(reveal);
          break;
        case 3:
          arvik_reveal_set_speed(reveal, static_cast<std::int32_t>(time));
          break;
        case 4:
          below(2) == 0 ? arvik_reveal_pause(reveal) : arvik_reveal_resume(reveal);
          break;
        case 5:
          arvik_reveal_place(reveal, &place);
          break;
        case 6:
          if (below(3) == 0) place.shown = static_cast<std::uint32_t>(below(9));
          arvik_reveal_go_to(reveal, &place);
          break;
        case 7:
          arvik_reveal_set_instant(reveal, below(4) == 0 ? 1 : 0);
          break;
        case 8:
          arvik_talk_start(talk, nullptr, nullptr, nullptr);
          break;
        case 9:
          if (below(3) == 0) arvik_talk_stop(talk);
          break;
        case 10:
          below(2) == 0 ? arvik_talk_pause(talk) : arvik_talk_resume(talk);
          break;
        case 11:
          box.width = static_cast<float>(below(30)) - 3;
          arvik_talk_set_box(talk, &box, nullptr);
          break;
        case 12:
          settings.speed = static_cast<std::int32_t>(time);
          settings.instant = below(5) == 0 ? 1 : 0;
          settings.reading_rate = static_cast<double>(time);
          settings.hurry_after_ns = time;
          settings.opening_ns = time;
          settings.by_itself = below(2) == 0 ? 1 : 0;
          arvik_talk_configure(talk, &settings);
          break;
        case 13:
          saved = arvik_talk_write_place(talk, nullptr);
          break;
        case 14:
          arvik_talk_start_at(talk, saved.data(), saved.size(), nullptr);
          break;
        case 15:
          (void)arvik_line_rows(arvik_talk_line(talk));
          break;
        default:
          arvik_reveal_tick(reveal, time, nullptr);
          arvik_talk_tick(talk, time, static_cast<std::uint32_t>(below(4)));
      }
      arvik_extent extent{};
      extent.size = sizeof extent;
      REQUIRE(arvik_reveal_shown(reveal, &extent) == 1);
      REQUIRE(extent.steps <= steps);
      (void)heard(reveal.object);
      (void)heard(talk.object);
      arvik_talk_view view{};
      view.size = sizeof view;
      REQUIRE(arvik_talk_view_now(talk, &view) == 1);
      const arvik_line* shown = arvik_talk_line(talk);
      REQUIRE((shown == nullptr) == (view.text == nullptr));
      REQUIRE((shown == nullptr || view.shown_steps <= arvik_line_steps(shown)));
      arvik_talk_event event{};
      event.size = sizeof event;
      for (std::uint32_t i = 0; arvik_talk_event_at(talk, i, &event) == 1; ++i) {
        REQUIRE(std::strlen(event.kind_name) > 0);
        REQUIRE(event.name != nullptr);
      }
    }
  }
}

TEST_CASE("text is escaped into the room that there is") {
  char out[8] = "xxxxxxx";
  CHECK(arvik_escape("a[b]", ARVIK_NUL, out, sizeof out) == 6);
  CHECK(std::string(out) == "a[[b]]");
  CHECK(arvik_escape("a[b]", 2, out, sizeof out) == 3);
  CHECK(std::string(out) == "a[[");
  CHECK(arvik_escape("a[b]", ARVIK_NUL, out, 3) == 6);
  CHECK(std::string(out) == "a[");
  CHECK(arvik_escape("[[", ARVIK_NUL, nullptr, 0) == 4);
  CHECK(arvik_escape(nullptr, 0, out, sizeof out) == 0);
}

TEST_CASE("settings of a talk that make no sense are refused") {
  const char* script =
      R"({"arvik_script": 1, "conversations": {"a": [{"text": "One."}, {"text": "Two."}]}})";
  arvik_talk* talk = new_talk(nullptr, script, nullptr, nullptr, nullptr);
  REQUIRE(talk != nullptr);
  arvik_talk_settings settings;
  arvik_talk_settings_init(&settings);
  CHECK(arvik_talk_configure(talk, &settings) == 1);
  settings.reading_rate = std::nan("");
  CHECK(arvik_talk_configure(talk, &settings) == 0);
  CHECK(arvik_talk_start(talk, nullptr, nullptr, nullptr) == 1);
  arvik_talk_destroy(talk);
}
