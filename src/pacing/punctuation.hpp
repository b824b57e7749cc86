#pragma once

#include <string_view>
#include <vector>

#include "arvik/language.hpp"
#include "arvik/language_runs.hpp"
#include "arvik/pace.hpp"
#include "arvik/schedule.hpp"
#include "arvik/steps.hpp"

namespace arvik::pacing {

/// The automatic pauses that the punctuation asks for, by step. `others` are the stretches in
/// languages of their own.
void find_pauses(std::string_view text, const Steps& steps, Language& language,
                 const std::vector<LanguageRun>& others, const Pace& pace,
                 std::vector<StepPause>& out);

}  // namespace arvik::pacing
