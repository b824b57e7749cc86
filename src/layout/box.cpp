#include "arvik/box.hpp"

#include <algorithm>

namespace arvik {
namespace {

float keep_inside(float at, float size, float low, float room) {
  if (size >= room) return low;
  return std::clamp(at, low, low + room - size);
}

// The three parts of one direction: where each begins and how long it is.
struct Parts {
  std::array<float, 3> begin;
  std::array<float, 3> length;
};

Parts cut(float begin, float length, float low, float high) {
  const float middle = std::max(length - low - high, 0.0F);
  return {{begin, begin + low, begin + low + middle}, {low, middle, high}};
}

float repeats(SliceFill fill, float target, float source) {
  return fill == SliceFill::tile && source > 0 ? target / source : 1;
}

}  // namespace

Rect place_over(Point2 anchor, float width, float height, const Rect& screen, float gap) {
  const float above = anchor.y - gap - height;
  const float below = anchor.y + gap;
  const float room_above = anchor.y - gap - screen.y;
  const float room_below = screen.y + screen.height - below;
  const float y = above >= screen.y || room_above >= room_below ? above : below;
  return {keep_inside(anchor.x - width / 2, width, screen.x, screen.width),
          keep_inside(y, height, screen.y, screen.height), width, height};
}

std::array<Slice, 9> nine_slices(float picture_width, float picture_height, const Padding& borders,
                                 const Rect& target, SliceFill fill) {
  const float across = borders.left + borders.right;
  const float down = borders.top + borders.bottom;
  float scale = 1;
  if (across > target.width) scale = std::min(scale, target.width / across);
  if (down > target.height) scale = std::min(scale, target.height / down);
  const Parts source_x = cut(0, picture_width, borders.left, borders.right);
  const Parts source_y = cut(0, picture_height, borders.top, borders.bottom);
  const Parts target_x = cut(target.x, target.width, borders.left * scale, borders.right * scale);
  const Parts target_y = cut(target.y, target.height, borders.top * scale, borders.bottom * scale);
  std::array<Slice, 9> slices{};
  for (std::size_t i = 0; i < slices.size(); ++i) {
    const std::size_t x = i % 3;
    const std::size_t y = i / 3;
    Slice& slice = slices[i];
    slice.source = {source_x.begin[x], source_y.begin[y], source_x.length[x], source_y.length[y]};
    slice.target = {target_x.begin[x], target_y.begin[y], target_x.length[x], target_y.length[y]};
    if (x == 1) slice.repeat_x = repeats(fill, slice.target.width, slice.source.width);
    if (y == 1) slice.repeat_y = repeats(fill, slice.target.height, slice.source.height);
  }
  return slices;
}

}  // namespace arvik
