#pragma once

#include <string_view>
#include <vector>

#include "arvik/language.hpp"
#include "arvik/pace.hpp"
#include "arvik/schedule.hpp"
#include "arvik/steps.hpp"

namespace arvik::pacing {

/// The automatic pauses that the punctuation asks for, by step.
void find_pauses(std::string_view text, const Steps& steps, const Language& language,
                 const Pace& pace, std::vector<StepPause>& out);

/// What a pace gives for a reason.
[[nodiscard]] Nanoseconds pause_time(const Pace& pace, PauseReason reason);

}  // namespace arvik::pacing
