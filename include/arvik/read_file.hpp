#pragma once

#include <string>
#include <tl/expected.hpp>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"

/// Part of arvik::script.
namespace arvik {

/// The whole content of a file. Fails with file_unreadable and the system's reason.
[[nodiscard]] ARVIK_API tl::expected<std::string, Diagnostic> read_file(const std::string& path);

}  // namespace arvik
