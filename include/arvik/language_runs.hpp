#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/markup.hpp"
#include "arvik/steps.hpp"

namespace arvik {

/// Steps inside `[lang TAG: …]`.
struct LanguageRun {
  std::uint32_t first_step = 0;
  std::uint32_t end_step = 0;
  std::string tag{};  ///< BCP 47
};

/// The stretches of a line that are in a language of their own, rising; the innermost tag counts.
/// Empty if the whole line is in its own language.
ARVIK_API void find_languages(const MarkedText& marked, const Steps& steps,
                              std::vector<LanguageRun>& out);

}  // namespace arvik
