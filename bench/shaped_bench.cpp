// Laying out with a real font, beside bare HarfBuzz shaping of whole lines and ICU's two passes of
// the same text; and frames of a page beside its number of glyphs.

#include <benchmark/benchmark.h>
#include <hb-ot.h>
#include <hb.h>
#include <unicode/ubrk.h>

#include <fstream>
#include <iterator>

#include "../src/layout/text_shape.hpp"
#include "arvik/font_set.hpp"
#include "arvik/frame.hpp"
#include "arvik/typesetter.hpp"
#include "dialogue.hpp"

namespace {

using namespace arvik;

constexpr float pixels = 24;

// 0: English, in DejaVu Sans; 1: Arabic, in Noto Naskh.
std::vector<std::string> lines_of(std::int64_t language) {
  return language == 0 ? bench::english_lines(1000) : bench::arabic_lines(1000);
}
const char* tag_of(std::int64_t language) { return language == 0 ? "en" : "ar"; }

std::string font_bytes(std::int64_t language) {
  std::ifstream file(language == 0 ? "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf"
                                   : "/usr/share/fonts/truetype/noto/NotoNaskhArabic-Regular.ttf",
                     std::ios::binary);
  return {std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()};
}

FontSet font_set(std::int64_t language) {
  const auto data = std::make_shared<const std::string>(font_bytes(language));
  return FontSet::make({FontSource{.data = data}}, pixels).value();
}

void bare_shaping(benchmark::State& state) {
  const auto lines = lines_of(state.range(0));
  const std::string bytes = font_bytes(state.range(0));
  hb_blob_t* blob = hb_blob_create(bytes.data(), static_cast<unsigned>(bytes.size()),
                                   HB_MEMORY_MODE_READONLY, nullptr, nullptr);
  hb_face_t* face = hb_face_create(blob, 0);
  hb_font_t* font = hb_font_create(face);
  hb_font_set_scale(font, static_cast<int>(pixels) * 64, static_cast<int>(pixels) * 64);
  hb_buffer_t* buffer = hb_buffer_create();
  UErrorCode status = U_ZERO_ERROR;
  UBreakIterator* iterators[] = {
      ubrk_open(UBRK_CHARACTER, tag_of(state.range(0)), nullptr, 0, &status),
      ubrk_open(UBRK_LINE, tag_of(state.range(0)), nullptr, 0, &status)};
  const std::vector<std::u16string> texts = bench::as_utf16(lines);
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
BENCHMARK(bare_shaping)->Name("baseline/harfbuzz_and_icu")->Arg(0)->Arg(1);

void shaped_layout(benchmark::State& state) {
  const auto lines = lines_of(state.range(0));
  const FontSet font = font_set(state.range(0));
  Language language = Language::open(tag_of(state.range(0))).value();
  PreparedLine line;
  layout::Scratch scratch;  // as a typesetter has one
  for (auto _ : state) {
    for (const std::string& text : lines) {
      parse(text, line.marked);
      language.segment(line.marked.text, line.steps);
      benchmark::DoNotOptimize(layout::lay_out(line.marked, line.steps, language, font,
                                               Box{.width = 500}, {}, nullptr, scratch, line.layout)
                                   .has_value());
    }
  }
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(lines.size()));
}
BENCHMARK(shaped_layout)->Name("arvik/shaped_layout")->Arg(0)->Arg(1);

void frame_query(benchmark::State& state) {
  Typesetter typesetter(Language::open("en").value());
  const FontSet font = font_set(0);
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
