#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <filesystem>
#include <map>
#include <set>

#include "arvik/check.hpp"
#include "arvik/check_report.hpp"
#include "arvik/locale.hpp"
#include "arvik/overview.hpp"
#include "arvik/read_file.hpp"
#include "arvik/speech.hpp"
#include "commands.hpp"
#include "fonts.hpp"
#include "input.hpp"
#include "output.hpp"
#include "report.hpp"
#include "script_input.hpp"
#include "signals.hpp"

namespace arvik::tool {
namespace {

enum class Format : std::uint8_t { text, json, sarif, junit };

struct CheckCommand {
  std::vector<std::string> scripts;
  std::vector<std::string> locales;
  std::vector<std::string> off, on;
  Format format = Format::text;
  std::string output;
  std::string baseline;
  std::string overview;
  std::string font;
  float size = 0;
  float width = 0;
  float height = 0;
  unsigned threads = 0;
  bool warnings_as_errors = false;
  bool list_rules = false;
};

// The families of a script, and, once each, a word about those that this machine lacks.
class Faces {
 public:
  // Null if one is missing: nobody knows which characters it has.
  std::shared_ptr<const FontSet> open(const std::vector<std::string>& families) {
    const auto [known, is_new] = known_.try_emplace(families);
    if (!is_new) return known->second;
    try {
      known->second = std::make_shared<const FontSet>(load_families(families, any_size));
    } catch (const Failure& failure) {
      if (told_.insert(failure.what()).second) {
        fmt::print(stderr, "arvik: {}; missing glyphs are not looked for\n", failure.what());
      }
    }
    return known->second;
  }

 private:
  static constexpr float any_size = 16;  // whether there is a glyph does not depend on it
  std::map<std::vector<std::string>, std::shared_ptr<const FontSet>> known_;
  std::set<std::string> told_;
};

CheckOptions make_options(const CheckCommand& command, const std::string& path, Faces& faces) {
  CheckOptions options{
      .locales = command.locales, .off = command.off, .on = command.on, .threads = command.threads};
  if (command.size > 0) {
    options.font =
        [&](const Script& script) -> tl::expected<std::shared_ptr<const Font>, Diagnostic> {
      const auto families =
          command.font.empty() ? script.fonts : std::vector<std::string>{command.font};
      if (families.empty()) {
        throw Failure(wrong_usage, path + " names no fonts: name one with --font");
      }
      return std::make_shared<const FontSet>(load_families(families, command.size));
    };
  } else {
    options.faces = [&](const Script& script) -> std::shared_ptr<const Font> {
      return script.fonts.empty() ? nullptr : faces.open(script.fonts);
    };
  }
  options.clip = [path](const std::string& file) -> tl::expected<SpokenClip, Diagnostic> {
    const std::string clip = path_beside(path, file);
    return fingerprint_of_file(clip).and_then([&](std::uint64_t fingerprint) {
      return read_speech_file(clip).map([&](const SpeechTrack& track) {
        return SpokenClip{track.length, track.lead, track.tail, fingerprint};
      });
    });
  };
  options.exists = [path](const std::string& file) {
    std::error_code ignored;  // what cannot be looked at is not there
    return std::filesystem::exists(path_beside(path, file), ignored);
  };
  return options;
}

// --- what is written

struct Results {
  std::vector<Finding> findings;
  CheckSummary summary{.version = ARVIK_VERSION};
};

std::string count_of(std::size_t count, std::string_view what) {
  return fmt::format("{} {}{}", count, what, count == 1 ? "" : "s");
}

void print_finding(const Finding& finding, std::string_view content) {
  print_out("  {}:{}  {}: {} ({})", finding.row, finding.column,
            finding.severity == Severity::error ? "error" : "warning", printable(finding.message),
            finding.code);
  if (!finding.key.empty() || !finding.locale.empty()) {
    print_out("  [{}{}{}]", printable(finding.key),
              finding.key.empty() || finding.locale.empty() ? "" : ", ", finding.locale);
  }
  print_out("\n{}", excerpt(content, finding.range, "      "));
  if (!finding.hint.empty()) print_out("      hint: {}\n", printable(finding.hint));
}

// How many findings of each code there are in each locale.
void print_summary(const std::vector<Finding>& findings) {
  std::map<std::string, std::map<std::string, std::size_t>> by_code;
  std::vector<std::string> locales;
  for (const Finding& finding : findings) {
    ++by_code[finding.code][finding.locale];
    if (std::find(locales.begin(), locales.end(), finding.locale) == locales.end()) {
      locales.push_back(finding.locale);
    }
  }
  std::sort(locales.begin(), locales.end());
  std::size_t width = 4;
  for (const auto& [code, _] : by_code) width = std::max(width, code.size());
  print_out("{:<{}}", "", width);
  for (const std::string& locale : locales) {
    print_out("  {:>7}", locale.empty() ? "script" : locale);
  }
  print_out("\n");
  for (const auto& [code, counts] : by_code) {
    print_out("{:<{}}", code, width);
    for (const std::string& locale : locales) {
      const auto count = counts.find(locale);
      print_out("  {:>7}", count == counts.end() ? "·" : std::to_string(count->second));
    }
    print_out("\n");
  }
  print_out("\n");
}

void print_text(const Results& results) {
  std::string file;
  std::string content;
  for (const Finding& finding : results.findings) {
    if (finding.file != file) {
      file = finding.file;
      content = read_file(file).value_or("");
      print_out("{}\n", printable(file));
    }
    print_finding(finding, content);
  }
  if (!results.findings.empty()) {
    print_out("\n");
    print_summary(results.findings);
  }
  const auto errors = static_cast<std::size_t>(
      std::count_if(results.findings.begin(), results.findings.end(),
                    [](const Finding& finding) { return finding.severity == Severity::error; }));
  const std::string known =
      results.summary.known == 0 ? "" : fmt::format(", {} known", results.summary.known);
  print_out("{}, {}{}; {} checked in {}: {}\n", count_of(errors, "error"),
            count_of(results.findings.size() - errors, "warning"), known,
            count_of(results.summary.texts, "text"),
            count_of(results.summary.locales.size(), "locale"),
            fmt::join(results.summary.locales, " "));
}

void write_results(const CheckCommand& command, const Results& results) {
  if (command.format == Format::text) return print_text(results);
  const std::string text =
      command.format == Format::json    ? write_check_json(results.findings, results.summary)
      : command.format == Format::sarif ? write_sarif(results.findings, results.summary)
                                        : write_junit(results.findings, results.summary);
  if (command.output.empty() || command.output == "-") return write_out(text);
  write_file(command.output, text);
}

void print_rules() {
  std::string_view group;
  for (const CheckRule& rule : check_rules()) {
    if (check_group_name(rule.group) != group) {
      group = check_group_name(rule.group);
      print_out("{}\n", group);
    }
    print_out("  {:<23} {:<8} {}{}\n", rule.code,
              rule.severity == Severity::error ? "error" : "warning", rule.about,
              rule.by_default ? "" : " (off unless --on)");
  }
  print_out("limits\n");
  for (const CheckLimit& limit : check_limits()) {
    print_out("  {:<23} {:<8} {}\n", limit.name, limit.value, limit.about);
  }
  print_out("Beside these, all that docs/diagnostics.md lists.\n");
}

// --- the run

CheckReport check_one(const CheckCommand& command, const std::string& path,
                      const CheckedScript& script, Faces& faces) {
  CheckOptions options = make_options(command, path, faces);
  if (command.width > 0 || command.height > 0) {
    Box box = script.script ? script.script->box : Box{};
    if (command.width > 0) box.width = command.width;
    if (command.height > 0) box.height = command.height;
    options.box = box;
  }
  std::atomic<bool> stop = false;
  options.stop = &stop;
  std::optional<ProgressBar> bar;
  const SignalWatch watch;
  options.progress = [&](std::size_t done, std::size_t all) {
    if (!bar) bar.emplace(all);
    bar->set(done);
    if (SignalWatch::has_come()) stop = true;
  };
  auto report = check(script, options);
  bar.reset();
  if (report && !report->stopped && !command.overview.empty()) {
    const auto page = write_overview(script, *report, options);
    if (!page) throw Failure(input_has_errors, path + ": " + page.error().message);
    write_file(command.overview, *page);
  }
  if (!report) {
    const Diagnostic& problem = report.error();
    throw Failure(
        problem.code == DiagnosticCode::unknown_locale || problem.code == DiagnosticCode::bad_value
            ? wrong_usage
            : input_has_errors,
        path + ": " + problem.message +
            (problem.hint.empty() ? "" : fmt::format("; did you mean \"{}\"?", problem.hint)));
  }
  if (report->stopped) {
    fmt::print(stderr, "arvik: stopped after {}\n", count_of(report->texts, "text"));
  }
  return std::move(*report);
}

void take(const std::string& path, CheckReport report, Results& results) {
  for (Finding& finding : report.findings) {
    finding.file = path_beside(path, finding.file);
    results.findings.push_back(std::move(finding));
  }
  results.summary.scripts.push_back(path);
  results.summary.texts += report.texts;
  for (std::string& locale : report.locales) {
    auto& known = results.summary.locales;
    if (std::find(known.begin(), known.end(), locale) == known.end()) {
      known.push_back(std::move(locale));
    }
  }
}

void run_check(const CheckCommand& command, ExitStatus& status) {
  if (command.list_rules) return print_rules();
  if (command.scripts.empty()) throw Failure(wrong_usage, "name a script, a JSON file");
  if (!command.output.empty() && command.format == Format::text) {
    throw Failure(wrong_usage, "-o needs --format json, sarif or junit");
  }
  if (!command.font.empty() && command.size <= 0) {
    throw Failure(wrong_usage, "--font needs --size, in pixels; boxes are in pixels then, too");
  }
  if (!command.overview.empty()) {
    check_ending(command.overview, {".html"});
    if (command.scripts.size() > 1) throw Failure(wrong_usage, "--overview shows one script");
  }
  std::optional<Baseline> baseline;
  if (!command.baseline.empty()) {
    auto read = read_baseline(read_input_file(command.baseline));
    if (!read) throw Failure(input_has_errors, command.baseline + ": " + read.error().message);
    baseline = std::move(*read);
  }
  Results results;
  Faces faces;
  for (const std::string& path : command.scripts) {
    (void)read_input_file(path);  // tells of what cannot be opened as all commands do
    const auto script = load_for_check(path);
    if (!script) throw Failure(input_has_errors, script.error().message);
    CheckReport report = check_one(command, path, *script, faces);
    if (report.stopped) {
      status = input_has_errors;
      return;
    }
    take(path, std::move(report), results);
  }
  if (baseline) results.summary.known = drop_known(*baseline, results.findings);
  if (command.warnings_as_errors) {
    for (Finding& finding : results.findings) finding.severity = Severity::error;
  }
  write_results(command, results);
  const bool has_errors =
      std::any_of(results.findings.begin(), results.findings.end(),
                  [](const Finding& finding) { return finding.severity == Severity::error; });
  if (has_errors) status = input_has_errors;
}

}  // namespace

void add_check_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<CheckCommand>();
  CLI::App* command = app.add_subcommand(
      "check", "What players would stumble over in a script, in all its locales");
  command->add_option("SCRIPT", options->scripts, "Scripts, JSON files")->type_name(" ");
  command->add_option("--locale", options->locales, "Only these locales; default all of the script")
      ->transform([](const std::string& word) { return read_locale(word); })
      ->delimiter(',')
      ->type_name("TAG…");
  command->add_option("--off", options->off, "Codes of findings to leave out")
      ->delimiter(',')
      ->type_name("CODE…");
  command->add_option("--on", options->on, "Rules to add that are off by default")
      ->delimiter(',')
      ->type_name("CODE…");
  command->add_flag("--rules", options->list_rules, "List the rules and limits, and check nothing");
  command
      ->add_option("--size", options->size,
                   "Lay out with real fonts of this size in pixels: --font, or those that the "
                   "script names; default a grid of cells")
      ->check(in_range(1, 2000))
      ->type_name("PIXELS");
  command->add_option("--font", options->font, "Font family, as fontconfig knows it")
      ->type_name("FAMILY");
  command->add_option("--width", options->width, "Width of the box; default the script's")
      ->check(in_range(1, 100'000))
      ->type_name("N");
  command->add_option("--height", options->height, "Height of the box; default the script's")
      ->check(in_range(1, 100'000))
      ->type_name("N");
  add_choice<Format>(*command, "--format", options->format,
                     {{"text", Format::text},
                      {"json", Format::json},
                      {"sarif", Format::sarif},
                      {"junit", Format::junit}},
                     "How findings are written; default text");
  command->add_option("-o,--output", options->output, "The file to write; default standard output")
      ->type_name("FILE");
  command
      ->add_option("--baseline", options->baseline,
                   "A report in JSON: what it has is known and kept quiet")
      ->type_name("FILE");
  command
      ->add_option("--overview", options->overview,
                   "Write a page with every line in its box, to be opened in a browser")
      ->type_name("FILE.html");
  command->add_flag("--warnings-as-errors", options->warnings_as_errors,
                    "Exit status 1 for warnings, too");
  command->add_option("--threads", options->threads, "Default: as many as the machine has")
      ->check(in_range(1, 256))
      ->type_name("N");
  command->footer(
      "docs/checking.md tells of each rule. A line's own \"unchecked\" in the script, or the "
      "column "
      "#unchecked of a table, leaves codes out for it; \"check\" in the script for all of it.\n"
      "Exit status: 0 no errors, 1 errors, 2 wrong usage.");
  command->callback([options, &status] { run_check(*options, status); });
}

}  // namespace arvik::tool
