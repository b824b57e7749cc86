#include "arvik/typesetter.hpp"

namespace arvik {

tl::expected<void, Diagnostic> Typesetter::prepare(std::string_view markup, const Pace& pace,
                                                   const Font& font, const Box& box,
                                                   PreparedLine& out) {
  parse(markup, out.marked, vocabulary_);
  language_.segment(out.marked.text, out.steps);
  return lay_out(out.marked, out.steps, language_, font, box, out.layout).and_then([&] {
    row_starts(out.layout, starts_);
    return schedule(out.marked, out.steps, language_, pace, out.schedule, starts_);
  });
}

tl::expected<PreparedLine, Diagnostic> Typesetter::prepare(std::string_view markup,
                                                           const Pace& pace, const Font& font,
                                                           const Box& box) {
  PreparedLine out;
  return prepare(markup, pace, font, box, out).map([&] { return std::move(out); });
}

}  // namespace arvik
