#pragma once

#include <memory>
#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/font.hpp"

/// Part of arvik::fonts: real fonts, shaped by HarfBuzz, checked by FreeType.
namespace arvik {

/// One face for a font set: the bytes of a font file (TrueType, OpenType, a collection), shared so
/// that several sizes can use them.
struct FontSource {
  std::shared_ptr<const std::string> data{};
  int index = 0;  ///< of the face in a collection
  bool bold = false;
  bool italic = false;
  int family = 0;  ///< faces of one family have the same number
};

/// A font made of faces. For each step the first family, in the order of their numbers, that has
/// all of its characters is taken, and of that family the face that is most nearly as bold and
/// italic as the style asks. So the main family (regular, bold, italic, bold italic) is 0, and
/// families for other scripts follow. A step that no face has is shown as the first face's box for
/// missing glyphs.
///
/// Copies share the faces. Use from several threads at once is safe.
class ARVIK_API FontSet final : public Font {
 public:
  /// `pixel_size` is the size of an em, 1 to 2000. Fails with bad_font for a size out of range, for
  /// no sources, and for data that is no font (the message tells which one).
  [[nodiscard]] static tl::expected<FontSet, Diagnostic> make(std::vector<FontSource> sources,
                                                              float pixel_size);

  FontSet(const FontSet&);
  FontSet& operator=(const FontSet&);
  ~FontSet() override;

  [[nodiscard]] FontMetrics metrics(float size, std::uint16_t face) const override;
  [[nodiscard]] bool steps_stand_alone() const override { return false; }
  void measure(const TextRun& run, std::vector<float>& advances) const override;
  void shape(const TextRun& run, std::vector<ShapedGlyph>& glyphs) const override;

  [[nodiscard]] float pixel_size() const;
  /// The sources by family, in the order of ShapedGlyph::face.
  [[nodiscard]] const std::vector<FontSource>& sources() const;

 private:
  struct Impl;
  explicit FontSet(std::shared_ptr<const Impl> impl);
  std::shared_ptr<const Impl> impl_;
};

}  // namespace arvik
