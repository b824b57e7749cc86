#include <array>
#include <limits>
#include <nlohmann/json.hpp>

#include "../base/failure.hpp"
#include "arvik/place_file.hpp"
#include "json.hpp"

namespace arvik {
namespace {

using script::JsonValue;

constexpr std::array<std::string_view, 3> reveal_states{"revealing", "holding", "finished"};

// The values of a place: whole numbers within their ranges.
class PlaceReader {
 public:
  explicit PlaceReader(const JsonValue& json) : json_(json) {}

  std::uint64_t count(std::string_view key, std::uint64_t most) {
    const auto value = json_.find(key);
    const auto whole = value ? value->whole() : std::nullopt;
    good_ = good_ && whole && *whole <= most;
    return good_ ? *whole : 0;
  }
  std::uint32_t number(std::string_view key) {
    return static_cast<std::uint32_t>(count(key, std::numeric_limits<std::uint32_t>::max()));
  }
  Nanoseconds time(std::string_view key) {
    return Nanoseconds(
        static_cast<std::int64_t>(count(key, static_cast<std::uint64_t>(max_duration.count()))));
  }
  std::string text(std::string_view key) {
    const auto value = json_.find(key);
    good_ = good_ && value && value->is_string();
    return good_ ? value->text() : std::string();
  }
  template <typename State, typename NameOf>
  State state(State last, NameOf name_of) {
    const std::string name = text("state");
    for (int s = 0; s <= static_cast<int>(last); ++s) {
      if (name_of(static_cast<State>(s)) == name) return static_cast<State>(s);
    }
    good_ = false;
    return {};
  }
  [[nodiscard]] bool good() const { return good_; }

 private:
  JsonValue json_;
  bool good_ = true;
};

}  // namespace

std::string write_place(const ConversationPlace& place) {
  const nlohmann::ordered_json json = {
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
  // A portrait's name is UTF-8 unless the game put something else into the place.
  return json.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace) + "\n";
}

tl::expected<ConversationPlace, Diagnostic> read_place(std::string_view text) {
  const auto document = script::JsonDocument::parse(text);
  if (!document) return tl::unexpected(document.error());
  const auto bad = [](std::string message) {
    return base::failure(DiagnosticCode::bad_value, std::move(message));
  };
  const JsonValue root = document->root();
  const auto version = root.find("arvik_place");
  if (!version || version->whole() != 1) {
    return bad("\"arvik_place\": 1 is missing: is this a conversation's place?");
  }
  const auto of_reveal = root.find("reveal");
  if (!of_reveal || !of_reveal->is_object()) return bad("\"reveal\" is missing");
  PlaceReader json(root);
  PlaceReader reveal(*of_reveal);
  ConversationPlace place{
      .state = json.state(ConversationState::closing, conversation_state_name),
      .line = json.number("line"),
      .clock = json.time("clock_ns"),
      .since = json.time("since_ns"),
      .line_time = json.time("line_time_ns"),
      .part_time = json.time("part_time_ns"),
      .part_shown = json.number("part_shown"),
      .shown_for = json.time("shown_for_ns"),
      .reveal = {.position = reveal.time("position_ns"),
                 .remainder = static_cast<std::int32_t>(reveal.count("remainder", 999)),
                 .shown = reveal.number("shown"),
                 .next_event = reveal.number("next_event"),
                 .state = reveal.state(RevealState::finished,
                                       [](RevealState state) {
                                         return reveal_states[static_cast<std::size_t>(state)];
                                       })},
      .portrait = json.text("portrait")};
  if (!json.good() || !reveal.good()) {
    return bad("a value of the place is missing or out of range");
  }
  return place;
}

}  // namespace arvik
