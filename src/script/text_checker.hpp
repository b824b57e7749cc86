#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>

#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/script_file.hpp"
#include "name_index.hpp"

namespace arvik::script {

/// Looks whether there is what texts name: portraits, clips, typing sounds.
class ARVIK_API NameChecker {
 public:
  using Tell = std::function<void(const Diagnostic& in_text)>;

  /// `sounds` and `clips` are all that there are, and must outlive it; null: the game has them.
  NameChecker(const NameIndex* sounds, const NameIndex* clips) : sounds_(sounds), clips_(clips) {}

  /// Tells what a text names in vain, with places in `text`, from which `marked` was made.
  /// `speaker` may be null: nobody's portraits are meant then.
  void check(std::string_view text, const MarkedText& marked, const Speaker* speaker,
             const Tell& tell);

 private:
  const NameIndex* sounds_;
  const NameIndex* clips_;
  std::size_t told_ = 0;  // with hints, which are looked for only as long as somebody reads them
};

/// Looks at the texts of a script: their markup, and whether there is what they name.
class TextChecker {
 public:
  using Tell = NameChecker::Tell;

  /// As for NameChecker.
  TextChecker(const NamedStyles& styles, const NameIndex* sounds, const NameIndex* clips);

  /// Tells what is wrong with a text, with places in it. `speaker` may be null: nobody's portraits
  /// are meant then.
  void check(std::string_view text, const Speaker* speaker, const std::string& locale,
             const Tell& tell);

 private:
  [[nodiscard]] Language* language(const std::string& locale);

  Vocabulary vocabulary_;
  NameChecker names_;
  std::map<std::string, std::optional<Language>> languages_;
  MarkedText marked_;
};

[[nodiscard]] bool has_portrait(const Speaker& speaker, std::string_view name);

}  // namespace arvik::script
