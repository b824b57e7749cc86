#include "arvik/language_runs.hpp"

#include <algorithm>

namespace arvik {

void find_languages(const MarkedText& marked, const Steps& steps, std::vector<LanguageRun>& out) {
  out.clear();
  const auto is_language = [](const Span& span) {
    return std::holds_alternative<tag::Lang>(span.what);
  };
  if (std::none_of(marked.spans.begin(), marked.spans.end(), is_language)) return;
  std::vector<const std::string*> open;
  std::uint32_t first = 0;
  const auto close_run = [&](std::uint32_t end) {
    if (!open.empty() && first < end) out.push_back({first, end, *open.back()});
    first = end;
  };
  for (EdgeWalker edges(marked); edges.has_edge_until(marked.text.size());) {
    const Edge edge = edges.take();
    const auto* language = std::get_if<tag::Lang>(edge.what);
    if (language == nullptr) continue;
    close_run(steps.step_from(edge.at));
    if (edge.kind == EdgeKind::begin) {
      open.push_back(&language->tag);
    } else {
      open.pop_back();
    }
  }
}

}  // namespace arvik
