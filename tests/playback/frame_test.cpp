// Frames, and what they look like: the promise that nothing moves, on rendered pixels.

#include <catch2/catch.hpp>

#include "arvik/draw.hpp"
#include "arvik/frame.hpp"
#include "support/allocations.hpp"
#include "support/fonts.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

struct Line {
  MarkedText marked;
  Steps steps;
  Layout layout;
  Schedule schedule;
};

Line prepare(const std::string& markup, const FontSet& font, const Box& box) {
  static Language language = Language::open("ja").value();
  Line line{parse(markup), {}, {}, {}};
  line.steps = language.segment(line.marked.text);
  line.layout = lay_out(line.marked, line.steps, language, font, box).value();
  line.schedule =
      schedule(line.marked, line.steps, language, {.rate = 10}, row_starts(line.layout)).value();
  return line;
}

using Pixels = std::vector<std::uint32_t>;
constexpr Rgba black{0, 0, 0, 255};

Pixels render(const Line& line, const Painter& painter, const Frame& frame) {
  Canvas canvas = Canvas::make(static_cast<int>(line.layout.box_width) + 40,
                               static_cast<int>(line.layout.box_height) + 40, black)
                      .value();
  painter.paint_frame(canvas, line.layout, frame, 20, 20);
  return canvas.pixels();
}

// Each colour of a pixel on its own; the paper is black, so more is more ink.
int channel(std::uint32_t pixel, int which) {
  return static_cast<int>(pixel >> (8 * which) & 0xFFU);
}

// The pixels that a frame's newest step touches by itself: its glyphs alone on the paper.
Pixels newest_alone(const Line& line, const Painter& painter, const Frame& frame,
                    std::uint32_t step) {
  Frame alone;
  for (const FrameGlyph& glyph : frame.glyphs) {
    const Glyph& placed = line.layout.glyphs[glyph.glyph];
    if (placed.first_step <= step && step < placed.end_step) alone.glyphs.push_back(glyph);
  }
  return render(line, painter, alone);
}

}  // namespace

// With `cut`, a pixel that has ink keeps its value at every later moment. The one exception is
// where a new step's own ink touches it: neighbours overlap by kerning, joining strokes and clip
// edges of ligatures. There ink may be added, never taken away.
TEST_CASE("ink only grows, in every script and alignment") {
  const FontSet noto = test::noto(22);
  const FontSet dejavu = test::dejavu(22);
  struct Sample {
    const char* markup;
    const FontSet* font;
  };
  const Sample samples[] = {{"The office AVATAR waffles, [i: fjord].", &noto},
                            {"office shuffle fi fl ffi", &dejavu},
                            {"تيار الماء قوي اليوم", &noto},
                            {"הזרם 3.14 חזק today שלום", &noto},
                            {"水門の時計が止まった。", &noto},
                            {"नमस्ते क्षितिज की घड़ी", &noto},
                            {"สวัสดีครับ นาฬิกา", &noto},
                            {"👩‍👩‍👧 ok 👍🏽 🇵🇱", &noto},
                            {"[u: under] [s: struck] [size 150%: big]", &noto}};
  for (const Sample& sample : samples) {
    const Painter painter(*sample.font, {.text = {255, 255, 255, 255}});
    for (const Align align : {Align::start, Align::center, Align::end}) {
      const Line line = prepare(sample.markup, *sample.font, {.width = 190, .align = align});
      Frame frame;
      make_frame(line.layout, appearances(line.schedule, 0), 0s, {}, frame);
      Pixels before = render(line, painter, frame);
      std::size_t touched = 0;
      std::size_t inked = 0;
      for (std::uint32_t shown = 1; shown <= line.steps.size(); ++shown) {
        make_frame(line.layout, appearances(line.schedule, shown), line.schedule.onsets[shown - 1],
                   {}, frame);
        const Pixels now = render(line, painter, frame);
        const Pixels fresh = newest_alone(line, painter, frame, shown - 1);
        INFO(sample.markup << ", step " << shown - 1);
        bool good = true;
        for (std::size_t p = 0; p < now.size(); ++p) {
          if (before[p] == now[p] || before[p] == 0xFF000000U) continue;
          ++touched;
          good = good && fresh[p] != 0xFF000000U;  // the newest step's own ink is here
          // Colour pictures may cover what stands under their soft edges; all else adds.
          if (sample.markup[0] == '\xF0') continue;
          for (int c = 0; c < 3; ++c) good = good && channel(now[p], c) >= channel(before[p], c);
        }
        REQUIRE(good);
        before = now;
      }
      for (const std::uint32_t pixel : before) inked += pixel != 0xFF000000U ? 1 : 0;
      CHECK(inked > 500);
      CHECK(touched < inked);  // the exception stays one
      // What stands at the end is what was laid out, whole.
      make_frame(line.layout, appearances(line.schedule, line.steps.size()), 1h, {}, frame);
      CHECK(render(line, painter, frame) == before);
    }
  }
}

TEST_CASE("a ligature shows by its share, from the side that is read first") {
  const FontSet font = test::dejavu(22);
  const Line line = prepare("office", font, {});
  Frame frame;
  make_frame(line.layout, appearances(line.schedule, 2), line.schedule.onsets[1], {}, frame);
  REQUIRE(frame.glyphs.size() == 2);
  const Glyph& ligature = line.layout.glyphs[1];
  REQUIRE(ligature.end_step - ligature.first_step == 3);
  CHECK(frame.glyphs[1].clipped);
  CHECK(frame.glyphs[1].clip_right == Approx(ligature.left + ligature.width / 3));
  make_frame(line.layout, appearances(line.schedule, 4), line.schedule.onsets[3], {}, frame);
  CHECK_FALSE(frame.glyphs[1].clipped);
}

TEST_CASE("entrances begin at the onset and come to their end, also while the reveal holds") {
  const FontSet font = test::noto(20);
  const Line line = prepare("ab[hold]c", font, {});
  const auto at = [&](const FrameOptions& options, std::uint32_t shown, Nanoseconds now) {
    Frame frame;
    make_frame(line.layout, appearances(line.schedule, shown), now, options, frame);
    return frame;
  };
  const FrameOptions fade{.entrance = Entrance::fade, .entrance_time = 100ms};
  CHECK(at(fade, 1, 0ms).glyphs.empty());
  CHECK(at(fade, 1, 50ms).glyphs[0].opacity == Approx(0.5F));
  CHECK(at(fade, 2, 100ms).glyphs[0].opacity == 1);
  CHECK(at(fade, 2, 300ms).glyphs[1].opacity == 1);  // at the hold, 100 ms later
  const FrameOptions rise{.entrance = Entrance::rise, .entrance_time = 100ms, .rise = 10};
  CHECK(at(rise, 1, 10ms).glyphs[0].dy > 5);
  CHECK(at(rise, 1, 100ms).glyphs[0].dy == 0);
  const FrameOptions wipe{.entrance = Entrance::wipe, .entrance_time = 100ms, .softness = 4};
  const FrameGlyph half = at(wipe, 1, 50ms).glyphs[0];
  CHECK(half.clipped);
  CHECK(half.clip_right ==
        Approx(line.layout.glyphs[0].left + (line.layout.glyphs[0].width + 4) / 2));
  CHECK_FALSE(at(wipe, 1, 100ms).glyphs[0].clipped);
  FrameOptions calm = fade;
  calm.reduced_motion = true;
  CHECK(at(calm, 1, 0ms).glyphs[0].opacity == 1);

  const Line hebrew = prepare("של", font, {.width = 100});
  Frame frame;
  make_frame(hebrew.layout, appearances(hebrew.schedule, 1), 50ms, wipe, frame);
  const Glyph& first = hebrew.layout.glyphs[frame.glyphs[0].glyph];
  CHECK(first.right_to_left);
  CHECK(frame.glyphs[0].clip_left > first.left - 4);
  CHECK(frame.glyphs[0].clip_right > first.left + first.width);
}

TEST_CASE("tags choose the entrance of their text") {
  const FontSet font = test::noto(20);
  const Line line = prepare("a[enter fade 1s: b]", font, {});
  Frame frame;
  make_frame(line.layout, appearances(line.schedule, 2), 600ms, {}, frame);
  CHECK(frame.glyphs[0].opacity == 1);
  CHECK(frame.glyphs[1].opacity == Approx(0.5F));
}

TEST_CASE("a frame shows one page, and the onsets tell when each glyph appears") {
  const FontSet font = test::noto(20);
  const Line line = prepare("one [page]two", font, {.width = 200});
  Frame frame;
  make_frame(line.layout, appearances(line.schedule, 4), 1s, {}, frame);
  CHECK(frame.page == 0);
  CHECK(frame.glyphs.size() == 3);
  make_frame(line.layout, appearances(line.schedule, 5), 1s, {}, frame);
  CHECK(frame.page == 1);
  CHECK(frame.glyphs.size() == 1);
  // For the GPU: what is shown, what comes, and what waits behind a hold.
  Reveal reveal(line.steps, line.schedule);
  Entrances entrances;
  entrances.begin(line.steps.size());
  const Reveal before = reveal;
  entrances.follow(before, reveal.tick(150ms), 150ms);
  std::vector<float> onsets;
  glyph_onsets(line.layout, entrances.shown(), line.schedule, reveal, entrances.now(), 0s, onsets);
  REQUIRE(onsets.size() == line.layout.glyphs.size());
  CHECK(onsets[0] == 0);
  CHECK(onsets[1] == Approx(0.1F));
  CHECK(onsets[2] == Approx(0.2F));
  CHECK(std::isinf(onsets[3]));
}

TEST_CASE("frames allocate nothing into a used buffer") {
  const FontSet font = test::noto(20);
  const Line line = prepare("The tide clock stopped at a quarter past four.", font, {.width = 200});
  Frame frame;
  make_frame(line.layout, appearances(line.schedule, line.steps.size()), 1h, {}, frame);
  const FrameOptions wipe{.entrance = Entrance::wipe};
  const std::vector<Appearance> all = appearances(line.schedule, line.steps.size());
  const std::size_t before = test::allocations();
  for (std::uint32_t shown = 0; shown <= line.steps.size(); ++shown) {
    make_frame(line.layout, std::span(all).first(shown), shown * 100ms, wipe, frame);
  }
  CHECK(test::allocations() == before);
}

TEST_CASE("pictures have a size that can be, and are PNG files") {
  CHECK_FALSE(Canvas::make(0, 10, black).has_value());
  CHECK_FALSE(Canvas::make(10, 30'000, black).has_value());
  Canvas canvas = Canvas::make(3, 2, Rgba{255, 0, 0, 255}).value();
  CHECK(canvas.pixels() == Pixels(6, 0xFFFF0000U));
  CHECK(canvas.file().substr(1, 3) == "PNG");
}
