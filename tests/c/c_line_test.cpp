// Lines, reveals, fonts, boxes and frames as C sees them, wrong calls included.

#include <catch2/catch.hpp>
#include <cmath>
#include <cstring>
#include <fstream>
#include <string>

#include "c/c_objects.hpp"
#include "support/allocations.hpp"
#include "support/generator.hpp"

using namespace arvik::test;

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
  // Readings are glyphs above their steps, unless nobody wants them.
  const Line ruby{
      arvik_line_prepare(setter, "[ruby ab: xy]", ARVIK_NUL, nullptr, font, nullptr, &error)};
  REQUIRE(arvik_line_glyphs(ruby) == 4);
  arvik_line_glyph(ruby, 2, &glyph);
  CHECK(glyph.reading == 1);
  CHECK(glyph.first_step == 0);
  CHECK(glyph.text_size == 0.5F);
  arvik_box bare;
  arvik_box_init(&bare);
  bare.no_ruby = 1;
  const Line off{
      arvik_line_prepare(setter, "[ruby ab: xy]", ARVIK_NUL, nullptr, font, &bare, &error)};
  CHECK(arvik_line_glyphs(off) == 2);

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
