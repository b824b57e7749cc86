// How long a step takes beside a letter of an alphabet.
//
// One character a fixed time is fair among alphabets alone: the same sentence has 30 letters in
// English, 16 characters in Japanese, 10 in Chinese. The weights make translations of a line last
// about as long as the line, at one rate: an ideograph says as much as three letters, a Hangul
// syllable as two; kana, of which a Japanese sentence has two for each ideograph, as one and a
// third. Together: Chinese about 10 a second where English has 30, Korean and Japanese about 16.
//
// Only text that has bytes of such scripts is looked at step by step.
//
// Guarded by tests/pacing/rhythm_test.cpp.

#include <algorithm>
#include <cstring>

#include "../unicode/characters.hpp"
#include "arvik/schedule.hpp"

namespace arvik {
namespace {

// Of a letter whose UTF-8 begins so. The first byte tells ideographs (U+4000 to U+9FFF), Hangul and
// what lies beyond the first plane; only around U+3000 and at the end of the plane the code point
// is asked.
std::uint16_t weight_of(std::string_view letter) {
  const auto byte = static_cast<unsigned char>(letter[0]);
  if (byte < 0xE3) return letter_weight;
  if (byte >= 0xE4 && byte <= 0xE9) return ideograph_weight;
  const char32_t c = unicode::decode(letter, 0).code_point;
  if ((c >= 0x3041 && c <= 0x30FF) || (c >= 0x31F0 && c <= 0x31FF)) return kana_weight;
  if (c >= 0xAC00 && c <= 0xD7A3) return syllable_weight;
  if (c >= 0xFF66 && c <= 0xFF9F) return kana_weight;  // half-width
  const bool ideograph = (c >= 0x3400 && c < 0x4000) || (c >= 0xF900 && c <= 0xFAFF) ||
                         (c >= 0x20000 && c <= 0x3FFFF) || c == 0x3005;  // 々 repeats one
  return ideograph ? ideograph_weight : letter_weight;
}

// Whether any byte begins a character from U+3000 on.
bool has_heavy_bytes(std::string_view text) {
  // Mostly no byte begins a character of three bytes at all: eight are looked at together.
  std::size_t at = 0;
  std::uint64_t word = 0;
  for (; at + sizeof word <= text.size(); at += sizeof word) {
    std::memcpy(&word, text.data() + at, sizeof word);
    if ((word & word << 1U & word << 2U & 0x8080808080808080U) != 0) break;
  }
  constexpr unsigned char first_byte = 0xE3;
  return std::any_of(text.begin() + static_cast<std::ptrdiff_t>(at), text.end(),
                     [](char byte) { return static_cast<unsigned char>(byte) >= first_byte; });
}

}  // namespace

void step_weights(std::string_view text, const Steps& steps, std::vector<std::uint16_t>& out) {
  out.clear();
  if (!has_heavy_bytes(text)) return;
  out.resize(steps.size(), letter_weight);
  for (std::uint32_t i = 0; i < steps.size(); ++i) {
    if (steps.kinds[i] != StepKind::letter) continue;
    out[i] = weight_of(text.substr(steps.begin_byte(i)));
  }
}

}  // namespace arvik
