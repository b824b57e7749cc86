// The bidirectional algorithm, by Unicode's own test file.

#include <catch2/catch.hpp>
#include <fstream>
#include <sstream>

#include "arvik/font.hpp"
#include "arvik/language.hpp"
#include "arvik/layout.hpp"
#include "support/generator.hpp"

using namespace arvik;

namespace {

std::vector<std::string> fields_of(const std::string& row) {
  std::vector<std::string> fields;
  std::istringstream in(row);
  for (std::string field; std::getline(in, field, ';');) fields.push_back(field);
  return fields;
}

}  // namespace

// Each row: code points; direction (0, 1, 2 for the first strong); level of the paragraph; level of
// each character, x where rule X9 takes it out; visual order of those that stay.
TEST_CASE(
    "levels and visual order agree with Unicode's BidiCharacterTest.txt, as far as ICU does") {
  std::ifstream file("/usr/share/unicode/BidiCharacterTest.txt");
  REQUIRE(file);
  Language language = Language::open("en").value();
  std::vector<std::uint8_t> levels;
  std::vector<std::uint32_t> order;
  int cases = 0;
  int failed = 0;
  for (std::string row; std::getline(file, row);) {
    const auto fields = fields_of(row);
    if (row.empty() || row[0] == '#' || fields.size() < 5) continue;
    ++cases;
    std::string text;
    std::istringstream characters(fields[0]);
    for (std::string c; characters >> c;) {
      text += test::utf8(static_cast<std::uint32_t>(std::stoul(c, nullptr, 16)));
    }
    std::optional<Direction> base;
    if (fields[1] != "2") base = static_cast<Direction>(std::stoi(fields[1]));
    const Direction used = language.bidi_levels(text, base, levels);
    bool good = static_cast<int>(used) == std::stoi(fields[2]) % 2;

    std::vector<std::uint8_t> kept;
    std::vector<std::size_t> places;
    std::istringstream expected(fields[3]);
    std::size_t at = 0;
    for (std::string level; expected >> level; ++at) {
      if (level == "x") continue;
      good = good && at < levels.size() && levels[at] == std::stoi(level);
      kept.push_back(at < levels.size() ? levels[at] : 0);
      places.push_back(at);
    }
    visual_order(kept, order);
    std::string visual;
    for (const std::uint32_t index : order) {
      visual += (visual.empty() ? "" : " ") + std::to_string(places[index]);
    }
    good = good && at == levels.size() && visual == fields[4];
    failed += good ? 0 : 1;
  }
  CHECK(cases == 91'707);
  CHECK(failed <= 31);  // ICU 72's own
}

TEST_CASE("lines know whether anything in them runs right to left") {
  Language language = Language::open("en").value();
  for (const char* text : {"", "abc", "水門", "नमस्ते", "👍🏽", "é\u200e"}) {
    INFO(text);
    CHECK_FALSE(language.segment(text).right_to_left);
  }
  for (const char* text : {"abc שלום", "السلام", "١٢", "a\u202eb", "ש\u05b0"}) {
    INFO(text);
    CHECK(language.segment(text).right_to_left);
  }
  Steps steps = language.segment("שלום");
  language.segment("abc", steps);
  CHECK_FALSE(steps.right_to_left);
}

TEST_CASE("lines that ICU need not be asked about stand as it would have them") {
  Language language = Language::open("en").value();
  const std::vector<std::string> pieces{
      "א", "ש\u05b0", "ا", "م",      " ", "  ", "1", "42", "٣", ".", ":", "%",  "\u00a0", "\u066c",
      "؛", "–",       "²", "\u05be", "-", "،",  "؟", "!",  "(", ")", "a", "\n", "$"};
  test::Random random(5);
  std::vector<std::uint8_t> levels;
  std::vector<std::uint32_t> order;
  for (int i = 0; i < 20'000; ++i) {
    MarkedText marked;
    // Mostly without the last pieces, so that many lines are plain.
    const std::uint64_t kinds = test::below(random, 2) == 0 ? 9 : pieces.size();
    for (std::uint64_t length = 1 + test::below(random, 10); length > 0; --length) {
      marked.text += pieces[test::below(random, kinds)];
    }
    const Steps steps = language.segment(marked.text);
    std::optional<Direction> base;
    if (test::below(random, 3) == 0) base = Direction::right_to_left;
    const Direction used = language.bidi_levels(marked.text, base, levels);
    const auto layout =
        lay_out(marked, steps, language, GridFont(), Box{.direction = base}).value();
    INFO(marked.text);
    if (steps.right_to_left || base)
      REQUIRE(static_cast<int>(layout.direction) == static_cast<int>(used));
    for (const Row& row : layout.rows) {
      std::vector<std::uint8_t> of_row;
      for (std::uint32_t step = row.first_step; step < row.end_ink_step; ++step) {
        of_row.push_back(levels[steps.extents[step].code_points]);
      }
      visual_order(of_row, order);
      float x = row.x;
      for (const std::uint32_t index : order) {
        REQUIRE(layout.steps[row.first_step + index].x == x);
        x += layout.steps[row.first_step + index].width;
      }
    }
  }
}

TEST_CASE("scripts of steps, with punctuation taking that of its neighbours") {
  Language language = Language::open("en").value();
  const std::string text = "“a” 水。ش";
  const Steps steps = language.segment(text);
  std::vector<ScriptRun> scripts;
  find_scripts(text, steps, scripts);
  const ScriptCode latin = 0x4C61746E;
  const ScriptCode han = 0x48616E69;
  const ScriptCode arabic = 0x41726162;
  CHECK(scripts == std::vector<ScriptRun>{{0, 4, latin}, {4, 6, han}, {6, 7, arabic}});
  find_scripts("1 2", language.segment("1 2"), scripts);
  CHECK(scripts == std::vector<ScriptRun>{{0, 3, common_script}});
  find_scripts("", language.segment(""), scripts);
  CHECK(scripts.empty());
}
