#include "arvik/frame.hpp"

#include <algorithm>

namespace arvik {
namespace {

class FrameMaker {
 public:
  FrameMaker(const Layout& layout, std::span<const Appearance> shown, Nanoseconds now,
             const FrameOptions& options, Frame& out)
      : layout_(layout),
        steps_(shown),
        shown_(static_cast<std::uint32_t>(std::min(shown.size(), layout.steps.size()))),
        now_(now),
        options_(options),
        out_(out) {}

  void run() {
    out_.glyphs.clear();
    out_.glyphs.reserve(layout_.glyphs.size());  // at the line's begin, not while it grows
    const std::uint32_t page = shown_ == 0 ? 0 : layout_.rows[layout_.steps[shown_ - 1].row].page;
    out_.page = page == no_page ? 0 : page;
    if (layout_.pages.empty() || shown_ == 0) return;
    const Page& rows = layout_.pages[out_.page];
    for (std::uint32_t r = rows.first_row; r < rows.end_row; ++r) {
      const Row& row = layout_.rows[r];
      if (row.page == no_page || row.first_step >= shown_) break;
      for (std::uint32_t g = row.first_glyph; g < row.end_glyph; ++g) {
        if (layout_.glyphs[g].first_step < shown_) add(g);
      }
    }
  }

 private:
  [[nodiscard]] float progress(std::uint32_t step, Nanoseconds time) const {
    const auto since = static_cast<float>((now_ - steps_[step].at).count());
    return time.count() <= 0 ? 1 : std::clamp(since / static_cast<float>(time.count()), 0.0F, 1.0F);
  }

  // A step is wiped in until the next one begins, so that one edge moves through the row.
  [[nodiscard]] Nanoseconds wipe_time(std::uint32_t step, Nanoseconds time) const {
    const Nanoseconds spacing = steps_[step].spacing;
    return spacing > Nanoseconds::zero() ? std::min(spacing, time) : time;
  }

  void add(std::uint32_t index) {
    const Glyph& glyph = layout_.glyphs[index];
    const TextStyle& style = layout_.styles[glyph.style].style;
    Entrance how = style.has_entrance ? style.entrance : options_.entrance;
    Nanoseconds time = options_.entrance_time;
    if (style.has_entrance && style.entrance_time > Nanoseconds::zero()) time = style.entrance_time;
    if (options_.reduced_motion) how = Entrance::cut;

    FrameGlyph frame{.glyph = index};
    const float entered = progress(glyph.first_step, time);
    if (how == Entrance::fade || how == Entrance::rise) frame.opacity = entered;
    if (how == Entrance::rise) frame.dy = options_.rise * (1 - entered) * (1 - entered);
    if (frame.opacity <= 0) return;
    clip(glyph, how, time, frame);
    out_.glyphs.push_back(frame);
  }

  // How much of the cluster shows: its steps by their shares, and with a wipe part of the last one.
  void clip(const Glyph& glyph, Entrance how, Nanoseconds time, FrameGlyph& frame) const {
    const std::uint32_t end = std::min(glyph.end_step, shown_);
    const bool wiping = how == Entrance::wipe;
    const float entered = wiping ? progress(end - 1, wipe_time(end - 1, time)) : 1;
    if (end == glyph.end_step && entered >= 1) return;
    const float step_width = glyph.width / static_cast<float>(glyph.end_step - glyph.first_step);
    const auto whole_steps = static_cast<float>(end - glyph.first_step - 1);
    frame.softness = wiping ? options_.softness : 0;
    // The edge runs out beyond the step by its softness, so that the step ends up whole.
    // The next step of the cluster goes on from there.
    const float reach = whole_steps > 0 ? step_width * (whole_steps + entered) + frame.softness
                                        : (step_width + frame.softness) * entered;
    // Ink may stand out beyond the advance on the side that has shown already.
    const float overhang = layout_.rows[layout_.steps[glyph.first_step].row].height;
    frame.clipped = true;
    if (glyph.right_to_left) {
      frame.clip_left = glyph.left + glyph.width - reach;
      frame.clip_right = glyph.left + glyph.width + overhang;
    } else {
      frame.clip_left = glyph.left - overhang;
      frame.clip_right = glyph.left + reach;
    }
  }

  const Layout& layout_;
  std::span<const Appearance> steps_;
  std::uint32_t shown_;
  Nanoseconds now_;
  const FrameOptions& options_;
  Frame& out_;
};

}  // namespace

void make_frame(const Layout& layout, std::span<const Appearance> shown, Nanoseconds now,
                const FrameOptions& options, Frame& out) {
  FrameMaker(layout, shown, now, options, out).run();
}

}  // namespace arvik
