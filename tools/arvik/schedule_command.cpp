#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>

#include "arvik/ssml.hpp"
#include "arvik/vtt.hpp"
#include "commands.hpp"
#include "input.hpp"
#include "output.hpp"
#include "report.hpp"
#include "schedule_writer.hpp"

namespace arvik::tool {
namespace {

enum class ScheduleFormat { unset, table, json, csv, vtt, ssml };

struct ScheduleOptions {
  TextOptions text;
  PaceOptions pace;
  ScheduleFormat format = ScheduleFormat::unset;
  bool batch = false;
  bool ssml = false;
  RevealUnit unit = RevealUnit::step;
  std::string speaker;
  std::string stay = "1.5s";
};

// What is the same for every line of a run.
struct Workshop {
  Typesetter typesetter;
  Pace pace;
  GridFont font{};
  PreparedLine prepared{};
};

// Parses and times `source`; reports what is wrong with it.
void prepare(const InputText& input, std::string_view source, std::size_t row_offset,
             Workshop& workshop, ScheduledLine& line, ExitStatus& status) {
  PreparedLine& prepared = workshop.prepared;
  const auto timed =
      workshop.typesetter.prepare(source, workshop.pace, workshop.font, Box{}, prepared);
  std::swap(line.marked, prepared.marked);
  std::swap(line.steps, prepared.steps);
  std::swap(line.schedule, prepared.schedule);
  std::swap(line.boundaries, prepared.boundaries);
  report(input.name, source, line.marked.diagnostics, row_offset);
  if (has_errors(line.marked.diagnostics)) status = input_has_errors;
  if (!timed) throw Failure(wrong_usage, timed.error().message);
  report(input.name + " (as shown)", line.marked.text, line.schedule.diagnostics, row_offset);
}

void run_batch(const InputText& input, const ScheduleOptions& options, Workshop& workshop,
               CueOptions cue, ExitStatus& status) {
  const std::string_view all = input.text;
  ProgressBar bar(isatty(STDOUT_FILENO) == 0 ? all.size() : 0);
  ScheduledLine line;
  std::size_t row = 0;
  if (options.format == ScheduleFormat::vtt) write_out(vtt_header());
  for (std::size_t at = 0; at < all.size(); ++row) {
    const std::size_t end = std::min(all.find('\n', at), all.size());
    std::string_view source = all.substr(at, end - at);
    if (source.ends_with('\r')) source.remove_suffix(1);
    prepare(input, source, row, workshop, line, status);
    if (options.format == ScheduleFormat::vtt) {
      const std::string text =
          vtt_cue(line.marked, line.steps, line.schedule, workshop.typesetter.language(), cue);
      write_out(text);
      if (!text.empty()) cue.begin = cue_end(line.schedule, cue);
    } else {
      write_out(schedule_json(line, false));
    }
    at = end + 1;
    bar.set(std::min(at, all.size()));
  }
}

void run(ScheduleOptions options, ExitStatus& status) {
  if (options.ssml && options.format != ScheduleFormat::unset &&
      options.format != ScheduleFormat::ssml) {
    throw Failure(wrong_usage, "--ssml is a format: leave --format out");
  }
  if (options.ssml) options.format = ScheduleFormat::ssml;
  const bool batch_format = options.format == ScheduleFormat::unset ||
                            options.format == ScheduleFormat::json ||
                            options.format == ScheduleFormat::vtt;
  if (options.batch && !batch_format) {
    throw Failure(wrong_usage, "--batch writes JSON Lines or, with --format vtt, cues");
  }
  const auto stay = parse_time(options.stay);
  if (!stay) throw Failure(wrong_usage, "--stay: " + stay.error());
  const CueOptions cue{
      .unit = options.unit, .speaker = options.speaker, .begin = {}, .stay = *stay};
  Pace pace = read_pace(options.pace);
  Workshop workshop{.typesetter = make_typesetter(options.text), .pace = std::move(pace)};
  if (options.batch) {
    run_batch(read_input(options.text), options, workshop, cue, status);
    return;
  }
  const InputText input = read_line(options.text);
  ScheduledLine line;
  prepare(input, input.text, 0, workshop, line, status);
  switch (options.format) {
    case ScheduleFormat::unset:
    case ScheduleFormat::table:
      write_out(schedule_table(line));
      break;
    case ScheduleFormat::json:
      write_out(schedule_json(line, true));
      break;
    case ScheduleFormat::csv:
      write_out(schedule_csv(line));
      break;
    case ScheduleFormat::vtt:
      write_out(vtt_header() + vtt_cue(line.marked, line.steps, line.schedule,
                                       workshop.typesetter.language(), cue));
      break;
    case ScheduleFormat::ssml:
      write_out(ssml_document(line.marked, line.steps, line.schedule,
                              workshop.typesetter.language(), workshop.pace.rate));
      break;
  }
}

}  // namespace

void add_schedule_command(CLI::App& app, ExitStatus& status) {
  auto options = std::make_shared<ScheduleOptions>();
  CLI::App* command = app.add_subcommand(
      "schedule", "Print when each character of a line appears, and the reason of each pause");
  command->footer(
      "vtt is WebVTT, which browsers and video players reveal in the same time; ssml is SSML 1.1,\n"
      "for speech synthesisers. Holds take no time in either.");
  add_text_options(*command, options->text);
  add_pace_options(*command, options->pace);
  add_choice<ScheduleFormat>(*command, "--format", options->format,
                             {{"table", ScheduleFormat::table},
                              {"json", ScheduleFormat::json},
                              {"csv", ScheduleFormat::csv},
                              {"vtt", ScheduleFormat::vtt},
                              {"ssml", ScheduleFormat::ssml}},
                             "Output format; default table");
  command->add_flag("--ssml", options->ssml, "The same as --format ssml");
  command->add_flag("--batch", options->batch,
                    "Each row of the input is one line; write one JSON object per row, or, with "
                    "--format vtt, one cue per row");
  add_choice<RevealUnit>(*command, "--unit", options->unit, reveal_units(),
                         "vtt: what gets a timestamp of its own; default step");
  command->add_option("--speaker", options->speaker, "vtt: the speaker")->type_name("NAME");
  command
      ->add_option("--stay", options->stay, "vtt: how long a line stays after its last character")
      ->capture_default_str()
      ->type_name("TIME");
  command->callback([options, &status] { run(*options, status); });
}

}  // namespace arvik::tool
