#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/pace.hpp"

/// Part of arvik::script. Paces as JSON; schemas/pace.schema.json describes the format. A file
/// holds one pace,
///
///     {"arvik_pace": 1, "rate": "24cps", "sentence": "300ms", "abbreviations": ["Adm."]}
///
/// or several by name, which may be based on each other:
///
///     {"arvik_paces": 1, "paces": {"calm":  {"rate": "24cps"},
///                                  "dread": {"based_on": "calm", "rate": "x0.5"}}}
///
/// or is a script, whose paces are then read and nothing else of it.
///
/// What is left out keeps the value of the pace that it is based on, or the default of Pace.
namespace arvik {

struct NamedPace {
  std::string name{};  ///< empty for the only one of a file
  Pace pace{};
};

/// Reads all paces of a file, in its order. On failure returns every problem, with its location in
/// the text: bad_json, bad_value, unknown_key, bad_pace, unknown_pace, pace_loop.
[[nodiscard]] ARVIK_API tl::expected<std::vector<NamedPace>, std::vector<Diagnostic>> parse_paces(
    std::string_view json);

/// Reads one pace of a file: the one of that name, or the only one. Fails as parse_paces does, and
/// with unknown_pace if there is none of that name, or several and no name was given.
[[nodiscard]] ARVIK_API tl::expected<Pace, std::vector<Diagnostic>> parse_pace(
    std::string_view json, std::string_view name = {});

}  // namespace arvik
