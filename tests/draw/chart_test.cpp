// The plan of a chart against the schedule that it draws, and the pictures made of it.
#include <catch2/catch.hpp>
#include <map>

#include "arvik/arvik.hpp"
#include "draw/chart.hpp"
#include "support/fonts.hpp"
#include "support/generator.hpp"

using namespace arvik;

namespace {

const FontSet& fonts() {
  static const FontSet set = test::noto(19);
  return set;
}

// A line with its layout in one endless row.
struct Line {
  MarkedText marked;
  Steps steps;
  Layout layout;
  Schedule schedule;
  [[nodiscard]] ChartTrack track() const { return {"line", &marked, &steps, &schedule, &layout}; }
};

Line line_of(const std::string& markup, const Pace& pace = {}) {
  static Language language = Language::open("en").value();
  Line line{parse(markup), {}, {}, {}};
  line.steps = language.segment(line.marked.text);
  line.layout = lay_out(line.marked, line.steps, language, fonts(), Box{}).value();
  line.schedule = schedule(line.marked, line.steps, language, pace).value();
  return line;
}

ChartPlan plan_of(const Line& line) { return plan_chart({line.track()}); }

double seconds(Nanoseconds time) { return std::chrono::duration<double>(time).count(); }

// Every inked step stands in one chunk, at the place of its onset, and no text covers other text
// unless it would need too many lanes.
void check_plan(const Line& line, const ChartPlan& plan) {
  std::map<std::uint32_t, int> seen;
  for (const ChartRibbon& ribbon : plan.ribbons) {
    REQUIRE(ribbon.strips.size() == 1);
    REQUIRE(ribbon.width <= plan.ribbon_width + 1.5F);
    std::map<std::uint32_t, float> ends;
    for (const ChartChunk& chunk : ribbon.strips[0].chunks) {
      REQUIRE(chunk.first_step < chunk.end_step);
      REQUIRE(chunk.squeeze > 0);
      REQUIRE(chunk.squeeze <= 1);
      REQUIRE(chunk.x >= 0);
      REQUIRE(chunk.x <= plan.ribbon_width + 1.5F);
      float width = 0;
      for (std::uint32_t i = chunk.first_step; i < chunk.end_step; ++i) {
        ++seen[i];
        width += line.layout.steps[i].width;
        REQUIRE(line.schedule.onsets[i] == line.schedule.onsets[chunk.first_step]);
      }
      if (chunk.lane < 7) {
        const auto before = ends.find(chunk.lane);
        if (before != ends.end()) REQUIRE(chunk.x >= before->second - 1);
        ends[chunk.lane] = chunk.x + width * chunk.squeeze;
      }
    }
  }
  for (std::uint32_t i = 0; i < line.steps.size(); ++i) {
    if (line.layout.steps[i].width > 0) REQUIRE(seen[i] == 1);
  }
}

}  // namespace

TEST_CASE("each character stands at its onset, once") {
  for (const char* markup :
       {"The tide clock stopped.", "[rate x0.5: slow] and [rate x2: fast], [pause 1s]then",
        "a[hold]b[hold][hold]c", "[whole: all of it at once] and on", "x", "[pause 1s]", "",
        "[by word: word by word by word]", "ساعة المد توقفت، هل تسمع؟", "水門の時計が止まった。",
        "[rate 100000cps: far too fast to see, all of it in a moment]"}) {
    INFO(markup);
    const Line line = line_of(markup);
    check_plan(line, plan_of(line));
  }
  const Line line = line_of("abc. def", {.rate = 10, .sentence = std::chrono::seconds(1)});
  const ChartPlan plan = plan_of(line);
  REQUIRE(plan.ribbons.size() == 1);
  const ChartStrip& strip = plan.ribbons[0].strips[0];
  for (const ChartChunk& chunk : strip.chunks) {
    const double wanted = seconds(line.schedule.onsets[chunk.first_step]) * plan.pixels_per_second;
    CHECK(static_cast<double>(chunk.x) == Approx(wanted));
  }
  REQUIRE(strip.rests.size() == 1);
  CHECK(strip.rests[0].label == "1000 ms sentence");
  CHECK(static_cast<double>(strip.rests[0].begin) == Approx(0.4 * plan.pixels_per_second));
  CHECK(static_cast<double>(strip.rests[0].end) == Approx(1.4 * plan.pixels_per_second));
}

TEST_CASE("random lines, short and long, fit their ribbons") {
  test::Random random(61);
  for (int i = 0; i < 150; ++i) {
    const std::string markup = test::random_markup(random, 1 + test::below(random, 60));
    INFO(markup);
    Pace pace;
    pace.rate = 2 + static_cast<double>(test::below(random, 90));
    pace.unit = static_cast<RevealUnit>(test::below(random, 4));
    const Line line = line_of(markup, pace);
    check_plan(line, plan_of(line));
  }
}

TEST_CASE("a hold breaks the axis, flags and brackets say what they are") {
  const Line line = line_of(
      "[mark w: one] [sound thud]two[hold] [rate x0.5: three [flow: four, five] six][mark m]");
  const ChartPlan plan = plan_of(line);
  const ChartStrip& strip = plan.ribbons[0].strips[0];
  REQUIRE(strip.holds.size() == 1);
  float before = 0;
  float after = 1e6F;
  for (const ChartChunk& chunk : strip.chunks) {
    (chunk.first_step < 7 ? before : after) =
        chunk.first_step < 7 ? std::max(before, chunk.x) : std::min(after, chunk.x);
  }
  CHECK(strip.holds[0] > before);
  CHECK(after > strip.holds[0] + 30);
  std::string flags;
  for (const ChartFlag& flag : strip.flags) flags += flag.label + ",";
  CHECK(flags == "w ⟨,⟩ w,♪ thud,m,");
  REQUIRE(strip.brackets.size() == 2);
  CHECK(strip.brackets[0].label == "x0.5");
  CHECK(strip.brackets[0].level == 1);  // further from the text than what is inside it
  CHECK(strip.brackets[1].label == "flow");
  CHECK(strip.brackets[1].level == 0);
}

TEST_CASE("long lines go on in further ribbons, at words") {
  std::string text;
  for (int i = 0; i < 100; ++i) text += "tide clock ";
  const Line line = line_of(text);
  const ChartPlan plan = plan_of(line);
  CHECK(plan.ribbons.size() > 4);
  CHECK(plan.ribbons.size() <= 14);
  for (std::size_t r = 1; r < plan.ribbons.size(); ++r) {
    const std::uint32_t first = plan.ribbons[r].strips[0].chunks.at(0).first_step;
    CHECK_FALSE(has_ink(line.steps.kinds[first - 1]));
  }
}

TEST_CASE("time runs with the line's direction") {
  CHECK(plan_of(line_of("ساعة المد")).right_to_left);
  CHECK_FALSE(plan_of(line_of("tide ساعة")).right_to_left);
}

TEST_CASE("charts are pictures of the asked kind and width") {
  const Line slow = line_of("The tide clock [hold]stopped.", {.rate = 8});
  const Line fast = line_of("The tide clock [hold]stopped.", {.rate = 40});
  Canvas png = paint_chart({slow.track(), fast.track()}, fonts(), {.width = 900}).value();
  CHECK(png.width() == 900);
  CHECK(png.file().substr(1, 3) == "PNG");
  Canvas svg = paint_chart({slow.track()}, fonts(), {}, CanvasKind::svg).value();
  CHECK(svg.pixels().empty());
  const std::string file = svg.file();
  CHECK(file.find("<svg") != std::string::npos);
  CHECK(file.ends_with("</svg>\n"));
  CHECK(file == svg.file());  // asking twice changes nothing

  CHECK_FALSE(paint_chart({}, fonts()).has_value());
  CHECK_FALSE(paint_chart({slow.track()}, fonts(), {.width = 100}).has_value());
  CHECK_FALSE(paint_chart({slow.track()}, fonts(), {.slow_reading = 0}).has_value());
  CHECK(paint_chart({slow.track()}, fonts(), {.slow_reading = 30, .fast_reading = 20})
            .error()
            .message == "reading speeds must be more than 0, the slow one first");
}

TEST_CASE("the corridor of reading speeds has its name where no curve runs") {
  const std::string words = "round and round went the wheel of the clock and then it went ";
  for (const double rate : {14.0, 16.0, 18.0}) {  // all inside the corridor
    const Line line = line_of(words + words, {.rate = rate});
    const Canvas canvas = paint_chart({line.track()}, fonts()).value();
    const std::vector<std::uint32_t> pixels = canvas.pixels();
    const auto width = static_cast<std::size_t>(canvas.width());
    const auto part = [](std::uint32_t pixel, int shift) {
      return static_cast<int>(pixel >> shift & 0xFFU);
    };
    int named = 0, crossed = 0;
    for (std::size_t at = 3 * width; at + 3 * width < pixels.size(); ++at) {
      const int red = part(pixels[at], 16), green = part(pixels[at], 8), blue = part(pixels[at], 0);
      // Green, but darker than the corridor.
      if (green > 165 || green < red + 20 || green < blue + 20) continue;
      ++named;
      for (std::size_t row = 0; row < 7; ++row) {
        const std::uint32_t near = pixels[at + row * width - 3 * width];
        if (part(near, 16) + part(near, 8) + part(near, 0) < 200) ++crossed;
      }
    }
    INFO(rate);
    CHECK(named > 300);
    CHECK(crossed == 0);
  }
}

TEST_CASE(
    "sounds stand over their letters, in every ribbon and behind holds, and so do their waves") {
  const std::string words = "and round went the wheel, ";
  const Line line = line_of("Round[hold] " + words + words + words + words + words + words + words +
                            words + "it went.");
  ChartTrack track = line.track();
  constexpr int rate = 8000;
  std::vector<float> wave;
  for (std::uint32_t i = 0; i < line.steps.size(); i += 7) {
    track.sounds.push_back({i, line.schedule.onsets[i], 1.5F});
    wave.resize(static_cast<std::size_t>(seconds(line.schedule.onsets[i]) * rate) + 4, 0.001F);
    wave.push_back(0.5F);  // a peak where each sound is
  }
  track.wave = wave;
  track.wave_rate = rate;
  const ChartPlan plan = plan_chart({track});
  REQUIRE(plan.ribbons.size() > 1);
  std::size_t found = 0;
  for (const ChartRibbon& ribbon : plan.ribbons) {
    const ChartStrip& strip = ribbon.strips[0];
    for (const ChartPennant& pennant : strip.pennants) {
      const std::uint32_t step = track.sounds[found++].step;
      CHECK(pennant.pitch == 1.5F);
      for (const ChartChunk& chunk : strip.chunks) {
        if (chunk.first_step == step) CHECK(chunk.x == Approx(pennant.x).margin(0.01));
      }
      const bool peak = std::any_of(strip.wave.begin(), strip.wave.end(), [&](const auto& column) {
        return column.high == 1 && std::abs(column.x - pennant.x) < 2;
      });
      CHECK(peak);
    }
  }
  CHECK(found == track.sounds.size());
}
