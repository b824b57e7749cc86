// The pause rules of DESIGN.md §6, read where users read them: in what `arvik schedule` prints.
//
// A case is a text with a `<reason>` behind each step that is to carry an automatic pause; every
// other step must carry none. All cases of a language go through one run of the tool.

#include <catch2/catch.hpp>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <sstream>
#include <vector>

#include "support/process.hpp"

using namespace arvik::test;

namespace {

struct PauseCase {
  const char* group;
  const char* language;
  const char* expected;
};

// `<…>` taken out; `\n` in the table is a written row end, so that a case stays one row.
std::string source_of(std::string expected) {
  std::string source;
  bool inside = false;
  for (const char c : expected) {
    if (c == '<') inside = true;
    if (!inside) source += c == '\n' ? std::string("[br]") : std::string(1, c);
    if (c == '>') inside = false;
  }
  return source;
}

std::string marked_up(const nlohmann::json& schedule) {
  std::string result;
  for (const auto& step : schedule["steps"]) {
    result += step["text"];
    if (step.contains("pause_reason"))
      result += "<" + step["pause_reason"].get<std::string>() + ">";
  }
  return result;
}

void check(const std::vector<PauseCase>& rows, const std::vector<std::string>& options = {}) {
  std::map<std::string, std::vector<const PauseCase*>> by_language;
  for (const PauseCase& row : rows) by_language[row.language].push_back(&row);
  for (const auto& [language, cases] : by_language) {
    std::string input;
    for (const PauseCase* row : cases) input += source_of(row->expected) + "\n";
    std::vector<std::string> command{ARVIK_TOOL, "schedule", "--batch", "--lang", language};
    command.insert(command.end(), options.begin(), options.end());
    const Outcome outcome = run(command, input);
    REQUIRE(outcome.err == "");
    std::istringstream lines(outcome.out);
    std::size_t read = 0;
    for (std::string line; std::getline(lines, line); ++read) {
      REQUIRE(read < cases.size());
      INFO(cases[read]->group << " (" << language << ")");
      CHECK(marked_up(nlohmann::json::parse(line)) == cases[read]->expected);
    }
    CHECK(read == cases.size());
  }
}

}  // namespace

// Read by eye, line by line: tests/expected holds the demo's prose with its pauses.
TEST_CASE("the demo's prose rests where a reader rests") {
  for (const std::string language : {"ar", "de", "el", "en", "es", "fr", "he", "hi", "it", "ja",
                                     "ko", "pl", "pt", "ru", "th", "uk", "vi", "zh"}) {
    const std::string folder = ARVIK_SOURCE_DIR;
    std::istringstream expected(read_whole(folder + "/tests/expected/prose_" + language + ".txt"));
    std::istringstream prose(read_whole(folder + "/demo/prose_" + language + ".txt"));
    std::vector<std::string> lines;
    for (std::string line; std::getline(expected, line);) lines.push_back(line);
    REQUIRE(lines.size() >= 14);
    std::size_t row = 0;
    for (std::string line; std::getline(prose, line);) {
      if (line.starts_with('#')) continue;
      REQUIRE(row < lines.size());
      CHECK(source_of(lines[row++]) == line);
    }
    CHECK(row == lines.size());
    std::vector<PauseCase> rows;
    for (const std::string& line : lines) rows.push_back({"prose", language.c_str(), line.c_str()});
    check(rows);
  }
}

TEST_CASE("which step carries which pause") {
  check({
      // a run of punctuation pauses once, after its last character, with the longest class
      {"run", "en", "What?!<sentence> No!!!<sentence> Never."},
      {"run", "en", "Wait...<ellipsis> what?"},
      {"run", "en", "dot,<clause> dot,<clause> dot"},
      {"run", "en", "one,<clause> two;<clause> three:<clause> four"},
      {"run", "en", "Stop!—<sentence>he cried"},
      {"run", "en", "So . . .<ellipsis> you came"},
      {"run", "en", "Hm..<sentence> no"},
      {"run", "en", "You...?<ellipsis> Here"},
      {"run", "ja", "えっ?!<sentence>まさか"},
      {"run", "ja", "止まった！！<sentence>早く"},
      {"run", "ja", "そう……<ellipsis>ですか"},
      {"run", "ja", "そう・・・<ellipsis>ですか"},
      {"run", "ja", "あのう。。。<ellipsis>はい"},
      {"run", "ar", "ماذا؟!<sentence> لا"},
      {"run", "hi", "क्या?!<sentence> नहीं"},
      // closing quotes and brackets belong to the sentence
      {"quotes", "en", "“Stop.”<sentence> She ran."},
      {"quotes", "en", "\"Stop!\"<sentence> She ran."},
      {"quotes", "en", "(He left.)<sentence> She ran."},
      {"quotes", "en", "\"Wait,\"<clause> she said."},
      {"quotes", "en", "He said,<clause> “Go.”<sentence> “No.”"},
      {"quotes", "en", "'Go.'<sentence> 'No.'"},
      {"quotes", "de", "„Halt.“<sentence> Sie lief."},
      {"quotes", "de", "»Halt.«<sentence> Sie lief."},
      {"quotes", "fr", "« Oui.\u00a0»<sentence> Elle part."},
      {"quotes", "ja", "「止まれ。」<clause>と言った"},
      {"quotes", "ja", "「本当？」<clause>って聞いた"},
      {"quotes", "ja", "「止まれ。」<sentence>彼女は走った"},
      // the sentence around a quote goes on, where that can be told
      {"quotes", "en", "“You heard it?”<clause> she asked."},
      {"quotes", "en", "“You heard it?”<sentence> She asked."},
      {"quotes", "en", "my name (twice!),<clause> then"},
      {"quotes", "en", "my name (twice!)<clause> and"},
      {"quotes", "en", "wait.<sentence> what?<sentence> no"},
      {"quotes", "ja", "名前を（二度も！）<clause>呼んで"},
      {"quotes", "ar", "(مرتين!)،<clause> ثم"},
      {"quotes", "ja", "（嘘だ。）<sentence>彼女は走った"},
      {"quotes", "ja", "そうだ。<sentence>「次」へ"},
      {"quotes", "zh", "“好。”<clause>他说"},
      {"quotes", "ar", "«قف.»<sentence> ركضت"},
      // numbers, times, versions, domains, initialisms, abbreviations
      {"numbers", "en", "It is 3.14 fathoms"},
      {"numbers", "en", "1,000 lamps at 10:30"},
      {"numbers", "en", "v2.0 of tide.example.org now"},
      {"numbers", "en", "the .5 gauge"},
      {"numbers", "en", "in 1999.<sentence> Then"},
      {"numbers", "en", "one,<clause> 2,<clause> 3"},
      {"numbers", "en", "https://tide.example.org is down"},
      {"numbers", "ja", "水位は3.14です。<sentence>次"},
      {"numbers", "ja", "１，０００個と１０：３０"},
      {"numbers", "ar", "١،٠٠٠ مصباح"},
      {"numbers", "hi", "३.१४ फ़ुट"},
      {"initialisms", "en", "the U.S. canal"},
      {"initialisms", "en", "J. R. Odrun spoke"},
      {"initialisms", "en", "So did I.<sentence> Then"},
      {"initialisms", "en", "a Ph.D. in tides"},
      {"abbreviations", "en", "Mr. Odrun and Dr. Pell"},
      {"abbreviations", "en", "No. 5 and no.<sentence> Never"},
      {"abbreviations", "en", "at 6 p.m. on Friday"},
      {"abbreviations", "en", "at 6 p.m.<sentence> Then"},
      {"abbreviations", "en", "ropes,<clause> etc.,<clause> and"},
      {"abbreviations", "en", "That is how it is.<sentence> Come in.<sentence> OK.<sentence> Go"},
      {"abbreviations", "de", "z.B. die Uhr,<clause> d.h. das Tor"},
      {"abbreviations", "de", "Ich danke Dir.<sentence> Komm"},
      {"abbreviations", "pl", "np. zegar,<clause> tzn. czas"},
      {"abbreviations", "ru", "до н. э. и т.д. здесь"},
      {"abbreviations", "pl", "w 1204 r.,<clause> wiatr płn.-zach.,<clause> p. Odrun ok. godz. 18"},
      {"abbreviations", "pl", "w 1204 r.<sentence> Potem"},
      {"abbreviations", "en", "the harbour co.,<clause> as they say"},
      {"abbreviations", "ar", "جاء د. فان وكتب ج. ت. هارو"},
      {"abbreviations", "he", "אמר א. ב. כהן"},
      {"ordinals", "de", "am 3. Mai,<clause> im 2. Stock,<clause> das 1. und letzte"},
      {"ordinals", "de",
       "Es waren 12.<sentence> Dann kam Pell,<clause> im Jahr 1912.<sentence> da"},
      {"ordinals", "pl", "dnia 3. maja o 7.<sentence> Zabrał 3.1.<sentence> i"},
      {"ordinals", "en", "It was 3.<sentence> and then"},
      // apostrophes and hyphens inside words; dashes
      {"words", "en", "the lock-keeper's don't-know"},
      {"words", "en", "rock 'n' roll ’tis"},
      {"words", "fr", "aujourd’hui l’eau"},
      {"words", "hi", "धीरे-धीरे चलो"},
      {"dashes", "en", "the clock —<dash> stopped"},
      {"dashes", "en", "the clock—<dash>stopped"},
      {"dashes", "en", "the clock --<dash> stopped"},
      {"dashes", "en", "the clock -<dash> stopped"},
      {"dashes", "en", "rows 10–12 of Pell–Odrun"},
      {"dashes", "en", "no –<dash> wait"},
      {"dashes", "pl", "— Nie ma wody —<dash> rzekła"},
      // a dash behind a rest opens what follows
      {"dashes", "pl", "– Słyszałaś?<clause> – zapytał.<sentence> – Tak,<clause> – odparła"},
      {"dashes", "en", "“Who’s there?”<sentence> — “Only me…<ellipsis> — and you”"},
      {"dashes", "ja", "時計が――<dash>止まった"},
      {"dashes", "ja", "え〜と"},
      // other scripts
      {"scripts", "ja", "水門、<clause>時計、<clause>塔"},
      {"scripts", "ar", "الماء،<clause> والساعة؛<clause> انظر"},
      {"scripts", "ar", "هل توقفت؟<sentence> نعم"},
      {"scripts", "hi", "घड़ी रुक गई।<sentence> पानी"},
      {"scripts", "hi", "रुको,<clause> सुनो॥<sentence> चलो"},
      {"scripts", "ur", "گھڑی رک گئی۔<sentence> پانی"},
      {"scripts", "zh", "停了。<sentence>水，<clause>没有"},
      {"scripts", "el", "Τι;<sentence> Ναι"},
      {"scripts", "en", "Hey;<clause> yes"},
      {"scripts", "he", "עצור.<sentence>\u200f רוץ"},
      // row ends
      {"rows", "en", "No wind\n<row end>no water"},
      {"rows", "en", "No wind.\n<sentence>No water"},
      {"rows", "en", "No wind.\n\n<paragraph>No water"},
      {"rows", "en", "No wind \n<row end> x"},
      {"rows", "ja", "風はない\n<row end>水もない"},
      // the last step with ink has none, nor what stands behind it
      {"last", "en", "Stop."},
      {"last", "en", "Stop.  "},
      {"last", "ja", "止まれ。"},
      {"last", "ar", "قف؟"},
      {"last", "en", "(Stop.)"},
      {"last", "en", "..."},
      {"last", "en", ""},
  });
}

// One file a language in tests/pacing/languages: each row is a line with its pauses. New rules add
// their cases there, and beside them what they must not touch.
TEST_CASE("every language rests where its readers rest") {
  const std::filesystem::path folder = std::string(ARVIK_SOURCE_DIR) + "/tests/pacing/languages";
  std::size_t languages = 0;
  for (const auto& entry : std::filesystem::directory_iterator(folder)) {
    const std::string language = entry.path().stem().string();
    std::istringstream file(read_whole(entry.path()));
    std::vector<std::string> lines;
    for (std::string line; std::getline(file, line);) lines.push_back(line);
    std::vector<PauseCase> rows;
    for (const std::string& line : lines) rows.push_back({"rows", language.c_str(), line.c_str()});
    check(rows);
    ++languages;
  }
  CHECK(languages >= 30);
}

TEST_CASE("space pauses stand after runs of blanks, where a pace asks for them") {
  const ScratchFolder folder;
  const std::string pace = folder.write("p.json", R"({"arvik_pace": 1, "space": "50ms"})");
  check({{"space", "en", "the <space>tide  <space>clock,<clause> <space>it"},
         {"space", "th", "น้ำ <clause>นาฬิกา"}},
        {"--pace", pace});
}

TEST_CASE("a pace brings its own abbreviations, and a pause of 0 is none") {
  const ScratchFolder folder;
  const std::string pace =
      folder.write("p.json", R"({"arvik_pace": 1, "clause": "0ms", "abbreviations": ["Adm."]})");
  check({{"own", "en", "Adm. Pell, adm.<sentence> Pell"}}, {"--pace", pace});
}
