// The page is made of three files in src/check/page, which the build puts into the library, and of
// the data that its script reads. Guarded by tests/project/check_overview.py, in a browser.

#include "arvik/overview.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>

#include "arvik/draw.hpp"
#include "arvik/locale.hpp"
#include "arvik/typesetter.hpp"
#include "page.hpp"

namespace arvik {
namespace {

using nlohmann::json;
using nlohmann::ordered_json;

constexpr double cell_width = 10;  // of a grid, in pixels
constexpr double cell_height = 22;

enum class State : std::uint8_t { fine, tight, overflows, missing };

bool is_overflow(std::string_view code) {
  static constexpr std::array<std::string_view, 5> codes{
      "more-pages", "text-overflows", "small-text", "step-too-wide", "word-broken"};
  return std::find(codes.begin(), codes.end(), code) != codes.end();
}

// How full the fullest page is, as a factor; nothing for boxes that have no end.
std::optional<double> fullness(const Layout& layout, const Box& box, const Font& font) {
  const FontMetrics metrics = font.metrics(1, 0);
  const double row_height = static_cast<double>(metrics.row_height + box.row_spacing);
  const double inner_width = static_cast<double>(box.width - box.padding.left - box.padding.right);
  double rows = box.max_rows;
  if (rows == 0 && std::isfinite(box.height)) {
    const double inner = static_cast<double>(box.height - box.padding.top - box.padding.bottom -
                                             box.name_height + box.row_spacing);
    rows = std::floor(inner / row_height + 1e-3);
  }
  if (rows < 1) return std::nullopt;
  double fullest = 0;
  for (const Page& page : layout.pages) {
    const Row& last = layout.rows[page.end_row - 1];
    const double share = std::isfinite(inner_width)
                             ? std::min(static_cast<double>(last.width) / inner_width, 1.0)
                             : 1;
    fullest = std::max(fullest, (page.end_row - page.first_row - 1 + share) / rows);
  }
  return fullest;
}

// Everything that the page's script wants to know.
class OverviewData {
 public:
  OverviewData(const CheckedScript& input, const CheckReport& report, const CheckOptions& options)
      : input_(input), script_(input.script), report_(report), options_(options) {}

  tl::expected<std::string, Diagnostic> run() {
    list_texts();
    take_findings();
    for (const std::string& locale : report_.locales) {
      if (auto problem = add_locale(locale)) return tl::unexpected(std::move(*problem));
    }
    json data;
    data["arvik_overview"] = 1;
    data["name"] = input_.name;
    data["source"] = script_->source_locale;
    data["locales"] = report_.locales;
    data["lines"] = std::move(lines_);
    data["glyphs"] = std::move(glyphs_);
    data["styles"] = std::move(styles_);
    data["findings"] = std::move(findings_);
    for (const Speaker& speaker : script_->cast) data["speakers"][speaker.id] = speaker.name;
    return data.dump(-1, ' ', false, json::error_handler_t::replace);
  }

 private:
  void list_texts() {
    lines_ = json::array();
    for (const ScriptConversation& conversation : script_->conversations) {
      for (const DialogueLine& line : conversation.lines) {
        add_line(conversation.name, line.speaker, line.id, false);
        for (const Choice& choice : line.choices) {
          add_line(conversation.name, line.speaker, choice.id, true);
        }
      }
    }
  }

  void add_line(const std::string& conversation, const std::string& speaker, const std::string& key,
                bool is_answer) {
    lines_.push_back({{"k", key}, {"c", conversation}, {"p", speaker}, {"cells", json::array()}});
    if (is_answer) lines_.back()["a"] = 1;
  }

  void take_findings() {
    findings_ = json::array();
    for (const Finding& finding : report_.findings) {
      json entry = {{"code", finding.code},       {"error", finding.severity == Severity::error},
                    {"message", finding.message}, {"file", finding.file},
                    {"row", finding.row},         {"column", finding.column},
                    {"key", finding.key},         {"locale", finding.locale}};
      if (!finding.hint.empty()) entry["hint"] = finding.hint;
      if (finding.text) {
        entry["line"] = *finding.text;
        of_cell_[{*finding.text, finding.locale}].push_back(&finding);
      }
      findings_.push_back(std::move(entry));
    }
  }

  std::optional<Diagnostic> add_locale(const std::string& locale) {
    auto localized = in_locale(script_, locale);
    if (!localized) return std::move(localized.error());
    auto player_language = Language::open(locale);
    if (!player_language) player_language = Language::open(script_->source_locale);
    if (!player_language) return std::move(player_language.error());
    Typesetter typesetter(std::move(*player_language));
    typesetter.vocabulary() = {.styles = (*localized)->styles,
                               .value = [](std::string_view) { return std::int64_t{5}; }};
    std::shared_ptr<const Font> font = std::make_shared<const GridFont>();
    if (options_.font) {
      if (auto opened = options_.font(**localized)) font = std::move(*opened);
    }
    font_ = font.get();
    const auto* set = dynamic_cast<const FontSet*>(font_);
    painter_.reset();
    if (set != nullptr) painter_.emplace(*set);
    glyph_index_.clear();
    const Box box = options_.box.value_or((*localized)->box);
    std::size_t index = 0;
    for (const ScriptConversation& conversation : (*localized)->conversations) {
      for (const DialogueLine& line : conversation.lines) {
        add_cell(index++, locale, line.text, *line.pace, box, typesetter);
        Box answer_box = box;
        answer_box.height = std::numeric_limits<float>::infinity();
        answer_box.max_rows = 0;
        for (const Choice& choice : line.choices) {
          add_cell(index++, locale, choice.text, *line.pace, answer_box, typesetter);
        }
      }
    }
    return std::nullopt;
  }

  void add_cell(std::size_t index, const std::string& locale, const std::string& text,
                const Pace& pace, const Box& box, Typesetter& typesetter) {
    json cell = json::object();
    State state = State::fine;
    std::size_t others = 0;
    const auto found = of_cell_.find({static_cast<std::uint32_t>(index), locale});
    if (found != of_cell_.end()) {
      for (const Finding* finding : found->second) {
        if (finding->code == "missing-text") {
          state = State::missing;
        } else if (is_overflow(finding->code)) {
          state = std::max(state, State::overflows);
        } else {
          ++others;
        }
      }
    }
    Box fitting = box;
    auto done = typesetter.prepare(text, pace, *font_, fitting, line_);
    if (!done) {
      fitting.overflow = Overflow::clip;
      done = typesetter.prepare(text, pace, *font_, fitting, line_);
    }
    if (!done) {
      lines_[index]["cells"].push_back(nullptr);
      return;
    }
    if (const auto full = fullness(line_.layout, box, *font_)) {
      cell["f"] = std::lround(*full * 100);
      const bool alone = line_.layout.pages.size() == 1;
      if (alone && *full > 0.9 && state == State::fine) state = State::tight;
    }
    cell["s"] = static_cast<int>(state);
    if (others > 0) cell["n"] = others;
    const double seconds = in_seconds(line_.schedule.duration);
    cell["l"] = std::lround(line_.schedule.letters);
    if (seconds > 0) cell["r"] = std::lround(line_.schedule.letters / seconds * 10);
    cell["t"] = line_.marked.text;
    put_layout(cell);
    put_times(cell);
    lines_[index]["cells"].push_back(std::move(cell));
  }

  [[nodiscard]] bool is_grid() const { return !painter_; }
  [[nodiscard]] long x_of(float x) const {
    return std::lround(static_cast<double>(x) * 10 * (is_grid() ? cell_width : 1));
  }
  [[nodiscard]] long y_of(float y) const {
    return std::lround(static_cast<double>(y) * 10 * (is_grid() ? cell_height : 1));
  }

  // Lengths are in tenths of a pixel. Six numbers a glyph: which, x, y, the step with which it
  // comes, its style, its page.
  void put_layout(json& cell) {
    const Layout& layout = line_.layout;
    cell["w"] = x_of(std::max(layout.box_width, layout.width));
    cell["h"] = y_of(std::max(layout.box_height, layout.height));
    cell["pages"] = layout.pages.size();
    json marks = json::array();
    const auto put = [&](std::size_t glyph, long x, long y, std::uint32_t step, std::size_t style,
                         std::uint32_t page) {
      for (const auto number : {static_cast<long>(glyph), x, y, static_cast<long>(step),
                                static_cast<long>(style), static_cast<long>(page)}) {
        marks.push_back(number);
      }
    };
    if (layout.glyphs.empty()) {
      for (std::uint32_t i = 0; i < line_.steps.size(); ++i) {
        const Row& row = layout.rows[layout.steps[i].row];
        if (row.page == no_page || i >= row.end_ink_step || is_blank(i)) continue;
        const TextStyle& style = style_of(i);
        put(text_glyph(line_.steps.text(line_.marked.text, i)), x_of(layout.steps[i].x),
            y_of(row.baseline) - 60, i, style_index(style, 1), row.page);
      }
    }
    for (const Glyph& glyph : layout.glyphs) {
      const Row& row = layout.rows[layout.steps[glyph.first_step].row];
      if (row.page == no_page) continue;
      const std::optional<std::size_t> shape = shape_of(glyph);
      if (!shape) continue;
      put(*shape, x_of(glyph.x), y_of(glyph.y), glyph.first_step,
          style_index(layout.styles[glyph.style].style, static_cast<double>(glyph.size)), row.page);
    }
    cell["g"] = std::move(marks);
  }

  [[nodiscard]] bool is_blank(std::uint32_t step) const {
    const StepKind kind = line_.steps.kinds[step];
    return kind == StepKind::blank || kind == StepKind::row_end || kind == StepKind::unseen;
  }

  [[nodiscard]] const TextStyle& style_of(std::uint32_t step) const {
    const auto& styles = line_.layout.styles;
    const auto behind =
        std::upper_bound(styles.begin(), styles.end(), step,
                         [](std::uint32_t at, const StyleRun& run) { return at < run.first_step; });
    return std::prev(behind)->style;
  }

  // A glyph's outline; of pictures the text of their steps.
  std::optional<std::size_t> shape_of(const Glyph& glyph) {
    const auto key = std::pair(glyph.face, glyph.id);
    if (const auto known = glyph_index_.find(key); known != glyph_index_.end()) {
      return known->second;
    }
    std::string outline = painter_->outline(glyph.face, glyph.id);
    if (outline.empty()) {
      if (is_blank(glyph.first_step)) return std::nullopt;
      return text_glyph(line_.steps.text(line_.marked.text, glyph.first_step));
    }
    const auto [shape, is_new] = outlines_.try_emplace(std::move(outline), glyphs_.size());
    if (is_new) glyphs_.push_back({{"d", shape->first}});
    glyph_index_.emplace(key, shape->second);
    return shape->second;
  }

  std::size_t text_glyph(std::string_view text) {
    const auto [known, is_new] = texts_.try_emplace(std::string(text), glyphs_.size());
    if (is_new) glyphs_.push_back({{"t", known->first}});
    return known->second;
  }

  std::size_t style_index(const TextStyle& style, double size) {
    json look = json::object();
    if (style.has_color) {
      look["c"] =
          fmt::format("#{:02x}{:02x}{:02x}", style.color.red, style.color.green, style.color.blue);
    }
    if (is_grid() && style.bold) look["b"] = 1;
    if (is_grid() && style.italic) look["i"] = 1;
    if (size != 1) look["z"] = std::round(size * 100) / 100;
    const auto [known, is_new] = style_indices_.try_emplace(look.dump(), styles_.size());
    if (is_new) styles_.push_back(std::move(look));
    return known->second;
  }

  // In milliseconds: how much later each step comes than the one before it; holds with the step
  // before which they stand; when all is there.
  void put_times(json& cell) {
    json onsets = json::array();
    std::int64_t last = 0;
    for (const Nanoseconds onset : line_.schedule.onsets) {
      const std::int64_t now = std::chrono::round<std::chrono::milliseconds>(onset).count();
      onsets.push_back(now - last);
      last = now;
    }
    json holds = json::array();
    for (const Event& event : line_.schedule.events) {
      if (event.kind != EventKind::hold) continue;
      holds.push_back(std::chrono::round<std::chrono::milliseconds>(event.time).count());
      holds.push_back(event.step);
    }
    cell["o"] = std::move(onsets);
    if (!holds.empty()) cell["h_"] = std::move(holds);
    cell["d"] = std::chrono::round<std::chrono::milliseconds>(line_.schedule.duration).count();
  }

  const CheckedScript& input_;
  const std::shared_ptr<const Script>& script_;
  const CheckReport& report_;
  const CheckOptions& options_;
  std::map<std::pair<std::uint32_t, std::string>, std::vector<const Finding*>> of_cell_;
  json lines_, findings_;
  json glyphs_ = json::array();
  json styles_ = json::array();
  std::map<std::string, std::size_t, std::less<>> outlines_, texts_, style_indices_;
  // Of the locale under way.
  const Font* font_ = nullptr;
  std::optional<Painter> painter_;
  std::map<std::pair<std::uint16_t, std::uint32_t>, std::size_t> glyph_index_;
  PreparedLine line_;
};

// JSON inside an element of HTML: nothing in it may end the element.
std::string inside_html(const std::string& data) {
  std::string out;
  out.reserve(data.size());
  for (const char c : data) c == '<' ? out += "\\u003c" : out += c;
  return out;
}

// Puts what belongs there in the place of each `{{name}}`.
std::string filled(std::string_view page,
                   const std::map<std::string_view, std::string_view>& parts) {
  std::string out;
  while (!page.empty()) {
    const std::size_t open = page.find("{{");
    out += page.substr(0, open);
    if (open == std::string_view::npos) break;
    const std::size_t close = page.find("}}", open);
    out += parts.at(page.substr(open + 2, close - open - 2));
    page.remove_prefix(close + 2);
  }
  return out;
}

}  // namespace

tl::expected<std::string, Diagnostic> write_overview(const CheckedScript& script,
                                                     const CheckReport& report,
                                                     const CheckOptions& options) {
  if (script.script == nullptr) {
    return tl::unexpected(Diagnostic{.code = DiagnosticCode::bad_json,
                                     .message = "there is nothing to show: it is not JSON"});
  }
  return OverviewData(script, report, options).run().map([&](const std::string& data) {
    const std::string inside = inside_html(data);
    return filled(checking::page_html, {{"language", script.script->source_locale},
                                        {"style", checking::page_css},
                                        {"script", checking::page_js},
                                        {"data", inside}});
  });
}

}  // namespace arvik
