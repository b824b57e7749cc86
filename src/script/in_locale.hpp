#pragma once

#include <memory>
#include <string>

#include "arvik/script_file.hpp"

namespace arvik::script {

/// Applies a line's own rate to its pace.
void apply(const RateChange& change, Pace& pace);

/// Whether the texts of a locale are made of those of the source locale.
[[nodiscard]] bool is_made_up(const Script& original, std::string_view locale);

/// An original script in a locale that it has, or whose parent it has.
[[nodiscard]] Script in_own_locale(const std::shared_ptr<const Script>& original,
                                   const std::string& locale);

}  // namespace arvik::script
