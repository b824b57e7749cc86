// Tables of strings: what spreadsheets and Python write, every mistake with its place, and that a
// table is written as it was read.

#include <catch2/catch.hpp>

#include "arvik/strings.hpp"
#include "support/generator.hpp"

using namespace arvik;

namespace {

std::string table_problems(const std::string& csv) {
  std::string all;
  const auto table = parse_strings(csv, "t.csv");
  if (table) return "";
  for (const Diagnostic& problem : table.error()) {
    CHECK(problem.file == "t.csv");
    all += (all.empty() ? "" : ", ") + std::string(diagnostic_name(problem.code)) + ' ' +
           std::to_string(problem.row) + ':' + std::to_string(problem.column);
  }
  return all;
}

const std::string some_table =
    "key,en,pl,#context\r\n"
    "a,\"Stop, now.\",\"Stój, już.\",\"the \"\"gate\"\"\"\r\n"
    "b,\"Two\nrows\",,\r\n"
    "c,[],[],quiet\r\n";

}  // namespace

TEST_CASE("a table has keys, locales and notes") {
  const StringsTable table = parse_strings(some_table).value();
  CHECK(table.rows() == 3);
  REQUIRE(table.columns().size() == 4);
  CHECK(table.columns()[2].kind == ColumnKind::locale);
  CHECK(table.columns()[3].kind == ColumnKind::note);
  CHECK_FALSE(table.has_fields());
  CHECK(table.cell(0, 1) == "Stop, now.");
  CHECK(table.cell(0, 3) == "the \"gate\"");
  CHECK(table.cell(1, 1) == "Two\nrows");
  CHECK(table.find_row("c") == 2U);
  CHECK_FALSE(table.find_row("d").has_value());
  CHECK(table.find_column("pl") == 2U);

  const Strings strings({table});
  CHECK(strings.text("a", "pl") == "Stój, już.");
  CHECK_FALSE(strings.text("b", "pl").has_value());  // missing
  CHECK(strings.text("c", "pl") == "");              // empty on purpose
  CHECK_FALSE(strings.text("a", "#context").has_value());
  CHECK(strings.text("b", std::vector<std::string>{"pl", "en"}) == "Two\nrows");
  CHECK(strings.locales() == std::vector<std::string>{"en", "pl"});
}

TEST_CASE("the ways in which programs write tables") {
  for (const char* csv : {
           "key,de,pl\na,\"x;\ty\",\"z,\"\n",              // commas, LF
           "\xEF\xBB\xBFkey;de;pl\r\na;\"x;\ty\";z,\r\n",  // as spreadsheets do where commas are
                                                           // points
           "key\tde\tpl\r\na\t\"x;\ty\"\tz,",              // tabs, no row end at the end
           "\"key\";\"de\";\"pl\"\r\"a\";\"x;\ty\";\"z,\"\r",    // old row ends, all quoted
           "key,DE,pl\r\n\r\na,\"x;\ty\",\"z,\"\r\n,,\r\n\r\n",  // empty rows
           "id,de,pl,,\na,\"x;\ty\",\"z,\",,\n",                 // columns without anything
       }) {
    INFO(csv);
    const StringsTable table = parse_strings(csv).value();
    CHECK(table.rows() == 1);
    CHECK(table.cell(0, *table.find_column("de")) == "x;\ty");
    CHECK(table.cell(0, *table.find_column("pl")) == "z,");
    // Written as it was read, and read again the same.
    const std::string written = write_strings(table);
    CHECK(written.starts_with("\xEF\xBB\xBF") == std::string_view(csv).starts_with("\xEF\xBB\xBF"));
    const StringsTable again = parse_strings(written).value();
    CHECK(write_strings(again) == written);
    CHECK(again.cell(0, *again.find_column("de")) == "x;\ty");
  }
  CHECK(write_strings(parse_strings(some_table).value()) == some_table);
  const StringsTable spaces = parse_strings("key,en\na, x \n").value();
  CHECK(spaces.cell(0, 1) == " x ");  // blanks are text
  std::vector<Diagnostic> warnings;
  const StringsTable wrong = parse_strings("key,en\na,x\xFFy\n", {}, &warnings).value();
  CHECK(wrong.cell(0, 1) == "x\xEF\xBF\xBDy");
  REQUIRE(warnings.size() == 1);
  CHECK(warnings[0].code == DiagnosticCode::invalid_utf8);
}

TEST_CASE("mistakes in tables, all at once, with their places") {
  CHECK(table_problems("") == "bad-table 1:1");
  CHECK(table_problems("en,pl\na,b\n") == "bad-table 1:1");
  CHECK(table_problems("key,en,xx,en_US,context,en\n") ==
        "unknown-locale 1:8, unknown-locale 1:11, bad-table 1:17, duplicate-id 1:25");
  CHECK(table_problems("key,en,EN\n") == "duplicate-id 1:8");
  CHECK(table_problems("key,en\na,b,c\n,b\nb,x\na,z\n") ==
        "bad-table 2:5, bad-table 3:1, duplicate-id 5:1");
  CHECK(table_problems("key,en\na,\"b\n") == "bad-table 2:3");
  CHECK(table_problems("key,en\na,b\"c\nd,e\n") == "bad-table 2:4");
  CHECK(table_problems("key,en\na,\"b\"c\n") == "bad-table 2:6");
}

TEST_CASE("the place of a problem inside a cell") {
  const StringsTable table =
      parse_strings(
          "\xEF\xBB\xBFkey,#who,pl\r\na,ł,x\r\nb,\"ż \"\"q\"\"\nw\",\"a \"\"ś\"\" [oops]\"\r\n",
          "t.csv")
          .value();
  Diagnostic problem{.range = {8, 12}};  // in: a "ś" [oops]
  CHECK(table.cell(1, 2).substr(8, 4) == "oops");
  table.locate(1, 2, problem);
  CHECK(problem.row == 4);
  CHECK(problem.column == 14);
  CHECK(problem.key == "b");
  CHECK(problem.locale == "pl");
  CHECK(problem.file == "t.csv");
}

TEST_CASE("a table grows") {
  StringsTable table;
  const std::size_t polish = table.add_column("pl");
  const std::uint32_t row = table.add_row("b");
  table.set(row, polish, "Stój");
  CHECK(table.add_row("b") == row);
  table.set(table.add_row("a"), table.add_column("de"), "Halt");
  table.set(row, polish, table.cell(row, polish));  // its own
  CHECK(table.find_row("a") == 1U);
  CHECK(write_strings(table) == "key,pl,de\r\nb,Stój,\r\na,,Halt\r\n");
}

TEST_CASE("any bytes are a table or told") {
  test::Random random(7);
  const std::string_view pieces[] = {"key", ",",    ";", "\n",   "\r\n",  "\"",
                                     "en",  "\"\"", "a", "\xFF", "[b: x]"};
  for (int i = 0; i < 20000; ++i) {
    std::string csv = test::below(random, 2) == 0 ? "key,en,de\n" : "";
    for (std::uint64_t n = test::below(random, 14); n > 0; --n)
      csv += pieces[test::below(random, 11)];
    INFO(csv);
    const auto table = parse_strings(csv);
    if (!table) {
      REQUIRE_FALSE(table.error().empty());
      continue;
    }
    const StringsTable again = parse_strings(write_strings(*table)).value();
    REQUIRE(again.rows() == table->rows());
    for (std::uint32_t row = 0; row < again.rows(); ++row) {
      for (std::size_t column = 0; column < again.columns().size(); ++column) {
        REQUIRE(again.cell(row, column) == table->cell(row, column));
      }
    }
  }
}
