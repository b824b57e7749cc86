// Rows, pages and positions on a grid and with measured fonts, against a naive wrap.

#include <catch2/catch.hpp>
#include <sstream>

#include "arvik/layout.hpp"
#include "support/english.hpp"
#include "support/generator.hpp"

using namespace arvik;
using test::english;

namespace {

struct Laid {
  MarkedText marked;
  Steps steps;
  Layout layout;
};

Laid lay(const std::string& markup, const Box& box) {
  Laid laid{parse(markup), {}, {}};
  laid.steps = english().segment(laid.marked.text);
  laid.layout = lay_out(laid.marked, laid.steps, english(), GridFont(), box).value();
  return laid;
}

// Rows without what hangs, as `text@x`, joined by `|`.
std::string rows_of(const Laid& laid) {
  std::ostringstream out;
  for (const Row& row : laid.layout.rows) {
    if (&row != &laid.layout.rows.front()) out << '|';
    for (std::uint32_t i = row.first_step; i < row.end_ink_step; ++i) {
      out << laid.steps.text(laid.marked.text, i);
    }
    if (row.x > 0) out << '@' << row.x;
  }
  return out.str();
}

std::string problems_of(const Laid& laid) {
  std::ostringstream out;
  for (const Diagnostic& d : laid.layout.diagnostics) {
    out << diagnostic_name(d.code) << ' ' << d.range.begin << '-' << d.range.end << ';';
  }
  return out.str();
}

float advance_of(const Laid& laid, std::uint32_t step) {
  std::vector<float> advances;
  GridFont().measure({laid.marked.text, &laid.steps, step, step + 1}, advances);
  return advances.at(0);
}

// The slow, obvious way: for every row try ever longer prefixes, and keep the last that fits.
std::vector<std::uint32_t> naive_row_ends(const Laid& laid, float width) {
  std::vector<RowBreak> breaks;
  english().row_breaks(laid.marked.text, laid.steps, breaks);
  std::vector<std::uint32_t> ends;
  const std::uint32_t size = laid.steps.size();
  for (std::uint32_t first = 0; first < size;) {
    std::uint32_t best = 0;     // the last opportunity that fits
    std::uint32_t longest = 0;  // the longest prefix that fits, opportunity or not
    for (std::uint32_t end = first + 1; end <= size; ++end) {
      std::uint32_t ink = end;
      while (ink > first && !has_ink(laid.steps.kinds[ink - 1])) --ink;
      float sum = 0;
      for (std::uint32_t i = first; i < ink; ++i) sum += advance_of(laid, i);
      const bool fits = sum <= width || ink <= first + 1;
      if (fits) longest = end;
      if (fits && (end == size || breaks[end - 1] != RowBreak::none)) best = end;
      if (!fits || breaks[end - 1] == RowBreak::required) break;
    }
    first = best > 0 ? best : longest;
    ends.push_back(first);
  }
  return ends;
}

}  // namespace

TEST_CASE("rows on a grid") {
  struct Case {
    const char* markup;
    Box box;
    const char* rows;
    const char* problems = "";
  };
  const Case cases[] = {
      {"", {.width = 10}, ""},
      {"Mind the gap", {.width = 8}, "Mind the|gap"},
      {"Mind the gap", {.width = 12}, "Mind the gap"},
      {"Mind the     gap", {.width = 8}, "Mind the|gap"},  // blanks hang
      {"Mind[br]the\ngap", {.width = 40}, "Mind|the|gap"},
      {"a\n\nb", {.width = 9}, "a||b"},
      {"a\n", {.width = 9}, "a"},
      {"lock-keeper", {.width = 6}, "lock-|keeper"},
      {"Mind the gap", {}, "Mind the gap"},
      // alignment, from whole rows
      {"Mind the gap", {.width = 8, .align = Align::center}, "Mind the|gap@2"},
      {"Mind the gap", {.width = 8, .align = Align::end}, "Mind the|gap@5"},
      {"Mind the\ngap", {.align = Align::end}, "Mind the|gap@5"},
      {"時計 ab", {.width = 5, .align = Align::center}, "時計|ab@1"},
      // wide, combining, emoji
      {"水門の時計", {.width = 5}, "水門|の時|計"},
      {"e\u0301e\u0301 e\u0301", {.width = 2}, "e\u0301e\u0301|e\u0301"},
      {"👩‍👩‍👧👍🏽 x", {.width = 4}, "👩‍👩‍👧👍🏽|x"},
      {"「水」。", {.width = 4}, "「水|」。", "word-broken 0-6;"},
      // words longer than the row
      {"unbreakable x", {.width = 4}, "unbr|eaka|ble|x", "word-broken 0-4;"},
      {"ab unbreakable", {.width = 4}, "ab|unbr|eaka|ble", "word-broken 3-7;"},
      {"水門", {.width = 1}, "水|門", "step-too-wide 0-3;"},
      {"ab", {.width = 1}, "a|b", "word-broken 0-1;"},
      {"abcd efgh", {.width = 2}, "ab|cd|ef|gh", "word-broken 0-2;word-broken 5-7;"},
  };
  for (const Case& c : cases) {
    INFO(c.markup << " in " << c.box.width);
    const Laid laid = lay(c.markup, c.box);
    CHECK(rows_of(laid) == c.rows);
    CHECK(problems_of(laid) == c.problems);
  }
}

TEST_CASE("greedy rows agree with the slow way on generated text") {
  test::Random random(5);
  for (int i = 0; i < 400; ++i) {
    const std::string text = test::random_text(random, 1 + test::below(random, 15));
    const auto width = static_cast<float>(2 + test::below(random, 20));
    const Laid laid = lay(text, {.width = width});
    std::vector<std::uint32_t> ends;
    for (const Row& row : laid.layout.rows) ends.push_back(row.end_step);
    INFO(text << " in " << width);
    REQUIRE(ends == naive_row_ends(laid, width));
  }
}

TEST_CASE("nothing moves while a centred line with wide characters is revealed") {
  const std::string text = "水門の clock 時計 stopped 👍🏽 at e\u0301leven";
  const Box box{.width = 12, .align = Align::center};
  const Laid whole = lay(text, box);
  REQUIRE(whole.layout.rows.size() >= 3);
  const RowText rows = row_text(whole.marked, whole.steps, whole.layout);
  for (std::uint32_t shown = 0; shown <= whole.steps.size(); ++shown) {
    // An engine that draws the prefix row by row, each at its x, cell by cell.
    const std::string prefix = rows.text.substr(0, rows.extents[shown].bytes);
    std::vector<std::pair<std::uint32_t, float>> drawn;
    std::uint32_t row = 0;
    float x = whole.layout.rows[0].x;
    const Steps prefix_steps = english().segment(prefix);
    for (std::uint32_t i = 0; i < prefix_steps.size(); ++i) {
      if (prefix_steps.kinds[i] == StepKind::row_end) {
        x = whole.layout.rows[++row].x;
        continue;
      }
      drawn.emplace_back(row, x);
      std::vector<float> advance;
      GridFont().measure({prefix, &prefix_steps, i, i + 1}, advance);
      x += advance[0];
    }
    std::vector<std::pair<std::uint32_t, float>> expected;
    for (std::uint32_t i = 0; i < shown; ++i) {
      const StepPosition& place = whole.layout.steps[i];
      if (i < whole.layout.rows[place.row].end_ink_step) expected.emplace_back(place.row, place.x);
    }
    INFO("shown " << shown);
    REQUIRE(drawn == expected);
  }
}

TEST_CASE("row text is one string whose prefixes never wrap again") {
  const Laid laid = lay("Mind the thin ice", {.width = 8});
  const RowText rows = row_text(laid.marked, laid.steps, laid.layout);
  CHECK(rows.text == "Mind the\nthin ice");
  CHECK(rows.extents.size() == laid.steps.size() + 1u);
  CHECK(rows.extents[8].bytes == 8);    // "Mind the"
  CHECK(rows.extents[9].bytes == 8);    // the blank hangs
  CHECK(rows.extents[10].bytes == 10);  // "Mind the\nt"
  CHECK(rows.extents.back().code_points == 17);
}

TEST_CASE("places and block size") {
  const Laid laid = lay("ab cd", {.width = 3});
  CHECK(laid.layout.width == 2);
  CHECK(laid.layout.height == 2);
  CHECK(laid.layout.steps[3].row == 1);
  CHECK(laid.layout.steps[4].x == 1);
  CHECK(laid.layout.rows[1].y == 1);
}

TEST_CASE("boxes that hold nothing are refused") {
  const MarkedText marked = parse("x");
  const Steps steps = english().segment(marked.text);
  for (const float width : {0.0F, -1.0F, std::numeric_limits<float>::quiet_NaN()}) {
    const auto layout = lay_out(marked, steps, english(), GridFont(), {.width = width});
    REQUIRE_FALSE(layout.has_value());
    CHECK(layout.error().code == DiagnosticCode::bad_box);
  }
}

namespace {

// A bitmap font of any size: each step is `unit` wide and `unit` high, times its size.
class BitmapFont final : public Font {
 public:
  explicit BitmapFont(float unit) : unit_(unit) {}
  [[nodiscard]] FontMetrics metrics(float size, std::uint16_t) const override {
    return {.row_height = unit_ * size, .ascent = unit_ * size, .unit = 1};
  }
  [[nodiscard]] bool steps_stand_alone() const override { return true; }
  void measure(const TextRun& run, std::vector<float>& advances) const override {
    advances.insert(advances.end(), run.end_step - run.first_step, unit_ * run.style.size);
  }
  void shape(const TextRun&, std::vector<ShapedGlyph>&) const override {}

 private:
  float unit_;
};

Layout laid_out(const std::string& markup, const Font& font, const Box& box) {
  Language language = Language::open("en").value();
  const MarkedText marked = parse(markup);
  return lay_out(marked, language.segment(marked.text), language, font, box).value();
}

}  // namespace

TEST_CASE("rows of a measured font are as high as their largest text") {
  const Layout layout = laid_out("ab\n[size 300%: c]d\ne", BitmapFont(10), {});
  REQUIRE(layout.rows.size() == 3);
  CHECK(layout.rows[0].height == 10);
  CHECK(layout.rows[1].height == 30);
  CHECK(layout.rows[2].height == 10);
  CHECK(layout.rows[2].y == 40);
}

TEST_CASE("a box made for n rows or n characters holds them, whatever they round to") {
  for (int tenths = 7; tenths < 400; tenths += 4) {
    const float unit = static_cast<float>(tenths) / 10;
    const BitmapFont font(unit);
    for (int n = 1; n < 20; ++n) {
      INFO(n << " of " << unit);
      std::string rows = "x";
      for (int i = 1; i < n; ++i) rows += "\nx";
      const float size = unit * static_cast<float>(n);
      CHECK(laid_out(rows, font, {.height = size}).pages.size() == 1);
      CHECK(laid_out(rows + "\nx", font, {.height = size}).pages.size() == 2);
      const std::string row(static_cast<std::size_t>(n), 'x');
      CHECK(laid_out(row, font, {.width = size}).rows.size() == 1);
      CHECK(laid_out(row + "x", font, {.width = size}).rows.size() == 2);
    }
  }
}

TEST_CASE("a broken word is told once, however many pages it fills") {
  const Layout layout = laid_out(std::string(60, 'x') + " y " + std::string(30, 'z'), GridFont(),
                                 {.width = 8, .max_rows = 2});
  CHECK(layout.pages.size() > 4);
  REQUIRE(layout.diagnostics.size() == 2);
  CHECK(layout.diagnostics[0].range.begin == 0);
  CHECK(layout.diagnostics[1].range.begin == 63);
}
