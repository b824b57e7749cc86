#include "arvik/player_settings.hpp"

#include <algorithm>

namespace arvik {

std::vector<PlayerSpeed> default_speeds() {
  return {{.name = "slow", .thousandths = 600},
          {.name = "normal"},
          {.name = "fast", .thousandths = 1800},
          {.name = "instant", .instant = true}};
}

std::optional<Diagnostic> find_problem(const PlayerSettings& settings) {
  for (const PlayerSpeed& speed : settings.speeds) {
    if (speed.thousandths >= 0 && speed.thousandths <= Reveal::max_speed) continue;
    return Diagnostic{.code = DiagnosticCode::bad_settings,
                      .severity = Severity::error,
                      .message = "a text speed is out of range: it must be 0 to " +
                                 std::to_string(Reveal::max_speed) + " thousandths"};
  }
  return std::nullopt;
}

void apply(const PlayerSettings& settings, Reveal& reveal) {
  if (settings.speeds.empty()) {
    reveal.set_speed(Reveal::normal_speed);
    reveal.set_instant(false);
    return;
  }
  const PlayerSpeed& speed = settings.speeds[std::min(settings.speed, settings.speeds.size() - 1)];
  reveal.set_speed(speed.thousandths);
  reveal.set_instant(speed.instant);
}

Pace adjusted(const PlayerSettings& settings, Pace pace) {
  return settings.reduced_motion ? with_reduced_motion(std::move(pace)) : pace;
}

Box adjusted(const PlayerSettings& settings, Box box) {
  box.ruby = box.ruby && settings.ruby;
  return box;
}

FrameOptions adjusted(const PlayerSettings& settings, FrameOptions options) {
  options.reduced_motion = options.reduced_motion || settings.reduced_motion;
  return options;
}

double characters_per_minute(double words_per_minute, double characters_per_word) {
  return words_per_minute * characters_per_word;
}

double suggested_rate(const Schedule& sample, double characters_per_minute) {
  const double steps = sample.letters;
  if (!(characters_per_minute > 0) || steps == 0) return min_rate;
  double left = steps / characters_per_minute * 60;
  for (const StepPause& pause : sample.pauses) left -= in_seconds(pause.automatic + pause.written);
  return left > 0 ? std::clamp(steps / left, min_rate, max_rate) : max_rate;
}

}  // namespace arvik
