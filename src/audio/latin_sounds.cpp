// How Latin letters are read: a table of what most languages mean by each, spellings of several
// letters by language, and a few habits that change how many sounds there are.
//
// Guarded by tests/voices/accuracy_test.cpp.

#include "latin_sounds.hpp"

#include <algorithm>
#include <array>
#include <span>

namespace arvik::audio {
namespace {

using C = SoundClass;

// Letters of the Latin script, a to z, as most languages use them.
SoundClass latin(char32_t letter) {
  static constexpr std::array<C, 26> classes{
      C::open,      C::voiced,    C::voiceless, C::voiced,    C::open,     C::fricative, C::voiced,
      C::fricative, C::close,     C::sibilant,  C::voiceless, C::liquid,   C::nasal,     C::nasal,
      C::open,      C::voiceless, C::voiceless, C::liquid,    C::sibilant, C::voiceless, C::close,
      C::fricative, C::liquid,    C::voiceless, C::close,     C::sibilant};
  if (letter >= U'a' && letter <= U'z') return classes[letter - U'a'];
  switch (letter) {
    case U'ß':
      return C::sibilant;
    case U'ł':
      return C::liquid;
    case U'ø':
    case U'æ':
    case U'œ':
    case U'ə':
      return C::open;
    case U'ı':
      return C::close;
    case U'đ':
    case U'ð':
      return C::voiced;
    case U'þ':
    case U'ħ':
      return C::fricative;
    case U'ŋ':
      return C::nasal;
    default:
      return C::speech;
  }
}

bool is_latin_vowel(char32_t letter) {
  return std::u32string_view(U"aeiouyøæœəı").find(letter) != std::u32string_view::npos;
}

// Letters in a row that are one sound, or two of other classes than their letters have. The longer
// ones come first. `last`: SoundClass::silence where there is only one.
struct Spelling {
  std::u32string_view letters;
  SoundClass first = C::silence;  // silence: nothing is heard
  SoundClass second = C::silence;
  float factor = 1;  // of the length of the first
};

constexpr std::array<Spelling, 21> english{{
    {U"tch", C::sibilant},
    {U"igh", C::open, C::silence, 1.5F},
    {U"eigh", C::open, C::silence, 1.5F},
    {U"augh", C::open, C::silence, 1.5F},
    {U"ough", C::open, C::silence, 1.5F},
    {U"sh", C::sibilant},
    {U"ch", C::sibilant},
    {U"ph", C::fricative},
    {U"th", C::fricative},
    {U"wh", C::liquid},
    {U"ck", C::voiceless},
    {U"qu", C::voiceless, C::liquid},
    {U"x", C::voiceless, C::sibilant},
    {U"kn", C::nasal},
    {U"wr", C::liquid},
    {U"ng", C::nasal},
    {U"dg", C::sibilant},
    {U"ti", C::voiceless, C::close},
    {U"gh", C::silence},
    {U"ll", C::liquid},
    {U"ss", C::sibilant},
}};

constexpr std::array<Spelling, 14> german{{
    {U"tsch", C::sibilant},
    {U"sch", C::sibilant},
    {U"ch", C::sibilant},
    {U"ck", C::voiceless},
    {U"ph", C::fricative},
    {U"th", C::voiceless},
    {U"tz", C::voiceless, C::sibilant},
    {U"qu", C::voiceless, C::fricative},
    {U"ng", C::nasal},
    {U"pf", C::voiceless, C::fricative},
    {U"x", C::voiceless, C::sibilant},
    {U"z", C::voiceless, C::sibilant, 0.6F},
    {U"j", C::liquid},
    {U"w", C::fricative},
}};

constexpr std::array<Spelling, 11> spanish{{
    {U"ch", C::sibilant},
    {U"ll", C::liquid},
    {U"rr", C::liquid, C::silence, 1.6F},
    {U"qu", C::voiceless},
    {U"gue", C::voiced, C::open},
    {U"gui", C::voiced, C::close},
    {U"x", C::voiceless, C::sibilant},
    {U"j", C::fricative},
    {U"h", C::silence},
    {U"z", C::fricative},
    {U"v", C::voiced},
}};

constexpr std::array<Spelling, 12> polish{{
    {U"szcz", C::sibilant, C::sibilant},
    {U"dzi", C::sibilant},
    {U"sz", C::sibilant},
    {U"cz", C::sibilant},
    {U"rz", C::sibilant},
    {U"dz", C::sibilant},
    {U"ch", C::fricative},
    {U"c", C::sibilant},
    {U"q", C::voiceless},
    {U"x", C::voiceless, C::sibilant},
    {U"w", C::fricative, C::silence, 0.8F},
    {U"j", C::liquid},
}};

constexpr std::array<Spelling, 8> french{{
    {U"ch", C::sibilant},
    {U"gn", C::nasal},
    {U"ph", C::fricative},
    {U"th", C::voiceless},
    {U"qu", C::voiceless},
    {U"x", C::voiceless, C::sibilant},
    {U"j", C::sibilant},
    {U"h", C::silence},
}};

constexpr std::array<Spelling, 7> italian{{
    {U"gli", C::liquid, C::close},
    {U"ch", C::voiceless},
    {U"gh", C::voiced},
    {U"gn", C::nasal},
    {U"qu", C::voiceless, C::liquid},
    {U"z", C::voiceless, C::sibilant, 0.6F},
    {U"h", C::silence},
}};

constexpr std::array<Spelling, 8> portuguese{{
    {U"nh", C::nasal},
    {U"lh", C::liquid},
    {U"ch", C::sibilant},
    {U"rr", C::fricative},
    {U"qu", C::voiceless},
    {U"x", C::sibilant},
    {U"j", C::sibilant},
    {U"h", C::silence},
}};

// For all others: what most languages of the script mean by these.
constexpr std::array<Spelling, 12> common{{
    {U"sch", C::sibilant},
    {U"sh", C::sibilant},
    {U"ch", C::sibilant},
    {U"sz", C::sibilant},
    {U"cz", C::sibilant},
    {U"ph", C::fricative},
    {U"th", C::fricative},
    {U"ng", C::nasal},
    {U"qu", C::voiceless},
    {U"x", C::voiceless, C::sibilant},
    {U"ck", C::voiceless},
    {U"ss", C::sibilant},
}};

// What a language does beside its spellings.
struct Habits {
  std::string_view language;
  std::span<const Spelling> spellings;
  bool soft_c = false;             // before e, i and y
  SoundClass soft_g = C::silence;  // before them, where it is another sound
  bool silent_e = false;           // at the end of a word, and before a last d or s
  bool silent_end = false;         // consonants at the end of a word are mostly silent
  bool long_h = false;             // an h behind a vowel makes it long
  bool soft_i = false;             // an i before a vowel softens what stands before
  bool split_vowels = true;        // two strong vowels are two syllables
  bool hissed_s = false;           // a word's first s before t or p
};

const Habits& habits_of(std::string_view language) {
  static constexpr std::array<Habits, 9> all{{
      {.language = "en",
       .spellings = english,
       .soft_c = true,
       .soft_g = C::sibilant,
       .silent_e = true,
       .split_vowels = false},
      {.language = "de",
       .spellings = german,
       .long_h = true,
       .split_vowels = false,
       .hissed_s = true},
      {.language = "es", .spellings = spanish, .soft_c = true, .soft_g = C::fricative},
      {.language = "pl", .spellings = polish, .soft_i = true},
      {.language = "fr",
       .spellings = french,
       .soft_c = true,
       .soft_g = C::sibilant,
       .silent_e = true,
       .silent_end = true,
       .split_vowels = false},
      {.language = "it", .spellings = italian, .soft_c = true, .soft_g = C::sibilant},
      {.language = "pt", .spellings = portuguese, .soft_c = true, .soft_g = C::sibilant},
      {.language = "ca", .spellings = common, .soft_c = true},
      {.language = "ro", .spellings = common, .soft_c = true},
  }};
  static constexpr Habits others{.language = {}, .spellings = common};
  const auto* found = std::find_if(
      all.begin(), all.end(), [&](const Habits& habits) { return habits.language == language; });
  return found == all.end() ? others : *found;
}

class LatinReader {
 public:
  LatinReader(std::u32string_view word, std::u32string_view written, const Habits& habits)
      : word_(word), written_(written), habits_(habits) {}

  std::vector<LatinSound> run() {
    while (at_ < word_.size()) {
      if (!skip_silent() && !take_spelling() && !take_vowels()) take_consonant();
    }
    return std::move(sounds_);
  }

 private:
  [[nodiscard]] char32_t letter(std::size_t ahead = 0) const {
    return at_ + ahead < word_.size() ? word_[at_ + ahead] : U'\0';
  }
  [[nodiscard]] char32_t before() const { return at_ > 0 ? word_[at_ - 1] : U'\0'; }
  [[nodiscard]] std::size_t left() const { return word_.size() - at_; }

  void put(SoundClass sound, float factor = 1) {
    if (sound == C::silence) return;
    has_vowel_ = has_vowel_ || is_vowel(sound);
    sounds_.push_back({sound, factor, at_});
  }

  bool skip_silent() {
    if (habits_.long_h && letter() == U'h' && is_latin_vowel(before())) {
      if (!sounds_.empty()) sounds_.back().factor *= 1.3F;
      ++at_;
      return true;
    }
    if (habits_.soft_i && letter() == U'i' && is_latin_vowel(letter(1))) {
      ++at_;
      return true;
    }
    if (habits_.silent_end && has_vowel_ && is_one_of(letter(), U"stdxzp") && ends_silently()) {
      ++at_;
      return true;
    }
    if (!habits_.silent_e || letter() != U'e' || !has_vowel_) return false;
    const bool last = left() == 1 && at_ > 1 && !is_latin_vowel(before());
    const bool in_ed = left() == 2 && letter(1) == U'd' && !is_one_of(before(), U"td");
    const bool in_es = left() == 2 && letter(1) == U's' && !is_one_of(before(), U"szxchg");
    if (!last && !in_ed && !in_es) return false;
    ++at_;
    return true;
  }

  // Whether nothing but such letters is left.
  [[nodiscard]] bool ends_silently() const {
    return word_.find_first_not_of(U"stdxzp", at_) == std::u32string_view::npos;
  }

  bool take_spelling() {
    const auto found = std::find_if(
        habits_.spellings.begin(), habits_.spellings.end(),
        [&](const Spelling& spelling) { return word_.substr(at_).starts_with(spelling.letters); });
    if (found == habits_.spellings.end()) return false;
    put(found->first, found->factor);
    put(found->second);
    at_ += found->letters.size();
    return true;
  }

  // Vowels beside each other are one syllable, three letters at most.
  bool take_vowels() {
    const bool glides = letter() == U'y' && at_ == 0 && left() > 1 && !habits_.long_h;
    if (!is_latin_vowel(letter()) || glides) return false;
    std::size_t together = 1;
    if (!habits_.soft_i) {
      while (together < 3 && is_latin_vowel(letter(together))) ++together;
    }
    if (together > 1 && habits_.split_vowels) {
      const bool strong = is_one_of(letter(), U"aeo") && is_one_of(letter(1), U"aeo");
      const bool marked = written_[at_] != letter() && latin(letter()) == C::close;
      if (strong || marked) together = 1;
    }
    SoundClass sound = latin(letter());
    for (std::size_t k = 0; k < together; ++k) {
      if (latin(letter(k)) == C::open) sound = C::open;
    }
    put(sound, together > 1 ? 1.45F : 1.0F);
    if (habits_.soft_i && is_one_of(written_[at_], U"ąęĄĘ")) put(C::nasal, 0.7F);
    at_ += together;
    return true;
  }

  void take_consonant() {
    SoundClass sound = latin(letter());
    const bool soft = is_one_of(letter(1), U"eiy");
    if (letter() == U'c' && habits_.soft_c && soft) sound = C::sibilant;
    if (letter() == U'g' && habits_.soft_g != C::silence && soft) sound = habits_.soft_g;
    if (letter() == U's' && habits_.hissed_s && at_ == 0 && is_one_of(letter(1), U"tp")) {
      sound = C::sibilant;
    }
    put(sound);
    at_ += letter(1) == letter() ? 2 : 1;  // doubled ones are one
  }

  std::u32string_view word_;
  std::u32string_view written_;
  const Habits& habits_;
  std::size_t at_ = 0;
  bool has_vowel_ = false;
  std::vector<LatinSound> sounds_;
};

}  // namespace

std::vector<LatinSound> latin_sounds(std::u32string_view word, std::u32string_view written,
                                     std::string_view language) {
  return LatinReader(word, written, habits_of(language)).run();
}

}  // namespace arvik::audio
