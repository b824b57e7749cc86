// The way of texts to translators and back: units and their states, XLIFF in both forms, what comes
// back damaged, and made-up locales.

#include <catch2/catch.hpp>

#include "arvik/translation.hpp"
#include "support/generator.hpp"

using namespace arvik;

namespace {

const std::string texts =
    "key,en,pl,#context,#longest,#pl made from\n"
    "x,,\"[b: Stój], [hold]teraz.\",\"to Pell, loudly\",40,\n"
    "n,,\"[plural n: [one: [value n] kropla][few: [value n] krople][many: [value n] kropel][other: "
    "[value n] kropli]]\",,,\n"
    "yes,,,,,\n"
    "old,,[style dread: Stary],,,00000000\n"
    "ui.menu,Menu,Menu,,,\n";

std::shared_ptr<const Script> tide_script(const std::string& table = texts) {
  ScriptFiles files;
  files.read = [table](const std::string&) { return table; };
  return std::make_shared<const Script>(
      parse_script(R"({"arvik_script": 1, "strings": "s.csv", "styles": {"dread": ["i"]},
        "cast": {"pell": {"name": "Pell"}},
        "conversations": {"pier": [
          {"id": "x", "speaker": "pell", "text": "[b: Stop], [hold]now."},
          {"id": "n", "text": "[plural n: [one: a drop][other: [value n] drops]]",
           "choices": [{"id": "yes", "text": "Yes & [[no]]"}]},
          {"id": "old", "text": "[style dread: New] <text>"},
          {"text": "without an id"}]}})",
                   ScriptErrors::refuse, files)
          .value());
}

std::string codes_of(const std::vector<Diagnostic>& problems) {
  std::string all;
  for (const Diagnostic& problem : problems) {
    all += (all.empty() ? "" : ", ") + std::string(diagnostic_name(problem.code)) + ' ' +
           std::to_string(problem.row) + ' ' + problem.key;
  }
  return all;
}

std::string with_units(const std::string& units, const std::string& target = "pl") {
  return "<?xml version=\"1.0\"?>\n<xliff version=\"1.2\"><file source-language=\"en\" "
         "target-language=\"" +
         target + "\" datatype=\"plaintext\" original=\"o\"><body>\n" + units +
         "</body></file></xliff>";
}

// One text that came back: its markup and what was said of it.
std::pair<std::string, std::string> back(const std::string& key, const std::string& target) {
  const auto read =
      read_xliff(with_units("<trans-unit id=\"" + key + "\"><source>x</source><target>" + target +
                            "</target></trans-unit>"),
                 *tide_script());
  REQUIRE(read.has_value());
  REQUIRE(read->texts.size() == 1);
  return {read->texts[0].text, codes_of(read->diagnostics)};
}

}  // namespace

TEST_CASE("units have states, notes and what was said before") {
  const auto units = translation_units(*tide_script(), "pl");
  REQUIRE(units.size() == 6);
  CHECK(units[0].key == "cast.pell");
  CHECK(units[0].state == TranslationState::missing);
  CHECK(units[1].key == "x");
  CHECK(units[1].speaker == "Pell");
  CHECK(units[1].state == TranslationState::done);
  CHECK(units[1].longest == 40U);
  CHECK(units[1].notes == std::vector<std::string>{"context: to Pell, loudly"});
  CHECK(units[2].before == "Stop, now.");
  CHECK(units[3].key == "yes");
  CHECK(units[3].before == "{n} drops");
  CHECK(units[4].state == TranslationState::changed);
  CHECK(units[5].key == "ui.menu");  // the game's own words
  CHECK(units[5].source == "Menu");
}

TEST_CASE("XLIFF goes out and comes back the same") {
  for (const TagForm form : {TagForm::elements, TagForm::placeholders}) {
    for (const char* locale : {"pl", "ar", "ja"}) {
      INFO(locale);
      const std::string xliff = write_xliff(*tide_script(), locale, form);
      const auto read = read_xliff(xliff, *tide_script());
      REQUIRE(read.has_value());
      CHECK(read->locale == locale);
      CHECK(read->diagnostics.empty());
      if (std::string(locale) != "pl") {
        CHECK(read->texts.empty());  // nothing is translated yet
        continue;
      }
      REQUIRE(read->texts.size() == 4);
      for (const TranslationUnit& unit : translation_units(*tide_script(), locale)) {
        for (const Translation& translation : read->texts) {
          if (translation.key == unit.key) CHECK(translation.text == unit.target);
        }
      }
      CHECK(read->texts[0].made_from == fingerprint_of("[b: Stop], [hold]now."));
      const auto tables = put_translations(*tide_script(), *read);
      REQUIRE(tables.has_value());
      REQUIRE(tables->size() == 1);
      // What was old has been looked at again.
      const auto again = tide_script(write_strings((*tables)[0]));
      for (const TranslationUnit& unit : translation_units(*again, locale)) {
        if (unit.has_target) CHECK(unit.state == TranslationState::done);
      }
      CHECK(put_translations(*again, *read)->empty());
    }
  }
  // Plural branches are those of the target.
  const std::string arabic = write_xliff(*tide_script(), "ar");
  for (const char* category : {"zero", "one", "two", "few", "many", "other"}) {
    CHECK(arabic.find("equiv-text=\"[" + std::string(category) + ": \"") != std::string::npos);
  }
  const std::string japanese = write_xliff(*tide_script(), "ja");
  CHECK(japanese.find("[one: ") == std::string::npos);
  CHECK(japanese.find("maxwidth=\"40\"") != std::string::npos);
  CHECK(japanese.find("<note>speaker: Pell</note>") != std::string::npos);
}

TEST_CASE("what comes back damaged is told, and no text is lost") {
  using Result = std::pair<std::string, std::string>;
  CHECK(back("x", "<g id=\"1\">A</g>, <x id=\"2\"/>b") == Result("[b: A], [hold]b", ""));
  CHECK(back("x", "<x id=\"2\"/><g id=\"1\">A</g>") == Result("[hold][b: A]", ""));  // moved
  CHECK(back("x", "plain [A]") == Result("plain [[A]]", "changed-tags 3 x"));
  CHECK(back("x", "<g id=\"1\">A</g><x id=\"2\"/><x id=\"2\"/>") ==
        Result("[b: A][hold][hold]", "changed-tags 3 x"));  // copied
  CHECK(back("x", "<g id=\"1\">A</g><x id=\"2\"/><x id=\"9\" equiv-text=\"[pause 1s]\"/>") ==
        Result("[b: A][hold][pause 1s]", "changed-tags 3 x"));  // invented
  CHECK(back("x",
             "<g id=\"1\">A</g><x id=\"2\"/><x id=\"9\"/><g id=\"8\" equiv-text=\"[oops\">B</g>") ==
        Result("[b: A][hold]B", "changed-tags 3 x, changed-tags 3 x"));
  CHECK(back("x", "<mrk mtype=\"x\"><g id=\"1\">A</g></mrk><x id=\"2\"/><ph id=\"7\">c</ph>") ==
        Result("[b: A][hold]c", ""));  // elements of other tools
  CHECK(back("gone", "A") == Result("A", "changed-tags 3 gone"));
  CHECK(back("x", "A &amp; &lt;B&gt; <![CDATA[<C>]]>").first == "A & <B> <C>");
  // Placeholders that a tool has turned into text.
  const auto read =
      read_xliff(with_units("<trans-unit id=\"x\"><source>[b: Stop], [hold]now.</source>"
                            "<target>[b: Stój], [[x]] [pause 1s]</target></trans-unit>"),
                 *tide_script(), TagForm::placeholders);
  REQUIRE(read.has_value());
  CHECK(read->texts[0].text == "[b: Stój], [[x]] [pause 1s]");
  CHECK(read->texts[0].made_from == fingerprint_of("[b: Stop], [hold]now."));
  CHECK(codes_of(read->diagnostics) == "changed-tags 3 x, changed-tags 3 x");  // invented, lost
}

TEST_CASE("what is no XLIFF of this script is refused") {
  const auto refused = [](const std::string& xliff) {
    const auto read = read_xliff(xliff, *tide_script());
    REQUIRE_FALSE(read.has_value());
    return codes_of(read.error());
  };
  CHECK(refused("") == "bad-xliff 1 ");
  CHECK(refused("<xliff") == "bad-xliff 1 ");
  CHECK(refused("<html/>") == "bad-xliff 1 ");
  CHECK(refused("<xliff version=\"2.0\"/>") == "bad-xliff 1 ");
  CHECK(refused("<xliff version=\"1.2\"/>") == "bad-xliff 1 ");
  CHECK(refused(with_units("", "no such")) == "bad-xliff 2 ");
  CHECK(refused("<?xml version=\"1.0\"?>\n<!DOCTYPE xliff [<!ENTITY a \"aaaa\">]>\n"
                "<xliff version=\"1.2\"/>") == "bad-xliff 2 ");
  std::string deep;
  for (int i = 0; i < 100'000; ++i) deep += "<g id=\"1\">";
  CHECK(refused(with_units("<trans-unit id=\"x\"><target>" + deep)) == "bad-xliff 3 ");
  for (int i = 0; i < 100'000; ++i) deep += "</g>";
  CHECK(refused(with_units("<trans-unit id=\"x\"><target>" + deep + "</target></trans-unit>")) ==
        "bad-xliff 3 ");
  CHECK(
      read_xliff(with_units("<trans-unit id=\"x\"><source/><target/></trans-unit>"), *tide_script())
          ->texts.empty());
}

TEST_CASE("what is cut out of a file is told or harmless") {
  const std::string whole = write_xliff(*tide_script(), "pl");
  test::Random random(3);
  for (int i = 0; i < 300; ++i) {
    std::string cut = whole;
    const std::size_t at = test::below(random, cut.size());
    cut.erase(at, 1 + test::below(random, 40));
    const auto read = read_xliff(cut, *tide_script());
    if (!read) continue;
    const auto put = put_translations(*tide_script(), *read);
    REQUIRE(put.has_value());
    for (const StringsTable& table : *put) REQUIRE(parse_strings(write_strings(table)).has_value());
  }
}

TEST_CASE("new texts come into the table") {
  const auto added = add_strings(*tide_script());
  REQUIRE(added.has_value());
  REQUIRE(added->has_value());
  const StringsTable& table = **added;
  CHECK(table.cell(*table.find_row("x"), *table.find_column("en")) == "[b: Stop], [hold]now.");
  CHECK(table.find_row("cast.pell").has_value());
  const auto again = add_strings(*tide_script(write_strings(table)));
  REQUIRE(again.has_value());
  CHECK_FALSE(again->has_value());
  const Script none = parse_script(R"({"arvik_script": 1, "conversations": {}})").value();
  CHECK(add_strings(none).error().code == DiagnosticCode::bad_value);
}

TEST_CASE("made-up locales keep tags and values") {
  const Vocabulary words{.value = [](std::string_view name) { return std::string(name); }};
  const std::string source =
      "Stop, [b: now]! [[E]] [value keeper] [plural n: [one: coin][other: coins]]";
  const std::string accented = pseudo_text(source, accented_locale, words);
  CHECK(accented.find("[b: ") != std::string::npos);
  CHECK(accented.find("[value keeper]") != std::string::npos);
  CHECK(accented.find("[other: ") != std::string::npos);
  CHECK(accented.find("[[É") != std::string::npos);
  const auto letters = [&](const std::string& markup) {
    Language language = Language::open("en").value();
    return language.segment(parse(markup, words).text).size();
  };
  const std::string plain =
      "High water at ten past four. I have said so to this wall for forty years.";
  const double longer = static_cast<double>(letters(pseudo_text(plain, accented_locale))) /
                        static_cast<double>(letters(plain));
  CHECK(longer > 1.25);
  CHECK(longer < 1.5);
  // Any script has them, without a table.
  const auto from_right = in_locale(tide_script(), "ar-XB");
  REQUIRE(from_right.has_value());
  CHECK((*from_right)->conversations[0].lines[3].text ==
        "\u200F\u202Ewithout\u202C\u200F \u200F\u202Ean\u202C\u200F \u200F\u202Eid\u202C\u200F");
  CHECK((*in_locale(tide_script(), "en-XA"))->diagnostics.empty());
}

TEST_CASE("markup comes in pieces that are the same markup together") {
  test::Random random(5);
  const std::string_view parts[] = {"[b: ",  "]",           "[[",     "]]",       "[hold]",
                                    "x",     "[plural n: ", "[one: ", "[other: ", "[pause 1s]",
                                    "[oops", ":",           " ",      "[value v]"};
  const Vocabulary words{.value = [](std::string_view) { return std::int64_t{1}; }};
  for (int i = 0; i < 20'000; ++i) {
    std::string source;
    for (std::uint64_t n = test::below(random, 12); n > 0; --n)
      source += parts[test::below(random, 14)];
    INFO(source);
    std::string again;
    std::size_t open = 0;
    const auto pieces = cut_markup(source, words);
    for (std::size_t p = 0; p < pieces.size(); ++p) {
      const MarkupPiece& piece = pieces[p];
      const std::string text =
          source.substr(piece.source.begin, piece.source.end - piece.source.begin);
      again += piece.kind == MarkupPieceKind::text ? escape(text) : text;
      if (piece.kind == MarkupPieceKind::open) ++open;
      if (piece.kind == MarkupPieceKind::close) --open;
      if (piece.kind == MarkupPieceKind::open || piece.kind == MarkupPieceKind::close) {
        REQUIRE(pieces[piece.other].other == p);
      }
    }
    REQUIRE(open == 0);
    if (!parse(source, words).diagnostics.empty()) continue;  // what was no tag is text now
    REQUIRE(parse(again, words).text == parse(source, words).text);
    REQUIRE(parse(again, words).spans.size() == parse(source, words).spans.size());
  }
}
