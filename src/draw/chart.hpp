#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/draw.hpp"
#include "arvik/export.hpp"
#include "arvik/schedule.hpp"

/// Part of arvik::draw: the rhythm of a line as a picture. On top ribbons, with each character at
/// its onset, so that slow passages stretch and fast ones bunch; below, the characters shown over
/// time beside how fast people read.
namespace arvik {

/// A typing sound of a line.
struct ChartSound {
  std::uint32_t step = 0;
  Nanoseconds time{};  ///< of the line
  float pitch = 0;     ///< semitones
};

/// The recording of a line: what it looks like, and when it speaks the words.
struct ChartVoice {
  std::span<const float> wave{};  ///< one channel, from the line's begin on, holds left out
  int rate = 48'000;              ///< samples a second
  struct Speech {
    Nanoseconds begin{};
    Nanoseconds end{};
  };
  std::vector<Speech> speech{};   ///< where somebody speaks, rising
  std::vector<Anchor> anchors{};  ///< by step; all that were found
  float least_confidence = 0;     ///< less sure ones are not kept
  [[nodiscard]] bool is_there() const { return !wave.empty() || !anchors.empty(); }
};

/// One schedule in a chart. Keeps pointers: what they point to must outlive the chart's making.
struct ChartTrack {
  std::string name{};  ///< of the pace or file
  const MarkedText* marked = nullptr;
  const Steps* steps = nullptr;
  const Schedule* schedule = nullptr;
  /// The line with the chart's font, in a box without limits.
  const Layout* layout = nullptr;
  std::vector<ChartSound> sounds{};  ///< in order of time
  /// What they sound like: one channel, from the line's begin on, holds left out. May be empty.
  std::span<const float> wave{};
  int wave_rate = 48'000;  ///< samples a second
  ChartVoice voice{};      ///< stands under the text
};

struct ChartOptions {
  float width = 1280;  ///< of the picture, 480 to 8000 pixels
  double slow_reading =
      12;  ///< the corridor of reading speeds, in letters a second (step_weights())
  double fast_reading = 20;
};

/// Steps that appear at once.
struct ChartChunk {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  float x = 0;             ///< where its onset is; text goes on from here in the line's direction
  float squeeze = 1;       ///< its width in the picture / that of the text
  std::uint32_t lane = 0;  ///< 0 stands on the axis; others above, where the text would overlap
};

/// Time in which nothing appears.
struct ChartRest {
  float begin = 0;
  float end = 0;
  std::string label{};
};

/// An event at its time.
struct ChartFlag {
  float x = 0;
  EventKind kind{};
  std::string label{};
  std::uint32_t lane = 0;
};

/// A typing sound at its time.
struct ChartPennant {
  float x = 0;
  float pitch = 0;  ///< semitones
};

/// One column of a waveform: the least and the greatest sample in its time, as parts
/// of the loudest of all.
struct ChartColumn {
  float x = 0;
  float low = 0;
  float high = 0;
};

/// Where a voice speaks the step of an anchor.
struct ChartAnchor {
  float x = 0;
  float confidence = 1;
  bool kept = true;  ///< sure enough
};

/// A span that shapes time.
struct ChartBracket {
  float begin = 0;
  float end = 0;
  bool opens = true;   ///< false: it comes from the ribbon before
  bool closes = true;  ///< false: it goes on in the next ribbon
  std::string label{};
  std::uint32_t level = 0;  ///< 0 stands next to the text
};

/// One track's part of a ribbon. Lengths are pixels from the ribbon's begin.
struct ChartStrip {
  std::vector<ChartChunk> chunks{};
  std::vector<ChartRest> rests{};
  std::vector<ChartFlag> flags{};
  std::vector<ChartBracket> brackets{};
  std::vector<float> holds{};
  std::vector<ChartPennant> pennants{};
  std::vector<ChartColumn> wave{};  ///< in order of x, one a pixel
  std::vector<ChartColumn> voice{};
  std::vector<ChartRest> speech{};
  std::vector<ChartAnchor> anchors{};
};

struct ChartTick {
  float x = 0;
  Nanoseconds time{};
};

struct ChartRibbon {
  std::vector<ChartStrip> strips{};  ///< one a track
  std::vector<ChartTick> ticks{};
  float width = 0;
};

/// Where everything stands in the ribbons of a chart; what is left to do is paint.
struct ChartPlan {
  double pixels_per_second = 0;
  bool right_to_left = false;  ///< time runs from right to left; x counts from the right then
  float ribbon_width = 0;      ///< at the most
  Nanoseconds duration{};      ///< of the longest track
  std::vector<ChartRibbon> ribbons{};
};

/// Plans the ribbons of one or two tracks on a common axis. Linear but for the look back from each
/// label to those before it that it might cover.
[[nodiscard]] ARVIK_API ChartPlan plan_chart(const std::vector<ChartTrack>& tracks,
                                             const ChartOptions& options = {});

/// Paints the whole chart. `fonts` are those of the tracks' layouts. Fails with bad_box for a width
/// out of range, a picture that would be too high, or no track.
[[nodiscard]] ARVIK_API tl::expected<Canvas, Diagnostic> paint_chart(
    const std::vector<ChartTrack>& tracks, const FontSet& fonts, const ChartOptions& options = {},
    CanvasKind kind = CanvasKind::pixels);

}  // namespace arvik
