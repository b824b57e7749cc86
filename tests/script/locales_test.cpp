// A script in several files and several languages: tables, includes, looking up, what differs by
// locale, and going from one to another while a line is revealed.

#include <catch2/catch.hpp>
#include <filesystem>
#include <map>

#include "arvik/place_file.hpp"
#include "arvik/script_player.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

using Files = std::map<std::string, std::string>;

ScriptFiles files_of(Files files) {
  const auto shared = std::make_shared<const Files>(std::move(files));
  return {.read = [shared](const std::string& name) -> tl::expected<std::string, Diagnostic> {
            const auto found = shared->find(name);
            if (found != shared->end()) return found->second;
            return tl::unexpected(Diagnostic{.code = DiagnosticCode::file_unreadable,
                                             .message = "cannot read " + name});
          },
          .exists = [shared](const std::string& name) { return shared->contains(name); }};
}

// `code file row:column` of everything that is wrong.
std::string problems_of(const std::string& json, const Files& files = {}) {
  const auto script = parse_script(json, ScriptErrors::refuse, files_of(files), "main.json");
  const auto& problems = script ? script->diagnostics : script.error();
  std::string all;
  for (const Diagnostic& problem : problems) {
    all += std::string(all.empty() ? "" : ", ") + std::string(diagnostic_name(problem.code)) + ' ' +
           problem.file + ' ' + std::to_string(problem.row) + ':' + std::to_string(problem.column);
  }
  return all;
}

std::shared_ptr<const Script> read(const std::string& json, const Files& files = {}) {
  auto script = parse_script(json, ScriptErrors::refuse, files_of(files), "main.json");
  if (!script) FAIL(script.error()[0].message);
  return std::make_shared<const Script>(std::move(*script));
}

std::shared_ptr<const Script> in(const std::shared_ptr<const Script>& script,
                                 std::string_view locale) {
  auto localized = in_locale(script, locale);
  if (!localized) FAIL(localized.error().message);
  return *localized;
}

const std::string& text_of(const std::shared_ptr<const Script>& script, std::size_t line = 0) {
  return script->conversations.at(0).lines.at(line).text;
}

const std::string two_lines = R"({"arvik_script": 1, "strings": "s.csv", "conversations": {"a": [
  {"id": "x", "text": "Stop.", "choices": [{"id": "y", "text": "Go"}, {"id": "n"}]},
  {"id": "z"}]}})";
const Files two_files{{"s.csv",
                       "key,en,de,pt-PT,sr-Latn,#note\n"
                       "x,Halt!,Halt.,Pare.,Stani.,\n"
                       "y,,Los,,,\nn,No,Nein,Não,,\nz,Late,[],,Kasno,\n"}};

}  // namespace

TEST_CASE("texts are looked up by key, locale, parents and source locale") {
  const auto script = read(two_lines, two_files);
  CHECK(script->locales == std::vector<std::string>{"en", "de", "pt-PT", "sr-Latn"});
  CHECK(text_of(script) == "Stop.");  // the script's own goes before the table's
  CHECK(text_of(script, 1) == "Late");
  CHECK(script->conversations[0].lines[0].choices[1].text == "No");

  const auto austrian = in(script, "de-AT");
  CHECK(austrian->locale == "de-AT");
  CHECK(text_of(austrian) == "Halt.");
  CHECK(text_of(austrian, 1).empty());  // on purpose
  CHECK(austrian->diagnostics.empty());
  CHECK(austrian->conversations[0].lines[0].choices[0].text == "Los");

  const auto angolan = in(austrian, "pt-AO");  // from any locale to any other
  CHECK(text_of(angolan) == "Pare.");
  CHECK(text_of(angolan, 1) == "Late");
  REQUIRE(angolan->diagnostics.size() == 2);
  CHECK(angolan->diagnostics[0].code == DiagnosticCode::missing_text);
  CHECK(angolan->diagnostics[0].key == "y");
  CHECK(angolan->diagnostics[0].locale == "pt-AO");
  CHECK(angolan->diagnostics[0].severity == Severity::warning);

  CHECK(text_of(in(script, "sr-Latn-RS")) == "Stani.");
  CHECK_FALSE(in_locale(script, "sr").has_value());  // Cyrillic is not Latin
  const auto none = in_locale(script, "fr");
  REQUIRE_FALSE(none.has_value());
  CHECK(none.error().code == DiagnosticCode::unknown_locale);
  CHECK(none.error().message.find("en, de, pt-PT, sr-Latn") != std::string::npos);
  CHECK(text_of(in(angolan, "en")) == "Stop.");
}

TEST_CASE("a whole conversation may be a table") {
  const Files files{{"talk.csv",
                     "key;speaker;portrait;pace;auto;skippable;answer;leads_to;en;de\r\n"
                     "t1;pell;still;slow;1.5s;false;;;\"Well, \"\"no\"\".\";Nein.\r\n"
                     "t2;pell;;;reading;;;;What now?;Was nun?\r\n"
                     "t3;;;;;;true;a;Again.;Nochmal.\r\n"
                     "t4;;;;;;true;;Stop.;Halt.\r\n"
                     "t5;;;;;;false;;End.;Ende.\r\n"}};
  const std::string json = R"({"arvik_script": 1, "cast": {"pell": {"portraits": {"still": "p"}}},
    "paces": {"slow": {"rate": "10cps"}}, "conversations": {"a": "talk.csv"}})";
  const auto script = read(json, files);
  const auto& lines = script->conversations[0].lines;
  REQUIRE(lines.size() == 3);
  CHECK(lines[0].text == "Well, \"no\".");
  CHECK(lines[0].speaker == "pell");
  CHECK(lines[0].portrait == "still");
  CHECK(lines[0].pace->rate == 10);
  CHECK(lines[0].automatic->after == 1500ms);
  CHECK_FALSE(lines[0].skippable);
  CHECK(lines[1].automatic->reading);
  REQUIRE(lines[1].choices.size() == 2);
  CHECK(lines[1].choices[0].leads_to == "a");
  CHECK(lines[1].choices[1].text == "Stop.");
  CHECK(text_of(in(script, "de"), 1) == "Was nun?");

  // What is wrong is wrong in the table.
  const auto with = [&](const std::string& rows) {
    return problems_of(json,
                       {{"talk.csv", "key,speaker,portrait,auto,skippable,answer,en,de\n" + rows}});
  };
  CHECK(with("t1,pel,,,,,x,\n") == "unknown-speaker talk.csv 2:4");
  CHECK(with("t1,pell,calm,,,,x,\n") == "unknown-portrait talk.csv 2:9");
  CHECK(with("t1,,,soon,,,x,\n") == "bad-value talk.csv 2:6");
  CHECK(with("t1,,,,maybe,,x,\n") == "bad-value talk.csv 2:7");
  CHECK(with("t1,,,,,,,x\n") == "missing-text talk.csv 2:1");
  CHECK(with("t1,,,,,true,x,\n") == "bad-value talk.csv 2:8");
  CHECK(with("t1,,,,,,[bold: x],[b: \n") ==
        "unknown-tag talk.csv 2:10, missing-bracket talk.csv 2:19");
  CHECK(with("t1,pell,,,,,\"a, [portrait gone]\",\n") == "unknown-portrait talk.csv 2:17");
}

TEST_CASE("mistakes in the texts of all locales are told where they stand") {
  const std::string json = R"({"arvik_script": 1, "strings": ["s.csv", "t.csv"],
    "conversations": {"a": [{"id": "x"}, {"id": "gone"}, {}]}})";
  CHECK(problems_of(json, {{"s.csv", "key,en,pl\nx,a,\"[plural n: [one: b][other: c]]\"\n"},
                           {"t.csv", "key,en\nx,again\n"}}) ==
        "missing-text main.json 2:42, missing-text main.json 2:58, duplicate-id t.csv 2:1, "
        "missing-branch s.csv 2:6");
  CHECK(problems_of(json, {{"s.csv", "key,en\nx,a\n"}}) ==
        "file-unreadable main.json 1:42, missing-text main.json 2:42, missing-text main.json 2:58");
  // For players it is loaded all the same.
  const auto repaired =
      parse_script(json, ScriptErrors::repair, files_of({{"s.csv", "key,en\nx,[oops\n"}}));
  REQUIRE(repaired.has_value());
  CHECK(repaired->conversations[0].lines[0].text == "[oops");
}

TEST_CASE("shared files are said once") {
  const Files files{
      {"shared/cast.json",
       R"({"arvik_script": 1, "include": "deep/paces.json", "cast": {"pell": {"pace": "slow", "typing": "wood"}},
           "sounds": {"wood": {"samples": ["w.wav"]}}, "clips": {"thud": "../thud.wav"}})"},
      {"shared/deep/paces.json", R"({"arvik_script": 1, "paces": {"slow": {"rate": "10cps"}}})"}};
  const std::string json =
      R"({"arvik_script": 1, "include": ["shared/cast.json", "shared/deep/paces.json"],
    "paces": {"slower": {"based_on": "slow", "rate": "x0.5"}},
    "conversations": {"a": [{"speaker": "pell", "pace": "slower", "text": "Hm."}]}})";
  const auto script = read(json, files);
  CHECK(script->conversations[0].lines[0].pace->rate == 5);
  CHECK(script->sounds[0].samples[0] == "shared/w.wav");
  CHECK(script->clips[0].file == "thud.wav");
  CHECK(script->files == std::vector<std::string>{"shared/cast.json", "shared/deep/paces.json"});

  const auto with = [&](const std::string& include, Files more = {}) {
    more.insert(files.begin(), files.end());
    return problems_of(R"({"arvik_script": 1, "include": )" + include +
                           R"(, "conversations": {"a": [{"text": "Hm."}]}})",
                       more);
  };
  CHECK(with("\"gone.json\"") == "file-unreadable main.json 1:32");
  CHECK(with("\"../cast.json\"") == "file-outside main.json 1:32");
  CHECK(with("\"/etc/passwd\"") == "file-outside main.json 1:32");
  CHECK(with("\"shared/../../x.json\"") == "file-outside main.json 1:32");
  CHECK(with(R"("a\\b.json")") == "file-outside main.json 1:32");
  CHECK(with("\"\"") == "file-outside main.json 1:32");
  CHECK(with("5") == "bad-value main.json 1:32");
  CHECK(with("\"main.json\"") == "include-loop main.json 1:32");
  CHECK(with("\"l.json\"", {{"l.json", R"({"arvik_script": 1, "include": "m.json"})"},
                            {"m.json", R"({"arvik_script": 1, "include": "l.json"})"}}) ==
        "include-loop m.json 1:32");
  CHECK(with("\"l.json\"", {{"l.json", "{\n oops"}}) == "bad-json l.json 2:2");
  CHECK(with("\"l.json\"", {{"l.json", R"({"arvik_script": 1, "locale": "de", "pace": {}})"}}) ==
        "unknown-key l.json 1:37");
  CHECK(with("[\"shared/cast.json\", \"l.json\"]",
             {{"l.json", R"({"arvik_script": 1, "paces": {"slow": {}}, "cast": {"pell": {}}})"}}) ==
        "duplicate-id l.json 1:39, duplicate-id l.json 1:61");
  Files chain;
  for (int i = 0; i < 40; ++i) {
    chain[std::to_string(i)] =
        R"({"arvik_script": 1, "include": ")" + std::to_string(i + 1) + R"("})";
  }
  CHECK(with("\"0\"", chain) == "too-deep 31 1:32");
}

TEST_CASE("a locale has paces, sounds, box, fonts and voices of its own") {
  const Files files{
      {"s.csv", "key,en,de,ja,#\nx,Hm.,Hm.,うん,\ny,So,So,そう,\ncast.pell,Pell,Pell,ペル,\n"},
      {"voices/de/x.ogg", ""},
      {"voices/ja/y.ogg", ""},
      {"voices/en/y.ogg", ""}};
  const std::string json = R"({"arvik_script": 1, "strings": "s.csv", "fonts": ["Serif"],
    "cast": {"pell": {"name": "Pell", "pace": "slow", "typing": "wood"}},
    "paces": {"slow": {"rate": "10cps"}}, "sounds": {"wood": {"samples": ["w.wav"], "gap": "40ms"}},
    "styles": {"shout": ["b"]}, "box": {"width": 40, "rows": 2},
    "locales": {
      "de": {"rate": "x1.5", "box": {"width": 50}},
      "ja": {"paces": {"slow": {"based_on": "slow", "clause": "300ms", "rate": "x0.5"}},
             "sounds": {"wood": {"samples": ["j.wav"], "gap": "90ms"}},
             "styles": {"shout": ["color red"]}, "fonts": ["Mincho", "Serif"]}},
    "voices": {"pattern": "voices/{locale}/{key}.ogg", "files": {"de": {"y": "more/so.ogg"}}},
    "conversations": {"a": [
      {"id": "x", "speaker": "pell", "text": "Hm.", "voice": "own"},
      {"id": "y", "text": "So", "rate": "20cps"}]}})";
  const auto script = read(json, files);
  CHECK(script->locale == "en");
  const auto line = [](const std::shared_ptr<const Script>& of,
                       std::size_t i) -> const DialogueLine& {
    return of->conversations[0].lines[i];
  };
  CHECK(line(script, 0).voice == "own");
  CHECK(line(script, 1).voice == "voices/en/y.ogg");
  CHECK(script->box.width == 40);

  const auto german = in(script, "de");
  CHECK(line(german, 0).pace->rate == 15);
  CHECK(line(german, 1).pace->rate == 20);  // what the line says itself
  CHECK(german->box.width == 50);
  CHECK(german->box.max_rows == 2);
  CHECK(line(german, 0).voice == "voices/de/x.ogg");
  CHECK(line(german, 1).voice == "more/so.ogg");
  CHECK(std::any_of(german->clips.begin(), german->clips.end(),
                    [](const NamedClip& clip) { return clip.file == "more/so.ogg"; }));

  const auto japanese = in(german, "ja");
  CHECK(line(japanese, 0).pace->rate == 5);
  CHECK(line(japanese, 0).pace->clause == 300ms);
  CHECK(japanese->box.width == 40);
  CHECK(japanese->fonts == std::vector<std::string>{"Mincho", "Serif"});
  CHECK(japanese->sounds[0].gap == 90ms);
  CHECK(japanese->styles.at("shout").color.has_value());
  CHECK(line(japanese, 0).voice.empty());  // never from another language
  CHECK(line(japanese, 1).voice == "voices/ja/y.ogg");
  CHECK(japanese->find_speaker("pell")->name == "ペル");
  CHECK(line(in(japanese, "en"), 0).pace->rate == 10);

  const auto with = [](const std::string& locales) {
    return problems_of(R"({"arvik_script": 1, "paces": {"slow": {}}, "locales": )" + locales +
                       R"(, "conversations": {"a": [{"text": "x"}]}})");
  };
  CHECK(with(R"({"xx": {}})") == "unknown-locale main.json 1:62");
  CHECK(with(R"({"de": {"rate": "20cps"}})") == "bad-value main.json 1:71");
  CHECK(with(R"({"de": {"paces": {"slwo": {}}}})") == "unknown-pace main.json 1:81");
  CHECK(with(R"({"de": {"colour": 1}})") == "unknown-key main.json 1:63");
}

TEST_CASE("the language changes while a line is revealed") {
  const Files files{
      {"s.csv",
       "key,en,ar,ja,#\n"
       "x,,توقفت [mark bell]الساعة عند الرابعة.,時計が[mark bell]四時に止まった。,\n"
       "y,,[plural n: [zero: لا][one: و][two: م][few: ق][many: ك][other: آ]],[value n]滴,\n"
       "q,,نعم,はい,\nlast,,انتهى,終わり,\n"}};
  const auto script = read(
      R"({"arvik_script": 1, "strings": "s.csv", "locales": {"ja": {"box": {"width": 12}}},
          "box": {"width": 30, "rows": 2}, "conversations": {
          "a": [{"id": "x", "text": "The clock [mark bell]stopped at four."},
                {"id": "y", "text": "[plural n: [one: a drop][other: [value n] drops]]",
                 "choices": [{"id": "q", "text": "Yes", "leads_to": "b"}]}],
          "b": [{"id": "last", "text": "The end."}]}})",
      files);
  const GridFont grid;
  std::vector<std::string> missing;
  ScriptPlayerOptions options;
  options.values.value = [](std::string_view) { return std::int64_t{3}; };
  options.diagnostics = [&](const Diagnostic& problem) { missing.push_back(problem.key); };
  ScriptPlayer player = ScriptPlayer::open(script, grid, std::move(options)).value();
  Conversation& talk = player.conversation();
  REQUIRE(player.start("a").has_value());
  int bells = 0;
  const auto run = [&](Nanoseconds time, bool press) {
    for (const ConversationEvent& event : talk.tick(time, {.advance = press})) {
      bells += event.event != nullptr && event.event->name == "bell" ? 1 : 0;
    }
  };
  run(400ms, false);
  CHECK(bells == 1);
  const float shown =
      static_cast<float>(talk.view().shown) / static_cast<float>(talk.view().block->steps.size());
  REQUIRE(player.set_locale("ja").has_value());
  CHECK(player.locale() == "ja");
  CHECK(talk.view().block->marked.text == "時計が四時に止まった。");
  CHECK(talk.view().block->box.width == 12);
  const float after =
      static_cast<float>(talk.view().shown) / static_cast<float>(talk.view().block->steps.size());
  CHECK(after >= shown - 0.2F);
  CHECK(after < 1);
  // To and fro takes nothing away.
  const std::uint32_t before = talk.view().shown;
  for (int i = 0; i < 20; ++i) {
    REQUIRE(player.set_locale(i % 2 == 0 ? "en" : "ja").has_value());
  }
  CHECK(talk.view().shown == before);
  CHECK_FALSE(player.set_locale("fr").has_value());  // and nothing has changed
  CHECK(player.locale() == "ja");
  REQUIRE(player.set_locale("ar").has_value());
  CHECK(talk.view().block->box.width == 30);
  CHECK(talk.view().block->layout.steps[0].x > 20);  // from the right
  run(10s, false);
  CHECK(bells == 1);
  run(0ms, true);
  run(10s, false);
  CHECK(talk.state() == ConversationState::choosing);
  CHECK(talk.view().block->marked.text == "ق");
  CHECK(talk.view().choices[0].marked.text == "نعم");
  REQUIRE(player.set_locale("ja").has_value());
  CHECK(talk.view().choices[0].marked.text == "はい");
  CHECK(talk.state() == ConversationState::choosing);
  REQUIRE(talk.choose(0).has_value());
  run(1ms, false);
  // The history is told in the new language, of conversations before the answer, too.
  REQUIRE(player.set_locale("en").has_value());
  const auto history = talk.history();
  REQUIRE(history.size() == 3);
  CHECK(history[0].text == "The clock stopped at four.");
  CHECK(history[1].text == "3 drops");
  CHECK(history[1].answer == "Yes");
  CHECK(missing.empty());

  // A saved place is good in another language, and says where its history comes from.
  const ConversationPlace place = read_place(write_place(talk.place())).value();
  CHECK(place == talk.place());
  ScriptPlayer other =
      ScriptPlayer::open(
          script, grid, {.locale = "ja", .values = {.value = [](auto) { return std::int64_t{3}; }}})
          .value();
  REQUIRE(other.start_at(place).has_value());
  CHECK(other.conversation().history()[0].text == "時計が四時に止まった。");
  CHECK_FALSE(ScriptPlayer::open(script, grid, {.locale = "fr"}).has_value());
}

TEST_CASE("a script on the disk with its files") {
  namespace fs = std::filesystem;
  const auto script = load_script(std::string(ARVIK_SOURCE_DIR) + "/demo/tide_clock.script.json");
  REQUIRE(script.has_value());
  CHECK(script->diagnostics.empty());
  CHECK(script->locales == std::vector<std::string>{"en", "pl", "de", "ja", "ar"});
  const auto shared = std::make_shared<const Script>(*script);
  for (const std::string& locale : script->locales) {
    INFO(locale);
    CHECK(in(shared, locale)->diagnostics.empty());  // nothing is missing
  }
  CHECK_FALSE(load_script("/no/such.json").has_value());
  const ScriptFiles files = files_in(std::string(ARVIK_SOURCE_DIR) + "/demo");
  CHECK(files.exists("sounds/alarm.wav"));
  CHECK_FALSE(files.exists("sounds"));
  CHECK_FALSE(files.exists("no/such.wav"));
}
