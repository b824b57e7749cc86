#pragma once

#include <string>
#include <tl/expected.hpp>
#include <utility>

#include "arvik/diagnostic.hpp"

namespace arvik::base {

/// The error of a function that returns tl::expected<…, Diagnostic>, without a place in a text.
[[nodiscard]] inline tl::unexpected<Diagnostic> failure(DiagnosticCode code, std::string message) {
  return tl::unexpected(
      Diagnostic{.code = code, .severity = Severity::error, .message = std::move(message)});
}

}  // namespace arvik::base
