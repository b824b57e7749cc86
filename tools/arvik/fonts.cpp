#include "fonts.hpp"

#include <fontconfig/fontconfig.h>

#include <map>
#include <memory>
#include <set>

#include "exit_status.hpp"
#include "output.hpp"

namespace arvik::tool {
namespace {

struct FontconfigDeleter {
  void operator()(FcPattern* pattern) const { FcPatternDestroy(pattern); }
  void operator()(FcFontSet* fonts) const { FcFontSetDestroy(fonts); }
  void operator()(FcCharSet* characters) const { FcCharSetDestroy(characters); }
};
template <typename Object>
using Fontconfig = std::unique_ptr<Object, FontconfigDeleter>;

const FcChar8* fc(const std::string& text) {
  return reinterpret_cast<const FcChar8*>(text.c_str());
}

std::string string_of(FcPattern* pattern, const char* key) {
  FcChar8* value = nullptr;
  if (FcPatternGetString(pattern, key, 0, &value) != FcResultMatch) return {};
  return reinterpret_cast<const char*>(value);
}

Fontconfig<FcPattern> make_pattern(const std::string& family, bool bold, bool italic) {
  Fontconfig<FcPattern> pattern(FcPatternCreate());
  FcPatternAddString(pattern.get(), FC_FAMILY, fc(family));
  FcPatternAddInteger(pattern.get(), FC_WEIGHT, bold ? FC_WEIGHT_BOLD : FC_WEIGHT_REGULAR);
  FcPatternAddInteger(pattern.get(), FC_SLANT, italic ? FC_SLANT_ITALIC : FC_SLANT_ROMAN);
  FcConfigSubstitute(nullptr, pattern.get(), FcMatchPattern);
  FcDefaultSubstitute(pattern.get());
  return pattern;
}

// Frees what fontconfig keeps for itself; before it everything taken from it must be gone.
struct FontconfigSession {
  FontconfigSession() { FcInit(); }
  FontconfigSession(const FontconfigSession&) = delete;
  FontconfigSession& operator=(const FontconfigSession&) = delete;
  ~FontconfigSession() { FcFini(); }
};

class FontFinder {
 public:
  FontSource source(FcPattern* font, bool bold, bool italic, int family) {
    const std::string path = string_of(font, FC_FILE);
    int index = 0;
    FcPatternGetInteger(font, FC_INDEX, 0, &index);
    auto& data = files_[path];
    if (data == nullptr) {
      data = std::make_shared<const std::string>(read_input_file(path));
    }
    return {data, index, bold, italic, family};
  }

 private:
  std::map<std::string, std::shared_ptr<const std::string>> files_;
};

// The characters that need a face, by fontconfig's own decoder.
std::set<FcChar32> characters_of(std::string_view text) {
  std::set<FcChar32> characters;
  const auto* bytes = reinterpret_cast<const FcChar8*>(text.data());
  auto left = static_cast<int>(text.size());
  while (left > 0) {
    FcChar32 character = 0;
    const int size = FcUtf8ToUcs4(bytes, &character, left);
    if (size <= 0) break;
    bytes += size;
    left -= size;
    if (character > 0x20 && character != 0xFFFC) characters.insert(character);
  }
  return characters;
}

void drop_covered(std::set<FcChar32>& characters, FcPattern* font) {
  FcCharSet* covered = nullptr;
  if (FcPatternGetCharSet(font, FC_CHARSET, 0, &covered) != FcResultMatch) return;
  std::erase_if(characters, [&](FcChar32 c) { return FcCharSetHasChar(covered, c) != 0; });
}

bool is_usable(FcPattern* font) {
  FcBool scalable = 0;
  FcBool color = 0;
  FcPatternGetBool(font, FC_SCALABLE, 0, &scalable);
  FcPatternGetBool(font, FC_COLOR, 0, &color);
  return (scalable != 0 || color != 0) && !string_of(font, FC_FILE).ends_with(".gz");
}

// Adds the four faces of a family; takes the characters that it has off `wanted`.
void add_family(const std::string& family, int number, FontFinder& finder,
                std::set<FcChar32>& wanted, std::vector<FontSource>& sources) {
  for (const bool bold : {false, true}) {
    for (const bool italic : {false, true}) {
      FcResult result{};
      const auto pattern = make_pattern(family, bold, italic);
      const Fontconfig<FcPattern> font(FcFontMatch(nullptr, pattern.get(), &result));
      if (font == nullptr) throw Failure(wrong_usage, "fontconfig finds no font at all");
      const std::string found = string_of(font.get(), FC_FAMILY);
      const bool generic = family == "sans-serif" || family == "serif" || family == "monospace";
      if (!generic && FcStrCmpIgnoreCase(fc(found), fc(family)) != 0) {
        throw Failure(wrong_usage, "there is no font family " + quoted_word(family) +
                                       "; the nearest is " + quoted_word(found));
      }
      if (!bold && !italic) drop_covered(wanted, font.get());
      sources.push_back(finder.source(font.get(), bold, italic, number));
    }
  }
}

FontSet make_set(std::vector<FontSource> sources, float pixel_size) {
  auto fonts = FontSet::make(std::move(sources), pixel_size);
  if (!fonts) throw Failure(wrong_usage, fonts.error().message);
  return *fonts;
}

}  // namespace

FontSet load_families(const std::vector<std::string>& families, float pixel_size) {
  const FontconfigSession session;
  FontFinder finder;
  std::vector<FontSource> sources;
  std::set<FcChar32> wanted;
  for (std::size_t i = 0; i < families.size(); ++i) {
    add_family(families[i], static_cast<int>(i), finder, wanted, sources);
  }
  return make_set(std::move(sources), pixel_size);
}

FontSet load_fonts(const std::string& family, float pixel_size, std::string_view text) {
  const FontconfigSession session;
  FontFinder finder;
  std::vector<FontSource> sources;
  std::set<FcChar32> wanted = characters_of(text);
  add_family(family, 0, finder, wanted, sources);
  if (!wanted.empty()) {
    FcResult result{};
    const auto pattern = make_pattern(family, false, false);
    const Fontconfig<FcFontSet> others(
        FcFontSort(nullptr, pattern.get(), FcTrue, nullptr, &result));
    for (int i = 0; others != nullptr && i < others->nfont && !wanted.empty(); ++i) {
      FcPattern* font = others->fonts[i];
      const std::size_t before = wanted.size();
      if (!is_usable(font)) continue;
      drop_covered(wanted, font);
      if (wanted.size() == before) continue;
      sources.push_back(finder.source(font, false, false, static_cast<int>(sources.size())));
    }
  }
  return make_set(std::move(sources), pixel_size);
}

}  // namespace arvik::tool
