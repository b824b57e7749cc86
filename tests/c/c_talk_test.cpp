// Scripts, conversations and their sounds as C sees them, wrong calls included.

#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <fstream>
#include <string>

#include "c/c_objects.hpp"
#include "support/allocations.hpp"
#include "support/generator.hpp"

using namespace arvik::test;

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
  CHECK(heard(talk) == "voice_end hello +0");
  arvik_talk_tick(talk, 200'000'000, 0);
  arvik_talk_tick(talk, 0, ARVIK_BUTTON_ADVANCE);
  CHECK(heard(talk) == "typing w1 +0");
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

TEST_CASE("a conversation from C: text that follows its voice") {
  const Setter setter = english();
  arvik_error error = new_error();
  const Talk talk{new_talk(setter, R"({"arvik_script": 1, "clips": {"v": "v.wav"},
      "conversations": {"a": [{"voice": "v", "text": "High water at ten."}]}})",
                           nullptr, nullptr, &error)};
  REQUIRE(talk.object != nullptr);
  arvik_talk_settings settings;
  arvik_talk_settings_init(&settings);
  CHECK(settings.voices_set_speed == 0);
  CHECK(settings.voices_outlast_skip == 0);
  settings.voices_outlast_skip = 1;
  REQUIRE(arvik_talk_configure(talk, &settings) == 1);
  REQUIRE(arvik_talk_start(talk, nullptr, nullptr, &error) == 1);
  arvik_talk_tick(talk, 0, 0);
  arvik_talk_view view{};
  view.size = sizeof view;
  arvik_talk_set_voice_position(talk, 0);
  arvik_talk_tick(talk, 200'000'000, 0);
  arvik_talk_view_now(talk, &view);
  CHECK(view.shown_steps == 1);  // the voice stalls
  arvik_talk_set_voice_position(talk, 200'000'000);
  arvik_talk_tick(talk, 1'000'000, 0);
  arvik_talk_view_now(talk, &view);
  CHECK(view.shown_steps == 7);
  arvik_talk_tick(talk, 0, ARVIK_BUTTON_SKIP);
  CHECK(heard(talk).find("voice_end") == std::string::npos);
  arvik_talk_set_voice_position(nullptr, 0);
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
