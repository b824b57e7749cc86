#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/pace.hpp"

/// Part of arvik::script. Paces as JSON files; schemas/pace.schema.json describes the format:
///
///     {"arvik_pace": 1, "rate": "24cps", "sentence": "300ms", "abbreviations": ["Adm."]}
///
/// What is left out keeps the default of Pace.
namespace arvik {

/// Reads a pace from JSON text. On failure answers every problem, with its place in the text:
/// bad_json, bad_value, unknown_key, bad_pace.
[[nodiscard]] tl::expected<Pace, std::vector<Diagnostic>> parse_pace(std::string_view json);

/// The whole content of a file. Fails with file_unreadable and the system's reason.
[[nodiscard]] tl::expected<std::string, Diagnostic> read_file(const std::string& path);

}  // namespace arvik
