// What stands in the box: lines and those appended to them, and the answers below.
#include <catch2/catch.hpp>
#include <thread>

#include "arvik/block.hpp"
#include "support/english.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::grid;

namespace {

BlockRequest request(std::vector<DialogueLine> lines, std::uint32_t first = 0) {
  return {.lines = std::make_shared<const std::vector<DialogueLine>>(std::move(lines)),
          .first_line = first,
          .font = &grid(),
          .box = {.width = 20},
          .choice_box = {.width = 10, .fit_to_text = true}};
}

std::shared_ptr<const Block> block_of(const BlockRequest& wanted) {
  Typesetter setter(Language::open("en").value());
  return prepare_block(wanted, setter).value();
}

}  // namespace

TEST_CASE("a block has a line and all that are appended to it") {
  const std::vector<DialogueLine> lines{{.text = "Before."},
                                        {.text = "One"},
                                        {.text = " two", .append = true},
                                        {.text = " three", .append = true},
                                        {.text = "Behind."}};
  const auto block = block_of(request(lines, 1));
  CHECK(block->marked.text == "One two three");
  REQUIRE(block->lines.size() == 3);
  CHECK(block->line(2).part.first_step == 3);
  CHECK(block->line(3).part.first_step == 7);
  CHECK(block->has_line(3));
  CHECK_FALSE(block->has_line(0));
  CHECK_FALSE(block->has_line(4));
  CHECK(block->source_line(2).text == " two");
  // Each has times of its own, from 0: nothing is lost however many there are.
  for (const BlockLine& line : block->lines) CHECK(line.part.schedule.onsets[0] == 0ns);
}

TEST_CASE("answers are laid out in a box of their own") {
  DialogueLine line{.text = "Well?"};
  line.choices = {{.id = "go", .text = "[b: Go] down to the pump"},
                  {.id = "stay", .text = "Stay", .available = false}};
  const auto block = block_of(request({line}));
  const auto& choices = block->lines[0].choices;
  REQUIRE(choices.size() == 2);
  CHECK(choices[0].marked.text == "Go down to the pump");
  CHECK(choices[0].layout.rows.size() == 2);
  CHECK(choices[1].layout.box_width == 4);
  CHECK_FALSE(choices[1].available);
}

TEST_CASE("silent is what shows nothing, but in which something happens") {
  const auto silent = [](const DialogueLine& line) {
    return block_of(request({line}))->lines[0].silent;
  };
  CHECK(silent({.text = "[mark a]"}));
  CHECK(silent({.text = " [sound a] "}));
  CHECK(silent({.text = "[portrait a][pause 1s]"}));
  CHECK_FALSE(silent({.text = ""}));
  CHECK_FALSE(silent({.text = "[mark a]x"}));
  CHECK_FALSE(silent({.text = "[mark a]", .voice = "v"}));
  CHECK_FALSE(silent({.text = "[mark a]", .automatic = AutoAdvance{.after = 1s}}));
}

TEST_CASE("blocks are made in any thread, equal, and outlive all that they were made from") {
  const BlockRequest wanted = request({{.text = "The tide [b: clock] stopped."}});
  std::vector<std::shared_ptr<const Block>> blocks(4);
  {
    std::vector<std::jthread> threads;
    for (auto& block : blocks) {
      threads.emplace_back([&] { block = block_of(wanted); });
    }
  }
  for (const auto& block : blocks) {
    CHECK(block->marked.text == "The tide clock stopped.");
    CHECK(block->lines[0].part.schedule.onsets == blocks[0]->lines[0].part.schedule.onsets);
  }
  BlockRequest bad = wanted;
  bad.box.width = 0;
  Typesetter setter(Language::open("en").value());
  CHECK(prepare_block(bad, setter).error().code == DiagnosticCode::bad_box);
}
