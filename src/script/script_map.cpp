// Guarded by tests/check/check_test.cpp.

#include "arvik/script_map.hpp"

#include <algorithm>

#include "problems.hpp"

namespace arvik {

TextRange ScriptMap::in_file(const ScriptSpot& spot, TextRange in_text) const {
  const std::string& text = files[spot.file].text;
  if (text[spot.begin] != '"' || (in_text.begin == 0 && in_text.end == 0)) {
    return {spot.begin, spot.end};
  }
  const std::size_t limit = std::max<std::size_t>(spot.end, spot.begin + 2) - 1;
  const auto offset = [&](std::size_t decoded) {
    return std::min(script::raw_offset(text, spot.begin, decoded), limit);
  };
  return {offset(in_text.begin), offset(in_text.end)};
}

}  // namespace arvik
