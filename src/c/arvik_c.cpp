// The C interface: every function checks what it is given, catches what may be thrown (memory that
// runs out), and copies structs by the smaller of both sizes.
//
// Guarded by tests/c_test.cpp, and by the same example in C, Python and C++.

#include "arvik/arvik.h"

#include <algorithm>
#include <cstring>
#include <map>
#include <memory>
#include <new>

#include "arvik/arvik.hpp"
#include "arvik/pace_file.hpp"
#include "arvik/script_file.hpp"
#ifdef ARVIK_C_WITH_FONTS
#include "arvik/font_set.hpp"
#endif

using namespace arvik;

namespace {

static_assert(static_cast<int>(EventKind::mark) == ARVIK_EVENT_MARK);
static_assert(static_cast<int>(EventKind::finish) == ARVIK_EVENT_FINISH);
static_assert(static_cast<int>(EventKind::portrait) == ARVIK_EVENT_PORTRAIT);
static_assert(static_cast<int>(RevealState::finished) == ARVIK_FINISHED);
static_assert(static_cast<int>(ConversationState::closing) == ARVIK_TALK_CLOSING);
static_assert(static_cast<int>(Align::end) == ARVIK_ALIGN_END);
static_assert(static_cast<int>(Overflow::refuse) == ARVIK_OVERFLOW_REFUSE);

// Only what the caller's struct has room for.
template <typename Struct>
int32_t put(const Struct& value, Struct* out) {
  if (out == nullptr || out->size < sizeof out->size) return 0;
  const std::size_t size = std::min(out->size, sizeof value);
  constexpr std::size_t head = sizeof out->size;
  std::memcpy(reinterpret_cast<char*>(out) + head, reinterpret_cast<const char*>(&value) + head,
              size - head);
  return 1;
}

// What the caller's struct has, on top of the defaults.
template <typename Struct>
Struct taken(const Struct* in, void (*set_defaults)(Struct*)) {
  Struct value;
  set_defaults(&value);
  if (in != nullptr) {
    std::memcpy(static_cast<void*>(&value), in, std::min(in->size, sizeof value));
    value.size = sizeof value;
  }
  return value;
}

template <std::size_t size>
void copy_text(std::string_view text, char (&out)[size]) {
  std::size_t length = std::min(text.size(), size - 1);
  // Not in the middle of a character.
  while (length < text.size() && length > 0 &&
         (static_cast<unsigned char>(text[length]) & 0xC0U) == 0x80U) {
    --length;
  }
  std::memcpy(out, text.data(), length);
  out[length] = '\0';
}

int32_t put_error(const Diagnostic& problem, arvik_error* error) {
  arvik_error value{};
  copy_text(diagnostic_name(problem.code), value.code);
  copy_text(problem.message, value.message);
  value.row = static_cast<std::uint32_t>(problem.row);
  value.column = static_cast<std::uint32_t>(problem.column);
  return put(value, error);
}

int32_t put_error(const char* code, const char* message, arvik_error* error) {
  arvik_error value{};
  copy_text(code, value.code);
  copy_text(message, value.message);
  return put(value, error);
}

// Runs what may run out of memory; answers its result, or nothing.
template <typename Function>
auto guarded(arvik_error* error, Function function) -> decltype(function()) {
  try {
    return function();
  } catch (const std::bad_alloc&) {
    put_error("no-memory", "there is no memory left", error);
  } catch (const std::exception& problem) {
    put_error("internal", problem.what(), error);
  }
  return {};
}

std::string_view text_of(const char* text, std::size_t bytes) {
  if (text == nullptr) return {};
  return bytes == ARVIK_NUL ? std::string_view(text) : std::string_view(text, bytes);
}

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

struct Line {
  PreparedLine prepared;
  RowText rows;
  std::vector<Diagnostic> diagnostics;
};

arvik_extent extent_of(const Line& line, std::uint32_t steps) {
  const Extent& extent = line.prepared.steps.extents[steps];
  return {.size = sizeof(arvik_extent),
          .steps = steps,
          .bytes = extent.bytes,
          .code_points = extent.code_points,
          .utf16_units = extent.utf16_units,
          .row_text_bytes = line.rows.extents[steps].bytes};
}

}  // namespace

struct arvik_setter {
  Typesetter typesetter;
  std::map<std::string, std::string, std::less<>> values{};

  explicit arvik_setter(Language language) : typesetter(std::move(language)) {
    typesetter.vocabulary().value = [this](std::string_view name) -> std::optional<std::string> {
      const auto found = values.find(name);
      if (found == values.end()) return std::nullopt;
      return found->second;
    };
  }
};

struct arvik_font {
  std::shared_ptr<const Font> font;
};

struct arvik_line {
  std::shared_ptr<const Line> line;
};

struct arvik_reveal {
  std::shared_ptr<const Line> line;
  Reveal reveal;
};

struct arvik_talk {
  std::shared_ptr<const Font> font;
  Script script;
  Typesetter typesetter;
  std::vector<DialogueLine> lines;
  Conversation talk;  // refers to the typesetter and the font
  std::span<const ConversationEvent> events{};

  arvik_talk(std::shared_ptr<const Font> face, const Box& box, Script read, Typesetter setter,
             std::vector<DialogueLine> said)
      : font(std::move(face)),
        script(std::move(read)),
        typesetter(std::move(setter)),
        lines(std::move(said)),
        talk(typesetter, *font, box, {.sounds = script.sounds}) {}
};

uint32_t arvik_abi_version(void) { return ARVIK_ABI; }

// --- preparing

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

arvik_font* arvik_font_create([[maybe_unused]] const void* data, [[maybe_unused]] size_t bytes,
                              [[maybe_unused]] int32_t index, [[maybe_unused]] float pixel_size,
                              arvik_error* error) {
#ifdef ARVIK_C_WITH_FONTS
  return guarded(error, [&]() -> arvik_font* {
    const auto file = std::make_shared<const std::string>(
        text_of(static_cast<const char*>(data), data == nullptr ? 0 : bytes));
    auto set = FontSet::make({{.data = file, .index = index}}, pixel_size);
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
           .json_name = nullptr};
}

void arvik_box_init(arvik_box* box) {
  if (box == nullptr) return;
  *box = {.size = sizeof *box,
          .width = 0,
          .height = 0,
          .rows = 0,
          .align = ARVIK_ALIGN_START,
          .overflow = ARVIK_OVERFLOW_PAGES,
          .row_spacing = 0};
}

namespace {

tl::expected<Pace, Diagnostic> pace_of(const arvik_pace* given) {
  const arvik_pace pace = taken(given, arvik_pace_init);
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
              .jitter = pace.jitter,
              .seed = pace.seed};
  if (pace.fit_ns != 0) result.fit = Nanoseconds(pace.fit_ns);
  return result;
}

tl::expected<Box, Diagnostic> box_of(const arvik_box* given) {
  const arvik_box box = taken(given, arvik_box_init);
  if (box.align < 0 || box.align > ARVIK_ALIGN_END || box.overflow < 0 ||
      box.overflow > ARVIK_OVERFLOW_REFUSE) {
    return tl::unexpected(Diagnostic{.code = DiagnosticCode::bad_box,
                                     .severity = Severity::error,
                                     .message = "the box's align or overflow is no known value"});
  }
  Box result;
  if (box.width != 0) result.width = box.width;
  if (box.height != 0) result.height = box.height;
  result.max_rows = box.rows;
  result.align = static_cast<Align>(box.align);
  result.overflow = static_cast<Overflow>(box.overflow);
  result.row_spacing = box.row_spacing;
  return result;
}

std::shared_ptr<const Font> font_of(const arvik_font* font) {
  return font == nullptr ? std::make_shared<GridFont>() : font->font;
}

}  // namespace

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
    auto line = std::make_shared<Line>();
    PreparedLine& prepared = line->prepared;
    const auto done = setter->typesetter.prepare(text_of(markup, bytes), *with_pace, *font_of(font),
                                                 *in_box, prepared);
    if (!done) {
      put_error(done.error(), error);
      return nullptr;
    }
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
  if (event >= arvik_line_events(line) || key == nullptr || value == nullptr) return 0;
  const auto& attributes = line->line->prepared.schedule.events[event].attributes;
  if (index >= attributes.size()) return 0;
  *key = attributes[index].key.c_str();
  *value = attributes[index].value.c_str();
  return 1;
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

int32_t arvik_line_step(const arvik_line* line, uint32_t index, arvik_step* step) {
  if (index >= arvik_line_steps(line)) return 0;
  const Layout& layout = line->line->prepared.layout;
  const StepPlace& place = layout.steps[index];
  const auto run =
      std::upper_bound(layout.styles.begin(), layout.styles.end(), index,
                       [](uint32_t at, const StyleRun& style) { return at < style.end_step; });
  const TextStyle style = run == layout.styles.end() ? TextStyle{} : run->style;
  const Rgba& color = style.color;
  return put<arvik_step>(
      {.size = sizeof *step,
       .row = place.row,
       .x = place.x,
       .width = place.width,
       .style = (style.bold ? 1U : 0U) | (style.italic ? 2U : 0U) | (style.underline ? 4U : 0U) |
                (style.strike ? 8U : 0U) | (style.has_color ? 16U : 0U),
       .color = uint32_t{color.red} << 24U | uint32_t{color.green} << 16U |
                uint32_t{color.blue} << 8U | color.alpha,
       .text_size = style.size},
      step);
}

uint32_t arvik_line_glyphs(const arvik_line* line) {
  return line == nullptr ? 0 : static_cast<uint32_t>(line->line->prepared.layout.glyphs.size());
}

int32_t arvik_line_glyph(const arvik_line* line, uint32_t index, arvik_glyph* glyph) {
  if (index >= arvik_line_glyphs(line)) return 0;
  const Glyph& found = line->line->prepared.layout.glyphs[index];
  return put<arvik_glyph>({.size = sizeof *glyph,
                           .id = found.id,
                           .first_step = found.first_step,
                           .end_step = found.end_step,
                           .x = found.x,
                           .y = found.y,
                           .left = found.left,
                           .width = found.width,
                           .text_size = found.size},
                          glyph);
}

uint32_t arvik_line_diagnostics(const arvik_line* line) {
  return line == nullptr ? 0 : static_cast<uint32_t>(line->line->diagnostics.size());
}

int32_t arvik_line_diagnostic(const arvik_line* line, uint32_t index, arvik_error* diagnostic) {
  if (index >= arvik_line_diagnostics(line)) return 0;
  return put_error(line->line->diagnostics[index], diagnostic);
}

// --- playing

namespace {

void put_progress(const arvik_reveal& reveal, const Progress& progress, arvik_progress* out) {
  const auto& events = reveal.line->prepared.schedule.events;
  const auto first =
      progress.events.empty() ? 0 : static_cast<uint32_t>(progress.events.data() - events.data());
  put<arvik_progress>({.size = sizeof *out,
                       .first_step = progress.first_step,
                       .end_step = progress.end_step,
                       .first_event = first,
                       .end_event = first + static_cast<uint32_t>(progress.events.size()),
                       .skipped = progress.skipped ? 1 : 0},
                      out);
}

}  // namespace

arvik_reveal* arvik_reveal_create(const arvik_line* line, arvik_error* error) {
  if (line == nullptr) {
    put_error("bad-value", "there is no line", error);
    return nullptr;
  }
  return guarded(error, [&] {
    return new arvik_reveal{line->line, line->line->prepared.reveal()};
  });
}

void arvik_reveal_destroy(arvik_reveal* reveal) { delete reveal; }

void arvik_reveal_tick(arvik_reveal* reveal, int64_t real_ns, arvik_progress* progress) {
  if (reveal != nullptr) {
    put_progress(*reveal, reveal->reveal.tick(Nanoseconds(real_ns)), progress);
  }
}

void arvik_reveal_skip(arvik_reveal* reveal, arvik_progress* progress) {
  if (reveal != nullptr) put_progress(*reveal, reveal->reveal.skip(), progress);
}

int32_t arvik_reveal_release_hold(arvik_reveal* reveal) {
  return reveal != nullptr && reveal->reveal.release_hold() ? 1 : 0;
}

void arvik_reveal_pause(arvik_reveal* reveal) {
  if (reveal != nullptr) reveal->reveal.pause();
}

void arvik_reveal_resume(arvik_reveal* reveal) {
  if (reveal != nullptr) reveal->reveal.resume();
}

void arvik_reveal_set_speed(arvik_reveal* reveal, int32_t thousandths) {
  if (reveal != nullptr) reveal->reveal.set_speed(thousandths);
}

void arvik_reveal_set_instant(arvik_reveal* reveal, int32_t instant) {
  if (reveal != nullptr) reveal->reveal.set_instant(instant != 0);
}

int32_t arvik_reveal_state(const arvik_reveal* reveal) {
  return reveal == nullptr ? ARVIK_FINISHED : static_cast<int32_t>(reveal->reveal.state());
}

int64_t arvik_reveal_position_ns(const arvik_reveal* reveal) {
  return reveal == nullptr ? 0 : reveal->reveal.position().count();
}

int32_t arvik_reveal_shown(const arvik_reveal* reveal, arvik_extent* extent) {
  if (reveal == nullptr) return 0;
  return put(extent_of(*reveal->line, reveal->reveal.shown_steps()), extent);
}

int32_t arvik_reveal_place(const arvik_reveal* reveal, arvik_place* place) {
  if (reveal == nullptr) return 0;
  const RevealPlace found = reveal->reveal.place();
  return put<arvik_place>({.size = sizeof *place,
                           .position_ns = found.position.count(),
                           .remainder = found.remainder,
                           .shown = found.shown,
                           .next_event = found.next_event,
                           .state = static_cast<int32_t>(found.state)},
                          place);
}

int32_t arvik_reveal_go_to(arvik_reveal* reveal, const arvik_place* place) {
  if (reveal == nullptr || place == nullptr || place->size < sizeof *place) return 0;
  if (place->state < 0 || place->state > ARVIK_FINISHED) return 0;
  return reveal->reveal.go_to({.position = Nanoseconds(place->position_ns),
                               .remainder = place->remainder,
                               .shown = place->shown,
                               .next_event = place->next_event,
                               .state = static_cast<RevealState>(place->state)})
             ? 1
             : 0;
}

// --- conversations

arvik_talk* arvik_talk_create(arvik_setter* setter, const char* script, size_t bytes,
                              const char* name, const arvik_font* font, const arvik_box* box,
                              arvik_error* error) {
  return guarded(error, [&]() -> arvik_talk* {
    auto read = parse_script(text_of(script, bytes));
    if (!read) {
      put_error(read.error()[0], error);
      return nullptr;
    }
    auto language = Language::open(read->locale);
    const auto in_box = box == nullptr ? tl::expected<Box, Diagnostic>(read->box) : box_of(box);
    if (!language || !in_box) {
      put_error(language ? in_box.error() : language.error(), error);
      return nullptr;
    }
    const ScriptConversation* found = name != nullptr               ? read->find_conversation(name)
                                      : read->conversations.empty() ? nullptr
                                                                    : &read->conversations[0];
    if (found == nullptr) {
      put_error("bad-value", "the script has no such conversation", error);
      return nullptr;
    }
    std::vector<DialogueLine> lines = found->lines;
    const std::shared_ptr<const Font> face = font_of(font);
    Typesetter typesetter(std::move(*language));
    typesetter.vocabulary().styles = read->styles;
    if (setter != nullptr) {
      typesetter.vocabulary().value =
          [values = setter->values](std::string_view key) -> std::optional<std::string> {
        const auto value = values.find(key);
        if (value == values.end()) return std::nullopt;
        return value->second;
      };
    }
    return new arvik_talk(face, *in_box, std::move(*read), std::move(typesetter), std::move(lines));
  });
}

void arvik_talk_destroy(arvik_talk* talk) { delete talk; }

void arvik_talk_configure(arvik_talk* talk, int64_t opening_ns, int64_t closing_ns,
                          int32_t by_itself) {
  if (talk == nullptr) return;
  ConversationSettings& settings = talk->talk.settings();
  const auto in_range = [](int64_t time) {
    return std::clamp(Nanoseconds(time), Nanoseconds::zero(), max_written_time);
  };
  settings.opening = in_range(opening_ns);
  settings.closing = in_range(closing_ns);
  settings.play_by_itself = by_itself != 0;
}

int32_t arvik_talk_start(arvik_talk* talk, arvik_error* error) {
  if (talk == nullptr) return put_error("bad-value", "there is no talk", error), 0;
  return guarded(error, [&]() -> int32_t {
    const auto started = talk->talk.start(talk->lines);
    if (!started) put_error(started.error(), error);
    return started ? 1 : 0;
  });
}

uint32_t arvik_talk_tick(arvik_talk* talk, int64_t real_ns, uint32_t buttons) {
  if (talk == nullptr) return 0;
  talk->events = {};
  return guarded(nullptr, [&]() -> uint32_t {
    talk->events =
        talk->talk.tick(Nanoseconds(real_ns), {.advance = (buttons & ARVIK_BUTTON_ADVANCE) != 0,
                                               .skip = (buttons & ARVIK_BUTTON_SKIP) != 0});
    return static_cast<uint32_t>(talk->events.size());
  });
}

void arvik_talk_pause(arvik_talk* talk) {
  if (talk != nullptr) talk->talk.pause();
}

void arvik_talk_resume(arvik_talk* talk) {
  if (talk != nullptr) talk->talk.resume();
}

int32_t arvik_talk_event_at(const arvik_talk* talk, uint32_t index, arvik_talk_event* event) {
  if (talk == nullptr || index >= talk->events.size()) return 0;
  const ConversationEvent& found = talk->events[index];
  const bool of_line = found.event != nullptr;
  // Views of names are of whole strings, which end with a NUL.
  const char* portrait = found.portrait.empty() ? "" : found.portrait.data();
  return put<arvik_talk_event>({.size = sizeof *event,
                                .kind = of_line ? event_kind_name(found.event->kind).data()
                                                : conversation_event_name(found.kind).data(),
                                .time_ns = found.time.count(),
                                .line = found.line,
                                .skipped = found.skipped ? 1 : 0,
                                .step = of_line ? found.event->step : 0,
                                .name = of_line ? found.event->name.c_str() : portrait},
                               event);
}

int32_t arvik_talk_view_now(const arvik_talk* talk, arvik_talk_view* view) {
  if (talk == nullptr) return 0;
  const ConversationView now = talk->talk.view();
  const auto name = [](std::string_view text) { return text.empty() ? "" : text.data(); };
  const Extent shown = now.text == nullptr ? Extent{} : now.text->steps.extents[now.shown];
  return put<arvik_talk_view>(
      {.size = sizeof *view,
       .state = static_cast<int32_t>(now.state),
       .openness = now.openness,
       .text = now.text == nullptr ? nullptr : now.text->marked.text.c_str(),
       .text_bytes = now.text == nullptr ? 0 : now.text->marked.text.size(),
       .shown_steps = now.shown,
       .shown_bytes = shown.bytes,
       .shown_code_points = shown.code_points,
       .shown_utf16_units = shown.utf16_units,
       .speaker = name(now.speaker),
       .portrait = name(now.portrait),
       .indicator = now.indicator ? 1 : 0,
       .phase = now.phase},
      view);
}
