// Steps of a text: its extended grapheme clusters.
//
// ICU's grapheme iterator costs some fifty times as much as looking at a character, and in most
// text it finds the obvious. So neighbours are looked at first. Between two characters that join to
// nothing by themselves there is a boundary, whatever stands around them (UAX #29, GB3 to GB5 and
// GB999); a mark behind one of them belongs to it (GB9, GB9a), and ends before the next. What more
// than the neighbours decide goes to ICU: viramas, joiners, jamo, flags, and what a later version
// of Unicode has made of code points that ours does not know. It sees only what lies between two
// sure boundaries, which changes nothing, because no rule looks back across a boundary.
//
// So most text of most scripts is read in one pass: each character is decoded once and looked up
// once, which finds its kind, its columns, how it joins, what a row may do at it, and where it
// runs.
//
// Guarded by tests/unicode/language_test.cpp: GraphemeBreakTest.txt, and generated text of all
// scripts against ICU alone.

#include <unicode/utf16.h>

#include <algorithm>
#include <array>
#include <bit>
#include <cstring>

#include "characters.hpp"
#include "language_impl.hpp"

namespace arvik {
namespace {

using unicode::decode;
using unicode::Decoded;
using unicode::Flag;
using unicode::Joining;
using unicode::Properties;
using unicode::properties_of;
using unicode::RowClass;

enum class Between : std::uint8_t { boundary, joined, open };

// What stands between two characters, as far as they alone tell.
constexpr Between between(Joining before, Joining after) {
  const auto is_control = [](Joining j) {
    return j == Joining::control || j == Joining::cr || j == Joining::lf;
  };
  if (before == Joining::cr && after == Joining::lf) return Between::joined;
  if (is_control(before) || is_control(after)) return Between::boundary;
  if (before == Joining::open || after == Joining::open) return Between::open;
  return after == Joining::mark ? Between::joined : Between::boundary;
}

constexpr std::size_t joinings = static_cast<std::size_t>(Joining::open) + 1;

constexpr auto between_table = [] {
  std::array<std::array<Between, joinings>, joinings> table{};
  for (std::size_t a = 0; a < joinings; ++a) {
    for (std::size_t b = 0; b < joinings; ++b) {
      table[a][b] = between(static_cast<Joining>(a), static_cast<Joining>(b));
    }
  }
  return table;
}();

struct Character {
  Decoded decoded;
  const Properties* properties = nullptr;
};

Character character_at(std::string_view text, std::size_t at) {
  const Decoded decoded = decode(text, at);
  return {decoded, &properties_of(decoded.code_point)};
}

std::uint32_t utf16_size(char32_t code_point) { return code_point > 0xFFFF ? 2 : 1; }

// Bytes that begin a character of valid UTF-8.
std::size_t count_characters(std::string_view text) {
  std::size_t inner = 0;  // bytes 10xxxxxx
  std::size_t at = 0;
  for (std::uint64_t word = 0; at + sizeof word <= text.size(); at += sizeof word) {
    std::memcpy(&word, text.data() + at, sizeof word);
    const std::uint64_t each = (word & ~(word << 1U)) >> 7U & 0x0101010101010101U;
    inner += static_cast<std::size_t>(each * 0x0101010101010101U >> 56U);
  }
  for (; at < text.size(); ++at) inner += (static_cast<unsigned char>(text[at]) & 0xC0U) == 0x80U;
  return text.size() - inner;
}

// Fills Steps whose arrays are as long as they can become from the start.
class StepWriter {
 public:
  StepWriter(std::string_view text, Steps& out) : text_(text), out_(out) {
    resize(count_characters(text));
    out_.extents[0] = {};
  }
  StepWriter(const StepWriter&) = delete;
  StepWriter& operator=(const StepWriter&) = delete;
  ~StepWriter() {
    resize(size_);
    const auto has = [&](Flag flag) { return (flags_ >> static_cast<unsigned>(flag) & 1U) != 0; };
    out_.right_to_left = has(Flag::backwards);
    out_.left_to_right = has(Flag::forwards);
    out_.numbers = has(Flag::number);
  }

  // Letters with their marks and all that stands alone, from `at` on. Stops before anything else,
  // and before what that may join; returns where.
  std::size_t add_plain(std::size_t at) {
    const std::size_t first = size_;
    for (;;) {
      const std::size_t begin = at;
      at = add_others(add_short(add_ascii(at)), first);
      if (at <= begin || at == text_.size()) return at;
    }
  }

  // A step of one character.
  void add(const Character& character) {
    const Properties& properties = *character.properties;
    flags_ |= properties.flags;
    put(properties.kind, properties.traits,
        {character.decoded.size, 1, utf16_size(character.decoded.code_point)});
  }

  // A step of any number of characters. It is what its first one is, unless that has no ink and a
  // later one has; a keycap or an emoji style makes it a picture.
  void add_cluster(std::size_t begin, std::size_t end) {
    Character now = character_at(text_, begin);
    if (now.decoded.size == end - begin) return add(now);
    StepKind kind = now.properties->kind;
    RowClass row = unicode::row_class_of(now.properties->traits);
    const unicode::Weight weight = unicode::weight_of(now.properties->traits);
    bool picture = false;
    Extent size;
    for (std::size_t at = begin; at < end; at += now.decoded.size) {
      now = character_at(text_, at);
      flags_ |= now.properties->flags;
      ++size.code_points;
      size.utf16_units += utf16_size(now.decoded.code_point);
      picture = picture || now.decoded.code_point == 0x20E3 || now.decoded.code_point == 0xFE0F;
      if (!has_ink(kind) && kind != StepKind::row_end) kind = now.properties->kind;
      if (at > begin) row = joined(row, unicode::row_class_of(now.properties->traits));
    }
    size.bytes = static_cast<std::uint32_t>(end - begin);
    const int cells = unicode::cell_width(text_.substr(begin, size.bytes));
    put(picture ? StepKind::symbol : kind, unicode::traits_of(cells, row, weight), size);
  }

 private:
  static bool stands_alone(Joining joining) {
    return joining == Joining::alone || joining == Joining::syllable;
  }

  // Neither a keycap nor a style, which make pictures.
  static bool is_plain_mark(char32_t c, const Properties& properties) {
    return properties.joining == Joining::mark && c != 0x20E3 && c != 0xFE0E && c != 0xFE0F;
  }

  static std::uint8_t with_mark(std::uint8_t base, std::uint8_t mark) {
    return unicode::traits_of(unicode::cells_of(base) + unicode::cells_of(mark),
                              joined(unicode::row_class_of(base), unicode::row_class_of(mark)),
                              unicode::weight_of(base));
  }

  [[nodiscard]] bool begins_long_ascii(std::size_t at) const {
    std::uint64_t word = 0;
    if (at + sizeof word > text_.size()) return false;
    std::memcpy(&word, text_.data() + at, sizeof word);
    return (word & 0x8080808080808080U) == 0;
  }

  // Between characters of ASCII there are boundaries, but for CR LF. Stops before the last one,
  // which a mark may follow, and before a CR.
  std::size_t add_ascii(std::size_t at) {
    const auto is_ascii = [&](std::size_t i) {
      return static_cast<unsigned char>(text_[i]) < 0x80;
    };
    if (!is_ascii(at) || (at + 1 < text_.size() && !is_ascii(at + 1))) return at;
    std::size_t count = unicode::ascii_run(text_, at);
    if (at + count < text_.size()) --count;
    count = std::min(text_.substr(at, count).find('\r'), count);
    count = std::min(count, out_.kinds.size() - size_);
    StepKind* kinds = out_.kinds.data() + size_;
    std::uint8_t* traits = out_.traits.data() + size_;
    Extent* extents = out_.extents.data() + size_ + 1;
    const char* bytes = text_.data() + at;
    unsigned flags = 0;
    for (std::size_t i = 0; i < count; ++i) {
      const Properties& properties =
          unicode::near_properties_of(static_cast<unsigned char>(bytes[i]));
      kinds[i] = properties.kind;
      traits[i] = properties.traits;
      flags |= properties.flags;
    }
    flags_ |= flags;
    Extent sum = last_;
    for (std::size_t i = 0; i < count; ++i) {
      extents[i] = {++sum.bytes, ++sum.code_points, ++sum.utf16_units};
    }
    last_ = sum;
    size_ += count;
    return at + count;
  }

  // What stands alone and has one or two bytes, as the letters of most alphabets. Stops before a
  // longer stretch of ASCII, and before the last byte.
  std::size_t add_short(std::size_t at) {
    // In variables of its own: writing bytes could change members, as far as the compiler knows.
    const auto* const bytes = reinterpret_cast<const unsigned char*>(text_.data());
    const std::size_t size = text_.size();
    StepKind* const kinds = out_.kinds.data();
    std::uint8_t* const traits = out_.traits.data();
    Extent* const extents = out_.extents.data();
    const std::size_t room = out_.kinds.size();
    std::size_t i = size_;
    // Each is one code point and one unit of UTF-16.
    const std::uint32_t code_points = last_.code_points - static_cast<std::uint32_t>(i);
    const std::uint32_t units = last_.utf16_units - static_cast<std::uint32_t>(i);
    unsigned flags = 0;
    while (at + 1 < size && i < room) {
      const std::uint32_t lead = bytes[at];
      std::uint32_t c = lead;
      std::size_t next = at + 1;
      if (lead >= 0x80) {
        const std::uint32_t second = bytes[next++];
        if (lead - 0xC2 > 0xDF - 0xC2 || (second & 0xC0U) != 0x80U) break;
        c = (lead & 0x1FU) << 6U | (second & 0x3FU);
      }
      const Properties& properties = unicode::near_properties_of(c);
      if (properties.joining != Joining::alone) break;
      flags |= properties.flags;
      kinds[i] = properties.kind;
      traits[i] = properties.traits;
      at = next;
      const auto steps = static_cast<std::uint32_t>(++i);
      extents[i] = {static_cast<std::uint32_t>(at), code_points + steps, units + steps};
      if (lead < 0x80 && begins_long_ascii(at)) break;
    }
    size_ = i;
    last_ = extents[i];
    flags_ |= flags;
    return at;
  }

  // Longer characters that stand alone, and marks behind letters that came not before step `first`.
  // Stops behind the first of them that shorter ones follow; returns where, which may be a step
  // back, if what follows may join that.
  std::size_t add_others(std::size_t at, std::size_t first) {
    const std::string_view text = text_;
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    StepKind* const kinds = out_.kinds.data();
    std::uint8_t* const traits = out_.traits.data();
    Extent* const extents = out_.extents.data();
    const std::size_t room = out_.kinds.size();
    std::size_t i = size_;
    Extent sum = last_;
    unsigned flags = flags_;
    while (at < text.size() && i < room) {
      const Decoded now = decode(text, at);
      const Properties& properties = properties_of(now.code_point);
      const bool alone = stands_alone(properties.joining);
      if (!alone && !(i > first && is_plain_mark(now.code_point, properties) &&
                      kinds[i - 1] == StepKind::letter)) {
        const Joining joining = properties.joining;
        if (i > first && (joining == Joining::mark || joining == Joining::open)) {
          sum = extents[--i];  // what it may join is looked at again
        }
        break;
      }
      flags |= properties.flags;
      sum.bytes += now.size;
      ++sum.code_points;
      sum.utf16_units += utf16_size(now.code_point);
      if (alone) {
        kinds[i] = properties.kind;
        traits[i] = properties.traits;
        extents[++i] = sum;
      } else {
        traits[i - 1] = with_mark(traits[i - 1], properties.traits);
        extents[i] = sum;
      }
      at += now.size;
      // A blank alone is not worth changing for.
      if (at + 1 < text.size() && byte(at) < 0xE0 && byte(at + 1) < 0xE0) break;
    }
    size_ = i;
    last_ = sum;
    flags_ = flags;
    return sum.bytes;
  }

  // Marks take the class of their base (LB9).
  static RowClass joined(RowClass base, RowClass next) {
    if (base == RowClass::row_end && next == RowClass::row_end) return base;  // CR LF
    const bool takes = base == RowClass::word || base == RowClass::ideograph;
    if (!takes) return RowClass::open;
    return next == RowClass::mark || (next == base && next == RowClass::word) ? base
                                                                              : RowClass::open;
  }

  void put(StepKind kind, std::uint8_t traits, const Extent& size) {
    if (size_ == out_.kinds.size()) resize(2 * size_ + 16);  // of bytes that are not UTF-8
    last_.bytes += size.bytes;
    last_.code_points += size.code_points;
    last_.utf16_units += size.utf16_units;
    out_.kinds[size_] = kind;
    out_.traits[size_] = traits;
    out_.extents[++size_] = last_;
  }

  void resize(std::size_t size) {
    out_.kinds.resize(size);
    out_.traits.resize(size);
    out_.extents.resize(size + 1);
  }

  std::string_view text_;
  Steps& out_;
  std::size_t size_ = 0;
  Extent last_;
  unsigned flags_ = 0;
};

// The Greek question mark is canonically equal to the semicolon and written as such.
void mark_greek_questions(std::string_view text, Steps& steps) {
  for (std::uint32_t i = 0; i < steps.size(); ++i) {
    if (steps.text(text, i) == ";") steps.kinds[i] = StepKind::terminal;
  }
}

}  // namespace

// ICU says where the clusters of a stretch end. Short answers are kept: the same conjuncts, flags
// and emoji come again and again.
template <typename Put>
void Language::Impl::find_clusters(std::string_view stretch, Put put) {
  KnownClusters* known = nullptr;
  if (stretch.size() <= KnownClusters::longest) {
    known = &known_clusters[std::hash<std::string_view>{}(stretch) % known_clusters.size()];
    if (known->size == stretch.size() &&
        std::memcmp(known->bytes.data(), stretch.data(), stretch.size()) == 0) {
      std::size_t first = 0;
      for (std::uint64_t left = known->ends; left != 0; left &= left - 1) {
        const auto end = static_cast<std::size_t>(std::countr_zero(left)) + 1;
        put(first, end);
        first = end;
      }
      return;
    }
    known->size = static_cast<std::uint8_t>(stretch.size());
    known->ends = 0;
    std::memcpy(known->bytes.data(), stretch.data(), stretch.size());
  }
  buffer.clear();
  append_utf16(stretch);
  UErrorCode status = U_ZERO_ERROR;
  ubrk_setText(graphemes.getAlias(), buffer.data(), static_cast<int32_t>(buffer.size()), &status);
  check_memory(status);
  std::size_t at = 0;
  std::uint32_t units = 0;
  for (int32_t boundary = ubrk_next(graphemes.getAlias()); boundary != UBRK_DONE;
       boundary = ubrk_next(graphemes.getAlias())) {
    const std::size_t first = at;
    while (units < static_cast<std::uint32_t>(boundary)) {
      const Decoded now = decode(stretch, at);
      units += utf16_size(now.code_point);
      at += now.size;
    }
    put(first, at);
    if (known != nullptr) known->ends |= std::uint64_t{1} << (at - 1);
  }
}

void Language::segment(std::string_view text, Steps& out) {
  text = unicode::cut_to_limit(text);
  {
    StepWriter writer(text, out);
    for (std::size_t at = 0; at < text.size();) {
      const std::size_t begin = at;
      at = writer.add_plain(at);
      if (at > begin) continue;
      const Character first = character_at(text, at);
      Character now = first;
      bool single = true;
      bool open = false;
      for (;;) {
        at += now.decoded.size;
        if (at == text.size()) break;
        const Joining before = now.properties->joining;
        now = character_at(text, at);
        const Between here = between_table[static_cast<std::size_t>(before)]
                                          [static_cast<std::size_t>(now.properties->joining)];
        // Behind a mark only where nothing in the stretch links over it.
        if (here == Between::boundary && !(open && before == Joining::mark)) break;
        single = false;
        open = open || here == Between::open;
      }
      if (single) {
        writer.add(first);
      } else if (!open) {
        writer.add_cluster(begin, at);
      } else {
        impl_->find_clusters(text.substr(begin, at - begin), [&](std::size_t from, std::size_t to) {
          writer.add_cluster(begin + from, begin + to);
        });
      }
    }
  }
  if (impl_->language == "el") mark_greek_questions(text, out);
}

}  // namespace arvik
