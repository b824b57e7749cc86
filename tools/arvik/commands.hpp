#pragma once

#include <CLI/App.hpp>
#include <CLI/Config.hpp>
#include <CLI/Formatter.hpp>

#include "exit_status.hpp"

namespace arvik::tool {

// Each adds one command to the tool. When the command line names it, it runs while the command line
// is parsed and leaves its exit status; it throws Failure when it cannot go on. `app` and `status`
// must outlive the parsing.
void add_reveal_command(CLI::App& app, ExitStatus& status);
void add_schedule_command(CLI::App& app, ExitStatus& status);
void add_layout_command(CLI::App& app, ExitStatus& status);
void add_frames_command(CLI::App& app, ExitStatus& status);
void add_chart_command(CLI::App& app, ExitStatus& status);
void add_mix_command(CLI::App& app, ExitStatus& status);
void add_play_command(CLI::App& app, ExitStatus& status);
void add_strings_command(CLI::App& app, ExitStatus& status);
void add_check_command(CLI::App& app, ExitStatus& status);
void add_voices_command(CLI::App& app, ExitStatus& status);

}  // namespace arvik::tool
