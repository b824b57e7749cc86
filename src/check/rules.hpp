#pragma once

#include <array>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/check.hpp"

namespace arvik::checking {

/// In the order of check_rules().
enum class Rule : std::uint8_t {
  blank_at_edge,
  double_blank,
  mixed_composition,
  unseen_character,
  unbalanced_quote,
  unbalanced_bracket,
  same_as_source,
  unused_key,
  lost_tag,
  invented_tag,
  reordered_tags,
  changed_number,
  lost_question,
  more_pages,
  more_rows,
  small_text,
  lone_letter,
  too_fast,
  fitted_too_fast,
  unread_advance,
  missing_voice,
  unreadable_voice,
  short_voice,
  long_voice,
  no_voice_timing,
  stale_voice_timing,
  doubtful_voice_timing,
  silent_edge,
  unreached_conversation,
  dead_answer,
  unused_speaker,
  unused_portrait,
  unused_pace,
  unused_style,
  unused_sound,
  unused_clip,
  missing_file,
  unknown_code
};
inline constexpr std::size_t rule_count = static_cast<std::size_t>(Rule::unknown_code) + 1;

[[nodiscard]] const CheckRule& rule_of(Rule rule);

/// In the order of check_limits().
enum class Limit : std::uint8_t {
  fastest,
  reading,
  least_size,
  silence,
  fastest_speech,
  slowest_speech
};
inline constexpr std::size_t limit_count = static_cast<std::size_t>(Limit::slowest_speech) + 1;

/// Which rules are on, and what they go by: of a script, and of this run.
class Wishes {
 public:
  /// `problem` hears of codes and limits of the script that are not there.
  Wishes(const CheckWishes& script, const CheckOptions& options,
         const std::function<void(std::string message, std::string hint)>& problem);

  [[nodiscard]] bool has(Rule rule) const { return on_[static_cast<std::size_t>(rule)]; }
  /// Of a diagnostic's name.
  [[nodiscard]] bool has(std::string_view code) const;
  [[nodiscard]] double limit(Limit limit) const { return limits_[static_cast<std::size_t>(limit)]; }

 private:
  std::array<bool, rule_count> on_{};
  std::vector<std::string> off_;
  std::array<double, limit_count> limits_{};
};

/// Whether a code is one of a rule or a diagnostic.
[[nodiscard]] bool is_code(std::string_view code);
/// The nearest code; empty if none is near.
[[nodiscard]] std::string_view nearest_code(std::string_view code);

}  // namespace arvik::checking
