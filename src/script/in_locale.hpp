#pragma once

#include <memory>
#include <string>

#include "arvik/script_file.hpp"

namespace arvik::script {

/// Applies a line's own rate to its pace.
void apply(const RateChange& change, Pace& pace);

/// An original script in a locale that it has, or whose parent it has.
[[nodiscard]] Script in_own_locale(const std::shared_ptr<const Script>& original,
                                   const std::string& locale);

}  // namespace arvik::script
