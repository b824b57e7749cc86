#include "arvik/pace.hpp"

#include <array>

namespace arvik {
namespace {

Diagnostic bad_pace(std::string message) {
  return {
      .code = DiagnosticCode::bad_pace, .severity = Severity::error, .message = std::move(message)};
}

bool is_pause(Nanoseconds time) { return time >= Nanoseconds::zero() && time <= max_written_time; }

std::optional<Diagnostic> find_bad_pause(const Pace& pace) {
  struct Value {
    std::string_view name;
    Nanoseconds time;
  };
  const std::array values{Value{"sentence", pace.sentence}, Value{"clause", pace.clause},
                          Value{"dash", pace.dash},         Value{"ellipsis", pace.ellipsis},
                          Value{"row_end", pace.row_end},   Value{"paragraph", pace.paragraph},
                          Value{"space", pace.space}};
  for (const Value& value : values) {
    if (!is_pause(value.time)) {
      return bad_pace(std::string(value.name) + " is out of range: a pause is 0 to one hour");
    }
  }
  if (!(pace.blank >= 0 && pace.blank <= max_blank)) {  // NaN, too
    return bad_pace("blank is out of range: it must be 0% to 1000%");
  }
  for (const CharacterPause& own : pace.characters) {
    if (own.character.empty()) return bad_pace("a pause is given for a character that is empty");
    if (!is_pause(own.pause)) {
      return bad_pace("the pause after " + quoted_word(own.character) +
                      " is out of range: a pause is 0 to one hour");
    }
  }
  return std::nullopt;
}

std::optional<Diagnostic> find_bad_duration(const Pace& pace) {
  struct Value {
    std::string_view name;
    std::optional<Nanoseconds> time;
  };
  for (const Value& value :
       {Value{"fit", pace.fit}, Value{"least", pace.least}, Value{"most", pace.most}}) {
    if (value.time && (*value.time <= Nanoseconds::zero() || *value.time > max_written_time)) {
      return bad_pace(std::string(value.name) +
                      " is out of range: a duration is more than 0, to one hour");
    }
  }
  if (pace.fit && (pace.least || pace.most)) {
    return bad_pace("fit says how long a line lasts, so least and most have nothing to say");
  }
  if (pace.least && pace.most && *pace.least > *pace.most) {
    return bad_pace("least is longer than most");
  }
  return std::nullopt;
}

}  // namespace

std::optional<Diagnostic> find_problem(const Pace& pace) {
  if (!(pace.rate >= min_rate && pace.rate <= max_rate)) {  // NaN fails, too
    return bad_pace("rate is out of range: it must be 0.01 to 100000 steps per second");
  }
  if (!(pace.jitter >= 0 && pace.jitter <= 1)) {
    return bad_pace("jitter is out of range: it must be 0 to 100%");
  }
  auto problem = find_bad_pause(pace);
  return problem ? problem : find_bad_duration(pace);
}

Pace with_reduced_motion(Pace pace) {
  pace.jitter = 0;
  return pace;
}

const Pace& SharedPace::standard() {
  static constexpr Pace pace;
  return pace;
}

}  // namespace arvik
