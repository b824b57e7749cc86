#pragma once

#include <string>

#include "arvik/arvik.hpp"

namespace arvik::test {

/// English, opened once for the program.
[[nodiscard]] Language& english();
/// Prepares lines in English. The tests of a file share it.
[[nodiscard]] Typesetter& typesetter();
/// The font of a grid.
[[nodiscard]] const GridFont& grid();

/// English markup, cut up and timed; ten steps a second unless the pace says otherwise, so that
/// times are easy to read.
[[nodiscard]] Schedule timed(const std::string& markup, const Pace& pace = {.rate = 10},
                             const RowStarts& starts = {});

}  // namespace arvik::test
