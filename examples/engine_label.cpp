// Timing only: an engine whose label can do no more than show the first n characters of a string.
// Such labels count differently; ask Arvik for the count that yours takes.

#include <arvik/arvik.hpp>
#include <cstdio>
#include <string>

namespace {

// What a label counts in: told apart by their types.
struct CodePoints {
  std::uint32_t value;
};
struct Utf16Units {
  std::uint32_t value;
};

// Stand-ins for an engine's labels. The first counts code points, as engines do that keep UTF-32;
// the second UTF-16 units, as those do that keep UTF-16.
class CodePointLabel {
 public:
  explicit CodePointLabel(const std::string& utf8) : utf8_(utf8) {}
  void show_first(CodePoints count) { count_ = count.value; }
  [[nodiscard]] std::string shown() const {
    std::size_t end = 0;
    for (std::uint32_t left = count_; end < utf8_.size(); ++end) {
      const bool begins = (static_cast<unsigned char>(utf8_[end]) & 0xC0U) != 0x80U;
      if (begins && left-- == 0) break;
    }
    return utf8_.substr(0, end);
  }

 private:
  std::string utf8_;
  std::uint32_t count_ = 0;
};

class Utf16Label {
 public:
  explicit Utf16Label(const std::string& utf8) : utf8_(utf8) {}
  void show_first(Utf16Units count) { count_ = count.value; }
  [[nodiscard]] std::string shown() const {
    std::size_t end = 0;
    std::uint32_t units = 0;
    for (; end < utf8_.size(); ++end) {
      const auto byte = static_cast<unsigned char>(utf8_[end]);
      if ((byte & 0xC0U) == 0x80U) continue;
      if (units >= count_) break;
      units += byte >= 0xF0U ? 2 : 1;  // a surrogate pair
    }
    return utf8_.substr(0, end);
  }

 private:
  std::string utf8_;
  std::uint32_t count_ = 0;
};

}  // namespace

int main() {
  using namespace std::chrono_literals;
  arvik::Language english = arvik::Language::open("en").value();

  // No layout: the label wraps by itself. What it gets is the plain text, without a tag in it.
  const arvik::MarkedText marked =
      arvik::parse("Zoë: [b: 潮時計]! 👩🏽‍🔧 [rate x0.5: late].");
  const arvik::Steps steps = english.segment(marked.text);
  const arvik::Schedule schedule =
      arvik::schedule(marked, steps, english, arvik::Pace{.rate = 10}).value();

  CodePointLabel one(marked.text);
  Utf16Label other(marked.text);
  arvik::Reveal reveal(steps, schedule);
  for (auto now = 0ms; reveal.state() != arvik::RevealState::finished; now += 300ms) {
    reveal.tick(now == 0ms ? 0ms : 300ms);
    const arvik::Extent shown = reveal.shown();
    one.show_first(CodePoints{shown.code_points});
    other.show_first(Utf16Units{shown.utf16_units});
    // An emoji of several characters appears whole, never half.
    std::printf("%2u steps, %2u code points, %2u UTF-16 units: %s%s\n", reveal.shown_steps(),
                shown.code_points, shown.utf16_units, one.shown().c_str(),
                one.shown() == other.shown() ? "" : " (the labels differ)");
  }
}
