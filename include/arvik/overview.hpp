#pragma once

#include <string>
#include <tl/expected.hpp>

#include "arvik/check.hpp"
#include "arvik/export.hpp"

/// Part of arvik::check.
namespace arvik {

/// What was checked as one page of HTML for writers and translators: a table of lines by locales,
/// how full each box is, the findings, and each line as it stands in its box, played in its own
/// time. It needs nothing beside itself: no network, no other file.
///
/// `report` is what check() said with the same options. Each text is prepared once more, alone in
/// its box. Faces come from the options, as for check(); on a grid, characters stand in cells.
/// Fails as check() does. The size is some kilobytes a text and locale.
[[nodiscard]] ARVIK_API tl::expected<std::string, Diagnostic> write_overview(
    const CheckedScript& script, const CheckReport& report, const CheckOptions& options = {});

}  // namespace arvik
