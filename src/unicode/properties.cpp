// Guarded by tests/unicode/properties_test.cpp, which compares every code point with ICU.

#include "properties.hpp"

#include <unicode/uchar.h>

#include <algorithm>
#include <string>

namespace arvik::unicode {
namespace {

// The first range that begins behind the code point.
template <typename Ranges>
auto behind(const Ranges& ranges, char32_t code_point) {
  return std::upper_bound(ranges.begin(), ranges.end(), code_point,
                          [](char32_t c, const auto& range) { return c < range.first; });
}

}  // namespace

bool icu_has_version_of_table() {
  UVersionInfo version{};
  u_getUnicodeVersion(version);
  return table::version.starts_with(std::to_string(version[0]) + "." + std::to_string(version[1]) +
                                    ".");
}

const Properties& far_properties_of(char32_t code_point) {
  return table::pool[(behind(table::ranges, code_point) - 1)->value];
}

void ScriptFinder::find(char32_t code_point) {
  const auto next = behind(table::scripts, code_point);
  first_ = (next - 1)->first;
  end_ = next == table::scripts.end() ? 0x110000 : next->first;
  script_ = (next - 1)->script;
}

}  // namespace arvik::unicode
