// Guarded by tests/unicode/properties_test.cpp, which compares every code point with ICU.

#include "properties.hpp"

#include <algorithm>

namespace arvik::unicode {
namespace {

// The last range that begins at the code point or before it.
template <typename Ranges>
const auto& range_of(const Ranges& ranges, char32_t code_point) {
  const auto behind =
      std::upper_bound(ranges.begin(), ranges.end(), code_point,
                       [](char32_t c, const auto& range) { return c < range.first; });
  return *(behind - 1);
}

}  // namespace

const Properties& far_properties_of(char32_t code_point) {
  return table::pool[range_of(table::ranges, code_point).value];
}

ScriptCode script_of(char32_t code_point) { return range_of(table::scripts, code_point).script; }

}  // namespace arvik::unicode
