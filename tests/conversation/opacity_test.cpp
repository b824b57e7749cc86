// What is shown stays shown: frames of a whole conversation, with every entrance, through holds,
// pages, appended lines, skips, changes of speed and pauses.
#include <catch2/catch.hpp>

#include "arvik/conversation.hpp"
#include "arvik/frame.hpp"
#include "support/fonts.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

// How much of each glyph of a layout is there: its opacity, and the share that is not clipped off.
std::vector<float> presence(const Layout& layout, const Frame& frame) {
  std::vector<float> all(layout.glyphs.size());
  for (const FrameGlyph& shown : frame.glyphs) {
    const Glyph& glyph = layout.glyphs[shown.glyph];
    float part = 1;
    if (shown.clipped && glyph.width > 0) {
      const float left = std::max(glyph.left, shown.clip_left);
      const float right = std::min(glyph.left + glyph.width, shown.clip_right);
      part = std::clamp((right - left) / glyph.width, 0.0F, 1.0F);
    }
    all[shown.glyph] = shown.opacity * part;
  }
  return all;
}

}  // namespace

TEST_CASE("no glyph ever shows less than before, with any entrance") {
  const FontSet font = test::noto(20);
  test::Random random(91);
  for (const Entrance entrance : {Entrance::cut, Entrance::fade, Entrance::wipe, Entrance::rise}) {
    for (int i = 0; i < 5; ++i) {
      Typesetter setter(Language::open("en").value());
      Conversation talk(setter, font, Box{.width = 160, .max_rows = 2});
      DialogueLine more{.text = " And more.[hold] Of it.", .append = true};
      REQUIRE(
          talk.start({{.text = "One.[hold] Two three four five. [hold]Six seven eight nine ten."},
                      more,
                      {.text = "The office of the affable keeper."}}));
      const FrameOptions options{.entrance = entrance, .entrance_time = 250ms};
      Frame frame;
      std::vector<float> before;
      std::shared_ptr<const Block> block;
      std::uint32_t page = 0;
      for (int t = 0; t < 900 && talk.state() != ConversationState::closed; ++t) {
        if (test::below(random, 60) == 0) talk.paused() ? talk.resume() : talk.pause();
        if (test::below(random, 40) == 0) {
          PlayerSettings player;
          player.speed = test::below(random, 4);
          REQUIRE(talk.set_player(player));
        }
        talk.tick(16'666'667ns,
                  {.advance = test::below(random, 25) == 0, .skip = test::below(random, 50) == 0});
        const ConversationView view = talk.view();
        if (view.block == nullptr) break;
        make_frame(view.block->layout, view.steps, view.now, options, frame);
        const std::vector<float> now = presence(view.block->layout, frame);
        if (view.block == block && frame.page == page) {
          for (std::size_t g = 0; g < now.size(); ++g) {
            INFO("entrance " << static_cast<int>(entrance) << ", run " << i << ", glyph " << g);
            REQUIRE(now[g] >= before[g] - 1e-4F);
          }
        }
        block = view.block;
        page = frame.page;
        before = now;
      }
    }
  }
}

TEST_CASE("behind a hold every letter has its entrance, and none has it twice") {
  const FontSet font = test::noto(20);
  Typesetter setter(Language::open("en").value());
  Conversation talk(setter, font, Box{.width = 600});
  REQUIRE(talk.start({{.text = "One.[hold] Two three.", .pace = Pace{.rate = 10}}}));
  talk.tick(5s);
  talk.tick(150ms, {.advance = true});  // a blank and one letter
  const FrameOptions options{.entrance = Entrance::fade, .entrance_time = 250ms};
  Frame frame;
  const ConversationView view = talk.view();
  make_frame(view.block->layout, view.steps, view.now, options, frame);
  CHECK(frame.glyphs.front().opacity == 1);
  CHECK(frame.glyphs.back().opacity < 0.9F);
  talk.tick(5s);
  make_frame(view.block->layout, talk.view().steps, talk.view().now, options, frame);
  for (const FrameGlyph& glyph : frame.glyphs) CHECK(glyph.opacity == 1);
}

TEST_CASE("entrances take real time, whatever the text speed, and stand while the game is paused") {
  Typesetter setter(Language::open("en").value());
  const GridFont grid;
  Conversation talk(setter, grid, Box{.width = 40});
  PlayerSettings player;
  player.speeds = {{.thousandths = 5000}};
  player.speed = 0;
  REQUIRE(talk.set_player(player));
  REQUIRE(talk.start({{.text = "abcdefgh", .pace = Pace{.rate = 10}}}));
  talk.tick(110ms);
  const ConversationView view = talk.view();
  REQUIRE(view.shown == 6);
  for (std::size_t i = 0; i < 6; ++i) {
    CHECK(view.steps[i].at == static_cast<int>(i) * 20ms);
    CHECK(view.steps[i].spacing == 20ms);
  }
  talk.pause();
  talk.tick(5s);
  CHECK(talk.view().now == view.now);
}
