#include "support/fonts.hpp"

#include "support/process.hpp"

namespace arvik::test {
namespace {

FontSource face(const std::string& path, int family, bool bold = false, bool italic = false) {
  auto data = std::make_shared<const std::string>(read_whole("/usr/share/fonts/" + path));
  return {std::move(data), 0, bold, italic, family};
}

}  // namespace

FontSet noto(float pixel_size) {
  static const std::vector<FontSource> faces{
      face("truetype/noto/NotoSans-Regular.ttf", 0),
      face("truetype/noto/NotoSans-Bold.ttf", 0, true),
      face("truetype/noto/NotoSans-Italic.ttf", 0, false, true),
      face("truetype/noto/NotoSansArabic-Regular.ttf", 1),
      face("truetype/noto/NotoSansHebrew-Regular.ttf", 2),
      face("truetype/noto/NotoSansDevanagari-Regular.ttf", 3),
      face("truetype/noto/NotoSansThai-Regular.ttf", 4),
      face("opentype/noto/NotoSansCJK-Regular.ttc", 5),
      face("truetype/noto/NotoColorEmoji.ttf", 6)};
  return FontSet::make(faces, pixel_size).value();
}

FontSet dejavu(float pixel_size) {
  static const std::vector<FontSource> faces{face("truetype/dejavu/DejaVuSans.ttf", 0)};
  return FontSet::make(faces, pixel_size).value();
}

}  // namespace arvik::test
