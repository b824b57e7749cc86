#include "arvik/diagnostic.hpp"

#include <algorithm>
#include <array>
#include <numeric>

namespace arvik {

std::string_view diagnostic_name(DiagnosticCode code) {
  static constexpr std::array names{"unknown-tag",
                                    "missing-argument",
                                    "bad-argument",
                                    "extra-argument",
                                    "not-a-span",
                                    "not-a-point",
                                    "missing-bracket",
                                    "stray-bracket",
                                    "too-deep",
                                    "invalid-utf8",
                                    "text-too-long",
                                    "too-many-diagnostics",
                                    "bad-pace",
                                    "bad-box",
                                    "word-broken",
                                    "step-too-wide",
                                    "language-unavailable",
                                    "file-unreadable",
                                    "bad-json",
                                    "bad-value",
                                    "unknown-key",
                                    "bad-font",
                                    "missing-glyph",
                                    "text-overflows",
                                    "unknown-style",
                                    "unknown-value",
                                    "fit-too-short",
                                    "unknown-pace",
                                    "pace-loop",
                                    "conversation-runs",
                                    "bad-place",
                                    "unknown-speaker",
                                    "unknown-portrait",
                                    "duplicate-id",
                                    "nothing-to-say",
                                    "bad-sound",
                                    "unknown-sound",
                                    "bad-audio",
                                    "file-unwritable",
                                    "bad-settings",
                                    "bad-choice",
                                    "unknown-conversation",
                                    "endless-loop",
                                    "target-busy",
                                    "unknown-branch",
                                    "missing-branch",
                                    "bad-table",
                                    "unknown-locale",
                                    "missing-text",
                                    "include-loop",
                                    "file-outside",
                                    "bad-xliff",
                                    "changed-tags",
                                    "bad-anchor",
                                    "voice-silent",
                                    "voice-length",
                                    "voice-doubtful"};
  const auto index = static_cast<std::size_t>(code);
  return index < names.size() ? names[index] : "unknown";
}

bool has_errors(const std::vector<Diagnostic>& diagnostics) {
  return std::any_of(diagnostics.begin(), diagnostics.end(),
                     [](const Diagnostic& d) { return d.severity == Severity::error; });
}

namespace {

// Optimal string alignment distance: Levenshtein's three edits and a swap of two neighbours.
std::size_t edit_distance(std::string_view a, std::string_view b) {
  std::vector<std::size_t> before(b.size() + 1);
  std::vector<std::size_t> last(b.size() + 1);
  std::vector<std::size_t> now(b.size() + 1);
  std::iota(last.begin(), last.end(), std::size_t{0});
  for (std::size_t i = 1; i <= a.size(); ++i) {
    now[0] = i;
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t replaced = last[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1);
      now[j] = std::min({last[j] + 1, now[j - 1] + 1, replaced});
      if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1]) {
        now[j] = std::min(now[j], before[j - 2] + 1);
      }
    }
    std::swap(before, last);
    std::swap(last, now);
  }
  return last[b.size()];
}

constexpr std::size_t longest_name = 32;

}  // namespace

std::string_view nearest_name(std::string_view word, const std::vector<std::string_view>& known) {
  if (word.size() < 2 || word.size() > longest_name) return {};
  std::string_view nearest;
  std::size_t least = word.size() / 3 + 1;  // up to a third of the word may be wrong
  for (const std::string_view name : known) {
    if (name.size() < 2) continue;  // one-letter names are near to everything
    const std::size_t distance = edit_distance(word, name);
    if (distance < least) {
      least = distance;
      nearest = name;
    }
  }
  return nearest;
}

std::string quoted_word(std::string_view word) {
  constexpr std::size_t longest = 60;  // bytes
  std::size_t size = std::min(word.size(), longest);
  const auto continues = [&](std::size_t at) {
    return (static_cast<unsigned char>(word[at]) & 0xC0U) == 0x80U;
  };
  while (size > 0 && size < word.size() && continues(size)) --size;
  std::string result = "\"";
  result += word.substr(0, size);
  result += size < word.size() ? "…\"" : "\"";
  return result;
}

TextLocator::Location TextLocator::locate(std::size_t offset) {
  offset = std::min(offset, text_.size());
  if (offset < at_) {
    at_ = 0;
    location_ = {};
  }
  for (; at_ < offset; ++at_) {
    const auto byte = static_cast<unsigned char>(text_[at_]);
    if (byte == '\n') {
      ++location_.row;
      location_.column = 1;
    } else if (const bool starts_code_point = (byte & 0xC0U) != 0x80U; starts_code_point) {
      ++location_.column;
    }
  }
  return location_;
}

void DiagnosticSink::add(Diagnostic diagnostic) {
  if (out_.size() >= max_diagnostics) {
    if (swallowed_ == 0) {
      out_.push_back({.code = DiagnosticCode::too_many_diagnostics,
                      .severity = Severity::error,
                      .range = diagnostic.range,
                      .file = diagnostic.file});
      const auto place = locator_.locate(diagnostic.range.begin);
      out_.back().row = place.row;
      out_.back().column = place.column;
    }
    ++swallowed_;
    out_.back().message = std::to_string(swallowed_) + " more problems from here on";
    return;
  }
  const auto place = locator_.locate(diagnostic.range.begin);
  diagnostic.row = place.row;
  diagnostic.column = place.column;
  out_.push_back(std::move(diagnostic));
}

}  // namespace arvik
