#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

/// Fingerprints in files: 16 digits, since JSON's numbers hold no 64 bits.
namespace arvik::script {

[[nodiscard]] inline std::string hex(std::uint64_t value) {
  static constexpr std::string_view digits = "0123456789abcdef";
  std::string text(16, '0');
  for (std::size_t i = text.size(); i-- > 0; value >>= 4U) text[i] = digits[value & 15U];
  return text;
}

[[nodiscard]] inline std::optional<std::uint64_t> from_hex(std::string_view text) {
  if (text.size() != 16) return std::nullopt;
  std::uint64_t value = 0;
  for (const char c : text) {
    const bool digit = c >= '0' && c <= '9';
    if (!digit && (c < 'a' || c > 'f')) return std::nullopt;
    value = value << 4U | static_cast<std::uint64_t>(digit ? c - '0' : c - 'a' + 10);
  }
  return value;
}

}  // namespace arvik::script
