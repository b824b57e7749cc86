// Names and ranges. Guarded by tests/conversation/settings_test.cpp.

#include <array>

#include "arvik/conversation.hpp"

namespace arvik {

std::string_view conversation_state_name(ConversationState state) {
  static constexpr std::array<std::string_view, 7> names{
      "closed", "opening", "revealing", "holding", "waiting", "choosing", "closing"};
  return names[static_cast<std::size_t>(state)];
}

std::string_view conversation_event_name(ConversationEventKind kind) {
  static constexpr std::array<std::string_view, 10> names{
      "opened",  "line_started", "revealed", "portrait_changed", "line_finished",
      "waiting", "choosing",     "chosen",   "line_left",        "closed"};
  return names[static_cast<std::size_t>(kind)];
}

std::optional<Diagnostic> find_problem(const ConversationSettings& settings) {
  const auto bad = [](std::string message) {
    return Diagnostic{.code = DiagnosticCode::bad_settings,
                      .severity = Severity::error,
                      .message = std::move(message)};
  };
  struct Time {
    std::string_view name;
    Nanoseconds value;
  };
  for (const Time& time : {Time{"opening", settings.opening}, Time{"closing", settings.closing},
                           Time{"grace", settings.grace}, Time{"hurry_after", settings.hurry_after},
                           Time{"least_reading", settings.least_reading},
                           Time{"indicator_period", settings.indicator_period},
                           Time{"voice_fade", settings.voice_fade}}) {
    if (time.value < Nanoseconds::zero() || time.value > max_written_time) {
      return bad(std::string(time.name) + " is out of range: it must be 0 to one hour");
    }
  }
  if (settings.hurry < 1 || settings.hurry > Reveal::max_speed) {
    return bad("hurry is out of range: it must be 1 to " + std::to_string(Reveal::max_speed));
  }
  if (!(settings.reading_rate >= min_rate && settings.reading_rate <= max_rate)) {  // NaN, too
    return bad("reading_rate is out of range: it must be 0.01 to 100000 characters a second");
  }
  if (auto problem = find_problem(settings.player)) return problem;
  return find_problem(settings.sounds);
}

}  // namespace arvik
