// Scripts: what is read, and every problem at once with its place.
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <sstream>

#include "arvik/place_file.hpp"
#include "arvik/script_file.hpp"
#include "support/process.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

std::string describe(const std::vector<Diagnostic>& problems) {
  std::ostringstream out;
  for (const Diagnostic& d : problems) {
    if (out.tellp() > 0) out << '\n';
    out << d.row << ':' << d.column << ' ' << d.pointer << ' ' << diagnostic_name(d.code) << ": "
        << d.message;
    if (!d.hint.empty()) out << " (" << d.hint << ")";
  }
  return out.str();
}

std::string script_problems(const std::string& json) {
  const auto script = parse_script(json);
  return script ? describe(script->diagnostics) : describe(script.error());
}

// A script whose one conversation "a" has these lines, on the second row.
std::string with_lines(const std::string& lines) {
  return R"({"arvik_script": 1, "cast": {"odrun": {"pace": "slow", "portraits": {"calm": "-"}}},
"paces": {"slow": {"rate": "10cps"}}, "styles": {"dread": ["i"]}, "conversations": {"a": [
)" + lines +
         "]}}";
}

}  // namespace

TEST_CASE("a script gives lines with everything looked up") {
  const Script script = parse_script(R"({
    "arvik_script": 1, "locale": "pl", "description": "a scene",
    "cast": {"odrun": {"name": "Odrun", "color": "teal", "pace": "slow", "typing": "wood",
                       "portraits": {"calm": "calm.png"}}, "pell": {}},
    "paces": {"slow": {"rate": "10cps"}, "slower": {"based_on": "slow", "rate": "x0.5"}},
    "styles": {"dread": ["i"]},
    "box": {"width": 40, "rows": 3, "align": "center", "overflow": "shrink", "balanced": true},
    "conversations": {"a": [
      {"id": "1", "speaker": "odrun", "portrait": "calm", "text": "[style dread: x] [value y]"},
      {"speaker": "odrun", "pace": "slower", "rate": "x2", "typing": "reed", "voice": "v1",
       "skippable": false, "auto": "1.5s", "append": true, "instant": true, "text": "[[y]]"},
      {"text": "z", "auto": "reading", "speaker": "pell"}], "b": [{"text": "w"}]}
  })")
                            .value();
  CHECK(script.diagnostics.empty());
  CHECK(script.locale == "pl");
  REQUIRE(script.cast.size() == 2);
  CHECK(script.find_speaker("odrun")->color == Rgba{0, 128, 128, 255});
  CHECK(script.find_speaker("pell")->name == "pell");
  CHECK(script.find_speaker("vane") == nullptr);
  CHECK(script.box.width == 40);
  CHECK(script.box.max_rows == 3);
  CHECK(script.box.align == Align::center);
  CHECK(script.box.overflow == Overflow::shrink);
  CHECK(script.box.balanced);
  const auto& lines = script.find_conversation("a")->lines;
  REQUIRE(lines.size() == 3);
  CHECK(lines[0].pace->rate == 10);
  CHECK(lines[0].typing == "wood");
  CHECK(lines[0].portrait == "calm");
  CHECK(lines[1].pace->rate == 10);
  CHECK(lines[1].typing == "reed");
  CHECK(lines[1].voice == "v1");
  CHECK_FALSE(lines[1].skippable);
  CHECK(lines[1].automatic->after == 1500ms);
  CHECK(lines[1].append);
  CHECK(lines[1].instant);
  CHECK(lines[2].automatic->reading);
  CHECK(lines[2].pace->rate == Pace{}.rate);
  CHECK(script.find_conversation("c") == nullptr);
}

TEST_CASE("every problem of a script is told at once, with its place") {
  struct Row {
    std::string json;
    const char* problems;
  };
  const Row rows[] = {
      {"[]", "1:1  bad-value: a script is a JSON object"},
      {"{}",
       "1:1  bad-value: \"arvik_script\": 1 is missing: is this a script?\n"
       "1:1  bad-value: \"conversations\" is missing"},
      {R"({"arvik_script": 2, "conversation": {}, "conversations": [], "cast": 1, "box": 5})",
       "1:18 /arvik_script bad-value: this version reads format 1 only\n"
       "1:80 /box bad-value: a box is a JSON object\n"
       "1:70 /cast bad-value: cast must be an object: ids with speakers\n"
       "1:58 /conversations bad-value: conversations must be an object: names with lines\n"
       "1:21 /conversation unknown-key: a script has no key \"conversation\" (conversations)"},
      {R"({"arvik_script": 1, "arvik_script": 1, "locale": "no such", "conversations": {"a": 5}})",
       "1:21 /arvik_script duplicate-id: this key stands twice in its object\n"
       "1:50 /locale bad-value: no rules for language \"no such\": not a BCP 47 language tag\n"
       "1:84 /conversations/a bad-value: a conversation is a list of lines, or the name of a "
       "table"},
      {R"({"arvik_script": 1, "conversations": {"a": []}})",
       "1:44 /conversations/a nothing-to-say: conversation \"a\" has no lines"},
      {R"({"arvik_script": 1, "box": {"width": 0, "align": "middle", "rows": "3"},
"cast": {"o": {"color": "tael", "pace": "fast", "portraits": 1, "nme": "O"}}, "conversations": {}})",
       "1:38 /box/width bad-value: width is out of range\n"
       "1:68 /box/rows bad-value: rows must be a whole number\n"
       "1:50 /box/align bad-value: align must be one of: start, center, end\n"
       "2:41 /cast/o/pace unknown-pace: no pace is named \"fast\"\n"
       "2:25 /cast/o/color bad-value: \"tael\" is not a colour: write #rrggbb, #rrggbbaa or a CSS "
       "colour name\n"
       "2:62 /cast/o/portraits bad-value: portraits must be an object: names with pictures\n"
       "2:65 /cast/o/nme unknown-key: a speaker has no key \"nme\" (name)"},
      {with_lines(R"({"txt": "x"}, 5, {"text": 5}, {"text": ""})"),
       "3:1 /conversations/a/0 bad-value: a text is missing\n"
       "3:2 /conversations/a/0/txt unknown-key: a line has no key \"txt\" (text)\n"
       "3:15 /conversations/a/1 bad-value: a line is a JSON object\n"
       "3:27 /conversations/a/2/text bad-value: text must be a string\n"
       "3:40 /conversations/a/3/text nothing-to-say: this text is empty"},
      {with_lines(R"({"id": "1", "text": "x"}, {"id": "1", "text": "y", "speaker": "odrum"})"),
       "3:34 /conversations/a/1/id duplicate-id: another line or answer has the id \"1\", too: "
       "/conversations/a/0/id\n"
       "3:63 /conversations/a/1/speaker unknown-speaker: nobody of the cast is \"odrum\" (odrun)"},
      {with_lines(R"({"speaker": "odrun", "portrait": "clam", "pace": "slwo", "rate": "2",
"auto": "soon", "append": true, "skippable": "no", "text": "x[portrait cal]"})"),
       "3:34 /conversations/a/0/portrait unknown-portrait: \"odrun\" has no portrait \"clam\" "
       "(calm)\n"
       "3:50 /conversations/a/0/pace unknown-pace: no pace is named \"slwo\" (slow)\n"
       "3:66 /conversations/a/0/rate bad-value: \"2\" is not a rate: write it like x0.5 or 20cps\n"
       "4:46 /conversations/a/0/skippable bad-value: skippable must be true or false\n"
       "4:9 /conversations/a/0/auto bad-value: \"soon\" is no time: write it like 1.5s, or "
       "reading\n"
       "4:62 /conversations/a/0/text unknown-portrait: \"odrun\" has no portrait \"cal\" (row 1, "
       "column 2 of the text) (calm)\n"
       "4:27 /conversations/a/0/append bad-value: the first line has nothing to be appended to"},
      // The place inside a text is a place in the file, whatever the string is escaped with.
      {with_lines(R"({"text": "\u00e9\n\ud83d\ude00\t[puase 1s] [style draed: x]"})"),
       "3:34 /conversations/a/0/text unknown-tag: unknown tag \"puase\" (row 2, column 4 of the "
       "text) (pause)\n"
       "3:51 /conversations/a/0/text unknown-style: no style is named \"draed\" (row 2, column 21 "
       "of the text) (dread)"},
  };
  for (const Row& row : rows) {
    INFO(row.json);
    CHECK(script_problems(row.json) == row.problems);
  }
  CHECK(parse_script("{\"arvik_script\": 1,}").error()[0].code == DiagnosticCode::bad_json);
}

TEST_CASE("a script with warnings loads") {
  const auto script = parse_script(R"({"arvik_script": 1, "conversations": {"a": []}})");
  REQUIRE(script.has_value());
  CHECK(script->diagnostics.size() == 1);
}

TEST_CASE("a conversation's place goes through JSON unchanged, and wrong ones are refused") {
  const ConversationPlace place{
      .conversation = "the_stop",
      .line = "stop_03",
      .index = 3,
      .lines = 9,
      .times = {.state = ConversationState::holding,
                .clock = 123456789ns,
                .since = 5ms,
                .line_time = 70ms,
                .part_time = 60ms,
                .part_shown = 2,
                .grace_left = 1ms},
      .in_line = {.text = 0xFEDCBA9876543210,
                  .times = 5,
                  .state = RevealState::holding,
                  .position = 44ns,
                  .remainder = 999,
                  .shown = 7,
                  .passed = {{EventKind::mark, "a"}, {EventKind::hold, ""}},
                  .steps = 12,
                  .part_begin = 7,
                  .part_end = 12,
                  .of_layout = 1,
                  .behind_step = 3ns},
      .portrait = "calm",
      .typing = {.last_start = 40ns,
                 .voice_end = 50ns,
                 .started = 4,
                 .swallowed = 1,
                 .last_sample = 2,
                 .last_sound = 0,
                 .ringing = 1},
      .history = {
          {.line = "stop_02", .speaker = "pell", .text = "Yes.", .answer = "No.", .choice = "n"},
          {.line = "", .speaker = "", .text = "x"}}};
  const std::string json = write_place(place);
  CHECK(read_place(json).value() == place);
  CHECK(read_place(write_place({})).value() == ConversationPlace{});
  CHECK_FALSE(read_place("").has_value());
  CHECK_FALSE(read_place("[]").has_value());
  CHECK_FALSE(read_place("{\"arvik_place\": 2}").has_value());
  const nlohmann::json wrong = nlohmann::json::parse(json);
  for (const auto& [key, value] : wrong.items()) {
    nlohmann::json without = wrong;
    without.erase(key);
    INFO(key);
    CHECK_FALSE(read_place(without.dump()).has_value());
  }
  const std::vector<std::pair<const char*, nlohmann::json>> changes{
      {"state", "asleep"}, {"line", -1}, {"clock_ns", "1"}, {"portrait", 5}, {"part_shown", 1e30}};
  for (const auto& [key, value] : changes) {
    nlohmann::json changed = wrong;
    changed[key] = value;
    INFO(key);
    CHECK_FALSE(read_place(changed.dump()).has_value());
  }
}

TEST_CASE("the demo script uses every tag but bold, which a style of it has") {
  const Script script =
      load_script(std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.script.json").value();
  CHECK(script.diagnostics.empty());
  const auto& lines = script.conversations[0].lines;
  CHECK(lines.size() >= 25);
  CHECK(lines.size() <= 40);
  std::string all;
  for (const DialogueLine& entry : lines) all += entry.text;
  for (const char* tag : {"[pause ", "[hold]",  "[rate ",   "[whole: ", "[by ",       "[flow: ",
                          "[mark ",  "[sound ", "[typing ", "[mute: ",  "[portrait ", "[i: ",
                          "[u: ",    "[s: ",    "[color ",  "[size ",   "[style ",    "[enter ",
                          "[icon ",  "[value ", "[page]",   "[keep: ",  "[lang ",     "[ruby "}) {
    INFO(tag);
    CHECK(all.find(tag) != std::string::npos);
  }
}

TEST_CASE("sounds and clips of a script, and names that are not among them") {
  const auto script = [](const std::string& typing, const std::string& text) {
    return R"({"arvik_script": 1, "cast": {"odrun": {"typing": ")" + typing + R"("}},
"sounds": {"wood": {"samples": ["w.wav"], "choose": "by_letter", "gap": "60ms", "every": 2,
                    "pitch": ["-2st", "3st"], "gain": "-6dB", "heard": ["digits"], "voices": 3,
                    "under_voice": "silent", "pan": 0.5, "seed": 9, "fade": "20ms",
                    "ending": "cut", "question_pitch": "4st", "statement_pitch": "-1st"}},
"clips": {"thud": "t.wav"},
"conversations": {"a": [{"speaker": "odrun", "text": ")" +
           text + R"("}]}})";
  };
  const Script good = parse_script(script("wood", "[sound thud][typing wood: x]")).value();
  REQUIRE(good.sounds.size() == 1);
  const TypingSound& wood = good.sounds[0];
  CHECK(wood.name == "wood");
  CHECK(wood.samples == std::vector<std::string>{"w.wav"});
  CHECK(wood.choice == SampleChoice::by_letter);
  CHECK(wood.gap == 60ms);
  CHECK(wood.every == 2);
  CHECK(wood.pitch.low == -2);
  CHECK(wood.pitch.high == 3);
  CHECK(wood.gain.low == -6);
  CHECK(wood.gain.high == -6);
  CHECK(wood.heard.digits);
  CHECK_FALSE(wood.heard.letters);
  CHECK(wood.voices == 3);
  CHECK(wood.under_voice == silence);
  CHECK(wood.pan == 0.5);
  CHECK(wood.seed == 9);
  CHECK(wood.fade == 20ms);
  CHECK(wood.ending == SoundEnding::cut);
  CHECK(wood.question_pitch == 4);
  CHECK(wood.statement_pitch == -1);
  CHECK(good.clips[0].file == "t.wav");
  CHECK(good.conversations[0].lines[0].typing == "wood");
  CHECK(script_problems(script("wod", "a [sound tud] [typing reed: x]")) ==
        "1:50 /cast/odrun/typing unknown-sound: no typing sound is named \"wod\" (wood)\n"
        "7:57 /conversations/a/0/text unknown-sound: no clip is named \"tud\" (row 1, column 3 of "
        "the text) (thud)\n"
        "7:69 /conversations/a/0/text unknown-sound: no typing sound is named \"reed\" (row 1, "
        "column 15 of the text)");
}
