#include "arvik/typesetter.hpp"

namespace arvik {

tl::expected<void, Diagnostic> Typesetter::prepare(std::string_view markup, const Pace& pace,
                                                   const Font& font, const Box& box,
                                                   PreparedLine& out) {
  parse(markup, out.marked, vocabulary_);
  language_.segment(out.marked.text, out.steps);
  tell(out.marked.diagnostics);
  auto done = lay_out(out.marked, out.steps, language_, font, box, out.layout).and_then([&] {
    tell(out.layout.diagnostics);
    row_starts(out.layout, starts_);
    return schedule(out.marked, out.steps, language_, pace, out.schedule, starts_);
  });
  done ? tell(out.schedule.diagnostics) : tell(done.error());
  return done;
}

void Typesetter::tell(const std::vector<Diagnostic>& diagnostics) const {
  if (!hook_) return;
  for (const Diagnostic& diagnostic : diagnostics) hook_(diagnostic);
}

void Typesetter::tell(const Diagnostic& diagnostic) const {
  if (hook_) hook_(diagnostic);
}

tl::expected<PreparedLine, Diagnostic> Typesetter::prepare(std::string_view markup,
                                                           const Pace& pace, const Font& font,
                                                           const Box& box) {
  PreparedLine out;
  return prepare(markup, pace, font, box, out).map([&] { return std::move(out); });
}

}  // namespace arvik
