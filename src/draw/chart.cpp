// Colours and strokes of a chart; where things stand comes from the plan.

#include "chart.hpp"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <numbers>
#include <numeric>
#include <optional>

#include "cairo.hpp"

namespace arvik {

using namespace draw;

namespace {

constexpr float label_pixels = 11;
constexpr float label_height = 14;
constexpr float title_pixels = 15;
constexpr float flag_height = 16;
constexpr float rest_height = 15;
constexpr float bracket_height = 17;
constexpr float wave_height = 46;
constexpr float pennant_size = 6;
constexpr float voice_height = 64;
constexpr float ribbon_gap = 18;
constexpr float plot_height = 230;

struct Palette {
  Rgba paper{247, 243, 234, 255};
  Rgba ink{38, 44, 51, 255};
  Rgba faint{150, 148, 140, 255};
  Rgba hair{216, 210, 196, 255};
  Rgba rest{236, 205, 150, 255};
  Rgba rest_text{128, 88, 20, 255};
  Rgba hold{176, 58, 72, 255};
  Rgba flag{30, 110, 122, 255};
  Rgba wave{122, 164, 168, 255};
  Rgba speech{226, 232, 222, 255};
  Rgba voice{150, 134, 108, 255};
  Rgba anchor{30, 110, 122, 255};
  Rgba doubtful{176, 58, 72, 255};
  Rgba corridor{205, 222, 196, 255};
  Rgba corridor_text{84, 118, 74, 255};
  std::array<Rgba, 2> tracks{Rgba{38, 44, 51, 255}, Rgba{148, 62, 122, 255}};
};

std::string number(double value, int digits) {
  std::array<char, 64> text{};
  const auto [end, failure] = std::to_chars(text.data(), text.data() + text.size(), value,
                                            std::chars_format::fixed, digits);
  return failure == std::errc{} ? std::string(text.data(), end) : "?";
}

std::string time_label(Nanoseconds time) {
  std::string text = number(in_seconds(time), 2);
  while (text.ends_with('0')) text.pop_back();
  if (text.ends_with('.')) text.pop_back();
  return text + " s";
}

std::string summary(const ChartTrack& track) {
  const std::size_t steps = track.schedule->onsets.size();
  const double time = in_seconds(track.schedule->duration);
  std::string text = std::to_string(steps) + (steps == 1 ? " character" : " characters") + " in " +
                     number(time, 2) + " s";
  if (time > 0) text += ", " + number(static_cast<double>(steps) / time, 1) + " a second";
  return text;
}

class ChartPainter {
 public:
  ChartPainter(const std::vector<ChartTrack>& tracks, const FontSet& fonts,
               const ChartOptions& options)
      : tracks_(tracks),
        options_(options),
        plan_(plan_chart(tracks, options)),
        painter_(fonts),
        labels_(fonts, label_pixels),
        titles_(fonts, title_pixels) {
    const FontMetrics metrics = fonts.metrics(1, 0);
    margin_ = (options.width - plan_.ribbon_width) / 2;
    row_height_ = metrics.row_height;
    ascent_ = metrics.ascent;
    sort_glyphs();
  }

  tl::expected<Canvas, Diagnostic> run(CanvasKind kind) {
    float height = header_height();
    for (const ChartRibbon& ribbon : plan_.ribbons) height += ribbon_height(ribbon) + ribbon_gap;
    height += plot_height + 66;
    auto canvas = Canvas::make(static_cast<int>(options_.width),
                               static_cast<int>(std::ceil(height)), colors_.paper, kind);
    if (!canvas) return canvas;
    canvas_ = &*canvas;
    cairo_ = Canvas::Impl::of(*canvas);
    paint_header();
    float y = header_height();
    for (const ChartRibbon& ribbon : plan_.ribbons) {
      paint_ribbon(ribbon, y);
      y += ribbon_height(ribbon) + ribbon_gap;
    }
    paint_plot(y + 18);
    return canvas;
  }

 private:
  [[nodiscard]] float header_height() const { return 22 + 22 * static_cast<float>(tracks_.size()); }

  void paint_header() {
    float y = 14;
    for (std::size_t t = 0; t < tracks_.size(); ++t) {
      const std::string& name = tracks_[t].name;
      titles_.paint(*canvas_, name, margin_, y, colors_.tracks[t]);
      const float behind = name.empty() ? 0 : titles_.width(name) + 14;
      labels_.paint(*canvas_, summary(tracks_[t]), margin_ + behind, y + 4, colors_.faint);
      y += 22;
    }
  }

  // --- ribbons

  [[nodiscard]] static std::uint32_t lanes_of(const ChartStrip& strip) {
    std::uint32_t lanes = 1;
    for (const ChartChunk& chunk : strip.chunks) lanes = std::max(lanes, chunk.lane + 1);
    return lanes;
  }
  [[nodiscard]] static std::uint32_t flag_lanes_of(const ChartStrip& strip) {
    std::uint32_t lanes = 0;
    for (const ChartFlag& flag : strip.flags) lanes = std::max(lanes, flag.lane + 1);
    return lanes;
  }
  [[nodiscard]] static std::uint32_t levels_of(const ChartStrip& strip) {
    std::uint32_t levels = 0;
    for (const ChartBracket& bracket : strip.brackets) {
      levels = std::max(levels, bracket.level + 1);
    }
    return levels;
  }
  [[nodiscard]] float text_height(const ChartStrip& strip) const {
    return row_height_ * static_cast<float>(lanes_of(strip));
  }
  [[nodiscard]] static float wave_height_of(const ChartStrip& strip) {
    return strip.pennants.empty() && strip.wave.empty() ? 0 : wave_height;
  }
  [[nodiscard]] float strip_height(const ChartStrip& strip) const {
    if (strip.chunks.empty() && strip.rests.empty() && strip.flags.empty() &&
        voice_height_of(strip) == 0) {
      return 0;
    }
    return wave_height_of(strip) + flag_height * static_cast<float>(flag_lanes_of(strip)) +
           text_height(strip) + 6 + rest_height + 12 +
           bracket_height * static_cast<float>(levels_of(strip)) + voice_height_of(strip);
  }
  [[nodiscard]] static float voice_height_of(const ChartStrip& strip) {
    const bool none = strip.voice.empty() && strip.speech.empty() && strip.anchors.empty();
    return none ? 0 : voice_height;
  }
  [[nodiscard]] float ribbon_height(const ChartRibbon& ribbon) const {
    float height = 18;  // the axis
    for (const ChartStrip& strip : ribbon.strips) height += strip_height(strip) + 4;
    return height;
  }

  // Where a place of a ribbon is in the picture.
  [[nodiscard]] float at(float x) const {
    return plan_.right_to_left ? options_.width - margin_ - x : margin_ + x;
  }

  void stroke(float x0, float y0, float x1, float y1, Rgba color, double width = 1) {
    set_color(cairo_, color);
    cairo_set_line_width(cairo_, width);
    cairo_move_to(cairo_, static_cast<double>(x0), static_cast<double>(y0));
    cairo_line_to(cairo_, static_cast<double>(x1), static_cast<double>(y1));
    cairo_stroke(cairo_);
  }

  void fill(float x0, float y0, float x1, float y1, Rgba color) {
    set_color(cairo_, color);
    cairo_rectangle(cairo_, static_cast<double>(std::min(x0, x1)), static_cast<double>(y0),
                    static_cast<double>(std::abs(x1 - x0)), static_cast<double>(y1 - y0));
    cairo_fill(cairo_);
  }

  void paint_ribbon(const ChartRibbon& ribbon, float top) {
    const float bottom = top + ribbon_height(ribbon) - 18;
    for (const ChartTick& tick : ribbon.ticks) {
      stroke(at(tick.x), top, at(tick.x), bottom, colors_.hair);
      labels_.paint(*canvas_, time_label(tick.time), at(tick.x), bottom + 3, colors_.faint,
                    Align::center);
    }
    float y = top;
    for (std::size_t t = 0; t < ribbon.strips.size(); ++t) {
      if (strip_height(ribbon.strips[t]) == 0) continue;
      paint_strip(ribbon.strips[t], t, y);
      y += strip_height(ribbon.strips[t]) + 4;
    }
    stroke(at(0), bottom, at(ribbon.width), bottom, colors_.faint);
  }

  void paint_strip(const ChartStrip& strip, std::size_t track, float top) {
    const float flags = flag_height * static_cast<float>(flag_lanes_of(strip));
    const float waves = wave_height_of(strip);
    const float base = top + flags + waves + text_height(strip);  // below the lowest lane of text
    const float rest_top = base + 4;
    paint_flags(strip, top, rest_top + rest_height);
    if (waves > 0) paint_sounds(strip, top + flags, rest_top + rest_height);
    for (const ChartRest& rest : strip.rests) paint_rest(rest, rest_top);
    for (const ChartChunk& chunk : strip.chunks) {
      const float x = at(chunk.x);
      const bool raised = chunk.lane > 0;
      if (raised) {
        const float from = base - row_height_ * static_cast<float>(chunk.lane);
        stroke(x, from, x, rest_top + rest_height, colors_.hair);
      }
      stroke(x, rest_top + rest_height - 5, x, rest_top + rest_height, colors_.tracks[track]);
      paint_chunk(chunk, track, base);
    }
    for (const float hold : strip.holds) {
      paint_hold(at(hold), top + flags + waves, rest_top + rest_height);
    }
    for (const ChartBracket& bracket : strip.brackets) {
      paint_bracket(bracket, rest_top + rest_height + 4);
    }
    if (voice_height_of(strip) > 0) {
      paint_voice(strip, rest_top + rest_height, top + strip_height(strip));
    }
  }

  // The recording under the text: its speech, its waveform, and a stem from each word to its
  // sound, the fainter the less sure; a ring where it is too little sure to be kept.
  void paint_voice(const ChartStrip& strip, float text_bottom, float bottom) {
    const float top = bottom - voice_height + 6;
    const float middle = (top + bottom) / 2;
    const float half = (bottom - top) / 2 - 3;
    for (const ChartRest& speech : strip.speech) {
      fill(at(speech.begin), top, at(speech.end), bottom, colors_.speech);
    }
    for (const ChartColumn& column : strip.voice) {
      stroke(at(column.x), middle - column.high * half, at(column.x),
             middle - column.low * half + 0.5F, colors_.voice);
    }
    for (const ChartAnchor& anchor : strip.anchors) {
      const float x = at(anchor.x);
      Rgba color = anchor.kept ? colors_.anchor : colors_.doubtful;
      color.alpha = static_cast<std::uint8_t>(60 + 195 * std::clamp(anchor.confidence, 0.0F, 1.0F));
      stroke(x, text_bottom, x, bottom, color);
      set_color(cairo_, color);
      cairo_set_line_width(cairo_, 1.2);
      cairo_new_path(cairo_);
      cairo_arc(cairo_, static_cast<double>(x), static_cast<double>(top), 3, 0,
                2 * std::numbers::pi);
      anchor.kept ? cairo_fill(cairo_) : cairo_stroke(cairo_);
    }
  }

  void paint_chunk(const ChartChunk& chunk, std::size_t track, float base) {
    const Layout& layout = *tracks_[track].layout;
    const auto& steps = layout.steps;
    float left = steps[chunk.first_step].x;
    float right = left;
    for (std::uint32_t i = chunk.first_step; i < chunk.end_step; ++i) {
      left = std::min(left, steps[i].x);
      right = std::max(right, steps[i].x + steps[i].width);
    }
    const Row& row = layout.rows[steps[chunk.first_step].row];
    const float baseline = base - row_height_ * static_cast<float>(chunk.lane + 1) + ascent_;
    cairo_save(cairo_);
    cairo_translate(cairo_, static_cast<double>(at(chunk.x)), static_cast<double>(baseline));
    cairo_scale(cairo_, static_cast<double>(chunk.squeeze), 1);
    cairo_translate(cairo_, static_cast<double>(plan_.right_to_left ? -right : -left),
                    static_cast<double>(-row.baseline));
    const auto& glyphs = by_step_[track];
    auto at = std::partition_point(glyphs.begin(), glyphs.end(), [&](std::uint32_t g) {
      return layout.glyphs[g].first_step < chunk.first_step;
    });
    for (; at != glyphs.end() && layout.glyphs[*at].first_step < chunk.end_step; ++at) {
      const Glyph& glyph = layout.glyphs[*at];
      const TextStyle& style = layout.styles[glyph.style].style;
      const bool own = style.has_color && track == 0;
      Painter::Impl::of(painter_).paint_shape(cairo_, glyph,
                                              own ? style.color : colors_.tracks[track], 1);
    }
    cairo_restore(cairo_);
  }

  // Glyphs in logical order; those of the layout stand in visual order.
  void sort_glyphs() {
    for (const ChartTrack& track : tracks_) {
      const auto& glyphs = track.layout->glyphs;
      std::vector<std::uint32_t>& order = by_step_.emplace_back(glyphs.size());
      std::iota(order.begin(), order.end(), 0U);
      std::stable_sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
        return glyphs[a].first_step < glyphs[b].first_step;
      });
    }
  }

  void paint_rest(const ChartRest& rest, float top) {
    fill(at(rest.begin), top, at(rest.end), top + rest_height, colors_.rest);
    if (rest.label.empty()) return;
    const float middle = (at(rest.begin) + at(rest.end)) / 2;
    labels_.paint(*canvas_, rest.label, middle, top, colors_.rest_text, Align::center);
  }

  // Behind the sign is a gap for its name, but not on an axis of several tracks: there the text
  // goes on at once, and what is free stands before the sign and above it.
  void paint_hold(float x, float top, float bottom) {
    const float side = plan_.right_to_left ? -1.0F : 1.0F;
    const bool has_gap = tracks_.size() == 1;
    const float first = has_gap ? 4.0F : -7.0F;
    for (const float offset : {first, first + 5}) {
      stroke(x + side * offset, top + 6, x + side * offset, bottom + 3, colors_.hold, 2);
    }
    labels_.paint(*canvas_, "hold", x + side * (first + (has_gap ? 10.0F : 0.0F)),
                  has_gap ? (top + bottom) / 2 - 10 : top - 9, colors_.hold,
                  plan_.right_to_left ? Align::end : Align::start);
  }

  void paint_flags(const ChartStrip& strip, float top, float bottom) {
    const float lanes = static_cast<float>(flag_lanes_of(strip));
    for (const ChartFlag& flag : strip.flags) {
      const float x = at(flag.x);
      const float y = top + flag_height * (lanes - 1 - static_cast<float>(flag.lane));
      stroke(x, y + 2, x, bottom, colors_.flag);
      labels_.paint(*canvas_, flag.label, x + (plan_.right_to_left ? -4.0F : 4.0F), y, colors_.flag,
                    plan_.right_to_left ? Align::end : Align::start);
    }
  }

  // The waveform, and a pennant where each sound starts, higher for a higher pitch.
  void paint_sounds(const ChartStrip& strip, float top, float bottom) {
    const float middle = top + wave_height / 2;
    const float half = wave_height / 2 - pennant_size;
    for (const ChartColumn& column : strip.wave) {
      if (column.high - column.low < 1e-4F) continue;
      stroke(at(column.x), middle - column.high * half, at(column.x),
             middle - column.low * half + 0.5F, colors_.wave);
    }
    for (const ChartPennant& pennant : strip.pennants) {
      const float x = at(pennant.x);
      const float y = top + pennant_size - std::clamp(pennant.pitch, -5.0F, 5.0F);
      const float side = plan_.right_to_left ? -pennant_size : pennant_size;
      stroke(x, y, x, bottom, colors_.wave, 0.6);
      cairo_move_to(cairo_, static_cast<double>(x), static_cast<double>(y));
      cairo_line_to(cairo_, static_cast<double>(x + side),
                    static_cast<double>(y + pennant_size / 2));
      cairo_line_to(cairo_, static_cast<double>(x), static_cast<double>(y + pennant_size));
      cairo_close_path(cairo_);
      set_color(cairo_, colors_.flag);
      cairo_fill(cairo_);
    }
  }

  void paint_bracket(const ChartBracket& bracket, float top) {
    const float y = top + bracket_height * static_cast<float>(bracket.level);
    const float left = at(bracket.begin);
    const float right = at(bracket.end);
    stroke(left, y + 4, right, y + 4, colors_.faint);
    if (bracket.opens) stroke(left, y, left, y + 4.5F, colors_.faint);
    if (bracket.closes) stroke(right, y, right, y + 4.5F, colors_.faint);
    labels_.paint(*canvas_, bracket.label, (left + right) / 2, y + 4, colors_.ink, Align::center);
  }

  // --- characters over time

  void paint_plot(float top) {
    std::size_t steps = 1;
    for (const ChartTrack& track : tracks_) steps = std::max(steps, track.schedule->onsets.size());
    most_steps_ = static_cast<double>(steps);
    read_scripts();
    most_time_ = std::max(in_seconds(plan_.duration), 0.1) * 1.02;
    plot_top_ = top;
    paint_corridor();
    paint_grid();
    for (std::size_t t = 0; t < tracks_.size(); ++t) paint_curve(t);
    const bool backwards = plan_.right_to_left;
    labels_.paint(*canvas_, "characters shown, over seconds",
                  backwards ? options_.width - margin_ : margin_, top - 18, colors_.faint,
                  backwards ? Align::end : Align::start);
  }

  [[nodiscard]] double plot_x(double time) const {
    const double room = static_cast<double>(options_.width - 2 * margin_ - 60);
    const double x = time / most_time_ * room;
    const auto margin = static_cast<double>(margin_);
    return plan_.right_to_left ? static_cast<double>(options_.width) - margin - x : margin + x;
  }
  [[nodiscard]] double plot_y(double count) const {
    return static_cast<double>(plot_top_ + plot_height) -
           count / most_steps_ * static_cast<double>(plot_height);
  }

  // Readers take in letters; of a script that says more in a character they read fewer.
  void read_scripts() {
    const ChartTrack& track = tracks_.front();
    std::vector<std::uint16_t> weights;
    step_weights(*track.steps, weights);
    if (weights.empty()) return;
    const double letters = std::accumulate(weights.begin(), weights.end(), 0.0) / letter_weight;
    const double share = static_cast<double>(weights.size()) / letters;
    slow_reading_ *= share;
    fast_reading_ *= share;
  }

  void paint_corridor() {
    // Each edge goes up to the end of the time or of the text, whichever comes first.
    const auto end_of = [&](double rate) { return std::min(most_time_, most_steps_ / rate); };
    const double slow_end = end_of(slow_reading_);
    const double fast_end = end_of(fast_reading_);
    cairo_move_to(cairo_, plot_x(0), plot_y(0));
    cairo_line_to(cairo_, plot_x(fast_end), plot_y(fast_end * fast_reading_));
    if (fast_end < slow_end) cairo_line_to(cairo_, plot_x(slow_end), plot_y(most_steps_));
    cairo_line_to(cairo_, plot_x(slow_end), plot_y(slow_end * slow_reading_));
    cairo_close_path(cairo_);
    set_color(cairo_, colors_.corridor);
    cairo_fill(cairo_);
    const auto label = [&](double rate, double end) {
      const bool on_top = end < most_time_;
      const auto x = static_cast<float>(plot_x(end));
      const auto y = static_cast<float>(plot_y(end * rate));
      const float side = plan_.right_to_left ? -6.0F : 6.0F;
      labels_.paint(*canvas_, number(rate, 0) + " a second", on_top ? x : x + side,
                    on_top ? y - 15 : y - 7, colors_.corridor_text,
                    on_top                ? Align::center
                    : plan_.right_to_left ? Align::end
                                          : Align::start);
    };
    label(fast_reading_, fast_end);
    label(slow_reading_, slow_end);
    if (const auto spot = find_clear_spot()) {
      labels_.paint(*canvas_, "as fast as people read", static_cast<float>(plot_x(spot->time)),
                    static_cast<float>(spot->y) - label_height / 2, colors_.corridor_text,
                    Align::center);
    }
  }

  // The middle of a label.
  struct Spot {
    double time = 0;
    double y = 0;
  };

  // Where inside the corridor its label is furthest from the curves and from the corridor's edges;
  // nothing if it is clear nowhere.
  [[nodiscard]] std::optional<Spot> find_clear_spot() const {
    constexpr double half_width = 62;
    constexpr double half_height = label_height / 2;
    const double half = half_width / std::abs(plot_x(1) - plot_x(0));  // in seconds
    const auto edge = [&](double rate, double time) {
      return plot_y(std::min(rate * time, most_steps_));
    };
    std::optional<Spot> best;
    double most = 4;  // pixels around the label
    for (int part = 1; part < 40; ++part) {
      const double time = most_time_ * part / 40;
      if (time < half || time + half > most_time_) continue;
      const double top = edge(fast_reading_, time - half) + half_height;
      const double bottom = edge(slow_reading_, time + half) - half_height;
      for (int row = 0; top + 2 * row <= bottom; ++row) {  // every second pixel
        const double y = top + 2 * row;
        const double clear = gap_to_curves(time - half, time + half, y) - half_height;
        const double room = std::min(clear, 5 + std::min(y - top, bottom - y));
        if (room <= most) continue;
        most = room;
        best = {time, y};
      }
    }
    return best;
  }

  // The least distance, up or down, of any curve from a height.
  [[nodiscard]] double gap_to_curves(double from, double to, double y) const {
    const auto shown_at = [](const std::vector<Nanoseconds>& onsets, double time) {
      const auto until =
          std::chrono::duration_cast<Nanoseconds>(std::chrono::duration<double>(time));
      return static_cast<double>(std::upper_bound(onsets.begin(), onsets.end(), until) -
                                 onsets.begin());
    };
    double nearest = plot_height;
    for (const ChartTrack& track : tracks_) {
      const double high = plot_y(shown_at(track.schedule->onsets, to));
      const double low = plot_y(shown_at(track.schedule->onsets, from));
      nearest = std::min(nearest, std::max({high - y, y - low, 0.0}));
    }
    return nearest;
  }

  void paint_grid() {
    static constexpr std::array<double, 12> nice{1,   2,   5,   10,   20,   50,
                                                 100, 200, 500, 1000, 5000, 100'000};
    const auto* step =
        std::find_if(nice.begin(), nice.end() - 1, [&](double s) { return most_steps_ / s <= 6; });
    for (int i = 1; i * *step <= most_steps_; ++i) {
      const double count = i * *step;
      const auto y = static_cast<float>(plot_y(count));
      stroke(margin_, y, options_.width - margin_, y, colors_.hair, 0.5);
      labels_.paint(*canvas_, number(count, 0),
                    plan_.right_to_left ? options_.width - margin_ + 6 : margin_ - 6, y - 7,
                    colors_.faint, plan_.right_to_left ? Align::start : Align::end);
    }
    const auto bottom = static_cast<float>(plot_y(0));
    stroke(margin_, bottom, options_.width - margin_, bottom, colors_.faint);
    static constexpr std::array<double, 10> times{0.1, 0.2, 0.5, 1, 2, 5, 10, 30, 60, 600};
    const auto* gap = std::find_if(times.begin(), times.end() - 1,
                                   [&](double s) { return most_time_ / s <= 14; });
    for (int i = 0; i * *gap <= most_time_; ++i) {
      const double time = i * *gap;
      const auto x = static_cast<float>(plot_x(time));
      stroke(x, bottom, x, bottom + 4, colors_.faint);
      labels_.paint(*canvas_, number(time, *gap < 1 ? 1 : 0), x, bottom + 5, colors_.faint,
                    Align::center);
    }
  }

  void paint_curve(std::size_t track) {
    const Schedule& schedule = *tracks_[track].schedule;
    for (const Event& event : schedule.events) {
      if (event.kind != EventKind::hold) continue;
      const auto x = static_cast<float>(plot_x(in_seconds(event.time)));
      const auto y = static_cast<float>(plot_y(event.step));
      stroke(x - 3, y - 7, x - 3, y + 7, colors_.hold, 2);
      stroke(x + 2, y - 7, x + 2, y + 7, colors_.hold, 2);
    }
    cairo_move_to(cairo_, plot_x(0), plot_y(0));
    for (std::size_t i = 0; i < schedule.onsets.size(); ++i) {
      const double x = plot_x(in_seconds(schedule.onsets[i]));
      cairo_line_to(cairo_, x, plot_y(static_cast<double>(i)));
      cairo_line_to(cairo_, x, plot_y(static_cast<double>(i + 1)));
    }
    const double end = in_seconds(schedule.duration);
    cairo_line_to(cairo_, plot_x(end), plot_y(static_cast<double>(schedule.onsets.size())));
    set_color(cairo_, colors_.tracks[track]);
    cairo_set_line_width(cairo_, 1.8);
    cairo_set_line_join(cairo_, CAIRO_LINE_JOIN_ROUND);
    cairo_stroke(cairo_);
    const auto x = static_cast<float>(plot_x(end));
    const auto y = static_cast<float>(plot_y(static_cast<double>(schedule.onsets.size())));
    const bool backwards = plan_.right_to_left;
    const std::string label =
        tracks_.size() > 1 ? tracks_[track].name : time_label(schedule.duration);
    labels_.paint(*canvas_, label, backwards ? x - 6 : x + 6, y + (track == 0 ? -4.0F : 8.0F),
                  colors_.tracks[track], backwards ? Align::end : Align::start);
  }

  const std::vector<ChartTrack>& tracks_;
  const ChartOptions& options_;
  ChartPlan plan_;
  Painter painter_;
  std::vector<std::vector<std::uint32_t>> by_step_;  // one a track: indices of glyphs
  LabelPainter labels_;
  LabelPainter titles_;
  Palette colors_;
  float margin_ = 0;  // left and right
  float row_height_ = 0;
  float ascent_ = 0;
  Canvas* canvas_ = nullptr;
  cairo_t* cairo_ = nullptr;
  double most_steps_ = 1;
  double slow_reading_ = options_.slow_reading;  // in characters of the line's scripts
  double fast_reading_ = options_.fast_reading;
  double most_time_ = 1;
  float plot_top_ = 0;
};

}  // namespace

tl::expected<Canvas, Diagnostic> paint_chart(const std::vector<ChartTrack>& tracks,
                                             const FontSet& fonts, const ChartOptions& options,
                                             CanvasKind kind) {
  const auto bad = [](std::string message) {
    return tl::unexpected(Diagnostic{.code = DiagnosticCode::bad_box,
                                     .severity = Severity::error,
                                     .message = std::move(message)});
  };
  if (tracks.empty() || tracks.size() > 2) return bad("a chart has one track or two");
  if (!(options.width >= 480 && options.width <= 8000)) {
    return bad("a chart must be 480 to 8000 pixels wide");
  }
  if (!(options.slow_reading > 0 && options.slow_reading <= options.fast_reading)) {
    return bad("reading speeds must be more than 0, the slow one first");
  }
  return ChartPainter(tracks, fonts, options).run(kind);
}

}  // namespace arvik
