#include "characters.hpp"

#include <unicode/uchar.h>
#include <unicode/unorm2.h>
#include <unicode/utf16.h>
#include <unicode/utf8.h>

#include <array>
#include <bit>
#include <cstring>

namespace arvik::unicode {
namespace {

UChar32 icu(char32_t code_point) { return static_cast<UChar32>(code_point); }

// How many bytes at `at` and behind it are whole characters of one or two bytes; less by up to
// seven bytes, because it looks at eight at once.
std::size_t valid_short_run(std::string_view text, std::size_t at) {
  if constexpr (std::endian::native != std::endian::little) return 0;
  constexpr std::uint64_t ones = 0x0101010101010101U;
  constexpr std::uint64_t tops = 0x80U * ones;
  const std::size_t begin = at;
  std::uint64_t open = 0;  // the top bit of the first byte, if the last one before it was a lead
  for (std::uint64_t word = 0; at + sizeof word <= text.size(); at += sizeof word) {
    std::memcpy(&word, text.data() + at, sizeof word);
    const std::uint64_t leads = word & (word << 1U) & tops;               // 11xxxxxx
    const std::uint64_t others = (word & tops) ^ leads;                   // 10xxxxxx
    const std::uint64_t not_long = (word & 0x1EU * ones) + 0x7EU * ones;  // of C2 and above
    const bool wrong = (leads & (word << 2U)) != 0 ||                     // three bytes and more
                       (leads & ~not_long) != 0 || others != ((leads << 8U) | open);
    if (wrong) break;
    open = leads >> 56U;
  }
  return at - begin - (open != 0 ? 1 : 0);
}

}  // namespace

Decoded decode_any(std::string_view text, std::size_t at) {
  const auto* bytes = reinterpret_cast<const uint8_t*>(text.data());
  auto next = static_cast<int64_t>(at);
  UChar32 code_point = 0;
  U8_NEXT(bytes, next, static_cast<int64_t>(text.size()), code_point);
  const auto size = static_cast<std::uint32_t>(next - static_cast<int64_t>(at));
  if (code_point < 0) return {replacement, size, false};
  return {static_cast<char32_t>(code_point), size, true};
}

void append(std::string& out, char32_t code_point) {
  std::array<uint8_t, U8_MAX_LENGTH> bytes{};
  std::size_t size = 0;
  U8_APPEND_UNSAFE(bytes.data(), size, icu(code_point));
  out.append(reinterpret_cast<const char*>(bytes.data()), size);
}

std::string_view cut_to_limit(std::string_view text) {
  if (text.size() <= max_text_bytes) return text;
  std::size_t size = max_text_bytes;
  while (size > 0 && (static_cast<unsigned char>(text[size]) & 0xC0U) == 0x80U) --size;
  return text.substr(0, size);
}

std::size_t valid_run(std::string_view text, std::size_t at) {
  const std::size_t begin = at;
  const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
  while (at < text.size()) {
    if (byte(at) < 0x80) {
      at += ascii_run(text, at);
    } else if (const std::size_t run = byte(at) < 0xE0 ? valid_short_run(text, at) : 0; run > 0) {
      at += run;
    } else if (byte(at) >= 0xC2 && byte(at) < 0xE0 && at + 1 < text.size() &&
               (byte(at + 1) & 0xC0U) == 0x80U) {  // most alphabets
      at += 2;
    } else if (byte(at) > 0xE0 && byte(at) < 0xED && at + 2 < text.size() &&
               (byte(at + 1) & byte(at + 2) & 0xC0U) == 0x80U &&
               ((byte(at + 1) | byte(at + 2)) & 0x40U) == 0) {  // most other scripts
      at += 3;
    } else {
      const Decoded now = decode(text, at);
      if (!now.valid) break;
      at += now.size;
    }
  }
  return at - begin;
}

std::string repaired(std::string_view text) {
  std::string out;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t good = valid_run(text, at);
    out.append(text, at, good);
    at += good;
    if (at == text.size()) break;
    const Decoded wrong = decode(text, at);
    append(out, wrong.code_point);
    at += wrong.size;
  }
  return out;
}

std::size_t ascii_run(std::string_view text, std::size_t at) {
  const std::size_t begin = at;
  for (std::uint64_t word = 0; at + sizeof word <= text.size(); at += sizeof word) {
    std::memcpy(&word, text.data() + at, sizeof word);
    if ((word & 0x8080808080808080U) != 0) break;
  }
  while (at < text.size() && static_cast<unsigned char>(text[at]) < 0x80) ++at;
  return at - begin;
}

char32_t bare_letter(std::string_view cluster) {
  if (cluster.empty()) return 0;
  char32_t letter = decode(cluster, 0).code_point;
  UErrorCode status = U_ZERO_ERROR;
  const UNormalizer2* canonical = unorm2_getNFDInstance(&status);
  std::array<UChar, 32> decomposed{};
  const int32_t size =
      U_FAILURE(status) ? 0
                        : unorm2_getDecomposition(canonical, icu(letter), decomposed.data(),
                                                  static_cast<int32_t>(decomposed.size()), &status);
  if (U_SUCCESS(status) && size > 0) {
    UChar32 first = 0;
    int32_t at = 0;
    U16_NEXT(decomposed.data(), at, size, first);
    letter = static_cast<char32_t>(first);
  }
  return static_cast<char32_t>(u_foldCase(icu(letter), U_FOLD_CASE_DEFAULT));
}

int cell_width(std::string_view cluster) {
  if (cluster.empty()) return 0;
  Decoded now = decode(cluster, 0);
  const Properties& first = properties_of(now.code_point);
  if (now.size == cluster.size()) return cells_of(first.traits);

  // A cluster that is shown as an emoji is one picture however many characters it has (UTS #51):
  // a flag, a sequence with U+FE0F, or a base that is an emoji by default.
  bool text_style = false;
  bool emoji_style = false;
  int sum = 0;
  for (std::size_t at = 0; at < cluster.size(); at += now.size) {
    now = decode(cluster, at);
    text_style = text_style || now.code_point == 0xFE0E;
    emoji_style = emoji_style || now.code_point == 0xFE0F || now.code_point == 0x20E3;
    sum += cells_of(properties_of(now.code_point).traits);
  }
  if (text_style) return 1;
  return first.has(Flag::emoji) || emoji_style ? 2 : sum;
}

}  // namespace arvik::unicode
