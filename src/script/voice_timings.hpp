#pragma once

#include "arvik/script_file.hpp"

namespace arvik::script {

/// Reads the timings that lie beside the voice clips of a script's lines and puts them into the
/// lines (DialogueLine::timing). A file that cannot be read is a warning among the script's
/// diagnostics, and its line goes in its own time. Without Script::access nothing is read.
void load_timings(Script& script);

}  // namespace arvik::script
