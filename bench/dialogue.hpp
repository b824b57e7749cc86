#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace arvik::bench {

/// Dialogue lines made from sentences of the demo scenario, about 110 (Japanese: 45) characters
/// each, every one different, the same in every run.
[[nodiscard]] std::vector<std::string> english_lines(std::size_t count);
[[nodiscard]] std::vector<std::string> japanese_lines(std::size_t count);
[[nodiscard]] std::vector<std::string> arabic_lines(std::size_t count);

/// The lines for what reads UTF-16.
[[nodiscard]] std::vector<std::u16string> as_utf16(const std::vector<std::string>& lines);

/// One line of the demo scenario of exactly so many characters.
[[nodiscard]] std::string english_line(std::size_t characters);

}  // namespace arvik::bench
