// `arvik strings`: what is done, what is new, out to translators and back, made-up locales.

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "support/tool.hpp"

using namespace arvik::test;

namespace {

// A script and its table.
class TableProject : public ScratchFolder {
 public:
  explicit TableProject(const std::string& table) {
    write("s.json", R"({"arvik_script": 1, "strings": "s.csv", "conversations": {"a": [
      {"id": "x", "text": "[b: Stop]."}, {"id": "y", "text": "Go."}]}})");
    write("s.csv", table);
  }
  [[nodiscard]] std::string read(const std::string& name) const { return read_whole(path(name)); }
};

}  // namespace

TEST_CASE("strings list, add, export and import") {
  const TableProject project("key,en,pl\nx,,[b: Stój].\n");
  const auto strings = [&](std::vector<std::string> words) {
    words.insert(words.begin(), "strings");
    return arvik_tool(words);
  };
  const Outcome listed = strings({"list", project.path("s.json")});
  CHECK(listed.status == 0);
  CHECK(contains(listed.out, "pl            2      1        0        1"));
  const auto document =
      nlohmann::json::parse(strings({"list", "--json", project.path("s.json")}).out);
  CHECK(document["locales"][1]["missing"] == 1);

  CHECK(contains(strings({"add", project.path("s.json")}).out, "2 keys"));
  CHECK(project.read("s.csv") == "key,en,pl\nx,[b: Stop].,[b: Stój].\ny,Go.,\n");
  CHECK(strings({"add", project.path("s.json")}).out == "nothing to add\n");

  const Outcome exported =
      strings({"export", project.path("s.json"), "de", "-o", project.path("de.xlf")});
  CHECK(exported.status == 0);
  std::string xliff = project.read("de.xlf");
  xliff.replace(xliff.find("<source>Go.</source>"), 20,
                "<source>Go.</source><target>Los.</target>");
  project.write("de.xlf", xliff);
  const Outcome imported = strings({"import", project.path("s.json"), project.path("de.xlf")});
  CHECK(imported.status == 0);
  CHECK(contains(imported.out, "1 texts in de, 1 tables changed"));
  CHECK(contains(project.read("s.csv"), "y,Go.,,Los.,"));
  // The text changes, and its translation is old.
  std::string script = project.read("s.json");
  script.replace(script.find("Go."), 3, "Go now.");
  project.write("s.json", script);
  CHECK(contains(strings({"list", project.path("s.json")}).out,
                 "de            2      0        1        1"));
  CHECK(
      contains(strings({"export", project.path("s.json"), "de"}).out, "needs-review-translation"));

  // Lost tags are told, and the text is there all the same.
  std::string lost = strings({"export", project.path("s.json"), "pl"}).out;
  const std::string tag = "<g id=\"1\" equiv-text=\"[b: \">Stój</g>";
  REQUIRE(lost.find(tag) != std::string::npos);
  lost.replace(lost.find(tag), tag.size(), "Stój");
  project.write("pl.xlf", lost);
  const Outcome damaged = strings({"import", project.path("s.json"), project.path("pl.xlf")});
  CHECK(damaged.status == 1);
  CHECK(contains(damaged.err, "has lost [b:"));
  CHECK(contains(project.read("s.csv"), "Stój."));

  // The same as a table.
  CHECK(strings({"export", project.path("s.json"), "fr", "-o", project.path("fr.csv")}).status ==
        0);
  std::string table = project.read("fr.csv");
  CHECK(table.starts_with("key,en,fr,#state,#speaker,#before,#notes\r\n"));
  table.replace(table.find("y,Go now.,"), 10, "y,Go now.,Va.");
  project.write("fr.csv", table);
  CHECK(contains(strings({"import", project.path("s.json"), project.path("fr.csv")}).out,
                 "1 texts in fr"));
  CHECK(contains(project.read("s.csv"), "Va."));
}

TEST_CASE("strings tells what is wrong") {
  const TableProject project("key,en,pl\nx,,x\n");
  const auto error = [&](std::vector<std::string> words, int status) {
    words.insert(words.begin(), "strings");
    const Outcome outcome = arvik_tool(words);
    CHECK(outcome.status == status);
    return outcome.err;
  };
  const std::string script = project.path("s.json");
  CHECK(contains(error({}, 2), "strings"));
  CHECK(contains(error({"list"}, 2), "SCRIPT"));
  CHECK(contains(error({"list", "/no/such.json"}, 2), "/no/such.json"));
  CHECK(contains(error({"export", script, "no such"}, 2), "is no locale"));
  CHECK(contains(error({"export", script, "en"}, 2), "written in"));
  CHECK(contains(error({"export", script, "de", "-o", project.path("x.txt")}, 2), ".xlf"));
  CHECK(contains(error({"import", script, script}, 1), "not XML"));
  CHECK(contains(error({"pseudo", script, "de"}, 2), "en-XA"));
  project.write("s.csv", "key,en,pl\nx,\"x\n");
  CHECK(contains(error({"list", script}, 1),
                 "s.csv:2:3: error: this quote is never closed (bad-table)"));
  project.write("bad.csv", "key,en\n");
  project.write("s.csv", "key,en,pl\n");
  CHECK(contains(error({"import", script, project.path("bad.csv")}, 1),
                 "no column of a translation"));
  const Outcome pseudo = arvik_tool({"strings", "pseudo", script});
  CHECK(pseudo.status == 0);
  CHECK(contains(pseudo.out, "[b: Šť"));
  CHECK(arvik_tool({"play", script, "--log", "--locale", "ar-XB"}).status == 0);
}
