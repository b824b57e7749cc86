// From a script to a conversation in one call: language, styles, sounds and answers in place.
#include <catch2/catch.hpp>

#include "arvik/script_player.hpp"
#include "support/english.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::grid;

namespace {

std::shared_ptr<const Script> script(const std::string& text) {
  auto read = parse_script(text);
  REQUIRE(read.has_value());
  return std::make_shared<const Script>(std::move(*read));
}

const char* const pier = R"({"arvik_script": 1, "locale": "en",
  "styles": {"dread": ["b"]},
  "box": {"width": 30},
  "conversations": {
    "pier": [
      {"id": "ask", "text": "[style dread: Who] goes there, [value name]?", "choices": [
        {"id": "friend", "text": "A friend.", "leads_to": "friend"},
        {"id": "nobody", "text": "Nobody.", "leads_to": "pier"},
        {"id": "leave", "text": "Leave.",
                  "available" : false
}]
},
      {"id": "never", "text": "Nobody comes here."}],
    "friend": [{"id": "welcome", "text": "Then come in."}]
}
})";

ScriptPlayer open(const std::shared_ptr<const Script>& what) {
  ScriptPlayerOptions options;
  options.values.value = [](std::string_view name) {
    return name == "name" ? std::optional<std::string>("Pell") : std::nullopt;
  };
  return ScriptPlayer::open(what, grid(), std::move(options)).value();
}

void press(Conversation& talk) {
  talk.tick(1s);
  talk.tick(1ms, {.advance = true});
  talk.tick(1ms);
}

}  // namespace

TEST_CASE("a script opens into a conversation with all that belongs to it") {
  ScriptPlayer player = open(script(pier));
  REQUIRE(player.start());
  Conversation& talk = player.conversation();
  talk.tick(10s);
  const ConversationView view = talk.view();
  CHECK(view.block->marked.text == "Who goes there, Pell?");
  CHECK(view.block->layout.styles[0].style.bold);
  CHECK(talk.diagnostics().empty());
  CHECK(talk.name() == "pier");
  CHECK(player.start("nowhere").error().code == DiagnosticCode::unknown_conversation);
  REQUIRE_FALSE(player.start().has_value());
  CHECK(player.start().error().code == DiagnosticCode::conversation_runs);
}

TEST_CASE("answers wait for a choice, and lead on in the same box") {
  ScriptPlayer player = open(script(pier));
  REQUIRE(player.start());
  Conversation& talk = player.conversation();
  CHECK(talk.choose(0).error().code == DiagnosticCode::bad_choice);
  talk.tick(10s);
  REQUIRE(talk.state() == ConversationState::choosing);
  CHECK(talk.view().choices.size() == 3);
  CHECK_FALSE(talk.view().indicator);
  press(talk);
  talk.tick(1ms, {.skip = true});
  CHECK(talk.state() == ConversationState::choosing);  // no button chooses
  CHECK(talk.choose(2).error().code == DiagnosticCode::bad_choice);
  CHECK(talk.choose(7).error().code == DiagnosticCode::bad_choice);
  const ConversationPlace place = talk.place();
  REQUIRE(talk.choose(1));
  std::string log;
  const auto look = [&](std::span<const ConversationEvent> events) {
    for (const ConversationEvent& event : events) {
      log += std::string(conversation_event_name(event.kind)) + ' ';
      if (event.kind == ConversationEventKind::chosen) log += std::to_string(event.choice) + ' ';
    }
  };
  look(talk.tick(10s));
  CHECK(log == "chosen 1 line_left line_started revealed line_finished choosing ");
  REQUIRE(talk.choose(0));
  talk.tick(10s);
  CHECK(talk.name() == "friend");
  CHECK(talk.view().block->marked.text == "Then come in.");
  CHECK(talk.view().openness == 1);
  const std::vector<HistoryEntry> history = talk.history();
  REQUIRE(history.size() == 3);
  CHECK(history[0].answer == "Nobody.");
  CHECK(history[1].answer == "A friend.");
  CHECK(history[1].choice == "friend");
  CHECK(history[2].answer.empty());

  // Loaded, it asks again.
  ScriptPlayer later = open(script(pier));
  REQUIRE(later.start_at(place));
  CHECK(later.conversation().state() == ConversationState::choosing);
  REQUIRE(later.conversation().choose(0));
  later.conversation().tick(10s);
  CHECK(later.conversation().name() == "friend");
  ScriptPlayer other =
      open(script(R"({"arvik_script": 1, "conversations": {"a": [{"text": "x"}]}})"));
  CHECK(other.start_at(place).error().code == DiagnosticCode::unknown_conversation);
}

TEST_CASE("an answer that leads back to its own line begins it anew") {
  ScriptPlayer player = open(script(R"({"arvik_script": 1, "conversations": {"a": [
    {"text": "[pause 500ms]One [mark m]two.", "choices": [{"text": "Again.", "leads_to": "a"}]}]}})"));
  REQUIRE(player.start());
  Conversation& talk = player.conversation();
  talk.tick(5s);
  REQUIRE(talk.set_box({.width = 5}));  // what has passed is no longer in this block
  REQUIRE(talk.choose(0));
  talk.tick(100ms);
  CHECK(talk.view().shown == 0);
  int marks = 0;
  for (const ConversationEvent& event : talk.tick(5s)) {
    marks += event.event != nullptr && event.event->kind == EventKind::mark ? 1 : 0;
  }
  CHECK(marks == 1);
  CHECK(talk.state() == ConversationState::choosing);
}

TEST_CASE("a script that was saved goes on where it was") {
  ScriptPlayer player = open(script(pier));
  REQUIRE(player.start());
  Conversation& talk = player.conversation();
  talk.tick(300ms);
  const std::uint32_t shown = talk.view().shown;
  std::string changed = pier;
  changed.replace(changed.find("goes there"), 10, "walks here");
  changed.replace(changed.find("\"b\""), 3, "\"i\"");
  REQUIRE(player.set_script(script(changed)));
  CHECK(talk.view().shown == shown);
  CHECK(talk.view().block->marked.text == "Who walks here, Pell?");
  CHECK(talk.view().block->layout.styles[0].style.italic);
  const auto gone =
      player.set_script(script(R"({"arvik_script": 1, "conversations": {"a": [{"text": "x"}]}})"));
  REQUIRE_FALSE(gone.has_value());
  CHECK(gone.error().code == DiagnosticCode::unknown_conversation);
  CHECK(talk.view().block->marked.text == "Who walks here, Pell?");
  talk.tick(10s);
  REQUIRE(talk.choose(0));
  talk.tick(10s);
  CHECK(talk.name() == "friend");
}

TEST_CASE("where answers lead is checked when a script is read") {
  const auto codes = [](const std::string& conversations) {
    const auto read = parse_script(R"({"arvik_script": 1, "conversations": )" + conversations + "}",
                                   ScriptErrors::repair);
    std::string all;
    for (const Diagnostic& problem : read->diagnostics) {
      all += std::string(diagnostic_name(problem.code)) + ' ' + problem.pointer +
             (problem.hint.empty() ? "" : " (" + problem.hint + ")") + '\n';
    }
    return all;
  };
  const auto line = [](const std::string& choices) {
    return R"([{"text": "x", "choices": [)" + choices + "]}]";
  };
  CHECK(codes(R"({"a": )" + line(R"({"text": "y", "leads_to": "harbor"})") +
              R"(, "harbour": [{"text": "z"}]})") ==
        "unknown-conversation /conversations/a/0/choices/0/leads_to (harbour)\n"
        "endless-loop /conversations/a\n");
  // Round and round, and a way out.
  CHECK(codes(R"({"a": )" + line(R"({"text": "y", "leads_to": "b"})") + R"(, "b": )" +
              line(R"({"text": "y", "leads_to": "a"})") + "}") ==
        "endless-loop /conversations/a\nendless-loop /conversations/b\n");
  CHECK(codes(R"({"a": )" + line(R"({"text": "y", "leads_to": "b"})") + R"(, "b": )" +
              line(R"({"text": "y", "leads_to": "a"}, {"text": "end"})") + "}")
            .empty());
  CHECK(codes(R"({"a": )" +
              line(R"({"text": "[colr red: y]"}, 5, {"id": 5, "text": "x", "to": "a"})") + "}") ==
        "unknown-tag /conversations/a/0/choices/0/text (color)\n"
        "bad-value /conversations/a/0/choices/1\n"
        "bad-value /conversations/a/0/choices/2/id\n"
        "unknown-key /conversations/a/0/choices/2/to\n");
}

TEST_CASE("a line that shows nothing is passed, and what happens in it is told") {
  ScriptPlayer player = open(script(R"({"arvik_script": 1, "conversations": {"a": [
    {"text": "One."}, {"text": "[mark lamp][sound thud]"}, {"text": "Two."}]}})"));
  REQUIRE(player.start());
  Conversation& talk = player.conversation();
  talk.tick(5s);
  talk.tick(1ms, {.advance = true});
  CHECK(talk.line() == 2);
  CHECK(talk.state() == ConversationState::revealing);
  bool thud = false;
  for (const SoundEvent& sound : talk.sounds()) thud = thud || sound.name == "thud";
  CHECK(thud);
  talk.tick(5s);
  CHECK(talk.history().size() == 2);
}
