#include "arvik/place_file.hpp"

#include <algorithm>
#include <array>
#include <limits>
#include <nlohmann/json.hpp>

#include "../base/failure.hpp"
#include "hex.hpp"
#include "json.hpp"

namespace arvik {
namespace {

using nlohmann::ordered_json;
using script::from_hex;
using script::hex;
using script::JsonValue;

constexpr std::array<std::string_view, 3> reveal_states{"revealing", "holding", "finished"};

std::string_view reveal_state_name(RevealState state) {
  return reveal_states[static_cast<std::size_t>(state)];
}

// The values of an object: each of its type and within its range, or the place is none.
class PlaceReader {
 public:
  PlaceReader(const JsonValue& json, bool& good) : json_(json), good_(good) {}

  std::uint64_t count(std::string_view key, std::uint64_t most) {
    const auto value = json_.find(key);
    if (!value) {
      good_ = false;
      return 0;
    }
    const auto whole = value->whole();
    good_ = good_ && whole.has_value() && whole.value_or(0) <= most;
    return good_ ? whole.value_or(0) : 0;
  }
  std::uint32_t number(std::string_view key,
                       std::uint32_t most = std::numeric_limits<std::uint32_t>::max()) {
    return static_cast<std::uint32_t>(count(key, most));
  }
  Nanoseconds time(std::string_view key) {
    return Nanoseconds(
        static_cast<std::int64_t>(count(key, static_cast<std::uint64_t>(max_duration.count()))));
  }
  [[nodiscard]] bool is_there(std::string_view key) const { return json_.find(key).has_value(); }
  std::optional<Nanoseconds> time_if_there(std::string_view key) {
    if (!is_there(key)) return std::nullopt;
    return time(key);
  }
  std::string text(std::string_view key) {
    const auto value = json_.find(key);
    good_ = good_ && value && value->is_string();
    return good_ ? value->text() : std::string();
  }
  std::uint64_t fingerprint(std::string_view key) {
    const auto value = from_hex(text(key));
    good_ = good_ && value;
    return value.value_or(0);
  }
  template <typename Name, typename NameOf>
  Name name(std::string_view key, Name last, NameOf name_of) {
    const std::string word = text(key);
    for (int i = 0; i <= static_cast<int>(last); ++i) {
      if (name_of(static_cast<Name>(i)) == word) return static_cast<Name>(i);
    }
    good_ = false;
    return {};
  }
  template <typename Read>
  void object(std::string_view key, Read read) {
    const auto value = json_.find(key);
    good_ = good_ && value && value->is_object();
    if (!good_) return;
    PlaceReader reader(*value, good_);
    read(reader);
  }
  template <typename Read>
  void list(std::string_view key, Read read) {
    const auto value = json_.find(key);
    good_ = good_ && value && value->is_array();
    if (!good_) return;
    value->each([&](const JsonValue& entry) {
      good_ = good_ && entry.is_object();
      if (!good_) return;
      PlaceReader reader(entry, good_);
      read(reader);
    });
  }

 private:
  JsonValue json_;
  bool& good_;
};

ordered_json json_of(const LinePlace& place) {
  ordered_json passed = ordered_json::array();
  for (const PassedEvent& event : place.passed) {
    passed.push_back({{"kind", event_kind_name(event.kind)}, {"name", event.name}});
  }
  return {{"text", hex(place.text)},
          {"times", hex(place.times)},
          {"state", reveal_state_name(place.state)},
          {"position_ns", place.position.count()},
          {"remainder", place.remainder},
          {"shown", place.shown},
          {"steps", place.steps},
          {"part_begin", place.part_begin},
          {"part_end", place.part_end},
          {"of_layout", place.of_layout},
          {"behind_step_ns", place.behind_step.count()},
          {"passed", std::move(passed)}};
}

void read_line_place(PlaceReader& json, LinePlace& place) {
  place.text = json.fingerprint("text");
  place.times = json.fingerprint("times");
  place.state = json.name("state", RevealState::finished, reveal_state_name);
  place.position = json.time("position_ns");
  place.remainder = static_cast<std::int32_t>(json.number("remainder", 999));
  place.shown = json.number("shown");
  place.steps = json.number("steps");
  place.part_begin = json.number("part_begin");
  place.part_end = json.number("part_end");
  place.of_layout = json.number("of_layout");
  place.behind_step = json.time("behind_step_ns");
  json.list("passed", [&](PlaceReader& event) {
    place.passed.push_back(
        {event.name("kind", EventKind::portrait, event_kind_name), event.text("name")});
  });
}

ordered_json json_of(const TypingPlace& place) {
  ordered_json json = {{"started", place.started},
                       {"swallowed", place.swallowed},
                       {"last_sound", place.last_sound},
                       {"ringing", hex(place.ringing)}};
  if (place.last_start) json["last_start_ns"] = place.last_start->count();
  if (place.voice_end) json["voice_end_ns"] = place.voice_end->count();
  if (place.last_sample) json["last_sample"] = *place.last_sample;
  return json;
}

void read_typing_place(PlaceReader& json, TypingPlace& place) {
  place.started = json.number("started");
  place.swallowed = json.number("swallowed");
  place.last_sound = static_cast<std::uint16_t>(json.number("last_sound", StepSound::none));
  place.ringing = json.fingerprint("ringing");
  place.last_start = json.time_if_there("last_start_ns");
  place.voice_end = json.time_if_there("voice_end_ns");
  if (json.is_there("last_sample")) place.last_sample = json.number("last_sample");
}

}  // namespace

std::string write_place(const ConversationPlace& place) {
  const ConversationTimes& times = place.times;
  ordered_json history = ordered_json::array();
  for (const HistoryEntry& entry : place.history) {
    ordered_json told = {{"line", entry.line}, {"speaker", entry.speaker}, {"text", entry.text}};
    if (entry.conversation != place.conversation) told["conversation"] = entry.conversation;
    if (!entry.choice.empty() || !entry.answer.empty()) {
      told["choice"] = entry.choice;
      told["answer"] = entry.answer;
    }
    history.push_back(std::move(told));
  }
  const ordered_json json = {{"arvik_place", 2},
                             {"conversation", place.conversation},
                             {"line", place.line},
                             {"index", place.index},
                             {"lines", place.lines},
                             {"state", conversation_state_name(times.state)},
                             {"clock_ns", times.clock.count()},
                             {"since_ns", times.since.count()},
                             {"line_time_ns", times.line_time.count()},
                             {"part_time_ns", times.part_time.count()},
                             {"part_shown", times.part_shown},
                             {"grace_left_ns", times.grace_left.count()},
                             {"portrait", place.portrait},
                             {"in_line", json_of(place.in_line)},
                             {"typing", json_of(place.typing)},
                             {"history", std::move(history)}};
  // Names are UTF-8 unless the game put something else into the place.
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
  if (!version || version->whole() != 2) {
    return bad("\"arvik_place\": 2 is missing: is this a conversation's place?");
  }
  bool good = true;
  PlaceReader json(root, good);
  ConversationPlace place{.conversation = json.text("conversation"),
                          .line = json.text("line"),
                          .index = json.number("index"),
                          .lines = json.number("lines"),
                          .portrait = json.text("portrait")};
  ConversationTimes& times = place.times;
  times.state = json.name("state", ConversationState::closing, conversation_state_name);
  times.clock = json.time("clock_ns");
  times.since = json.time("since_ns");
  times.line_time = json.time("line_time_ns");
  times.part_time = json.time("part_time_ns");
  times.part_shown = json.number("part_shown");
  times.grace_left = json.time("grace_left_ns");
  json.object("in_line", [&](PlaceReader& value) { read_line_place(value, place.in_line); });
  json.object("typing", [&](PlaceReader& value) { read_typing_place(value, place.typing); });
  json.list("history", [&](PlaceReader& told) {
    HistoryEntry entry{.conversation = place.conversation,
                       .line = told.text("line"),
                       .speaker = told.text("speaker"),
                       .text = told.text("text")};
    if (told.is_there("conversation")) entry.conversation = told.text("conversation");
    if (told.is_there("choice")) {
      entry.choice = told.text("choice");
      entry.answer = told.text("answer");
    }
    place.history.push_back(std::move(entry));
  });
  if (!good) return bad("a value of the place is missing or out of range");
  return place;
}

}  // namespace arvik
