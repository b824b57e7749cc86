// How a check runs: threads, locales, what is turned off and on, limits, several files, texts with
// choices, and what cannot be read.

#include "arvik/check.hpp"

#include <algorithm>
#include <catch2/catch.hpp>
#include <map>

#include "arvik/check_report.hpp"

using namespace arvik;

namespace {

using Files = std::map<std::string, std::string>;

CheckedScript read(const std::string& json, const Files& files = {}) {
  const auto shared = std::make_shared<const Files>(files);
  return parse_for_check(
      json,
      {.read = [shared](const std::string& name) -> tl::expected<std::string, Diagnostic> {
         const auto found = shared->find(name);
         if (found != shared->end()) return found->second;
         return tl::unexpected(
             Diagnostic{.code = DiagnosticCode::file_unreadable, .message = "cannot read " + name});
       },
       .exists = [shared](const std::string& name) { return shared->contains(name); }},
      "main.json");
}

std::vector<Finding> found(const CheckedScript& script, const CheckOptions& options = {}) {
  auto report = check(script, options);
  REQUIRE(report);
  return std::move(report->findings);
}

// `code file row:column key locale` of each.
std::vector<std::string> list(const std::vector<Finding>& findings) {
  std::vector<std::string> all;
  for (const Finding& finding : findings) {
    all.push_back(finding.code + ' ' + finding.file + ' ' + std::to_string(finding.row) + ':' +
                  std::to_string(finding.column) + ' ' + finding.key + ' ' + finding.locale);
  }
  return all;
}

std::string script_of(const std::string& lines, const std::string& more = "") {
  return R"({"arvik_script": 1, "strings": "s.csv", )" + more + R"("conversations": {"a": [)" +
         lines + "]}}";
}

// Many texts in three locales, with a fault in every seventh.
std::pair<std::string, Files> large(int texts) {
  std::string lines, table = "key,en,de,pl\n";
  for (int i = 0; i < texts; ++i) {
    const std::string key = "k" + std::to_string(i);
    lines += (i > 0 ? ",\n" : "") + ("{\"id\": \"" + key + "\"}");
    const std::string blank = i % 7 == 0 ? "  " : " ";
    table += key + ",Water stands high.,Hoch steht" + blank + "das Wasser.,Woda" + blank +
             "stoi wysoko.\n";
  }
  return {script_of(lines), {{"s.csv", table}}};
}

}  // namespace

TEST_CASE("the same findings in the same order, whatever the threads") {
  const auto [json, files] = large(2000);
  const CheckedScript script = read(json, files);
  const auto alone = list(found(script, {.threads = 1}));
  CHECK(alone.size() == 2 * 286);
  CHECK(list(found(script, {.threads = 2})) == alone);
  CHECK(list(found(script, {.threads = 8})) == alone);
  CHECK(alone[0] == "double-blank s.csv 2:33 k0 de");
  CHECK(alone[1] == "double-blank s.csv 2:51 k0 pl");
}

TEST_CASE("a check tells how far it is, and stops when it shall") {
  const auto [json, files] = large(2000);
  const CheckedScript script = read(json, files);
  std::size_t last = 0, total = 0;
  CheckOptions options{.threads = 2};
  options.progress = [&](std::size_t done, std::size_t all) {
    CHECK(done >= last);
    last = done;
    total = all;
  };
  const auto report = check(script, options).value();
  CHECK(last == 3 * 2000);
  CHECK(total == last);
  CHECK(report.texts == last);
  CHECK_FALSE(report.stopped);

  std::atomic<bool> stop = false;
  options.stop = &stop;
  options.progress = [&](std::size_t, std::size_t) { stop = true; };
  const auto part = check(script, options).value();
  CHECK(part.stopped);
  CHECK(part.texts < 3 * 2000);
}

TEST_CASE("codes are turned off for a run, a script, a line, and a line in a locale") {
  const std::string lines = R"({"id": "x"}, {"id": "y"})";
  const std::string table = "key,en,de,pl,#unchecked\nx,Stop now.,Halt  jetzt.,Stój  teraz.,";
  const auto codes = [&](const std::string& unchecked, const std::string& more,
                         const CheckOptions& options) {
    return list(
        found(read(script_of(lines, more), {{"s.csv", table + unchecked + "\ny,Go.,Los.,Idź.,\n"}}),
              options));
  };
  const std::string in_de = "double-blank s.csv 2:17 x de";
  const std::string in_pl = "double-blank s.csv 2:30 x pl";
  CHECK(codes("", "", {}) == std::vector{in_de, in_pl});
  CHECK(codes("", "", {.off = {"double-blank"}}).empty());
  CHECK(codes("", R"("check": {"off": ["double-blank"]}, )", {}).empty());
  // A run has the last word.
  CHECK(codes("", R"("check": {"off": ["double-blank"]}, )", {.on = {"double-blank"}}).size() == 2);
  CHECK(codes("double-blank", "", {}).empty());
  CHECK(codes("lost-tag double-blank@pl", "", {}) == std::vector{in_de});
  CHECK(list(found(read(script_of(R"({"id": "x", "unchecked": ["double-blank@de"]}, {"id": "y"})"),
                        {{"s.csv", table + "\ny,Go.,Los.,Idź.,\n"}}))) == std::vector{in_pl});
  CHECK(check(read(script_of(lines), {{"s.csv", table + "\n"}}), {.off = {"duoble-blank"}})
            .error()
            .hint == "double-blank");
}

TEST_CASE("what a script is told to leave out must be there") {
  const auto findings = found(read(R"({"arvik_script": 1,
    "check": {"off": ["no-such"], "limits": {"reading": 9000, "redaing": 2}},
    "conversations": {"a": [{"text": "Stop."}]}})"));
  REQUIRE(findings.size() == 3);
  CHECK(findings[0].code == "unknown-code");
  CHECK(findings[1].message == "the limit \"reading\" is out of its range");
  CHECK(findings[2].hint == "reading");
}

TEST_CASE("limits of a script count") {
  const auto codes = [](const std::string& limits) {
    return list(found(read(R"({"arvik_script": 1, "check": {"limits": {)" + limits + R"(}},
      "conversations": {"a": [{"id": "l", "auto": "100ms", "text": "High water at ten past four."}]}})")));
  };
  CHECK(codes("").size() == 1);
  CHECK(codes("\"reading\": 200").empty());
  CHECK(codes("\"reading\": 200, \"fastest\": 5").size() == 1);
}

TEST_CASE("locales are checked as they are asked for") {
  const auto [json, files] = large(8);
  const CheckedScript script = read(json, files);
  CHECK(check(script, {.locales = {"de"}})->locales == std::vector<std::string>{"de"});
  CHECK(list(found(script, {.locales = {"de"}})).size() == 2);
  CHECK(check(script, {.locales = {"pl", "en"}})->locales == std::vector<std::string>{"en", "pl"});
  // A locale that has its parent's texts is laid out, and its texts are not told of again.
  CHECK(found(script, {.locales = {"de-AT"}}).empty());
  CHECK(check(script, {.locales = {"fr"}}).error().code == DiagnosticCode::unknown_locale);
  // The made-up locales show what does not fit, and nothing else.
  CHECK(found(script, {.locales = {"en-XA", "ar-XB"}}).empty());
  CHECK(list(found(read(script_of(R"({"id": "x"})", R"("box": {"width": 20, "rows": 1}, )"),
                        {{"s.csv", "key,en\nx,Water is high now.\n"}}),
                   {.locales = {"en-XA"}})) ==
        std::vector<std::string>{"more-pages s.csv 2:3 x en-XA"});
}

TEST_CASE("a locale takes over what its parent has, and is told of its own texts alone") {
  const auto codes = [](const std::string& table) {
    return list(
        found(read(script_of(R"({"id": "x", "text": "Grey  sky."}, {"id": "y", "text": "Go."})"),
                   {{"s.csv", table}})));
  };
  CHECK(codes("key,en-GB\nx,\ny,Go  now.\n") ==
        std::vector<std::string>{"double-blank main.json 1:90 x en",
                                 "double-blank s.csv 3:5 y en-GB"});
  CHECK(codes("key,de,de-AT\nx,Grau.,\ny,Los.,Los.\n").size() == 1);
}

TEST_CASE("findings stand in the file that their text came from") {
  const auto findings = found(read(
      R"({"arvik_script": 1, "include": "more/part.json", "conversations": {"a": [
        {"id": "x", "text": "A \u2026\u00e9 b  c."}]}})",
      {{"more/part.json", R"({"arvik_script": 1, "strings": "part.csv", "conversations": {
          "b": "talk.csv", "c": [{"id": "z", "text": "Go."}, {"text": "No  id."}]}})"},
       {"more/part.csv", "key,de\nx,\"Ein \"\"altes\"\"\nWort  hier, ja.\"\nz,Weiter.\n"},
       {"more/talk.csv", "key,speaker,en,de\nt1,,Yes [b: no ]  .,Ja  .\n"}}));
  const std::vector<std::string> all = list(findings);
  const auto has = [&](const std::string& entry) {
    INFO(entry);
    return std::find(all.begin(), all.end(), entry) != all.end();
  };
  CHECK(has("double-blank main.json 2:46 x en"));
  CHECK(has("double-blank more/part.csv 3:5 x de"));
  CHECK(has("double-blank more/talk.csv 2:15 t1 en"));
  CHECK(has("double-blank more/talk.csv 2:23 t1 de"));
  const auto of = std::find_if(findings.begin(), findings.end(), [](const Finding& finding) {
    return finding.file == "more/part.csv" && finding.code == "double-blank";
  });
  REQUIRE(of != findings.end());
  CHECK(of->text_row == 2);
  CHECK(of->text_column == 5);
  CHECK(of->conversation == "a");
}

TEST_CASE("every branch of a choice is looked at, and told of once") {
  const auto codes = [](const std::string& en, const std::string& de) {
    std::vector<std::string> all;
    for (const Finding& finding : found(read(
             script_of(R"({"id": "x"})"), {{"s.csv", "key,en,de\nx," + en + "," + de + "\n"}}))) {
      all.push_back(finding.code + ' ' + std::to_string(finding.column));
    }
    return all;
  };
  const std::string plural = "[plural n: [one: a drop][other: [value n] drops]]";
  CHECK(codes(plural, "[plural n: [one: ein  Tropfen][other: [value n] Tropfen]]") ==
        std::vector<std::string>{"double-blank 73"});
  CHECK(codes(plural, "[plural n: [one: ein Tropfen][other: [value n]  Tropfen]]").size() == 1);
  CHECK(codes("[select who: [her: she][other: they]]",
              "[select who: [her: sie ja][other: er  ja]]") ==
        std::vector<std::string>{"double-blank 77"});
  CHECK(codes("[select who: [her: she][other: they]]", "alle hier") ==
        std::vector<std::string>{"lost-tag 41"});
  CHECK(codes("[value n] now", "[value n] jetzt").empty());
}

TEST_CASE("lines that stand in a box together are laid out together") {
  const std::string lines = R"({"id": "x"}, {"id": "y", "append": true})";
  const auto codes = [&](const std::string& box, const std::string& y) {
    return list(
        found(read(script_of(lines, box),
                   {{"s.csv", "key,en,de\nx,Water.,Das Wasser.\ny, It is high.," + y + "\n"}})));
  };
  CHECK(codes("", " Es steht hoch.").empty());
  CHECK(codes("", " Es  steht hoch.").size() == 1);
  CHECK(codes("", "").size() == 1);
  // Of two lines that overflow together the one is told in which it happens.
  CHECK(
      codes(R"("box": {"width": 13, "rows": 2, "overflow": "clip"}, )", " Es steht schon hoch.") ==
      std::vector<std::string>{"text-overflows s.csv 3:16 y de"});
}

TEST_CASE("names of speakers and the game's own texts are looked at, too") {
  const std::string json =
      script_of(R"({"id": "x", "speaker": "odrun"})",
                R"("cast": {"odrun": {}}, "check": {"own_keys": ["ui.*x"]}, )");
  CHECK(list(found(
            read(json, {{"s.csv",
                         "key,en,de\nx,Go.,Los.\ncast.odrun,Odrun,\nui.box,Open now,Jetzt  auf\n"
                         "ui.bar,A,B\n"}}))) ==
        std::vector<std::string>{"missing-text s.csv 3:18 cast.odrun de",
                                 "double-blank s.csv 4:22 ui.box de",
                                 "unused-key s.csv 5:1 ui.bar "});
}

TEST_CASE("what cannot be read is told, and the rest is checked") {
  CHECK(list(found(read("{"))) == std::vector<std::string>{"bad-json main.json 1:2  "});
  CHECK(found(read("[]")).size() == 1);
  const auto findings = found(read(R"({"arvik_script": 1, "strings": "no.csv", "conversations": {
    "a": [{"text": "A  b", "speed": 3}, {"id": "x"}, 7]}})"));
  const auto all = list(findings);
  CHECK(all.size() == 5);
  CHECK(std::count(all.begin(), all.end(), "double-blank main.json 2:22  en") == 1);
  CHECK(std::any_of(findings.begin(), findings.end(),
                    [](const Finding& finding) { return finding.code == "file-unreadable"; }));
  CHECK(found(read(R"({"arvik_script": 1, "conversations": {}})")).empty());
  CHECK(load_for_check("/no/such/file.json").error().code == DiagnosticCode::file_unreadable);
}

TEST_CASE("fonts that cannot be opened are a finding, and a grid takes their place") {
  CheckOptions options;
  options.font = [](const Script&) -> tl::expected<std::shared_ptr<const Font>, Diagnostic> {
    return tl::unexpected(
        Diagnostic{.code = DiagnosticCode::bad_font, .message = "there is no such font"});
  };
  const auto findings =
      found(read(R"({"arvik_script": 1, "conversations": {"a": [{"text": "A  b"}]}})"), options);
  REQUIRE(findings.size() == 2);
  CHECK(findings[0].code == "bad-font");
  CHECK(findings[1].code == "double-blank");
}

TEST_CASE("letters in several characters are no mistake where most are written so") {
  const auto count = [](const std::string& first, const std::string& second) {
    return found(read(script_of(R"({"id": "x"}, {"id": "y"})"),
                      {{"s.csv", "key,en,de\nx,Over.," + first + "\ny,Under.," + second + "\n"}}))
        .size();
  };
  CHECK(count("Dru\u0308ben.", "Unterm Flügel.") == 1);
  CHECK(count("Dru\u0308ben.", "Unterm Flu\u0308gel.") == 0);
}

TEST_CASE("a baseline keeps known findings quiet, each as often as it has them") {
  const auto [json, files] = large(15);
  const auto findings = found(read(json, files));
  REQUIRE(findings.size() == 6);
  auto known = findings;
  known.resize(4);
  const Baseline baseline = read_baseline(write_check_json(known, {})).value();
  auto rest = findings;
  CHECK(drop_known(baseline, rest) == 4);
  CHECK(list(rest) == list({findings.begin() + 4, findings.end()}));
  // Rows that were put in before change nothing.
  Files moved = files;
  moved["s.csv"].insert(moved["s.csv"].find("k0"), "new,A b.,Ein b.,Jeden b.\n");
  const auto later = found(
      read(script_of(R"({"id": "new"}, )" +
                     json.substr(json.find("{\"id\""), json.find("]}}") - json.find("{\"id\""))),
           moved));
  rest = later;
  CHECK(drop_known(read_baseline(write_check_json(findings, {})).value(), rest) == 6);
  CHECK(rest.empty());
  CHECK_FALSE(read_baseline("{").has_value());
  CHECK_FALSE(read_baseline("{}").has_value());
  CHECK_FALSE(read_baseline(R"({"arvik_check": 1, "findings": [{}]})").has_value());
}
