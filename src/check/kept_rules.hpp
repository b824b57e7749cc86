#pragma once

#include "text_view.hpp"

namespace arvik::checking {

/// What a translation must keep of its source. Both were read with the same values.
void check_kept(const TextView& source, const TextView& target, std::string_view language,
                const Wishes& wishes, const Tell& tell);

/// Whether the last sentence of a text asks, and whether any of it does.
[[nodiscard]] bool ends_asking(const TextView& text);

}  // namespace arvik::checking
