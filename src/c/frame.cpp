// Guarded by tests/c/c_line_test.cpp.

#include "objects.hpp"

using namespace arvik;
using namespace arvik::c;

static_assert(static_cast<int>(Entrance::rise) == ARVIK_ENTRANCE_RISE);

struct arvik_frame {
  Frame frame{};
};

namespace {

// Bad options draw nothing.
uint32_t make(arvik_frame* frame, const Layout& layout, std::span<const Appearance> shown,
              Nanoseconds now, const arvik_frame_options* options) {
  frame->frame.glyphs.clear();
  const auto from = taken(options, arvik_frame_options_init);
  if (!from || from->entrance < 0 || from->entrance > ARVIK_ENTRANCE_RISE) return 0;
  return guarded(nullptr, [&] {
    const FrameOptions given{.entrance = static_cast<Entrance>(from->entrance),
                             .entrance_time = Nanoseconds(from->entrance_ns),
                             .rise = from->rise,
                             .softness = from->softness,
                             .reduced_motion = from->reduced_motion != 0};
    make_frame(layout, shown, now, given, frame->frame);
    return static_cast<uint32_t>(frame->frame.glyphs.size());
  });
}

}  // namespace

void arvik_frame_options_init(arvik_frame_options* options) {
  if (options == nullptr) return;
  const FrameOptions defaults;
  *options = {.size = sizeof *options,
              .entrance = static_cast<int32_t>(defaults.entrance),
              .entrance_ns = defaults.entrance_time.count(),
              .rise = defaults.rise,
              .softness = defaults.softness,
              .reduced_motion = 0};
}

arvik_frame* arvik_frame_create(arvik_error* error) {
  return guarded(error, [&] { return new arvik_frame; });
}

void arvik_frame_destroy(arvik_frame* frame) { delete frame; }

uint32_t arvik_frame_of_reveal(arvik_frame* frame, const arvik_reveal* reveal,
                               const arvik_frame_options* options) {
  if (frame == nullptr || reveal == nullptr) return 0;
  return make(frame, reveal->line->prepared.layout, reveal->entrances.shown(),
              reveal->entrances.now(), options);
}

uint32_t arvik_frame_of_talk(arvik_frame* frame, const arvik_talk* talk,
                             const arvik_frame_options* options) {
  if (frame == nullptr || talk == nullptr) return 0;
  const ConversationView view = talk->talk.view();
  frame->frame.glyphs.clear();
  return view.block == nullptr ? 0 : make(frame, view.block->layout, view.steps, view.now, options);
}

uint32_t arvik_frame_page(const arvik_frame* frame) {
  return frame == nullptr ? 0 : frame->frame.page;
}

int32_t arvik_frame_glyph_at(const arvik_frame* frame, uint32_t index, arvik_frame_glyph* glyph) {
  if (frame == nullptr || index >= frame->frame.glyphs.size()) return 0;
  const FrameGlyph& found = frame->frame.glyphs[index];
  return put<arvik_frame_glyph>({.size = sizeof *glyph,
                                 .glyph = found.glyph,
                                 .dy = found.dy,
                                 .opacity = found.opacity,
                                 .clipped = found.clipped ? 1 : 0,
                                 .clip_left = found.clip_left,
                                 .clip_right = found.clip_right,
                                 .softness = found.softness},
                                glyph);
}
