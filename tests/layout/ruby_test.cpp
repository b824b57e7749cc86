// Readings above their base text: they are no part of the text, make room for themselves, never run
// into a neighbour, appear with their base, and can be turned off.

#include <catch2/catch.hpp>
#include <map>

#include "arvik/arvik.hpp"
#include "arvik/ssml.hpp"
#include "arvik/vtt.hpp"
#include "support/fonts.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

Typesetter& japanese() {
  static Typesetter setter(Language::open("ja").value());
  return setter;
}

const FontSet& font() {
  static const FontSet noto = test::noto(24);
  return noto;
}

PreparedLine with_readings(const std::string& markup, const Box& box = {},
                           const Font& face = font()) {
  return japanese().prepare(markup, {}, face, box).value();
}

const std::string with = "潮[ruby とけい: 時計]は[b: 止]まった。";
const std::string without = "潮時計は[b: 止]まった。";

// The left and right edges of each reading, by the row of its base.
struct Edges {
  float left = 1e9F, right = -1e9F;
};
std::map<std::pair<std::uint32_t, std::uint32_t>, Edges> readings_of(
    const PreparedLine& line, const std::vector<std::uint32_t>& first_steps) {
  std::map<std::pair<std::uint32_t, std::uint32_t>, Edges> readings;
  for (const Glyph& glyph : line.layout.glyphs) {
    if (!glyph.reading) continue;
    const auto behind =
        std::upper_bound(first_steps.begin(), first_steps.end(), glyph.first_step) - 1;
    Edges& edges = readings[{line.layout.steps[*behind].row, *behind}];
    edges.left = std::min(edges.left, glyph.left);
    edges.right = std::max(edges.right, glyph.left + glyph.width);
  }
  return readings;
}

}  // namespace

TEST_CASE("a reading is no part of the text and takes no time") {
  const PreparedLine ruby = with_readings(with);
  const PreparedLine plain = with_readings(without);
  CHECK(ruby.marked.diagnostics.empty());
  CHECK(ruby.marked.text == plain.marked.text);
  CHECK(ruby.steps.size() == plain.steps.size());
  CHECK(ruby.schedule.onsets == plain.schedule.onsets);
  const auto* span = std::get_if<tag::Ruby>(&ruby.marked.spans[0].what);
  REQUIRE(span != nullptr);
  CHECK(span->reading == "とけい");
  CHECK(std::get<tag::Ruby>(parse("[ruby tide  clock: 潮時計]").spans[0].what).reading ==
        "tide clock");
  CHECK(parse("[ruby: x]").diagnostics.size() == 1);
  // On a grid it is left out.
  const GridFont grid;
  CHECK(with_readings(with, {}, grid).layout.height ==
        with_readings(without, {}, grid).layout.height);
  CHECK(with_readings(with, {}, grid).layout.width ==
        with_readings(without, {}, grid).layout.width);
}

TEST_CASE("a reading stands centred above its base, in a row that has made room") {
  const PreparedLine ruby = with_readings(with);
  const PreparedLine plain = with_readings(without);
  const Layout& layout = ruby.layout;
  CHECK(layout.rows[0].height > plain.layout.rows[0].height);
  const StepPosition& first = layout.steps[1];
  const StepPosition& last = layout.steps[2];
  std::size_t count = 0;
  float sum = 0;
  for (const Glyph& glyph : layout.glyphs) {
    if (!glyph.reading) continue;
    ++count;
    CHECK(glyph.size == Approx(0.5));
    CHECK(glyph.y < layout.rows[0].baseline - 12);
    CHECK(glyph.y > layout.rows[0].y);
    CHECK(glyph.first_step >= 1);
    CHECK(glyph.end_step <= 3);
    sum += glyph.left + glyph.width / 2;
  }
  REQUIRE(count == 3);
  CHECK(sum / 3 == Approx((first.x + last.x + last.width) / 2).margin(0.5));
  // The base itself stands as it does without, where the reading is not wider.
  CHECK(layout.steps[3].x == Approx(plain.layout.steps[3].x));
  // Rows without readings are as high as before.
  const PreparedLine rows = with_readings(with + "\n" + without);
  CHECK(rows.layout.rows[1].height == plain.layout.rows[0].height);
  CHECK(rows.layout.rows[0].height == layout.rows[0].height);
  // Turned off, it is the line without.
  const PreparedLine off = with_readings(with, {.ruby = false});
  CHECK(off.layout.glyphs.size() == plain.layout.glyphs.size());
  CHECK(off.layout.height == plain.layout.height);
}

TEST_CASE("a reading that is wider makes room beside its base") {
  const PreparedLine wide = with_readings("の[ruby うけたまわる: 承]と");
  const PreparedLine plain = with_readings("の承と");
  CHECK(wide.layout.width > plain.layout.width + 20);
  const auto edges = readings_of(wide, {1}).at({0, 1});
  CHECK(edges.left >= wide.layout.steps[0].x + wide.layout.steps[0].width - 0.5F);
  CHECK(edges.right <= wide.layout.steps[2].x + 0.5F);
}

TEST_CASE("readings never run into each other, and no base is broken from its reading") {
  test::Random random(11);
  const std::string_view bases[] = {"時", "時計", "潮", "九号機関", "the clock", "fi", "ساعة"};
  const std::string_view readings[] = {"とけい", "a",  "うけたまわりたまえ",
                                       "tokei",  "し", "a b c d e f"};
  int whole = 0;  // lines whose bases fit into their rows
  for (int round = 0; round < 300; ++round) {
    std::string markup;
    std::vector<std::uint32_t> first_steps;
    std::vector<std::uint32_t> end_steps;
    for (std::uint64_t n = 1 + test::below(random, 8); n > 0; --n) {
      const std::string base(bases[test::below(random, 7)]);
      const auto steps_of = [](const std::string& text) {
        return japanese().language().segment(parse(text).text).size();
      };
      if (test::below(random, 3) == 0) markup += test::below(random, 2) == 0 ? "x" : " ";
      first_steps.push_back(steps_of(markup));
      markup += "[ruby " + std::string(readings[test::below(random, 6)]) + ": " + base + "]";
      end_steps.push_back(steps_of(markup));
    }
    const Box box{.width = static_cast<float>(160 + test::below(random, 400)),
                  .align = test::below(random, 2) == 0 ? Align::start : Align::center};
    INFO(markup << " in " << box.width);
    const PreparedLine line = with_readings(markup, box);
    const auto found = readings_of(line, first_steps);
    if (!line.layout.diagnostics.empty()) continue;  // a base is wider than the row
    ++whole;
    for (auto a = found.begin(); a != found.end(); ++a) {
      for (auto b = std::next(a); b != found.end(); ++b) {
        if (a->first.first != b->first.first) continue;
        const bool apart =
            a->second.right <= b->second.left + 0.6F || b->second.right <= a->second.left + 0.6F;
        REQUIRE(apart);
      }
    }
    for (std::size_t i = 0; i < first_steps.size(); ++i) {
      for (std::uint32_t step = first_steps[i]; step < end_steps[i]; ++step) {
        const bool broken = line.layout.steps[step].row != line.layout.steps[first_steps[i]].row;
        REQUIRE_FALSE(broken);
      }
    }
    for (const Row& row : line.layout.rows) {
      REQUIRE(row.width <= box.width + 1);
    }
  }
  CHECK(whole > 100);
}

TEST_CASE("a reading appears with its base and moves nothing") {
  const PreparedLine line = with_readings("[ruby きゅうごう: 九号]は");
  Frame frame;
  std::size_t before = 0;
  for (std::uint32_t shown = 0; shown <= line.steps.size(); ++shown) {
    const std::vector<Appearance> steps(shown, Appearance{.at = long_ago});
    make_frame(line.layout, steps, 0ns, {}, frame);
    std::size_t readings = 0;
    for (const FrameGlyph& now : frame.glyphs) {
      const Glyph& glyph = line.layout.glyphs[now.glyph];
      REQUIRE(glyph.first_step < shown);
      readings += glyph.reading ? 1 : 0;
      CHECK_FALSE(now.clipped);
    }
    CHECK(readings >= before);
    before = readings;
    if (shown == 1) CHECK(readings == 3);  // half of five, rounded up
  }
  CHECK(before == 5);
}

TEST_CASE("the player turns readings off while a line is revealed") {
  ConversationSettings settings;
  Conversation talk(japanese(), font(), {.width = 600}, settings);
  std::vector<DialogueLine> lines(1);
  lines[0].id = "a";
  lines[0].text = with;
  REQUIRE(talk.start(std::move(lines)).has_value());
  talk.tick(200ms);
  const std::uint32_t shown = talk.view().shown;
  const auto readings = [&] {
    const auto& glyphs = talk.view().block->layout.glyphs;
    return std::count_if(glyphs.begin(), glyphs.end(), [](const Glyph& g) { return g.reading; });
  };
  CHECK(readings() == 3);
  PlayerSettings player;
  player.ruby = false;
  REQUIRE(talk.set_player(player).has_value());
  CHECK(readings() == 0);
  CHECK(talk.view().shown == shown);
  REQUIRE(talk.set_player({}).has_value());
  CHECK(readings() == 3);
}

TEST_CASE("readings in captions and in speech") {
  PreparedLine line = with_readings("潮[ruby とけい: 時[mark m]計]、と。");
  const std::string cue = vtt_cue(line.marked, line.steps, line.schedule, japanese().language(),
                                  {.unit = RevealUnit::line});
  CHECK(cue.find("潮<ruby>時計<rt>とけい</rt></ruby>、") != std::string::npos);
  const std::string speech =
      ssml_document(line.marked, line.steps, line.schedule, japanese().language(), 30);
  CHECK(speech.find("潮<sub alias=\"とけい\">時計</sub><mark name=\"m\"/>、") != std::string::npos);
  PreparedLine nested = with_readings("[ruby a: x[ruby b: y]z]");
  CHECK(vtt_cue(nested.marked, nested.steps, nested.schedule, japanese().language(),
                {.unit = RevealUnit::line})
            .find("<ruby>xyz<rt>a</rt></ruby>") != std::string::npos);
}
