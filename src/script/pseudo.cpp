// Texts that try a game before any translation exists. Guarded by
// tests/script/translation_test.cpp.

#include <algorithm>
#include <array>

#include "arvik/translation.hpp"

namespace arvik {
namespace {

struct Accent {
  char letter;
  std::string_view accented;
};
constexpr std::array accents{
    Accent{'A', "Á"}, Accent{'C', "Ç"}, Accent{'D', "Ď"}, Accent{'E', "É"}, Accent{'G', "Ğ"},
    Accent{'I', "Í"}, Accent{'L', "Ł"}, Accent{'N', "Ñ"}, Accent{'O', "Ó"}, Accent{'R', "Ř"},
    Accent{'S', "Š"}, Accent{'T', "Ť"}, Accent{'U', "Ú"}, Accent{'Y', "Ý"}, Accent{'Z', "Ž"},
    Accent{'a', "á"}, Accent{'c', "ç"}, Accent{'d', "ď"}, Accent{'e', "é"}, Accent{'g', "ğ"},
    Accent{'i', "í"}, Accent{'l', "ł"}, Accent{'n', "ñ"}, Accent{'o', "ó"}, Accent{'r', "ř"},
    Accent{'s', "š"}, Accent{'t', "ť"}, Accent{'u', "ú"}, Accent{'y', "ý"}, Accent{'z', "ž"}};

bool is_letter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }
bool is_blank(char c) { return c == ' ' || c == '\n' || c == '\t' || c == '\r'; }

// Vowels come twice until a text has grown by two fifths.
class Accenter {
 public:
  std::string operator()(std::string_view text) {
    std::string out;
    for (const char c : text) {
      const auto* found = std::find_if(accents.begin(), accents.end(),
                                       [&](const Accent& accent) { return accent.letter == c; });
      const std::string_view letter =
          found == accents.end() ? std::string_view(&c, 1) : found->accented;
      out += letter;
      if (is_letter(c)) wanted_ += 0.4;
      for (int times = 0; times < 2 && wanted_ >= 1 && is_vowel(c); ++times, --wanted_)
        out += letter;
    }
    return out;
  }

 private:
  static bool is_vowel(char c) {
    return std::string_view("aeiouAEIOU").find(c) != std::string_view::npos;
  }
  double wanted_ = 0;
};

// A right-to-left mark and an override around each word (UAX #9), as CLDR's own ar-XB has them.
std::string from_the_right(std::string_view text) {
  std::string out;
  for (std::size_t at = 0; at < text.size();) {
    const auto* begin = text.begin() + at;
    const auto* end = std::find_if(begin, text.end(), is_blank);
    if (begin != end) {
      out += "\u200F\u202E";
      out.append(begin, end);
      out += "\u202C\u200F";
    }
    at = static_cast<std::size_t>(end - text.begin());
    for (; at < text.size() && is_blank(text[at]); ++at) out += text[at];
  }
  return out;
}

}  // namespace

std::string pseudo_text(std::string_view markup, std::string_view locale,
                        const Vocabulary& vocabulary) {
  std::string out;
  Accenter accenter;
  const auto pieces = cut_markup(markup, vocabulary);
  for (std::size_t i = 0; i < pieces.size();) {
    const auto source_of = [&](const MarkupPiece& piece) {
      return markup.substr(piece.source.begin, piece.source.end - piece.source.begin);
    };
    if (pieces[i].kind != MarkupPieceKind::text) {
      out += source_of(pieces[i++]);
      continue;
    }
    std::string text;
    for (; i < pieces.size() && pieces[i].kind == MarkupPieceKind::text; ++i) {
      text += source_of(pieces[i]);
    }
    out += escape(locale == right_to_left_locale ? from_the_right(text) : accenter(text));
  }
  return out;
}

}  // namespace arvik
