#pragma once

#include <string>

#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/markup.hpp"
#include "arvik/schedule.hpp"
#include "arvik/steps.hpp"

/// Part of arvik::script. Lines as SSML 1.1 (W3C), for speech synthesisers.
namespace arvik {

/// A line as an SSML document: pauses as breaks in whole milliseconds, one at each position; rates
/// as prosody in percent of `rate`, that of the line's pace; marks, and holds and sounds as marks
/// named `hold` and `sound-NAME`; languages. The end of a mark that is a span is named `NAME-end`.
/// Breaks before the first word stand behind a mark `line-begin`, because some synthesisers drop
/// breaks that nothing stands before.
[[nodiscard]] ARVIK_API std::string ssml_document(const MarkedText& marked, const Steps& steps,
                                                  const Schedule& schedule,
                                                  const Language& language, double rate);

}  // namespace arvik
