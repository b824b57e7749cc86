#include <array>

#include "arvik/script_file.hpp"
#include "fields.hpp"

namespace arvik {
namespace {

using nlohmann::ordered_json;

constexpr std::array reveal_states{"revealing", "holding", "finished"};

std::int64_t count(const ordered_json& json, const char* key, std::int64_t most, bool& good) {
  const auto found = json.find(key);
  const bool fits = found != json.end() && found->is_number_integer() &&
                    found->get<std::int64_t>() >= 0 && found->get<std::int64_t>() <= most;
  good = good && fits;
  return fits ? found->get<std::int64_t>() : 0;
}

}  // namespace

std::string write_place(const ConversationPlace& place) {
  const ordered_json json = {
      {"arvik_place", 1},
      {"state", conversation_state_name(place.state)},
      {"line", place.line},
      {"clock_ns", place.clock.count()},
      {"since_ns", place.since.count()},
      {"line_time_ns", place.line_time.count()},
      {"part_time_ns", place.part_time.count()},
      {"part_shown", place.part_shown},
      {"shown_for_ns", place.shown_for.count()},
      {"portrait", place.portrait},
      {"reveal",
       {{"state", reveal_states[static_cast<std::size_t>(place.reveal.state)]},
        {"position_ns", place.reveal.position.count()},
        {"remainder", place.reveal.remainder},
        {"shown", place.reveal.shown},
        {"next_event", place.reveal.next_event}}}};
  return json.dump() + "\n";
}

tl::expected<ConversationPlace, Diagnostic> read_place(std::string_view text) {
  const auto located = script::parse_located(text);
  if (!located) return tl::unexpected(located.error());
  const ordered_json& json = located->root;
  const auto bad = [](std::string message) {
    return tl::unexpected(Diagnostic{.code = DiagnosticCode::bad_value,
                                     .severity = Severity::error,
                                     .message = std::move(message)});
  };
  if (!json.is_object() || !json.contains("arvik_place") || json.at("arvik_place") != 1) {
    return bad("\"arvik_place\": 1 is missing: is this a conversation's place?");
  }
  if (!json.contains("reveal") || !json.at("reveal").is_object())
    return bad("\"reveal\" is missing");
  constexpr std::int64_t most_time = max_duration.count();
  constexpr std::int64_t most_count = 0xFFFFFFFF;
  const ordered_json& reveal = json.at("reveal");
  bool good = true;
  const auto time = [&](const ordered_json& from, const char* key) {
    return Nanoseconds(count(from, key, most_time, good));
  };
  const auto number = [&](const ordered_json& from, const char* key) {
    return static_cast<std::uint32_t>(count(from, key, most_count, good));
  };
  ConversationPlace place;
  place.line = number(json, "line");
  place.clock = time(json, "clock_ns");
  place.since = time(json, "since_ns");
  place.line_time = time(json, "line_time_ns");
  place.part_time = time(json, "part_time_ns");
  place.part_shown = number(json, "part_shown");
  place.shown_for = time(json, "shown_for_ns");
  place.reveal.position = time(reveal, "position_ns");
  place.reveal.remainder = static_cast<std::int32_t>(count(reveal, "remainder", 999, good));
  place.reveal.shown = number(reveal, "shown");
  place.reveal.next_event = number(reveal, "next_event");
  const bool has_portrait = json.contains("portrait") && json.at("portrait").is_string();
  if (has_portrait) place.portrait = json.at("portrait").get<std::string>();
  bool state_known = false;
  for (int s = 0; s <= static_cast<int>(ConversationState::closing); ++s) {
    const auto state = static_cast<ConversationState>(s);
    if (!json.contains("state") || json.at("state") != conversation_state_name(state)) continue;
    place.state = state;
    state_known = true;
  }
  bool reveal_state_known = false;
  for (std::size_t s = 0; s < reveal_states.size(); ++s) {
    if (!reveal.contains("state") || reveal.at("state") != reveal_states[s]) continue;
    place.reveal.state = static_cast<RevealState>(s);
    reveal_state_known = true;
  }
  if (!good || !has_portrait || !state_known || !reveal_state_known) {
    return bad("a value of the place is missing or out of range");
  }
  return place;
}

}  // namespace arvik
