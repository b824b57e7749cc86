#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>

#include "arvik/language.hpp"
#include "arvik/script_file.hpp"
#include "name_index.hpp"

namespace arvik::script {

/// Looks at the texts of a script: their markup, and whether there is what they name.
class TextChecker {
 public:
  using Tell = std::function<void(const Diagnostic& in_text)>;

  /// `sounds` and `clips` are all that there are, and must outlive it; null: the game has them.
  TextChecker(const NamedStyles& styles, const NameIndex* sounds, const NameIndex* clips);

  /// Tells what is wrong with a text, with places in it. `speaker` may be null: nobody's portraits
  /// are meant then.
  void check(std::string_view text, const Speaker* speaker, const std::string& locale,
             const Tell& tell);

 private:
  [[nodiscard]] Language* language(const std::string& locale);

  Vocabulary vocabulary_;
  const NameIndex* sounds_;
  const NameIndex* clips_;
  std::map<std::string, std::optional<Language>> languages_;
  MarkedText marked_;
  std::size_t told_ = 0;  // with hints, which are looked for only as long as somebody reads them
};

[[nodiscard]] bool has_portrait(const Speaker& speaker, std::string_view name);

}  // namespace arvik::script
