#include "dialogue.hpp"

#include <unicode/ustring.h>

#include <array>
#include <random>
#include <string_view>

namespace arvik::bench {
namespace {

constexpr std::array english_parts{"The tide clock stopped at a quarter past four, ",
                                   "I oiled the third wheel myself. ",
                                   "You never listen, do you? ",
                                   "Mind the gate – it's heavier than it looks. ",
                                   "“Leave it,” she said. ",
                                   "Nine hundred lamps, and not one of them lit! ",
                                   "The water hasn't moved since Tuesday… ",
                                   "Mr. Odrun keeps the ledger, not me. ",
                                   "Well, ",
                                   "It read 3.14 fathoms at 10:30. ",
                                   "And then it sang. ",
                                   "No, wait, ",
                                   "the pump's asleep, ",
                                   "who told you that?! ",
                                   "somewhere under the lock-keeper's house. "};

constexpr std::array japanese_parts{
    "水門の時計が止まった夜、", "オドランは何も言わなかった。", "「どうして」と聞いたけれど、",
    "答えはなかった……。",       "ポンプはまだ眠っている！",     "三番の歯車に油をさしたのは、",
    "わたしだけど？",           "潮は火曜日から動かない。",     "ねえ、",
    "ランプを消して。"};

constexpr std::array arabic_parts{"توقفت ساعة المد عند الرابعة والربع، ",
                                  "لقد زيّتُ العجلة الثالثة بنفسي. ",
                                  "أنت لا تسمع أبدًا، أليس كذلك؟ ",
                                  "احذر البوابة – فهي أثقل مما تبدو. ",
                                  "«اتركها» قالت. ",
                                  "تسعمئة مصباح، ولا واحد منها مضاء! ",
                                  "لم يتحرك الماء منذ الثلاثاء… ",
                                  "ثم بدأت تغني. ",
                                  "المضخة نائمة، ",
                                  "من قال لك ذلك؟! "};

template <typename Parts>
std::vector<std::string> lines(const Parts& parts, std::size_t count, std::size_t bytes) {
  std::mt19937_64 random(11);
  std::vector<std::string> result(count);
  for (std::string& line : result) {
    const std::size_t wanted = bytes / 2 + random() % bytes;
    while (line.size() < wanted) line += parts[random() % parts.size()];
  }
  return result;
}

}  // namespace

std::vector<std::string> english_lines(std::size_t count) {
  return lines(english_parts, count, 100);
}
std::vector<std::string> japanese_lines(std::size_t count) {
  return lines(japanese_parts, count, 115);
}

std::vector<std::string> arabic_lines(std::size_t count) { return lines(arabic_parts, count, 170); }

std::vector<std::u16string> as_utf16(const std::vector<std::string>& lines) {
  std::vector<std::u16string> result;
  for (const std::string& line : lines) {
    std::u16string text(line.size(), u'\0');
    UErrorCode status = U_ZERO_ERROR;
    int32_t length = 0;
    u_strFromUTF8(text.data(), static_cast<int32_t>(text.size()), &length, line.data(),
                  static_cast<int32_t>(line.size()), &status);
    text.resize(static_cast<std::size_t>(length));
    result.push_back(text);
  }
  return result;
}

std::string english_line(std::size_t characters) {
  constexpr std::string_view text =
      "The tide clock stopped at a quarter past four, and nobody in the canal town noticed it. ";
  std::string line;
  while (line.size() < characters) line += text;
  line.resize(characters);
  return line;
}

}  // namespace arvik::bench
