#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>

#include "commands.hpp"
#include "input.hpp"
#include "report.hpp"
#include "schedule_writer.hpp"

namespace arvik::tool {
namespace {

enum class Format { unset, table, json, csv };

struct ScheduleOptions {
  TextOptions text;
  PaceOptions pace;
  Format format = Format::unset;
  bool batch = false;
};

void write(const std::string& text) { std::fwrite(text.data(), 1, text.size(), stdout); }

// Parses and times `source`; reports what is wrong with it.
void prepare(const InputText& input, std::string_view source, std::size_t row_offset,
             Language& language, const Pace& pace, ScheduledLine& line, ExitStatus& status) {
  parse(source, line.marked);
  report(input.name, source, line.marked.diagnostics, row_offset);
  if (has_errors(line.marked.diagnostics)) status = input_has_errors;
  language.segment(line.marked.text, line.steps);
  const auto timed = schedule(line.marked, line.steps, language, pace, line.schedule);
  if (!timed) throw Failure(wrong_usage, timed.error().message);
}

void run_batch(const InputText& input, Language& language, const Pace& pace, ExitStatus& status) {
  const std::string_view all = input.text;
  ProgressBar bar(isatty(STDOUT_FILENO) == 0 ? all.size() : 0);
  ScheduledLine line;
  std::size_t row = 0;
  for (std::size_t at = 0; at < all.size(); ++row) {
    const std::size_t end = std::min(all.find('\n', at), all.size());
    std::string_view source = all.substr(at, end - at);
    if (source.ends_with('\r')) source.remove_suffix(1);
    prepare(input, source, row, language, pace, line, status);
    write(schedule_json(line, false));
    at = end + 1;
    bar.set(std::min(at, all.size()));
  }
}

void run(const ScheduleOptions& options, ExitStatus& status) {
  if (options.batch && options.format != Format::unset && options.format != Format::json) {
    throw Failure(wrong_usage, "--batch writes JSON Lines: leave --format out");
  }
  const Pace pace = read_pace(options.pace);
  Language language = open_language(options.text);
  if (options.batch) {
    run_batch(read_input(options.text), language, pace, status);
    return;
  }
  const InputText input = read_line(options.text);
  ScheduledLine line;
  prepare(input, input.text, 0, language, pace, line, status);
  switch (options.format) {
    case Format::unset:
    case Format::table:
      write(schedule_table(line));
      break;
    case Format::json:
      write(schedule_json(line, true));
      break;
    case Format::csv:
      write(schedule_csv(line));
      break;
  }
}

}  // namespace

void add_schedule_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<ScheduleOptions>();
  CLI::App* command =
      app.add_subcommand("schedule", "Tell when every character of a line appears, and why then");
  add_text_options(*command, options->text);
  add_pace_options(*command, options->pace);
  add_choice<Format>(*command, "--format", options->format,
                     {{"table", Format::table}, {"json", Format::json}, {"csv", Format::csv}},
                     "How to write it; default table");
  command->add_flag("--batch", options->batch,
                    "Every row of the input is a line of dialogue; write one JSON object a row");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
