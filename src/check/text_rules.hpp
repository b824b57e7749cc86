#pragma once

#include <set>
#include <string>

#include "arvik/language.hpp"
#include "text_view.hpp"

namespace arvik::checking {

/// What stands around a text.
struct TextPlace {
  bool appended = false;        ///< it goes on behind the line before …
  bool followed = false;        ///< … or the next one goes on behind it: blanks there are meant
  std::string_view language{};  ///< of the locale: "de"
  std::string_view before{};    ///< the text of the line before, as it is written, and …
  std::string_view behind{};    ///< … of the next one: a quote may go on over several lines
  /// Of the source locale, where this is a translation.
  std::optional<std::string_view> source{};
};

/// What is wrong with a text by itself.
void check_text(const TextView& text, const TextPlace& place, const Wishes& wishes,
                const Tell& tell);

/// Words that stand in small letters somewhere, so that they are no names.
class CommonWords {
 public:
  /// Takes the words of a text as it is written, without its tags.
  void add(std::string_view source);
  [[nodiscard]] bool has(const std::u32string& word) const { return words_.contains(word); }

 private:
  std::set<std::u32string, std::less<>> words_;
};

/// Whether a translation is its source though it says something. `common` are words of the source.
[[nodiscard]] bool is_untranslated(const TextView& text, ScriptCode source_script,
                                   ScriptCode script, const CommonWords& common);

}  // namespace arvik::checking
