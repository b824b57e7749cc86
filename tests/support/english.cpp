#include "support/english.hpp"

namespace arvik::test {

Language& english() {
  static Language language = Language::open("en").value();
  return language;
}

Typesetter& typesetter() {
  static Typesetter setter(Language::open("en").value());
  return setter;
}

const GridFont& grid() {
  static const GridFont font;
  return font;
}

Schedule timed(const std::string& markup, const Pace& pace, const RowStarts& starts) {
  const MarkedText marked = parse(markup);
  const Steps steps = english().segment(marked.text);
  return schedule(marked, steps, english(), pace, starts).value();
}

}  // namespace arvik::test
