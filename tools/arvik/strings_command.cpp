#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "arvik/locale.hpp"
#include "arvik/translation.hpp"
#include "commands.hpp"
#include "output.hpp"
#include "report.hpp"
#include "script_input.hpp"

namespace arvik::tool {
namespace {

using nlohmann::ordered_json;

struct StringsOptions {
  std::string script;
  std::string locale;
  std::string file;
  std::string output;
  bool json = false;
  bool placeholders = false;

  [[nodiscard]] TagForm form() const {
    return placeholders ? TagForm::placeholders : TagForm::elements;
  }
};

// A file where one is named and its ending fits, else standard output.
void write_result(const std::string& path, std::initializer_list<std::string_view> endings,
                  std::string_view content) {
  if (path.empty() || path == "-") return write_out(content);
  check_ending(path, endings);
  write_file(path, content);
}

// --- list

struct Progress {
  std::string locale;
  std::size_t done = 0, changed = 0, missing = 0;

  [[nodiscard]] std::size_t all() const { return done + changed + missing; }
};

Progress progress_of(const Script& script, const std::string& locale) {
  Progress progress{.locale = locale};
  for (const TranslationUnit& unit : translation_units(script, locale)) {
    const bool own = locale == script.source_locale;
    ++(own || unit.state == TranslationState::done ? progress.done
       : unit.state == TranslationState::changed   ? progress.changed
                                                   : progress.missing);
  }
  return progress;
}

void list(const StringsOptions& options) {
  const auto script = read_script(options.script);
  std::vector<Progress> all;
  for (const std::string& locale : script->locales) all.push_back(progress_of(*script, locale));
  if (options.json) {
    ordered_json json = {{"arvik_strings", 1}, {"source_locale", script->source_locale}};
    for (const Progress& progress : all) {
      json["locales"].push_back({{"locale", progress.locale},
                                 {"texts", progress.all()},
                                 {"done", progress.done},
                                 {"changed", progress.changed},
                                 {"missing", progress.missing}});
    }
    return write_out(json_text(json, 2) + "\n");
  }
  constexpr std::size_t width = 24;
  print_out("locale    texts   done  changed  missing\n");
  for (const Progress& progress : all) {
    const std::size_t filled = progress.all() == 0 ? width : width * progress.done / progress.all();
    print_out("{:<8} {:>6} {:>6} {:>8} {:>8}  {:▪<{}}{:·<{}}{}\n", progress.locale, progress.all(),
              progress.done, progress.changed, progress.missing, "", filled, "", width - filled,
              progress.locale == script->source_locale ? "  source" : "");
  }
}

// --- add

void add(const StringsOptions& options) {
  const auto script = read_script(options.script);
  const auto table = add_strings(*script);
  if (!table) throw Failure(input_has_errors, options.script + ": " + table.error().message);
  if (!*table) return print_out("nothing to add\n");
  const std::string path = path_beside(options.script, (*table)->file());
  write_file(path, write_strings(**table));
  print_out("{}: {} keys\n", path, (*table)->rows());
}

// --- export

// A table of one language, as some translators want it.
std::string write_csv(const Script& script, const std::string& locale) {
  StringsTable table;
  const std::size_t source = table.add_column(script.source_locale);
  const std::size_t target = table.add_column(locale);
  const std::size_t state = table.add_column("#state");
  const std::size_t speaker = table.add_column("#speaker");
  const std::size_t before = table.add_column("#before");
  const std::size_t notes = table.add_column("#notes");
  for (const TranslationUnit& unit : translation_units(script, locale)) {
    const std::uint32_t row = table.add_row(unit.key);
    constexpr std::array<std::string_view, 3> states{"missing", "changed", "done"};
    table.set(row, source, unit.source);
    table.set(row, target, unit.has_target && unit.target.empty() ? empty_on_purpose : unit.target);
    table.set(row, state, states[static_cast<std::size_t>(unit.state)]);
    table.set(row, speaker, unit.speaker);
    table.set(row, before, unit.before);
    table.set(row, notes, fmt::format("{}", fmt::join(unit.notes, "; ")));
  }
  return write_strings(table);
}

void export_texts(const StringsOptions& options) {
  const auto script = read_script(options.script);
  const std::string locale = read_locale(options.locale);
  if (locale == script->source_locale) {
    throw Failure(wrong_usage, "the script is written in " + quoted_word(locale) +
                                   ": name the locale to translate into");
  }
  const bool csv = options.output.ends_with(".csv");
  write_result(options.output, {".xlf", ".xliff", ".csv"},
               csv ? write_csv(*script, locale) : write_xliff(*script, locale, options.form()));
}

// --- import

// What a table of one language brings back.
Translations read_csv(const std::string& path, const std::string& content, const Script& script,
                      const std::string& wanted) {
  auto table = parse_strings(content, path);
  if (!table) {
    report(path, content, table.error());
    throw Failure(input_has_errors, "the texts were not imported");
  }
  Translations translations;
  std::optional<std::size_t> column;
  for (std::size_t i = 1; i < table->columns().size(); ++i) {
    const std::string& locale = table->columns()[i].locale;
    const bool fits = wanted.empty() ? locale != script.source_locale : locale == wanted;
    if (locale.empty() || !fits) continue;
    if (column) throw Failure(wrong_usage, path + " has several locales: name one with --locale");
    column = i;
    translations.locale = locale;
  }
  if (!column) throw Failure(input_has_errors, path + ": there is no column of a translation");
  const auto source = table->find_column(script.source_locale);
  for (const TranslationUnit& unit : translation_units(script, translations.locale)) {
    const auto row = table->find_row(unit.key);
    if (!row || table->cell(*row, *column).empty()) continue;
    const bool same = !source || table->cell(*row, *source) == unit.source;
    translations.texts.push_back({.key = unit.key,
                                  .text = std::string(table->cell(*row, *column)),
                                  .made_from = same ? fingerprint_of(unit.source) : "00000000"});
  }
  return translations;
}

Translations read_translations(const StringsOptions& options, const Script& script) {
  const std::string content = read_input_file(options.file);
  if (options.file.ends_with(".csv")) {
    return read_csv(options.file, content, script,
                    options.locale.empty() ? "" : read_locale(options.locale));
  }
  auto read = read_xliff(content, script, options.form());
  if (!read) {
    report(options.file, content, read.error());
    throw Failure(input_has_errors, "the texts were not imported");
  }
  report(options.file, content, read->diagnostics);
  return std::move(*read);
}

void import_texts(const StringsOptions& options, ExitStatus& status) {
  const auto script = read_script(options.script);
  const Translations translations = read_translations(options, *script);
  if (!options.locale.empty() && read_locale(options.locale) != translations.locale) {
    throw Failure(wrong_usage, options.file + " is in the locale " +
                                   quoted_word(translations.locale) + ", not in " +
                                   quoted_word(options.locale));
  }
  const auto tables = put_translations(*script, translations);
  if (!tables) throw Failure(input_has_errors, options.script + ": " + tables.error().message);
  for (const StringsTable& table : *tables) {
    write_file(path_beside(options.script, table.file()), write_strings(table));
  }
  print_out("{}: {} texts in {}, {} tables changed\n", options.file, translations.texts.size(),
            translations.locale, tables->size());
  if (has_errors(translations.diagnostics)) status = input_has_errors;
}

// --- pseudo

void pseudo(const StringsOptions& options) {
  const auto script = read_script(options.script);
  const std::string locale =
      options.locale.empty() ? std::string(accented_locale) : read_locale(options.locale);
  if (locale != accented_locale && locale != right_to_left_locale) {
    throw Failure(wrong_usage,
                  fmt::format("{} is none of the made-up locales: {} (accented and "
                              "longer) or {} (from right to left)",
                              quoted_word(locale), accented_locale, right_to_left_locale));
  }
  StringsTable table;
  const std::size_t source = table.add_column(script->source_locale);
  const std::size_t target = table.add_column(locale);
  const Vocabulary vocabulary{.styles = script->styles,
                              .value = [](std::string_view name) { return std::string(name); }};
  for (const TranslationUnit& unit : translation_units(*script, locale)) {
    const std::uint32_t row = table.add_row(unit.key);
    table.set(row, source, unit.source);
    table.set(row, target, pseudo_text(unit.source, locale, vocabulary));
  }
  write_result(options.output, {".csv"}, write_strings(table));
}

}  // namespace

void add_strings_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<StringsOptions>();
  CLI::App* command = app.add_subcommand("strings", "The texts of a script in its locales");
  command->require_subcommand(1);
  command->get_formatter()->label("SUBCOMMAND", "COMMAND");
  command->footer("arvik strings COMMAND --help tells more of each command.");
  const auto add_one = [&](const std::string& name, const std::string& help, auto run) {
    CLI::App* one = command->add_subcommand(name, help)->group("Commands");
    one->footer("");
    one->add_option("SCRIPT", options->script, "The script, a JSON file")
        ->required()
        ->type_name(" ");
    one->callback([options, &status, run] { run(*options, status); });
    return one;
  };
  const auto add_output = [&](CLI::App& one, const std::string& help) {
    one.add_option("-o,--output", options->output, help)->type_name("FILE");
  };
  CLI::App* listing = add_one("list", "How much of each locale is translated",
                              [](const StringsOptions& chosen, ExitStatus&) { list(chosen); });
  listing->add_flag("--json", options->json, "As JSON");
  add_one("add", "Bring new keys of the script, and changed texts, into its first table",
          [](const StringsOptions& chosen, ExitStatus&) { add(chosen); });
  CLI::App* exporting =
      add_one("export", "Write the texts for the translators of a locale: XLIFF 1.2, or CSV",
              [](const StringsOptions& chosen, ExitStatus&) { export_texts(chosen); });
  exporting->add_option("LOCALE", options->locale, "The locale to translate into, like pl")
      ->required()
      ->type_name(" ");
  add_output(*exporting, "The file to write, .xlf or .csv; default standard output, XLIFF");
  const auto add_placeholders = [&](CLI::App& one) {
    one.add_flag("--placeholders", options->placeholders,
                 "Each tag in a <ph> of its own, for tools that know no other elements");
  };
  add_placeholders(*exporting);
  CLI::App* importing =
      add_one("import", "Take the translations of a file into the script's tables", import_texts);
  importing->add_option("FILE", options->file, "What came back, .xlf or .csv")
      ->required()
      ->type_name(" ");
  importing->add_option("--locale", options->locale, "The locale that it must be in")
      ->type_name("TAG");
  add_placeholders(*importing);
  CLI::App* making = add_one("pseudo", "A made-up locale, to try the game before it is translated",
                             [](const StringsOptions& chosen, ExitStatus&) { pseudo(chosen); });
  making
      ->add_option("LOCALE", options->locale,
                   "en-XA: accented, 40 % longer (default); ar-XB: from right to left")
      ->type_name(" ");
  add_output(*making, "The table to write, .csv; default standard output");
  making->footer("Games and arvik play go to these locales without any file: --locale en-XA.");
}

}  // namespace arvik::tool
