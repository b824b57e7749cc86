// Faces are chosen before shaping, step by step, by the characters that they have; runs of steps
// with one face are then shaped by HarfBuzz. A step goes to one face whole, so that marks and emoji
// sequences never fall apart.
//
// HarfBuzz works in 26.6 fixed point at the set's pixel size, so every advance is a multiple of
// 1/64. Other sizes of a line are scaled from that, without hinting: text keeps its rhythm at any
// size.
//
// Guarded by tests/fonts/shaped_layout_test.cpp and the rendered pixels of
// tests/playback/frame_test.cpp.

#include "arvik/font_set.hpp"

#include <ft2build.h>
#include FT_FREETYPE_H
#include <hb-ot.h>
#include <hb.h>

#include <algorithm>
#include <array>
#include <atomic>

#include "../base/memory.hpp"
#include "../unicode/characters.hpp"

namespace arvik {
namespace {

constexpr float fixed_point = 64;
constexpr float least_pixels = 1;
constexpr float most_pixels = 2000;

struct HarfBuzzDeleter {
  void operator()(hb_blob_t* blob) const { hb_blob_destroy(blob); }
  void operator()(hb_face_t* face) const { hb_face_destroy(face); }
  void operator()(hb_font_t* font) const { hb_font_destroy(font); }
  void operator()(hb_set_t* set) const { hb_set_destroy(set); }
};
template <typename Object>
using HarfBuzz = std::unique_ptr<Object, HarfBuzzDeleter>;

Diagnostic bad_font(std::string message) {
  return {
      .code = DiagnosticCode::bad_font, .severity = Severity::error, .message = std::move(message)};
}

enum class Opened : std::uint8_t { no, letters, pictures };

// FreeType refuses what only looks like a font; HarfBuzz would shape it to nothing.
Opened open_with_freetype(const FontSource& source) {
  FT_Library library = nullptr;
  if (FT_Init_FreeType(&library) != 0) base::out_of_memory();
  FT_Face face = nullptr;
  Opened opened = Opened::no;
  if (FT_New_Memory_Face(library, reinterpret_cast<const FT_Byte*>(source.data->data()),
                         static_cast<FT_Long>(source.data->size()), source.index, &face) == 0) {
    if (face->charmap != nullptr) opened = FT_HAS_COLOR(face) ? Opened::pictures : Opened::letters;
    FT_Done_Face(face);
  }
  FT_Done_FreeType(library);
  return opened;
}

// Characters that change how others look but need no glyph of their own.
bool needs_glyph(hb_codepoint_t c) {
  const bool joiner = c == 0x200C || c == 0x200D || c == 0x2060 || c == 0x00AD;
  const bool variation = (c >= 0xFE00 && c <= 0xFE0F) || (c >= 0xE0000 && c <= 0xE0FFF);
  const bool direction =
      (c >= 0x200E && c <= 0x200F) || (c >= 0x202A && c <= 0x202E) || (c >= 0x2066 && c <= 0x2069);
  return !joiner && !variation && !direction && c >= 0x20;
}

FontMetrics metrics_of(hb_font_t* font) {
  hb_font_extents_t extents{};
  hb_font_get_h_extents(font, &extents);
  const float ascent = static_cast<float>(extents.ascender) / fixed_point;
  const float descent = static_cast<float>(-extents.descender) / fixed_point;
  const float gap = static_cast<float>(extents.line_gap) / fixed_point;
  return {
      .row_height = ascent + descent + gap, .ascent = ascent + gap / 2, .unit = 1 / fixed_point};
}

}  // namespace

struct FontSet::Impl {
  std::vector<FontSource> sources;
  std::vector<HarfBuzz<hb_font_t>> fonts;    // one a source
  std::vector<HarfBuzz<hb_set_t>> coverage;  // the characters that each has
  std::vector<bool> pictures;                // whether each holds pictures: emoji
  std::vector<FontMetrics> metrics;          // of each at the set's size
  float pixels = 0;
  // The face of every character up to the last Arabic letters, by style (bold 2, italic 1): most
  // text outside Asia is looked up here.
  static constexpr std::size_t near_limit = 0x700;
  std::array<std::array<std::uint16_t, near_limit>, 4> nearby{};
  // A buffer that no call has at the moment; others take one of their own.
  mutable std::atomic<hb_buffer_t*> spare{nullptr};

  Impl() = default;
  Impl(const Impl&) = delete;
  Impl& operator=(const Impl&) = delete;
  ~Impl() { hb_buffer_destroy(spare.load()); }

  [[nodiscard]] hb_buffer_t* take_buffer() const {
    hb_buffer_t* buffer = spare.exchange(nullptr);
    return buffer != nullptr ? buffer : hb_buffer_create();
  }
  void give_back(hb_buffer_t* buffer) const {
    hb_buffer_reset(buffer);
    hb_buffer_t* none = nullptr;
    if (!spare.compare_exchange_strong(none, buffer)) hb_buffer_destroy(buffer);
  }

  [[nodiscard]] bool covers(std::size_t face, std::string_view step) const;
  [[nodiscard]] std::uint16_t choose(std::string_view step, const TextStyle& style) const;
  void shape_with(std::uint16_t face, const TextRun& run, std::uint32_t first, std::uint32_t end,
                  std::vector<ShapedGlyph>& glyphs) const;
};

tl::expected<FontSet, Diagnostic> FontSet::make(std::vector<FontSource> sources, float pixel_size) {
  if (!(pixel_size >= least_pixels && pixel_size <= most_pixels)) {
    return tl::unexpected(bad_font("a font's size must be 1 to 2000 pixels"));
  }
  if (sources.empty()) return tl::unexpected(bad_font("a font set needs at least one face"));
  std::stable_sort(sources.begin(), sources.end(),
                   [](const FontSource& a, const FontSource& b) { return a.family < b.family; });
  auto impl = std::make_shared<Impl>();
  impl->pixels = pixel_size;
  for (std::size_t i = 0; i < sources.size(); ++i) {
    const FontSource& source = sources[i];
    const Opened opened = source.data == nullptr ? Opened::no : open_with_freetype(source);
    impl->pictures.push_back(opened == Opened::pictures);
    if (opened == Opened::no) {
      return tl::unexpected(bad_font("face " + std::to_string(i) + " is no font"));
    }
    const HarfBuzz<hb_blob_t> blob(hb_blob_create(source.data->data(),
                                                  static_cast<unsigned>(source.data->size()),
                                                  HB_MEMORY_MODE_READONLY, nullptr, nullptr));
    const HarfBuzz<hb_face_t> face(hb_face_create(blob.get(), static_cast<unsigned>(source.index)));
    HarfBuzz<hb_font_t> font(hb_font_create(face.get()));
    const int scale = static_cast<int>(pixel_size * fixed_point);
    hb_font_set_scale(font.get(), scale, scale);
    hb_font_make_immutable(font.get());
    HarfBuzz<hb_set_t> characters(hb_set_create());
    hb_face_collect_unicodes(face.get(), characters.get());
    impl->metrics.push_back(metrics_of(font.get()));
    impl->fonts.push_back(std::move(font));
    impl->coverage.push_back(std::move(characters));
  }
  impl->sources = std::move(sources);
  for (std::size_t style = 0; style < impl->nearby.size(); ++style) {
    const TextStyle wanted{.bold = (style & 2U) != 0, .italic = (style & 1U) != 0};
    for (std::size_t c = 0; c < Impl::near_limit; ++c) {
      const std::array<char, 2> bytes{static_cast<char>(c < 0x80 ? c : 0xC0U | c >> 6U),
                                      static_cast<char>(0x80U | (c & 0x3FU))};
      impl->nearby[style][c] = impl->choose({bytes.data(), c < 0x80 ? 1U : 2U}, wanted);
    }
  }
  return FontSet(std::move(impl));
}

FontSet::FontSet(std::shared_ptr<const Impl> impl) : impl_(std::move(impl)) {}
FontSet::FontSet(const FontSet&) = default;
FontSet& FontSet::operator=(const FontSet&) = default;
FontSet::~FontSet() = default;

float FontSet::pixel_size() const { return impl_->pixels; }
const std::vector<FontSource>& FontSet::sources() const { return impl_->sources; }

FontMetrics FontSet::metrics(float size, std::uint16_t face) const {
  FontMetrics metrics = impl_->metrics[face < impl_->metrics.size() ? face : 0];
  metrics.row_height *= size;
  metrics.ascent *= size;
  return metrics;
}

bool FontSet::Impl::covers(std::size_t face, std::string_view step) const {
  unicode::Decoded now;
  for (std::size_t at = 0; at < step.size(); at += now.size) {
    now = unicode::decode(step, at);
    if (needs_glyph(now.code_point) && hb_set_has(coverage[face].get(), now.code_point) == 0) {
      return false;
    }
  }
  return true;
}

std::uint16_t FontSet::Impl::choose(std::string_view step, const TextStyle& style) const {
  if (fonts.size() == 1) return 0;
  std::size_t best = fonts.size();
  int best_score = -1;
  for (std::size_t i = 0; i < fonts.size() && best_score < 3; ++i) {
    if (best < fonts.size() && sources[i].family != sources[best].family) break;
    const int score =
        (sources[i].bold == style.bold ? 2 : 0) + (sources[i].italic == style.italic ? 1 : 0);
    if (score <= best_score || !covers(i, step)) continue;
    best = i;
    best_score = score;
  }
  return static_cast<std::uint16_t>(best == fonts.size() ? 0 : best);
}

void FontSet::measure(const TextRun& run, std::vector<float>& advances) const {
  std::vector<ShapedGlyph> glyphs;
  shape(run, glyphs);
  const std::size_t before = advances.size();
  advances.resize(before + (run.end_step - run.first_step));
  for (const ShapedGlyph& glyph : glyphs) {
    const float share = glyph.advance / static_cast<float>(glyph.end_step - glyph.first_step);
    for (std::uint32_t i = glyph.first_step; i < glyph.end_step; ++i) {
      advances[before + (i - run.first_step)] += share;
    }
  }
}

void FontSet::shape(const TextRun& run, std::vector<ShapedGlyph>& glyphs) const {
  struct FaceRun {
    std::uint32_t first, end;
    std::uint16_t face;
  };
  std::vector<FaceRun> runs;
  const auto& nearby = impl_->nearby[(run.style.bold ? 2U : 0U) + (run.style.italic ? 1U : 0U)];
  const Extent* extents = run.steps->extents.data();
  const auto face_of = [&](std::uint32_t i) {
    if (extents[i].code_points + 1 == extents[i + 1].code_points) {
      const char32_t c = unicode::decode(run.text, extents[i].bytes).code_point;
      if (c < Impl::near_limit) return nearby[c];
    }
    return impl_->choose(run.steps->text(run.text, i), run.style);
  };
  for (std::uint32_t i = run.first_step; i < run.end_step; ++i) {
    // Blanks and the like stay with the face before them; but those of emoji are an emoji wide.
    const bool stay =
        !runs.empty() && !has_ink(run.steps->kinds[i]) && !impl_->pictures[runs.back().face];
    const std::uint16_t face = stay ? runs.back().face : face_of(i);
    if (!runs.empty() && runs.back().face == face) {
      runs.back().end = i + 1;
    } else {
      runs.push_back({i, i + 1, face});
    }
  }
  if (run.direction == Direction::right_to_left) std::reverse(runs.begin(), runs.end());
  for (const FaceRun& part : runs) {
    impl_->shape_with(part.face, run, part.first, part.end, glyphs);
  }
}

namespace {

// HarfBuzz takes quadratic time for the marks of one cluster. No cluster of real text has so many
// characters (UAX #15 gives streams 30 marks); what stands behind them is not drawn.
constexpr std::uint32_t most_shaped = 64;

// Where the first so many code points from `at` on end.
std::uint32_t bytes_of(std::string_view text, std::uint32_t at, std::uint32_t code_points) {
  for (; code_points > 0; --code_points) at += unicode::decode(text, at).size;
  return at;
}

}  // namespace

void FontSet::Impl::shape_with(std::uint16_t face, const TextRun& run, std::uint32_t first,
                               std::uint32_t end, std::vector<ShapedGlyph>& glyphs) const {
  const Steps& steps = *run.steps;
  const auto give_back = [this](hb_buffer_t* used) { this->give_back(used); };
  const std::unique_ptr<hb_buffer_t, decltype(give_back)> buffer(take_buffer(), give_back);
  hb_buffer_pre_allocate(buffer.get(), steps.begin_byte(end - 1) - steps.begin_byte(first) + 8);
  const bool backwards = run.direction == Direction::right_to_left;
  hb_buffer_set_direction(buffer.get(), backwards ? HB_DIRECTION_RTL : HB_DIRECTION_LTR);
  hb_buffer_set_script(buffer.get(), hb_script_from_iso15924_tag(run.script));
  hb_buffer_set_language(
      buffer.get(),
      hb_language_from_string(run.language.data(), static_cast<int>(run.language.size())));
  hb_buffer_set_cluster_level(buffer.get(), HB_BUFFER_CLUSTER_LEVEL_MONOTONE_GRAPHEMES);
  const auto add = [&](std::uint32_t from, std::uint32_t to) {
    hb_buffer_add_utf8(buffer.get(), run.text.data(), static_cast<int>(run.text.size()), from,
                       static_cast<int>(to - from));
  };
  std::uint32_t from = steps.begin_byte(first);
  for (std::uint32_t i = first; i < end; ++i) {
    const std::uint32_t count = steps.extents[i + 1].code_points - steps.extents[i].code_points;
    if (count <= most_shaped) continue;
    add(from, bytes_of(run.text, steps.begin_byte(i), most_shaped));
    from = steps.end_byte(i);
  }
  add(from, steps.end_byte(end - 1));
  hb_shape(fonts[face].get(), buffer.get(), nullptr, 0);
  unsigned count = 0;
  const hb_glyph_info_t* infos = hb_buffer_get_glyph_infos(buffer.get(), &count);
  const hb_glyph_position_t* places = hb_buffer_get_glyph_positions(buffer.get(), nullptr);
  const float factor = run.style.size / fixed_point;
  // Clusters rise, or fall in text that runs backwards.
  std::uint32_t step = backwards ? end - 1 : first;
  const auto step_at = [&](std::uint32_t byte) {
    while (steps.end_byte(step) <= byte) ++step;
    while (steps.begin_byte(step) > byte) --step;
    return step;
  };
  const std::size_t begin = glyphs.size();
  glyphs.resize(begin + count);
  for (unsigned i = 0; i < count; ++i) {
    const auto flags = hb_glyph_info_get_glyph_flags(&infos[i]);
    ShapedGlyph& glyph = glyphs[begin + i];
    glyph.id = infos[i].codepoint;
    glyph.face = face;
    glyph.unsafe_to_break = (flags & HB_GLYPH_FLAG_UNSAFE_TO_BREAK) != 0;
    glyph.first_step = step_at(infos[i].cluster);
    glyph.advance = static_cast<float>(places[i].x_advance) * factor;
    glyph.dx = static_cast<float>(places[i].x_offset) * factor;
    glyph.dy = static_cast<float>(-places[i].y_offset) * factor;
  }
  // A cluster reaches to the next one in logical order.
  std::uint32_t next = end;
  std::uint32_t current = end;
  const auto close = [&](ShapedGlyph& glyph) {
    if (glyph.first_step != current) {
      next = current;
      current = glyph.first_step;
    }
    glyph.end_step = std::max(next, glyph.first_step + 1);
  };
  const auto part = glyphs.begin() + static_cast<std::ptrdiff_t>(begin);
  if (backwards) {
    std::for_each(part, glyphs.end(), close);
  } else {
    std::for_each(glyphs.rbegin(), std::make_reverse_iterator(part), close);
  }
}

}  // namespace arvik
