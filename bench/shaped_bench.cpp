// Laying out with a real font, beside bare HarfBuzz shaping of whole lines and ICU's two passes of
// the same text; and frames of a page beside its number of glyphs.

#include <benchmark/benchmark.h>
#include <hb-ot.h>
#include <hb.h>
#include <unicode/ubrk.h>
#include <unicode/ustring.h>

#include <fstream>
#include <iterator>

#include "arvik/font_set.hpp"
#include "arvik/frame.hpp"
#include "arvik/typesetter.hpp"
#include "dialogue.hpp"

namespace {

using namespace arvik;

constexpr const char* font_path = "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf";
constexpr float pixels = 24;

std::string font_bytes() {
  std::ifstream file(font_path, std::ios::binary);
  return {std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()};
}

FontSet font_set() {
  return FontSet::make({FontSource{.data = std::make_shared<const std::string>(font_bytes())}},
                       pixels)
      .value();
}

void bare_shaping(benchmark::State& state) {
  const auto lines = bench::english_lines(1000);
  const std::string bytes = font_bytes();
  hb_blob_t* blob = hb_blob_create(bytes.data(), static_cast<unsigned>(bytes.size()),
                                   HB_MEMORY_MODE_READONLY, nullptr, nullptr);
  hb_face_t* face = hb_face_create(blob, 0);
  hb_font_t* font = hb_font_create(face);
  hb_font_set_scale(font, static_cast<int>(pixels) * 64, static_cast<int>(pixels) * 64);
  hb_buffer_t* buffer = hb_buffer_create();
  UErrorCode status = U_ZERO_ERROR;
  UBreakIterator* iterators[] = {ubrk_open(UBRK_CHARACTER, "en", nullptr, 0, &status),
                                 ubrk_open(UBRK_LINE, "en", nullptr, 0, &status)};
  std::vector<std::u16string> texts;
  for (const std::string& line : lines) {
    std::u16string text(line.size(), u'\0');
    int32_t length = 0;
    u_strFromUTF8(text.data(), static_cast<int32_t>(text.size()), &length, line.data(),
                  static_cast<int32_t>(line.size()), &status);
    text.resize(static_cast<std::size_t>(length));
    texts.push_back(text);
  }
  for (auto _ : state) {
    for (std::size_t i = 0; i < lines.size(); ++i) {
      hb_buffer_reset(buffer);
      hb_buffer_add_utf8(buffer, lines[i].data(), static_cast<int>(lines[i].size()), 0, -1);
      hb_buffer_guess_segment_properties(buffer);
      hb_shape(font, buffer, nullptr, 0);
      benchmark::DoNotOptimize(hb_buffer_get_length(buffer));
      for (UBreakIterator* iterator : iterators) {
        ubrk_setText(iterator, texts[i].data(), static_cast<int32_t>(texts[i].size()), &status);
        int32_t boundaries = 0;
        while (ubrk_next(iterator) != UBRK_DONE) ++boundaries;
        benchmark::DoNotOptimize(boundaries);
      }
    }
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(lines.size()));
  for (UBreakIterator* iterator : iterators) ubrk_close(iterator);
  hb_buffer_destroy(buffer);
  hb_font_destroy(font);
  hb_face_destroy(face);
  hb_blob_destroy(blob);
}
BENCHMARK(bare_shaping)->Name("baseline/harfbuzz_and_icu");

void shaped_layout(benchmark::State& state) {
  const auto lines = bench::english_lines(1000);
  const FontSet font = font_set();
  Language language = Language::open("en").value();
  PreparedLine line;
  for (auto _ : state) {
    for (const std::string& text : lines) {
      parse(text, line.marked);
      language.segment(line.marked.text, line.steps);
      benchmark::DoNotOptimize(
          lay_out(line.marked, line.steps, language, font, Box{.width = 500}, line.layout)
              .has_value());
    }
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(lines.size()));
}
BENCHMARK(shaped_layout)->Name("arvik/shaped_layout");

void frame_query(benchmark::State& state) {
  Typesetter typesetter(Language::open("en").value());
  const FontSet font = font_set();
  const PreparedLine line =
      typesetter
          .prepare(bench::english_line(static_cast<std::size_t>(state.range(0))), Pace{}, font,
                   Box{.width = 500})
          .value();
  const FrameOptions options{.entrance = Entrance::fade};
  const std::vector<Appearance> shown = appearances(line.schedule, line.steps.size());
  Frame frame;
  for (auto _ : state) {
    make_frame(line.layout, shown, line.schedule.duration, options, frame);
    benchmark::DoNotOptimize(frame.glyphs.data());
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(frame.glyphs.size()));
}
BENCHMARK(frame_query)->Name("arvik/frame")->Arg(50)->Arg(200)->Arg(800);

}  // namespace
