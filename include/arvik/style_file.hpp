#pragma once

#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/markup.hpp"

/// Part of arvik::script. Named styles as JSON; schemas/styles.schema.json describes the format. A
/// style is a list of tags as they stand in markup:
///
///     {"arvik_styles": 1, "styles": {"dread": ["i", "color teal", "enter fade 200ms"]}}
namespace arvik {

/// Reads all styles of a file, in its order. On failure returns every problem, with its location in
/// the text: bad_json, bad_value, unknown_key.
[[nodiscard]] ARVIK_API tl::expected<NamedStyles, std::vector<Diagnostic>> parse_styles(
    std::string_view json);

}  // namespace arvik
