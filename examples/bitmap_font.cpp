// A measuring callback over a bitmap font: the engine has a picture of letters and a width for
// each. Arvik asks for widths and answers where every letter goes; the engine copies its pictures
// there.

#include <arvik/arvik.hpp>
#include <cstdio>
#include <string>
#include <vector>

namespace {

// Five pixels a letter, three for thin ones, seven for wide ones; bold is a pixel wider.
class BitmapFont final : public arvik::Font {
 public:
  [[nodiscard]] arvik::FontMetrics metrics(float size, std::uint16_t) const override {
    return {.row_height = 10 * size, .ascent = 8 * size, .unit = 1};
  }
  // No letter depends on its neighbours, so Arvik only measures.
  [[nodiscard]] bool steps_stand_alone() const override { return true; }
  void measure(const arvik::TextRun& run, std::vector<float>& advances) const override {
    for (std::uint32_t i = run.first_step; i < run.end_step; ++i) {
      const std::string_view letter = run.steps->text(run.text, i);
      const auto is_one_of = [&](std::string_view letters) {
        return letters.find(letter) != std::string_view::npos;
      };
      const float width = is_one_of("iljt.,!' ") ? 3.0F : is_one_of("mwMW") ? 7.0F : 5.0F;
      advances.push_back((width + 1 + (run.style.bold ? 1.0F : 0.0F)) * run.style.size);
    }
  }
  void shape(const arvik::TextRun&, std::vector<arvik::ShapedGlyph>&) const override {}
};

}  // namespace

int main() {
  arvik::Typesetter typesetter(arvik::Language::open("en").value());
  const BitmapFont font;
  const arvik::PreparedLine line =
      typesetter
          .prepare("It was raining, and the [b: blue] valve…", arvik::Pace{}, font,
                   arvik::Box{.width = 120, .align = arvik::Align::center})
          .value();
  for (const arvik::Row& row : line.layout.rows) {
    std::printf("row at x %.0f, y %.0f, %.0f wide:", static_cast<double>(row.x),
                static_cast<double>(row.y), static_cast<double>(row.width));
    for (std::uint32_t i = row.first_step; i < row.end_ink_step; ++i) {
      // engine.copy(letter_picture, line.layout.steps[i].x, row.y)
      const std::string letter(line.steps.text(line.marked.text, i));
      std::printf(" %s%.0f", letter.c_str(), static_cast<double>(line.layout.steps[i].x));
    }
    std::printf("\n");
  }
}
