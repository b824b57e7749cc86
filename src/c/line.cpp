// Guarded by tests/c/c_line_test.cpp, and by the same example in C, Python and C++.

#include <cmath>
#include "arvik/pace_file.hpp"
#include "arvik/style_file.hpp"

#include "objects.hpp"
#ifdef ARVIK_C_WITH_FONTS
#include "arvik/font_set.hpp"
#endif

using namespace arvik;
using namespace arvik::c;

namespace {

static_assert(static_cast<int>(EventKind::mark) == ARVIK_EVENT_MARK);
static_assert(static_cast<int>(EventKind::finish) == ARVIK_EVENT_FINISH);
static_assert(static_cast<int>(EventKind::portrait) == ARVIK_EVENT_PORTRAIT);
static_assert(static_cast<int>(Align::end) == ARVIK_ALIGN_END);
static_assert(static_cast<int>(Overflow::refuse) == ARVIK_OVERFLOW_REFUSE);

class MeasuredFont final : public Font {
 public:
  MeasuredFont(arvik_measure advance, void* user, FontMetrics metrics)
      : measure_(advance), user_(user), metrics_(metrics) {}

  [[nodiscard]] FontMetrics metrics(float size, std::uint16_t) const override {
    return {metrics_.row_height * size, metrics_.ascent * size, metrics_.unit};
  }
  [[nodiscard]] bool steps_stand_alone() const override { return true; }
  void measure(const TextRun& run, std::vector<float>& advances) const override {
    const std::uint32_t style = (run.style.bold ? 1U : 0U) | (run.style.italic ? 2U : 0U);
    for (std::uint32_t i = run.first_step; i < run.end_step; ++i) {
      const std::string_view step = run.steps->text(run.text, i);
      const bool seen = run.steps->kinds[i] != StepKind::row_end;
      const float advance =
          seen ? measure_(user_, step.data(), step.size(), style, run.style.size) : 0;
      advances.push_back(advance > 0 ? advance : 0);  // NaN, too
    }
  }
  void shape(const TextRun&, std::vector<ShapedGlyph>&) const override {}

 private:
  arvik_measure measure_;
  void* user_;
  FontMetrics metrics_;
};

}  // namespace

uint32_t arvik_abi_version(void) { return ARVIK_ABI; }

// --- preparing

size_t arvik_escape(const char* text, size_t bytes, char* out, size_t capacity) {
  return guarded(nullptr, [&]() -> size_t {
    const std::string markup = escape(text_of(text, bytes));
    if (out != nullptr && capacity > 0) {
      const std::size_t size = std::min(markup.size(), capacity - 1);
      std::memcpy(out, markup.data(), size);
      out[size] = '\0';
    }
    return markup.size();
  });
}

arvik_setter* arvik_setter_create(const char* language, arvik_error* error) {
  return guarded(error, [&]() -> arvik_setter* {
    auto opened = Language::open(language == nullptr ? "en" : language);
    if (!opened) {
      put_error(opened.error(), error);
      return nullptr;
    }
    return new arvik_setter(std::move(*opened));
  });
}

void arvik_setter_destroy(arvik_setter* setter) { delete setter; }

int32_t arvik_setter_set_value(arvik_setter* setter, const char* name, const char* text,
                               size_t bytes) {
  if (setter == nullptr || name == nullptr || text == nullptr) return 0;
  return guarded(nullptr, [&]() -> int32_t {
    setter->values[name] = std::string(text_of(text, bytes));
    return 1;
  });
}

int32_t arvik_setter_set_number(arvik_setter* setter, const char* name, double number) {
  if (setter == nullptr || name == nullptr) return 0;
  return guarded(nullptr, [&]() -> int32_t {
    constexpr double most = 1e15;  // up to which every whole number is one
    const bool whole = number == std::trunc(number) && std::abs(number) <= most;
    setter->values[name] = whole ? TextValue(static_cast<std::int64_t>(number)) : TextValue(number);
    return 1;
  });
}

int32_t arvik_setter_read_styles(arvik_setter* setter, const char* json, size_t bytes,
                                 arvik_error* error) {
  if (setter == nullptr) return put_error("bad-value", "there is no setter", error), 0;
  return guarded(error, [&]() -> int32_t {
    auto styles = parse_styles(text_of(json, bytes));
    if (!styles) {
      put_error(styles.error()[0], error);
      return 0;
    }
    setter->typesetter.vocabulary().styles = std::move(*styles);
    return 1;
  });
}

arvik_font* arvik_font_create_measured(arvik_measure measure, void* user, float row_height,
                                       float ascent, arvik_error* error) {
  if (measure == nullptr || !(row_height > 0) || !(ascent >= 0)) {
    put_error("bad-font", "a font needs a measure function and a row height of more than 0", error);
    return nullptr;
  }
  return guarded(error, [&] {
    const FontMetrics metrics{.row_height = row_height, .ascent = ascent};
    return new arvik_font{std::make_shared<MeasuredFont>(measure, user, metrics)};
  });
}

void arvik_setter_set_icon_size(arvik_setter* setter, arvik_icon_size size, void* user) {
  if (setter == nullptr) return;
  guarded(nullptr, [&] {
    setter->icon_sizes = nullptr;
    if (size != nullptr) {
      setter->icon_sizes = [size, user](std::string_view name) {
        IconSize answer{};
        size(user, std::string(name).c_str(), &answer.width, &answer.height);
        return answer;
      };
    }
    setter->typesetter.set_icon_sizes(setter->icon_sizes);
    return 0;
  });
}

arvik_font* arvik_font_create(const void* data, size_t bytes, int32_t index, float pixel_size,
                              arvik_error* error) {
  const arvik_face face{.size = sizeof face,
                        .data = data,
                        .bytes = bytes,
                        .index = index,
                        .bold = 0,
                        .italic = 0,
                        .family = 0};
  return arvik_font_create_faces(&face, 1, pixel_size, error);
}

arvik_font* arvik_font_create_faces([[maybe_unused]] const arvik_face* faces,
                                    [[maybe_unused]] uint32_t count,
                                    [[maybe_unused]] float pixel_size, arvik_error* error) {
#ifdef ARVIK_C_WITH_FONTS
  return guarded(error, [&]() -> arvik_font* {
    std::vector<FontSource> sources;
    for (uint32_t i = 0; faces != nullptr && i < count; ++i) {
      // They stand one behind the other by the caller's size.
      const auto* bytes = reinterpret_cast<const char*>(faces) + i * faces->size;
      const auto face = taken(
          reinterpret_cast<const arvik_face*>(bytes), +[](arvik_face* empty) { *empty = {}; });
      if (!face) return put_error(face.error(), error), nullptr;
      const auto file = good_text(static_cast<const char*>(face->data), face->bytes, error);
      if (!file || face->bytes == ARVIK_NUL) {
        put_error("bad-font", "the length of a font file must be given", error);
        return nullptr;
      }
      sources.push_back({.data = std::make_shared<const std::string>(*file),
                         .index = face->index,
                         .bold = face->bold != 0,
                         .italic = face->italic != 0,
                         .family = face->family});
    }
    auto set = FontSet::make(std::move(sources), pixel_size);
    if (!set) {
      put_error(set.error(), error);
      return nullptr;
    }
    return new arvik_font{std::make_shared<FontSet>(std::move(*set))};
  });
#else
  put_error("bad-font", "this library was built without real fonts", error);
  return nullptr;
#endif
}

void arvik_font_destroy(arvik_font* font) { delete font; }

void arvik_pace_init(arvik_pace* pace) {
  if (pace == nullptr) return;
  const Pace defaults;
  *pace = {.size = sizeof *pace,
           .rate = defaults.rate,
           .sentence_ns = defaults.sentence.count(),
           .clause_ns = defaults.clause.count(),
           .dash_ns = defaults.dash.count(),
           .ellipsis_ns = defaults.ellipsis.count(),
           .row_end_ns = defaults.row_end.count(),
           .paragraph_ns = defaults.paragraph.count(),
           .space_ns = defaults.space.count(),
           .jitter = defaults.jitter,
           .seed = defaults.seed,
           .fit_ns = 0,
           .json = nullptr,
           .json_name = nullptr,
           .blank = defaults.blank,
           .by_script = defaults.by_script ? 1 : 0};
}

void arvik_box_init(arvik_box* box) {
  if (box == nullptr) return;
  const Box defaults;
  *box = {};
  box->size = sizeof *box;
  box->least_size = defaults.least_size;
}

tl::expected<Pace, Diagnostic> arvik::c::pace_of(const arvik_pace* given) {
  const auto from = taken(given, arvik_pace_init);
  if (!from) return tl::unexpected(from.error());
  const arvik_pace& pace = *from;
  if (pace.json != nullptr) {
    auto read = parse_pace(pace.json, pace.json_name == nullptr ? "" : pace.json_name);
    if (!read) return tl::unexpected(read.error()[0]);
    return *read;
  }
  Pace result{.rate = pace.rate,
              .sentence = Nanoseconds(pace.sentence_ns),
              .clause = Nanoseconds(pace.clause_ns),
              .dash = Nanoseconds(pace.dash_ns),
              .ellipsis = Nanoseconds(pace.ellipsis_ns),
              .row_end = Nanoseconds(pace.row_end_ns),
              .paragraph = Nanoseconds(pace.paragraph_ns),
              .space = Nanoseconds(pace.space_ns),
              .by_script = pace.by_script != 0,
              .blank = pace.blank,
              .jitter = pace.jitter,
              .seed = pace.seed};
  if (pace.fit_ns != 0) result.fit = Nanoseconds(pace.fit_ns);
  return result;
}

tl::expected<Box, Diagnostic> arvik::c::box_of(const arvik_box* given) {
  const auto from = taken(given, arvik_box_init);
  if (!from) return tl::unexpected(from.error());
  const arvik_box& box = *from;
  const auto is_one_of = [](int32_t value, int32_t last) { return value >= 0 && value <= last; };
  if (!is_one_of(box.align, ARVIK_ALIGN_END) || !is_one_of(box.overflow, ARVIK_OVERFLOW_REFUSE) ||
      !is_one_of(box.vertical_align, ARVIK_VERTICAL_BOTTOM) ||
      !is_one_of(box.direction, ARVIK_DIRECTION_RIGHT_TO_LEFT)) {
    return tl::unexpected(
        Diagnostic{.code = DiagnosticCode::bad_box,
                   .severity = Severity::error,
                   .message = "an align, overflow or direction of the box is no known value"});
  }
  Box result{.align = static_cast<Align>(box.align),
             .max_rows = box.rows,
             .vertical_align = static_cast<VerticalAlign>(box.vertical_align),
             .overflow = static_cast<Overflow>(box.overflow),
             .least_size = box.least_size,
             .fit_to_text = box.fit_to_text != 0,
             .ruby = box.no_ruby == 0,
             .least_width = box.least_width,
             .padding = {box.padding_left, box.padding_top, box.padding_right, box.padding_bottom},
             .row_spacing = box.row_spacing,
             .balanced = box.balanced != 0,
             .picture_width = box.picture_width,
             .picture_gap = box.picture_gap,
             .picture_side = box.picture_right != 0 ? Side::right : Side::left,
             .name_height = box.name_height};
  if (box.width != 0) result.width = box.width;
  if (box.height != 0) result.height = box.height;
  if (box.direction != ARVIK_DIRECTION_OF_TEXT) {
    result.direction = box.direction == ARVIK_DIRECTION_RIGHT_TO_LEFT ? Direction::right_to_left
                                                                      : Direction::left_to_right;
  }
  return result;
}

std::shared_ptr<const Font> arvik::c::font_of(const arvik_font* font) {
  return font == nullptr ? std::make_shared<GridFont>() : font->font;
}

arvik_line* arvik_line_prepare(arvik_setter* setter, const char* markup, size_t bytes,
                               const arvik_pace* pace, const arvik_font* font, const arvik_box* box,
                               arvik_error* error) {
  if (setter == nullptr) {
    put_error("bad-value", "there is no setter", error);
    return nullptr;
  }
  return guarded(error, [&]() -> arvik_line* {
    const auto with_pace = pace_of(pace);
    const auto in_box = box_of(box);
    if (!with_pace || !in_box) {
      put_error(with_pace ? in_box.error() : with_pace.error(), error);
      return nullptr;
    }
    const auto text = good_text(markup, bytes, error);
    if (!text) return nullptr;
    auto line = std::make_shared<Line>();
    PreparedLine& prepared = line->prepared;
    const auto done =
        setter->typesetter.prepare(*text, *with_pace, *font_of(font), *in_box, prepared);
    if (!done) {
      put_error(done.error(), error);
      return nullptr;
    }
    line->pace = *with_pace;
    line->rows = row_text(prepared.marked, prepared.steps, prepared.layout);
    for (const auto* problems : {&prepared.marked.diagnostics, &prepared.layout.diagnostics,
                                 &prepared.schedule.diagnostics}) {
      line->diagnostics.insert(line->diagnostics.end(), problems->begin(), problems->end());
    }
    return new arvik_line{std::move(line)};
  });
}

void arvik_line_destroy(arvik_line* line) { delete line; }

// --- what a line is

const char* arvik_line_text(const arvik_line* line, size_t* bytes) {
  const std::string* text = line == nullptr ? nullptr : &line->line->prepared.marked.text;
  if (bytes != nullptr) *bytes = text == nullptr ? 0 : text->size();
  return text == nullptr ? nullptr : text->c_str();
}

const char* arvik_line_row_text(const arvik_line* line, size_t* bytes) {
  const std::string* text = line == nullptr ? nullptr : &line->line->rows.text;
  if (bytes != nullptr) *bytes = text == nullptr ? 0 : text->size();
  return text == nullptr ? nullptr : text->c_str();
}

uint32_t arvik_line_steps(const arvik_line* line) {
  return line == nullptr ? 0 : line->line->prepared.steps.size();
}

int64_t arvik_line_duration_ns(const arvik_line* line) {
  return line == nullptr ? 0 : line->line->prepared.schedule.duration.count();
}

int64_t arvik_line_onset_ns(const arvik_line* line, uint32_t step) {
  if (step >= arvik_line_steps(line)) return 0;
  return line->line->prepared.schedule.onsets[step].count();
}

int32_t arvik_line_extent(const arvik_line* line, uint32_t steps, arvik_extent* extent) {
  if (line == nullptr || steps > arvik_line_steps(line)) return 0;
  return put(extent_of(*line->line, steps), extent);
}

uint32_t arvik_line_events(const arvik_line* line) {
  return line == nullptr ? 0 : static_cast<uint32_t>(line->line->prepared.schedule.events.size());
}

int32_t arvik_line_event(const arvik_line* line, uint32_t index, arvik_event* event) {
  if (index >= arvik_line_events(line)) return 0;
  const Event& found = line->line->prepared.schedule.events[index];
  return put<arvik_event>({.size = sizeof *event,
                           .kind = static_cast<int32_t>(found.kind),
                           .step = found.step,
                           .time_ns = found.time.count(),
                           .kind_name = event_kind_name(found.kind).data(),
                           .name = found.name.c_str(),
                           .attributes = static_cast<uint32_t>(found.attributes.size())},
                          event);
}

int32_t arvik_line_attribute(const arvik_line* line, uint32_t event, uint32_t index,
                             const char** key, const char** value) {
  if (event >= arvik_line_events(line)) return 0;
  return put_attribute(line->line->prepared.schedule.events[event], index, key, value);
}

uint32_t arvik_line_rows(const arvik_line* line) {
  return line == nullptr ? 0 : static_cast<uint32_t>(line->line->prepared.layout.rows.size());
}

int32_t arvik_line_row(const arvik_line* line, uint32_t index, arvik_row* row) {
  if (index >= arvik_line_rows(line)) return 0;
  const Row& found = line->line->prepared.layout.rows[index];
  return put<arvik_row>({.size = sizeof *row,
                         .first_step = found.first_step,
                         .end_step = found.end_step,
                         .page = found.page,
                         .x = found.x,
                         .y = found.y,
                         .width = found.width,
                         .height = found.height,
                         .baseline = found.baseline},
                        row);
}

uint32_t arvik_line_pages(const arvik_line* line) {
  return line == nullptr ? 0 : static_cast<uint32_t>(line->line->prepared.layout.pages.size());
}

namespace {

uint32_t style_bits(const TextStyle& style) {
  return (style.bold ? 1U : 0U) | (style.italic ? 2U : 0U) | (style.underline ? 4U : 0U) |
         (style.strike ? 8U : 0U) | (style.has_color ? 16U : 0U);
}

}  // namespace

int32_t arvik_line_step(const arvik_line* line, uint32_t index, arvik_step* step) {
  if (index >= arvik_line_steps(line)) return 0;
  const Layout& layout = line->line->prepared.layout;
  const StepPosition& place = layout.steps[index];
  const auto run =
      std::upper_bound(layout.styles.begin(), layout.styles.end(), index,
                       [](uint32_t at, const StyleRun& style) { return at < style.end_step; });
  const TextStyle style = run == layout.styles.end() ? TextStyle{} : run->style;
  return put<arvik_step>({.size = sizeof *step,
                          .row = place.row,
                          .x = place.x,
                          .width = place.width,
                          .style = style_bits(style),
                          .color = packed(style.color),
                          .text_size = style.size},
                         step);
}

uint32_t arvik_line_glyphs(const arvik_line* line) {
  return line == nullptr ? 0 : static_cast<uint32_t>(line->line->prepared.layout.glyphs.size());
}

int32_t arvik_line_glyph(const arvik_line* line, uint32_t index, arvik_glyph* glyph) {
  if (index >= arvik_line_glyphs(line)) return 0;
  const Layout& layout = line->line->prepared.layout;
  const Glyph& found = layout.glyphs[index];
  const TextStyle& style = layout.styles[found.style].style;
  return put<arvik_glyph>({.size = sizeof *glyph,
                           .id = found.id,
                           .face = found.face,
                           .first_step = found.first_step,
                           .end_step = found.end_step,
                           .x = found.x,
                           .y = found.y,
                           .left = found.left,
                           .width = found.width,
                           .text_size = found.size,
                           .style = style_bits(style),
                           .color = packed(style.color),
                           .right_to_left = found.right_to_left ? 1 : 0,
                           .reading = found.reading ? 1 : 0},
                          glyph);
}

const char* arvik_line_icon(const arvik_line* line, uint32_t id) {
  if (line == nullptr || id >= line->line->prepared.layout.icons.size()) return nullptr;
  return line->line->prepared.layout.icons[id].c_str();
}

int32_t arvik_line_layout(const arvik_line* line, arvik_layout* layout) {
  if (line == nullptr) return 0;
  const Layout& found = line->line->prepared.layout;
  return put<arvik_layout>({.size = sizeof *layout,
                            .width = found.width,
                            .height = found.height,
                            .box_width = found.box_width,
                            .box_height = found.box_height,
                            .scale = found.scale,
                            .right_to_left = found.direction == Direction::right_to_left ? 1 : 0},
                           layout);
}

uint32_t arvik_line_problems(const arvik_line* line) {
  return line == nullptr ? 0 : static_cast<uint32_t>(line->line->diagnostics.size());
}

int32_t arvik_line_problem(const arvik_line* line, uint32_t index, arvik_problem* problem) {
  return line == nullptr ? 0 : put_problem(line->line->diagnostics, index, problem);
}
