// What a text sounds like, sound by sound, as far as its letters tell. Only classes of sounds are
// wanted, nine of them, so that spelling rules can be few: those that change how many sounds there
// are or of which class they are. Where a language has no rules of its own, letters are taken as
// most languages of the script use them.
//
// Lengths are round figures of ordinary speech: a vowel lasts about as long as the consonant before
// it, sibilants and voiceless stops last longest, and what stands before a rest is drawn out.
// Only ratios count: the aligner finds the rate of speech from the recording.
//
// Guarded by tests/voices/align_test.cpp and tests/voices/accuracy_test.cpp.

#include "spoken_units.hpp"

#include <algorithm>
#include <array>
#include <span>
#include <string>
#include <utility>

#include "../unicode/characters.hpp"
#include "../unicode/written.hpp"
#include "latin_sounds.hpp"

namespace arvik::audio {
namespace {

using C = SoundClass;

constexpr float length_of(SoundClass sound) {
  switch (sound) {
    case C::open:
      return 90;
    case C::close:
      return 80;
    case C::nasal:
      return 65;
    case C::liquid:
      return 55;
    case C::sibilant:
      return 100;
    case C::fricative:
      return 75;
    case C::voiceless:
      return 85;
    case C::voiced:
      return 65;
    case C::speech:
      return 80;
    case C::silence:
      break;
  }
  return 0;
}

// Russian and its neighbours.
SoundClass cyrillic(char32_t letter) {
  if (is_one_of(letter, U"аеёоэяє")) return C::open;
  if (is_one_of(letter, U"иыуюіїў")) return C::close;
  if (is_one_of(letter, U"мнњ")) return C::nasal;
  if (is_one_of(letter, U"лрйјљ")) return C::liquid;
  if (is_one_of(letter, U"сзшщжчцћђџ")) return C::sibilant;
  if (is_one_of(letter, U"фхв")) return C::fricative;
  if (is_one_of(letter, U"птк")) return C::voiceless;
  if (is_one_of(letter, U"бдгґ")) return C::voiced;
  if (is_one_of(letter, U"ьъ")) return C::silence;
  return C::speech;
}

SoundClass greek(char32_t letter) {
  if (is_one_of(letter, U"αεοω")) return C::open;
  if (is_one_of(letter, U"ηιυ")) return C::close;
  if (is_one_of(letter, U"μν")) return C::nasal;
  if (is_one_of(letter, U"λρ")) return C::liquid;
  if (is_one_of(letter, U"σςζξψ")) return C::sibilant;
  if (is_one_of(letter, U"φχθδγβ")) return C::fricative;
  if (is_one_of(letter, U"πτκ")) return C::voiceless;
  return C::speech;
}

bool is_within(char32_t letter, char32_t first, char32_t last) {
  return letter >= first && letter <= last;
}

// The rows of the kana, by the hiragana that begins each.
std::pair<SoundClass, SoundClass> kana(char32_t letter) {
  if (is_within(letter, U'ァ', U'ヺ')) letter -= U'ァ' - U'ぁ';
  const SoundClass vowel = [&] {
    if (is_one_of(letter, U"ぃいきぎしじちぢにひびぴみりゐ")) return C::close;
    if (is_one_of(letter, U"ぅうくぐすずつづぬふぶぷむゅゆるゔ")) return C::close;
    return C::open;
  }();
  const SoundClass consonant = [&] {
    if (is_one_of(letter, U"かきくけこたてとぱぴぷぺぽ")) return C::voiceless;
    if (is_one_of(letter, U"がぎぐげごだでどばびぶべぼ")) return C::voiced;
    if (is_one_of(letter, U"さしすせそざじずぜぞちつぢづ")) return C::sibilant;
    if (is_one_of(letter, U"なにぬねのまみむめも")) return C::nasal;
    if (is_one_of(letter, U"はひふへほゔ")) return C::fricative;
    if (is_one_of(letter, U"やゆよらりるれろわゐゑを")) return C::liquid;
    return C::silence;
  }();
  return {consonant, vowel};
}

// Hebrew and Arabic letters: consonants, after most of which a short vowel is heard.
SoundClass abjad(char32_t letter) {
  if (is_one_of(letter, U"אעהיואاعوىيآأإؤئءیہہه")) return C::open;
  if (is_one_of(letter, U"מםנןمن")) return C::nasal;
  if (is_one_of(letter, U"לרلر")) return C::liquid;
  if (is_one_of(letter, U"סשצץזسشصزجثذظضچژ")) return C::sibilant;
  if (is_one_of(letter, U"חפףהفحخغ")) return C::fricative;
  if (is_one_of(letter, U"טכךקתتكقطپک")) return C::voiceless;
  if (is_one_of(letter, U"בגדبدگ")) return C::voiced;
  return C::speech;
}

// The scripts of India whose blocks have the same order: 128 code points each from U+0900 on.
SoundClass indic(char32_t letter) {
  const char32_t at = (letter - 0x900) % 0x80;
  if (is_within(at, 0x05, 0x14) || is_within(at, 0x3E, 0x4C)) return C::open;
  if (at == 0x19 || at == 0x1E || at == 0x23 || at == 0x28 || at == 0x29 || at == 0x2E) {
    return C::nasal;
  }
  if (is_within(at, 0x1A, 0x1D) || is_within(at, 0x36, 0x38)) return C::sibilant;
  if (at == 0x39) return C::fricative;
  if (at == 0x2F || is_within(at, 0x30, 0x35)) return C::liquid;
  if (is_within(at, 0x15, 0x2D)) {
    return at == 0x15 || at == 0x16 || at == 0x1F || at == 0x20 || at == 0x24 || at == 0x25 ||
                   at == 0x2A || at == 0x2B
               ? C::voiceless
               : C::voiced;
  }
  return C::silence;
}

constexpr float vague = 0.9F;  // spread of what may be said in several ways

bool is_spoken(StepKind kind) { return kind == StepKind::letter || kind == StepKind::digit; }

std::string_view primary(std::string_view tag) { return tag.substr(0, tag.find_first_of("-_")); }

}  // namespace

void UnitReader::put(SoundClass sound, float length, std::uint32_t step, float spread) {
  if (sound == C::silence) return;
  units_.push_back({.sound = sound, .length = length, .spread = spread, .step = step});
}

void UnitReader::put_silence(std::uint32_t step, BoundaryKind before) {
  units_.push_back({.sound = C::silence, .before = before, .step = step});
}

std::vector<SpokenUnit> UnitReader::read() {
  const std::uint32_t size = steps_.size();
  put_silence(0, BoundaryKind::paragraph);
  std::size_t boundary = 0;
  std::size_t run = 0;
  std::size_t phrase = units_.size();  // first unit behind the last rest
  BoundaryKind since = BoundaryKind::none;
  bool any = false;
  for (std::uint32_t first = 0; first < size;) {
    if (!is_spoken(steps_.kinds[first])) {
      ++first;
      continue;
    }
    std::uint32_t end = first + 1;
    while (end < size && is_spoken(steps_.kinds[end]) && word_starts_[end] == 0) ++end;
    for (; boundary < boundaries_.size() && boundaries_[boundary].step < first; ++boundary) {
      since = std::max(since, boundaries_[boundary].kind());
    }
    if (any) {
      if (since > BoundaryKind::space) {
        stretch_end(phrase);
        phrase = units_.size();
      }
      put_silence(first, since);
    }
    since = BoundaryKind::none;
    while (run < others_.size() && others_[run].end_step <= first) ++run;
    const bool other = run < others_.size() && others_[run].first_step <= first;
    const std::size_t before = units_.size();
    read_word(first, end, primary(other ? std::string_view(others_[run].tag) : language_));
    if (units_.size() > before) {
      units_[before].begins_word = true;
      any = true;
    }
    first = end;
  }
  stretch_end(phrase);
  put_silence(size, BoundaryKind::paragraph);
  return std::move(units_);
}

// What stands before a rest is drawn out, from the last vowel on.
void UnitReader::stretch_end(std::size_t first) {
  for (std::size_t i = units_.size(); i > first; --i) {
    units_[i - 1].length *= 1.35F;
    if (is_vowel(units_[i - 1].sound) || units_[i - 1].sound == C::silence) break;
  }
}

void UnitReader::take_letters(std::uint32_t first, std::uint32_t end) {
  letters_.clear();
  for (std::uint32_t step = first; step < end; ++step) {
    while (next_reading_ < readings_.size() && readings_[next_reading_].end_step <= step) {
      ++next_reading_;
    }
    if (next_reading_ < readings_.size() && readings_[next_reading_].first_step <= step) {
      const Reading& reading = readings_[next_reading_];
      if (step == std::max(reading.first_step, first)) take_reading(reading, step);
      continue;
    }
    const std::string_view cluster = steps_.text(text_, step);
    const char32_t whole = unicode::decode(cluster, 0).code_point;
    letters_.push_back({unicode::bare_letter(cluster), whole, step});
  }
}

// A reading whose base is several words is spoken with the first of them.
void UnitReader::take_reading(const Reading& reading, std::uint32_t step) {
  if (step > reading.first_step) return;
  for (std::size_t at = 0; at < reading.text.size();) {
    const unicode::Decoded next = unicode::decode(reading.text, at);
    const std::string_view cluster = reading.text.substr(at, next.size);
    at += next.size;
    if (!unicode::is_spoken(next.code_point)) continue;
    letters_.push_back({unicode::bare_letter(cluster), next.code_point, step});
  }
}

// Whether a word has a full stop behind it that ends nothing ("Dr.", "p.m."), or is a single
// consonant with one.
bool UnitReader::is_short_form(std::uint32_t first, std::uint32_t end) const {
  if (end >= steps_.size() || steps_.kinds[end] != StepKind::full_stop) return false;
  if (steps_.kinds[first] != StepKind::letter) return false;
  std::uint32_t next = end;
  while (next < steps_.size() && !is_spoken(steps_.kinds[next])) ++next;
  if (next == steps_.size()) return false;
  const auto before = [](const Boundary& boundary, std::uint32_t step) {
    return boundary.step < step;
  };
  auto at = std::lower_bound(boundaries_.begin(), boundaries_.end(), end, before);
  for (; at != boundaries_.end() && at->step < next; ++at) {
    if (at->kind() > BoundaryKind::space) return false;
  }
  return true;
}

void UnitReader::read_word(std::uint32_t first, std::uint32_t end, std::string_view language) {
  // How a number is said, digits do not tell; nor letters, how a short form is.
  if (steps_.kinds[first] == StepKind::digit) {
    return put(C::speech, 280 * static_cast<float>(end - first), first, vague);
  }
  if (is_short_form(first, end)) {
    const auto letters = static_cast<float>(end - first);
    return letters == 1 ? put(C::speech, 230, first, 0.6F)
                        : put(C::speech, 250 + 60 * letters, first, vague);
  }
  take_letters(first, end);
  if (letters_.empty()) return;
  const char32_t letter = letters_.front().small;
  const char32_t whole = letters_.front().whole;
  if (letter < 0x300 || is_within(letter, 0x1E00, 0x1EFF)) {
    read_latin(language);
  } else if (is_within(letter, 0x400, 0x52F)) {
    read_cyrillic();
  } else if (is_within(letter, 0x370, 0x3FF)) {
    read_greek();
  } else if (is_within(whole, 0xAC00, 0xD7A3)) {
    read_hangul();
  } else if (is_within(whole, 0x3041, 0x30FF) || is_within(whole, 0x3400, 0x9FFF)) {
    read_kana();
  } else {
    read_others();
  }
}

void UnitReader::read_latin(std::string_view language) {
  std::u32string word;
  std::u32string marked;
  for (const Letter& letter : letters_) {
    word += letter.small;
    marked += letter.whole;
  }
  for (const LatinSound& sound : latin_sounds(word, marked, language)) {
    put(sound.sound, length_of(sound.sound) * sound.factor, letters_[sound.letter].step,
        is_vowel(sound.sound) ? 0.45F : 0.4F);
  }
}

void UnitReader::read_cyrillic() {
  for (const Letter& letter : letters_) {
    const SoundClass sound =
        letter.whole == U'й' || letter.whole == U'Й' ? C::liquid : cyrillic(letter.small);
    put(sound, length_of(sound), letter.step);
  }
}

void UnitReader::read_greek() {
  for (std::size_t i = 0; i < letters_.size(); ++i) {
    const char32_t letter = letters_[i].small;
    const char32_t next = i + 1 < letters_.size() ? letters_[i + 1].small : U'\0';
    const bool pair = (is_one_of(letter, U"αεο") && is_one_of(next, U"ιυ")) ||
                      (letter == U'μ' && next == U'π') || (letter == U'ν' && next == U'τ') ||
                      (letter == U'γ' && next == U'κ') || letter == next;
    const SoundClass sound = pair && !is_vowel(greek(letter)) ? C::voiced : greek(letter);
    put(sound, length_of(sound), letters_[i].step);
    if (pair) ++i;
  }
}

void UnitReader::read_kana() {
  for (std::size_t i = 0; i < letters_.size(); ++i) {
    const char32_t letter = letters_[i].whole;
    const std::uint32_t step = letters_[i].step;
    if (is_within(letter, 0x3400, 0x9FFF)) {  // two morae, mostly
      put(C::speech, 210, step, 0.6F);
      continue;
    }
    if (letter == U'ー') {
      if (!units_.empty()) units_.back().length += 90;
      continue;
    }
    if (letter == U'っ' || letter == U'ッ') {
      put(C::voiceless, 90, step);
      continue;
    }
    if (letter == U'ん' || letter == U'ン') {
      put(C::nasal, 95, step);
      continue;
    }
    const bool is_small = is_one_of(letter, U"ゃゅょぁぃぅぇぉャュョァィゥェォ");
    if (is_small && i > 0 && !units_.empty() && is_vowel(units_.back().sound)) {
      units_.back().sound = kana(letter).second;  // its vowel takes the place of the last one
      continue;
    }
    const auto [consonant, vowel] = kana(letter);
    const bool longer = consonant == C::silence && !units_.empty() && i > 0 &&
                        is_vowel(units_.back().sound) && units_.back().sound == vowel;
    if (longer) {
      units_.back().length += 90;
      continue;
    }
    put(consonant, length_of(consonant) * 0.8F, step);
    put(vowel, length_of(vowel) * (consonant == C::silence ? 1.2F : 0.9F), step);
  }
}

void UnitReader::read_hangul() {
  // The parts of a syllable by its number (The Unicode Standard, chapter 3, Conjoining Jamo).
  static constexpr std::array<C, 19> initials{C::voiceless, C::voiceless, C::nasal,    C::voiceless,
                                              C::voiceless, C::liquid,    C::nasal,    C::voiceless,
                                              C::voiceless, C::sibilant,  C::sibilant, C::silence,
                                              C::sibilant,  C::sibilant,  C::sibilant, C::voiceless,
                                              C::voiceless, C::voiceless, C::fricative};
  for (const Letter& letter : letters_) {
    if (!is_within(letter.whole, 0xAC00, 0xD7A3)) {
      put(C::speech, length_of(C::speech), letter.step);
      continue;
    }
    const char32_t number = letter.whole - 0xAC00;
    const SoundClass initial = initials[number / 588];
    put(initial, length_of(initial) * 0.8F, letter.step);
    const char32_t vowel = number % 588 / 28;
    const bool close = is_one_of(vowel + 1, U"\u000E\u0012\u0013\u0014\u0015");
    put(close ? C::close : C::open, length_of(C::open), letter.step);
    const char32_t final = number % 28;
    if (final == 0) continue;
    const bool nasal = final == 4 || final == 16 || final == 21;
    const SoundClass sound = nasal ? C::nasal : final == 8 ? C::liquid : C::voiceless;
    put(sound, length_of(sound) * 0.8F, letter.step);
  }
}

void UnitReader::read_others() {
  for (const Letter& letter : letters_) {
    if (is_within(letter.whole, 0x590, 0x77F)) {
      const SoundClass sound = abjad(letter.small);
      put(sound, length_of(sound), letter.step, 0.6F);
      if (sound != C::open) put(C::open, 50, letter.step, 1.0F);
    } else if (is_within(letter.whole, 0x900, 0xD7F)) {
      const SoundClass sound = indic(letter.whole);
      put(sound, length_of(sound), letter.step, 0.5F);
      if (sound != C::open) put(C::open, 60, letter.step, 0.6F);
    } else if (is_within(letter.whole, 0x20000, 0x3FFFF)) {
      put(C::speech, 210, letter.step, 0.6F);
    } else {
      put(C::speech, length_of(C::speech), letter.step, 0.6F);
    }
  }
}

}  // namespace arvik::audio
