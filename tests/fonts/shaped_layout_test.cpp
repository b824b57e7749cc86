// Layout with real fonts: fallback, ligatures, direction, boxes, pages.

#include <catch2/catch.hpp>
#include <map>
#include <numeric>
#include <set>

#include "arvik/layout.hpp"
#include "arvik/schedule.hpp"
#include "support/fonts.hpp"
#include "support/generator.hpp"

using namespace arvik;

namespace {

Language& language_of(const std::string& tag) {
  static std::map<std::string, Language> languages;
  const auto found = languages.find(tag);
  if (found != languages.end()) return found->second;
  return languages.emplace(tag, Language::open(tag).value()).first->second;
}

struct Shaped {
  MarkedText marked;
  Steps steps;
  Layout layout;
};

Shaped shape(const std::string& markup, const Font& font, const Box& box,
             const std::string& tag = "en", const IconSizes& icons = {}) {
  Shaped laid{parse(markup), {}, {}};
  laid.steps = language_of(tag).segment(laid.marked.text);
  auto layout = lay_out(laid.marked, laid.steps, language_of(tag), font, box, icons);
  INFO(markup);
  REQUIRE(layout.has_value());
  laid.layout = std::move(*layout);
  return laid;
}

std::string text_of(const Shaped& laid, const Row& row) {
  std::string text;
  for (std::uint32_t i = row.first_step; i < row.end_ink_step; ++i) {
    text += laid.steps.text(laid.marked.text, i);
  }
  return text;
}

Diagnostic refused(const std::string& markup, const Font& font, const Box& box) {
  const MarkedText marked = parse(markup);
  const Steps steps = language_of("en").segment(marked.text);
  const auto layout = lay_out(marked, steps, language_of("en"), font, box);
  REQUIRE_FALSE(layout.has_value());
  return layout.error();
}

const char* const samples[] = {"The office shuffles waffles, AVAToday fjord.",
                               "تيار الماء قوي اليوم في القناة",
                               "הזרם חזק 3.14 מטר today שלום",
                               "水門の時計が止まった。ペルは「どうして」と聞いた。",
                               "नमस्ते क्षितिज की घड़ी रुक गई है",
                               "สวัสดีครับนาฬิกาหยุดเดินแล้ว",
                               "👩‍👩‍👧 👍🏽 🇵🇱 ok 1️⃣",
                               "mixed العربية and עברית 12:30 end"};

}  // namespace

TEST_CASE("one step is not one glyph") {
  const FontSet font = test::dejavu(20);
  const Shaped laid = shape("office", font, {});
  REQUIRE(laid.layout.glyphs.size() < laid.steps.size());  // ffi is one glyph
  bool ligature = false;
  for (const Glyph& glyph : laid.layout.glyphs) {
    ligature = ligature || glyph.end_step - glyph.first_step == 3;
  }
  CHECK(ligature);
  CHECK(laid.layout.steps[2].x == laid.layout.steps[1].x + laid.layout.steps[1].width);
  const Shaped hindi = shape("क्षि", test::noto(20), {});
  CHECK(hindi.layout.glyphs.size() != hindi.steps.size());
}

TEST_CASE("every step has one place, in every script, and rows keep to the width") {
  const FontSet font = test::noto(20);
  for (const char* sample : samples) {
    for (const float width : {60.0F, 130.0F, 400.0F}) {
      const Shaped laid = shape(sample, font, {.width = width}, "ja");
      INFO(sample << " in " << width);
      std::vector<RowBreak> breaks;
      language_of("ja").row_breaks(laid.marked.text, laid.steps, breaks);
      std::uint32_t next = 0;
      for (const Row& row : laid.layout.rows) {
        CHECK(row.first_step == next);
        next = row.end_step;
        const bool allowed = breaks[next - 1] != RowBreak::none || next == laid.steps.size();
        CHECK((allowed || !laid.layout.diagnostics.empty()));  // else a word was broken
        if (width > 300) CHECK(allowed);
        const bool single = row.end_ink_step <= row.first_step + 1;
        CHECK((row.width <= width || single));
        // Steps with ink fill the row from end to end without overlap.
        float sum = 0;
        for (std::uint32_t i = row.first_step; i < row.end_ink_step; ++i) {
          sum += laid.layout.steps[i].width;
          CHECK(laid.layout.steps[i].x >= row.x - 0.01F);
        }
        CHECK(sum == Approx(row.width).margin(0.05));
        for (std::uint32_t g = row.first_glyph; g < row.end_glyph; ++g) {
          const Glyph& glyph = laid.layout.glyphs[g];
          CHECK(glyph.first_step >= row.first_step);
          CHECK(glyph.end_step <= row.end_ink_step);
        }
      }
      CHECK(next == laid.steps.size());
      for (const Diagnostic& d : laid.layout.diagnostics) {
        CHECK(d.code == DiagnosticCode::word_broken);  // at 60 pixels; no glyph is missing
      }
    }
  }
}

TEST_CASE("a row is shaped as if it stood alone, wherever it was cut") {
  const FontSet font = test::noto(20);
  for (const char* sample : samples) {
    const Shaped laid = shape(sample, font, {.width = 70});
    for (const Row& row : laid.layout.rows) {
      const std::string text = text_of(laid, row);
      Box alone;
      alone.direction = laid.layout.direction;
      const Shaped single = shape(text, font, alone);
      INFO(sample << ": " << text);
      if (single.layout.rows.size() != 1) continue;
      CHECK(single.layout.rows[0].width == Approx(row.width).margin(0.1));
      CHECK(single.layout.glyphs.size() == row.end_glyph - row.first_glyph);
    }
  }
}

TEST_CASE("right-to-left lines begin at the right") {
  const FontSet font = test::noto(20);
  const Shaped hebrew = shape("שלום עולם", font, {.width = 300});
  CHECK(hebrew.layout.direction == Direction::right_to_left);
  CHECK(hebrew.layout.rows[0].x > 150);
  CHECK(hebrew.layout.steps[0].x > hebrew.layout.steps[1].x);
  const Shaped end = shape("שלום", font, {.width = 300, .align = Align::end});
  CHECK(end.layout.rows[0].x == 0);
  const Shaped mixed = shape("ab שלום cd", font, {.width = 300});
  CHECK(mixed.layout.direction == Direction::left_to_right);
  CHECK(mixed.layout.steps[3].x > mixed.layout.steps[6].x);
  CHECK(mixed.layout.steps[8].x > mixed.layout.steps[3].x);
  // The grid orders its cells the same way.
  const Shaped grid = shape("ab שלום", GridFont(), {.width = 20});
  CHECK(grid.layout.steps[3].x == 6);
  CHECK(grid.layout.steps[6].x == 3);
}

TEST_CASE("characters that no face has are told once each and shown as a box") {
  const Shaped laid = shape("水 a 水 門", test::dejavu(20), {});
  REQUIRE(laid.layout.diagnostics.size() == 2);
  CHECK(laid.layout.diagnostics[0].code == DiagnosticCode::missing_glyph);
  CHECK(laid.layout.diagnostics[0].message == "no face of the font has \"水\"; a box is shown");
  CHECK(laid.layout.glyphs[0].id == 0);
  CHECK(laid.layout.glyphs[0].width > 0);
}

TEST_CASE("blanks behind emoji are as wide as others") {
  const FontSet font = test::noto(20);
  const Shaped laid = shape("👍🏽 a b", font, {});
  CHECK(laid.layout.steps[1].width == laid.layout.steps[3].width);
}

TEST_CASE("rows have room for every face of the line, and stand evenly") {
  const FontSet font = test::noto(40);
  const Shaped latin = shape("plain", font, {});
  const Shaped thai = shape("plain ปู่ญ่า plain plain plain", font, {.width = 200});
  REQUIRE(thai.layout.rows.size() >= 3);
  CHECK(thai.layout.rows[0].height > latin.layout.rows[0].height);
  for (const Row& row : thai.layout.rows) CHECK(row.height == thai.layout.rows[0].height);
}

TEST_CASE("styles choose faces, sizes scale, colours do not break shaping") {
  const FontSet font = test::noto(20);
  const Shaped bold = shape("a[b: a]", font, {});
  CHECK(bold.layout.glyphs[0].face == 0);
  CHECK(bold.layout.glyphs[1].face == 1);
  const Shaped big = shape("a[size 200%: a]", font, {});
  CHECK(big.layout.glyphs[1].width == Approx(2 * big.layout.glyphs[0].width));
  CHECK(big.layout.rows[0].height == Approx(2 * shape("a", font, {}).layout.rows[0].height));
  const FontSet ligatures = test::dejavu(20);
  CHECK(shape("of[color red: f]ice", ligatures, {}).layout.glyphs.size() ==
        shape("office", ligatures, {}).layout.glyphs.size());
  CHECK(shape("س[color red: ل]ام", font, {}).layout.width == shape("سلام", font, {}).layout.width);
}

TEST_CASE("icons take their size from the game") {
  const auto sizes = [](std::string_view name) {
    return name == "key" ? IconSize{50, 40} : IconSize{10, 10};
  };
  const Shaped laid = shape("a[icon key]b[icon dot]", test::noto(20), {}, "en", sizes);
  CHECK(laid.layout.icons == std::vector<std::string>{"key", "dot"});
  CHECK(laid.layout.steps[1].width == 50);
  CHECK(laid.layout.steps[3].width == 10);
  CHECK(laid.layout.rows[0].height > 40);
  CHECK(laid.layout.glyphs[1].face == icon_face);
}

TEST_CASE("boxes: padding, picture, name, fit to text") {
  const FontSet font = test::noto(20);
  Box box{.width = 300, .padding = {10, 20, 30, 40}};
  const Shaped padded = shape("Odrun", font, box);
  CHECK(padded.layout.rows[0].x == 10);
  CHECK(padded.layout.rows[0].y == 20);
  CHECK(padded.layout.box_width == 300);
  CHECK(padded.layout.box_height == Approx(60 + padded.layout.height));
  box.fit_to_text = true;
  CHECK(shape("Odrun", font, box).layout.box_width == Approx(40 + padded.layout.width));
  box.least_width = 200;
  CHECK(shape("Odrun", font, box).layout.box_width == 200);
  Box picture{.width = 300, .picture_width = 64, .picture_gap = 6, .name_height = 18};
  const Shaped left = shape("Odrun", font, picture);
  CHECK(left.layout.rows[0].x == 70);
  CHECK(left.layout.rows[0].y == 18);
  picture.picture_side = Side::right;
  CHECK(shape("Odrun", font, picture).layout.rows[0].x == 0);
  picture.picture_width = 0;
  picture.picture_side = Side::left;
  CHECK(shape("Odrun", font, picture).layout.rows[0].x == 0);  // no picture takes no space
  Box high{.width = 300, .height = 200, .vertical_align = VerticalAlign::bottom};
  const Shaped bottom = shape("Odrun", font, high);
  CHECK(bottom.layout.rows[0].y + bottom.layout.rows[0].height == Approx(200));
}

TEST_CASE("what does not fit: pages, shrink, clip, refuse") {
  const FontSet font = test::noto(20);
  const std::string text =
      "The tide clock has stopped. Nobody in the canal town knows why. Pell ran to the lock, and "
      "the "
      "water stood still.";
  const Shaped pages = shape(text, font, {.width = 200, .max_rows = 2});
  REQUIRE(pages.layout.pages.size() > 2);
  for (const Page& page : pages.layout.pages) CHECK(page.end_row - page.first_row <= 2);
  CHECK(pages.layout.rows[pages.layout.pages[1].first_row].y == 0);

  const Shaped shrunk =
      shape(text, font, {.width = 200, .max_rows = 4, .overflow = Overflow::shrink});
  CHECK(shrunk.layout.scale < 1);
  CHECK(shrunk.layout.rows.size() <= 4);
  CHECK(shrunk.layout.diagnostics.empty());
  const Shaped tiny =
      shape(text + text + text, font, {.width = 100, .max_rows = 2, .overflow = Overflow::shrink});
  CHECK(tiny.layout.scale == Approx(0.5F));
  CHECK(tiny.layout.diagnostics.back().code == DiagnosticCode::text_overflows);

  const Shaped clipped =
      shape(text, font, {.width = 200, .max_rows = 2, .overflow = Overflow::clip});
  CHECK(clipped.layout.pages.size() == 1);
  CHECK(clipped.layout.rows[1].page == 0);
  CHECK(clipped.layout.rows[2].page == no_page);
  CHECK(clipped.layout.box_height == Approx(2 * clipped.layout.rows[0].height));
  CHECK(clipped.layout.diagnostics.back().code == DiagnosticCode::text_overflows);

  CHECK(refused(text, font, {.width = 200, .max_rows = 2, .overflow = Overflow::refuse}).code ==
        DiagnosticCode::text_overflows);
}

TEST_CASE("a page ends with a sentence if one ends in its last third") {
  const GridFont grid;
  //                         |row 0     |row 1     |row 2
  const Shaped cut =
      shape("aaaa bbbb cccc dddd eeee ff. Gggg hhhh iiii jjjj", grid, {.width = 10, .max_rows = 3});
  REQUIRE(cut.layout.pages.size() == 2);
  CHECK(text_of(cut, cut.layout.rows[2]) == "eeee ff.");
  CHECK(text_of(cut, cut.layout.rows[3]) == "Gggg hhhh");
  const Shaped early =
      shape("aa. bbbb cccc dddd eeee ffff gggg hhhh iiii", grid, {.width = 10, .max_rows = 3});
  CHECK(early.layout.pages[1].first_step != 4);  // that sentence ends in the first third
  const Shaped mid_row =
      shape("aaaa bbbb cccc dddd. Ee ffff gggg hhhh", grid, {.width = 12, .max_rows = 2});
  CHECK(text_of(mid_row, mid_row.layout.rows[1]) == "cccc dddd.");
  CHECK(text_of(mid_row, mid_row.layout.rows[2]).starts_with("Ee"));
  const Shaped written = shape("aa [page]bb", grid, {.width = 12});
  CHECK(written.layout.pages.size() == 2);
}

TEST_CASE("any markup in any box, with real fonts") {
  test::Random random(41);
  const FontSet font = test::noto(18);
  Layout layout;
  for (int i = 0; i < 250; ++i) {
    const std::string markup = test::random_markup(random, 1 + test::below(random, 25));
    const MarkedText marked = parse(markup);
    Language& language = language_of(test::below(random, 2) == 0 ? "en" : "th");
    const Steps steps = language.segment(marked.text);
    const Box box{.width = static_cast<float>(5 + test::below(random, 300)),
                  .align = static_cast<Align>(test::below(random, 3)),
                  .max_rows = static_cast<std::uint32_t>(test::below(random, 4)),
                  .overflow = static_cast<Overflow>(test::below(random, 3)),
                  .fit_to_text = test::below(random, 2) == 0,
                  .balanced = test::below(random, 4) == 0};
    INFO(markup << " in " << box.width);
    REQUIRE(lay_out(marked, steps, language, font, box, layout).has_value());  // into a used one
    std::uint32_t step = 0;
    std::uint32_t glyph = 0;
    for (const Row& row : layout.rows) {
      REQUIRE(row.first_step == step);
      REQUIRE(row.first_glyph == glyph);
      step = row.end_step;
      for (; glyph < row.end_glyph; ++glyph) {
        const Glyph& g = layout.glyphs[glyph];
        REQUIRE(g.first_step >= row.first_step);
        REQUIRE(g.end_step <= row.end_ink_step);
        REQUIRE(g.first_step < g.end_step);
        REQUIRE(g.style < layout.styles.size());
        REQUIRE((g.face != icon_face || g.id < layout.icons.size()));
      }
      const bool single = row.end_ink_step <= row.first_step + 1;
      REQUIRE((row.width <= box.width + 0.01F || single));
    }
    REQUIRE(step == steps.size());
    for (std::uint32_t s = 0; s < steps.size(); ++s) {
      const StepPosition& place = layout.steps[s];
      REQUIRE(place.row < layout.rows.size());
      REQUIRE(place.width >= 0);
      const bool hangs = s >= layout.rows[place.row].end_ink_step;
      REQUIRE((place.x >= -0.01F || hangs));
    }
  }
}

TEST_CASE("an object replacement character that no tag wrote is no icon") {
  const Shaped laid = shape("a\uFFFCb [icon key]", test::noto(20), {});
  CHECK(laid.layout.icons == std::vector<std::string>{"key"});
  for (const Glyph& glyph : laid.layout.glyphs) {
    CHECK((glyph.face == icon_face) == (glyph.first_step == 4));
  }
}

TEST_CASE("pages hold every step once, and the schedule holds at each turn") {
  test::Random random(31);
  for (int i = 0; i < 300; ++i) {
    const std::string text = test::random_markup(random, 1 + test::below(random, 30));
    const Box box{.width = static_cast<float>(2 + test::below(random, 20)),
                  .max_rows = static_cast<std::uint32_t>(1 + test::below(random, 4))};
    const Shaped laid = shape(text, GridFont(), box);
    INFO(text << " in " << box.width << " by " << box.max_rows);
    std::uint32_t step = 0;
    std::uint32_t row = 0;
    for (const Page& page : laid.layout.pages) {
      REQUIRE(page.first_step == step);
      REQUIRE(page.first_row == row);
      REQUIRE(page.end_row - page.first_row <= box.max_rows);
      for (; row < page.end_row; ++row) {
        REQUIRE(laid.layout.rows[row].first_step == step);
        step = laid.layout.rows[row].end_step;
      }
    }
    REQUIRE(step == laid.steps.size());
    const RowStarts starts = row_starts(laid.layout);
    const Schedule timed = schedule(laid.marked, laid.steps, language_of("en"), {}, starts).value();
    for (const std::uint32_t start : starts.pages) {
      int holds = 0;
      int turns = 0;
      for (const Event& event : timed.events) {
        // The writer's hold may stand before what hangs at the page's end.
        std::uint32_t behind_ink = start;
        while (behind_ink > 0 && !has_ink(laid.steps.kinds[behind_ink - 1])) --behind_ink;
        if (event.step < behind_ink || event.step > start) continue;
        if (event.kind == EventKind::hold) ++holds;
        if (event.step == start && event.kind == EventKind::page) ++turns;
      }
      REQUIRE(holds >= 1);
      REQUIRE(turns == 1);
    }
  }
}

TEST_CASE("balanced rows are even and never more") {
  test::Random random(33);
  int better = 0;
  for (int i = 0; i < 200; ++i) {
    const std::string text = test::random_text(random, 5 + test::below(random, 25));
    const auto width = static_cast<float>(8 + test::below(random, 30));
    const Shaped greedy = shape(text, GridFont(), {.width = width});
    const Shaped balanced = shape(text, GridFont(), {.width = width, .balanced = true});
    REQUIRE(balanced.layout.rows.size() == greedy.layout.rows.size());
    REQUIRE(balanced.layout.width <= greedy.layout.width);
    if (balanced.layout.width < greedy.layout.width) ++better;
  }
  CHECK(better > 50);
  const Shaped even = shape("aaa bbb ccc d", GridFont(), {.width = 11, .balanced = true});
  CHECK(text_of(even, even.layout.rows[1]) == "ccc d");
}

TEST_CASE("kept text has no row end inside") {
  const Shaped laid = shape("aaa [keep: bb cc] dd", GridFont(), {.width = 8});
  CHECK(text_of(laid, laid.layout.rows[1]) == "bb cc dd");
}

TEST_CASE("the size of the box is known before and does not change") {
  const FontSet font = test::noto(20);
  const Box box{.width = 180, .fit_to_text = true};
  const Shaped first = shape(samples[0], font, box);
  const Shaped again = shape(samples[0], font, box);
  CHECK(first.layout.box_width == again.layout.box_width);
  CHECK(first.layout.box_height == again.layout.box_height);
  CHECK(first.layout.box_width <= 180);
}

TEST_CASE("fonts and boxes that cannot be are refused") {
  const auto no_font = [](std::string data, float size) {
    FontSource source{.data = std::make_shared<const std::string>(std::move(data))};
    return FontSet::make({source}, size).error();
  };
  CHECK(no_font("this is no font", 20).code == DiagnosticCode::bad_font);
  CHECK(no_font("", 20).message == "face 0 is no font");
  CHECK(FontSet::make({}, 20).error().message == "a font set needs at least one face");
  CHECK(FontSet::make({FontSource{}}, 20).error().code == DiagnosticCode::bad_font);
  const FontSet font = test::noto(20);
  for (const float size : {0.0F, -1.0F, 1e9F, std::numeric_limits<float>::quiet_NaN()}) {
    CHECK(FontSet::make(font.sources(), size).error().message ==
          "a font's size must be 1 to 2000 pixels");
  }
  CHECK(refused("x", font, {.width = 0}).code == DiagnosticCode::bad_box);
  CHECK(refused("x", font, {.width = 50, .height = 5}).message ==
        "the box is lower than one row of text");
  CHECK(refused("x", font, {.width = 50, .padding = {30, 0, 30, 0}}).message ==
        "padding and picture leave no width for text");
  const Shaped narrow = shape("ab", font, {.width = 2});  // narrower than one glyph
  CHECK(narrow.layout.rows.size() == 2);
  CHECK(narrow.layout.diagnostics.back().code == DiagnosticCode::step_too_wide);
}

TEST_CASE("100,000 characters and 1,000 nested styles have an answer") {
  std::string text;
  while (text.size() < 100'000) text += "The tide clock تيار الماء 水門 ";
  const Shaped laid = shape(text, test::noto(20), {.width = 300});
  CHECK(laid.layout.rows.size() > 1000);
  std::string nested;
  for (int i = 0; i < 1000; ++i) nested += "[size 99%: ";
  nested += "x" + std::string(1000, ']');
  const Shaped deep = shape(nested, test::noto(20), {});
  CHECK(deep.marked.diagnostics[0].code == DiagnosticCode::too_deep);
}

TEST_CASE("bubbles stand over their point and stay on the screen") {
  const Rect screen{0, 0, 640, 360};
  CHECK(place_over({320, 200}, 100, 50, screen, 8) == Rect{270, 142, 100, 50});
  CHECK(place_over({10, 200}, 100, 50, screen, 8) == Rect{0, 142, 100, 50});
  CHECK(place_over({630, 200}, 100, 50, screen, 8) == Rect{540, 142, 100, 50});
  CHECK(place_over({320, 20}, 100, 50, screen, 8) == Rect{270, 28, 100, 50});  // below
  CHECK(place_over({320, 200}, 900, 50, screen, 8).x == 0);                    // wider than all
}

TEST_CASE("nine slices cover a box without gaps, stretched or tiled") {
  const Padding borders{4, 5, 6, 7};
  const auto slices = nine_slices(30, 32, borders, {100, 200, 90, 72}, SliceFill::stretch);
  float area = 0;
  for (const Slice& slice : slices) area += slice.target.width * slice.target.height;
  CHECK(area == 90 * 72);
  CHECK(slices[0].target == Rect{100, 200, 4, 5});
  CHECK(slices[4].source == Rect{4, 5, 20, 20});
  CHECK(slices[4].target == Rect{104, 205, 80, 60});
  CHECK(slices[8].target == Rect{184, 265, 6, 7});
  const auto tiled = nine_slices(30, 32, borders, {0, 0, 90, 72}, SliceFill::tile);
  CHECK(tiled[4].repeat_x == 4);
  CHECK(tiled[4].repeat_y == 3);
  CHECK(tiled[1].repeat_y == 1);
  const auto small = nine_slices(30, 32, borders, {0, 0, 5, 6}, SliceFill::stretch);
  CHECK(small[0].target.width == Approx(2));
  CHECK(small[4].target.width == Approx(0));
}
