#include "support/generator.hpp"

#include <array>
#include <string_view>

namespace arvik::test {
namespace {

using namespace std::string_view_literals;

constexpr std::array text_pieces{"the tide "sv,
                                 "clock"sv,
                                 " stopped"sv,
                                 ". "sv,
                                 ", "sv,
                                 "?!"sv,
                                 "..."sv,
                                 "…"sv,
                                 " — "sv,
                                 "-"sv,
                                 "3.14"sv,
                                 "10:30"sv,
                                 "Dr. "sv,
                                 "U.S. "sv,
                                 "\""sv,
                                 "“"sv,
                                 "”"sv,
                                 "("sv,
                                 ")"sv,
                                 " "sv,
                                 "  "sv,
                                 "\n"sv,
                                 "\r\n"sv,
                                 "\r"sv,
                                 "\t"sv,
                                 "é"sv,
                                 "e\u0301"sv,
                                 "\u0301"sv,
                                 "ﬁ"sv,
                                 "水門の"sv,
                                 "時計"sv,
                                 "。"sv,
                                 "、"sv,
                                 "「"sv,
                                 "」"sv,
                                 "が\u3099"sv,
                                 "한국"sv,
                                 "\u1112\u1161\u11ab"sv,
                                 "각\u11a8"sv,
                                 "नमस्ते"sv,
                                 "क्षि"sv,
                                 "।"sv,
                                 "สวัสดีครับ"sv,
                                 "กำ"sv,
                                 "السلام"sv,
                                 "،"sv,
                                 "؟"sv,
                                 "שלום"sv,
                                 "👩‍👩‍👧"sv,
                                 "🇵🇱🇯🇵"sv,
                                 "🇵"sv,
                                 "👍🏽"sv,
                                 "1️⃣"sv,
                                 "☂️"sv,
                                 "☂︎"sv,
                                 "\u200d"sv,
                                 "\u200b"sv,
                                 "\u00ad"sv,
                                 "\u200f"sv,
                                 "\u0600"sv,
                                 "\u2028"sv,
                                 "\u2029"sv,
                                 "\x01"sv,
                                 "\x7f"sv,
                                 "\u0085"sv,
                                 "a"sv,
                                 "Z"sv,
                                 "0"sv,
                                 "!"sv,
                                 "𝒜"sv,
                                 "\U000e0001"sv,
                                 "ᄀ"sv,
                                 "\u0e33"sv,
                                 "longwordwithoutanyopportunity"sv};

constexpr std::array markup_pieces{"[b: "sv,
                                   "[i: "sv,
                                   "[rate x0.5: "sv,
                                   "[rate 20cps:"sv,
                                   "[whole: "sv,
                                   "[flow: "sv,
                                   "[mark m: "sv,
                                   "[size 50%: "sv,
                                   "[color teal: "sv,
                                   "[keep: "sv,
                                   "[by word: "sv,
                                   "[by row: "sv,
                                   "[lang ja: "sv,
                                   "[lang th: "sv,
                                   "[mute: "sv,
                                   "[typing reed: "sv,
                                   "[sound thud]"sv,
                                   "[style dread: "sv,
                                   "[enter rise 90ms: "sv,
                                   "]"sv,
                                   "]"sv,
                                   "]"sv,
                                   "]"sv,
                                   "[pause 400ms]"sv,
                                   "[at 700ms]"sv,
                                   "[at 2s]"sv,
                                   "[pause 0s]"sv,
                                   "[hold]"sv,
                                   "[mark here a=1 b=2]"sv,
                                   "[br]"sv,
                                   "[page]"sv,
                                   "[icon star]"sv,
                                   "[value name]"sv,
                                   "[ruby とけい: "sv,
                                   "[plural n: "sv,
                                   "[select name: "sv,
                                   "[one: "sv,
                                   "[other: "sv,
                                   "[["sv,
                                   "]]"sv,
                                   "[puase 1s]"sv,
                                   "[pause]"sv,
                                   "[pause soon]"sv,
                                   "[nonsense: "sv,
                                   "["sv,
                                   "[b"sv,
                                   "[:"sv,
                                   "[mark]"sv,
                                   "[rate 0cps: "sv};

template <typename Pieces>
std::string_view pick(Random& random, const Pieces& pieces) {
  return pieces[below(random, pieces.size())];
}

}  // namespace

std::uint64_t below(Random& random, std::uint64_t limit) { return random() % limit; }

std::string utf8(std::uint32_t c) {
  std::string out;
  const auto put = [&](std::uint32_t byte) { out += static_cast<char>(byte); };
  const auto put_rest = [&](int shift) {
    for (; shift >= 0; shift -= 6) put(0x80 | (c >> shift & 0x3F));
  };
  if (c < 0x80) {
    put(c);
  } else if (c < 0x800) {
    put(0xC0 | c >> 6);
    put_rest(0);
  } else if (c < 0x10000) {
    put(0xE0 | c >> 12);
    put_rest(6);
  } else {
    put(0xF0 | c >> 18);
    put_rest(12);
  }
  return out;
}

std::string random_text(Random& random, std::size_t pieces) {
  std::string text;
  for (std::size_t i = 0; i < pieces; ++i) text += pick(random, text_pieces);
  return text;
}

std::string random_markup(Random& random, std::size_t pieces) {
  std::string text;
  for (std::size_t i = 0; i < pieces; ++i) {
    text += below(random, 3) == 0 ? pick(random, markup_pieces) : pick(random, text_pieces);
  }
  return text;
}

}  // namespace arvik::test
