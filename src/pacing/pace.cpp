#include "arvik/pace.hpp"

#include <array>

namespace arvik {
namespace {

Diagnostic bad_pace(std::string message) {
  return {
      .code = DiagnosticCode::bad_pace, .severity = Severity::error, .message = std::move(message)};
}

}  // namespace

std::optional<Diagnostic> find_problem(const Pace& pace) {
  if (!(pace.rate >= min_rate && pace.rate <= max_rate)) {  // NaN fails, too
    return bad_pace("rate is out of range: it must be 0.01 to 100000 steps per second");
  }
  struct Value {
    std::string_view name;
    Nanoseconds time;
  };
  const std::array values{Value{"sentence", pace.sentence}, Value{"clause", pace.clause},
                          Value{"dash", pace.dash},         Value{"ellipsis", pace.ellipsis},
                          Value{"row_end", pace.row_end},   Value{"paragraph", pace.paragraph},
                          Value{"space", pace.space}};
  for (const Value& value : values) {
    if (value.time < Nanoseconds::zero() || value.time > max_written_time) {
      return bad_pace(std::string(value.name) + " is out of range: a pause is 0 to one hour");
    }
  }
  return std::nullopt;
}

}  // namespace arvik
