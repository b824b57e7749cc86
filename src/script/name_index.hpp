#pragma once

#include <map>
#include <string_view>
#include <vector>

namespace arvik::script {

/// Names with what they stand for, in order, and found by name in the time of a few comparisons.
using NameIndex = std::map<std::string_view, std::size_t, std::less<>>;

template <typename Range, typename NameOf>
[[nodiscard]] NameIndex index_of(const Range& range, NameOf name_of) {
  NameIndex index;
  for (std::size_t i = 0; i < range.size(); ++i) index.emplace(name_of(range[i]), i);
  return index;
}

template <typename Range>
[[nodiscard]] std::vector<std::string_view> names_of(const Range& range) {
  std::vector<std::string_view> names;
  names.reserve(range.size());
  for (const auto& entry : range) names.push_back(entry.name);
  return names;
}
[[nodiscard]] inline std::vector<std::string_view> names_of(const NameIndex& index) {
  std::vector<std::string_view> names;
  names.reserve(index.size());
  for (const auto& [name, _] : index) names.push_back(name);
  return names;
}

}  // namespace arvik::script
