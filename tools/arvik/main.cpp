#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <clocale>
#include <cstdio>
#include <sstream>
#include <string_view>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "commands.hpp"
#include "output.hpp"

namespace {

// What is wrong with the command's name, told better than the parser would.
std::string command_problem(CLI::App& app, int argc, char** argv) {
  std::vector<std::string_view> names;
  for (const CLI::App* command : app.get_subcommands({})) names.push_back(command->get_name());
  if (argc < 2) return fmt::format("name a command: {}", fmt::join(names, ", "));
  const std::string_view word = argv[1];
  if (word.starts_with('-')) return {};
  if (std::find(names.begin(), names.end(), word) != names.end()) return {};
  const std::string_view near = arvik::nearest_name(word, names);
  return fmt::format("there is no command \"{}\"{}", word,
                     near.empty() ? "" : fmt::format("; did you mean \"{}\"?", near));
}

int run(int argc, char** argv) {
  using namespace arvik::tool;
  CLI::App app{
      "Arvik times the character-by-character display of dialogue lines.\n"
      "\n"
      "Try:  arvik reveal 'Mind the [rate x0.5: thin ice].[hold] It [b: sings]…'"};
  app.name("arvik");
  app.set_version_flag("--version", std::string("arvik ") + ARVIK_VERSION);
  app.require_subcommand(0, 1);
  app.get_formatter()->label("SUBCOMMAND", "COMMAND");
  app.footer(
      "arvik COMMAND --help tells more of each command.\n"
      "Exit status: 0 success, 1 errors in the input or output, 2 wrong usage.");
  ExitStatus status = good;
  add_reveal_command(app, status);
  add_schedule_command(app, status);
  add_layout_command(app, status);
  add_frames_command(app, status);
  add_chart_command(app, status);
  add_mix_command(app, status);
  add_play_command(app, status);
  add_strings_command(app, status);
  add_voices_command(app, status);
  add_check_command(app, status);
  for (CLI::App* command : app.get_subcommands({})) {
    command->group("Commands")->get_formatter()->label("Excludes", "not with");
  }
  if (const std::string problem = command_problem(app, argc, argv); !problem.empty()) {
    fmt::print(stderr, "arvik: {}\nRun arvik --help for a list.\n", problem);
    return wrong_usage;
  }
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& problem) {
    if (problem.get_exit_code() == static_cast<int>(CLI::ExitCodes::Success)) {
      std::ostringstream text;
      app.exit(problem, text, text);  // --help and --version
      write_out(text.str());
      return good;
    }
    fmt::print(stderr, "arvik: {}\n", problem.what());
    fmt::print(stderr, "Run arvik{} --help for a list.\n",
               app.get_subcommands().empty() ? "" : " " + app.get_subcommands()[0]->get_name());
    return wrong_usage;
  } catch (const Failure& failure) {
    fmt::print(stderr, "arvik: {}\n", failure.what());
    return failure.status();
  }
  return status;
}

}  // namespace

int main(int argc, char** argv) {
  std::setlocale(LC_CTYPE, "");
  try {
    const int status = run(argc, argv);
    arvik::tool::close_out();
    return status;
  } catch (const std::exception& problem) {
    std::fprintf(stderr, "arvik: %s\n", problem.what());
    return arvik::tool::input_has_errors;
  }
}
