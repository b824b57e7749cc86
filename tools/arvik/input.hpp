#pragma once

#include <CLI/App.hpp>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "arvik/arvik.hpp"
#include "exit_status.hpp"

namespace arvik::tool {

/// Where a command's text comes from, and how it is read: options that commands share.
struct TextOptions {
  CLI::Option* text_option = nullptr;
  std::string text;
  std::string file;
  std::string language = "en";
  std::string styles;               ///< a file of named styles
  std::vector<std::string> values;  ///< NAME=TEXT
};
void add_text_options(CLI::App& command, TextOptions& options);

/// A text and what to call it in messages.
struct InputText {
  std::string name;  ///< the file's path, "text" or "stdin"
  std::string text;
};
/// Reads all that the options name; throws Failure if there is nothing or it cannot be read.
[[nodiscard]] InputText read_input(const TextOptions& options);
/// The same as one line: of a file or pipe, the newline at the very end does not count.
[[nodiscard]] InputText read_line(const TextOptions& options);

/// Adds --value NAME=TEXT.
void add_value_option(CLI::App& command, std::vector<std::string>& values);

/// The line in a file.
[[nodiscard]] InputText read_line_from(const std::string& path);

/// The named styles and values of the options. Reports a bad file on stderr and throws Failure.
[[nodiscard]] Vocabulary read_vocabulary(const TextOptions& options);

/// Throws Failure for a language that ICU cannot serve.
[[nodiscard]] Language open_language(const TextOptions& options);

/// The words for RevealUnit.
[[nodiscard]] const std::map<std::string, RevealUnit>& reveal_units();

struct PaceOptions {
  std::string file;  ///< FILE or FILE#NAME
  std::string rate;
  std::optional<RevealUnit> unit;
  std::string fit;
};
void add_pace_options(CLI::App& command, PaceOptions& options);
/// A file's path without the `#NAME` behind it.
[[nodiscard]] std::string path_of(const std::string& pace_file);
/// The pace of the options: a file's, or the default, with what other options replace. Reports a
/// bad file on stderr and throws Failure.
[[nodiscard]] Pace read_pace(const PaceOptions& options);

struct BoxOptions {
  int width = 60;
  int rows = 0;
  float padding = 0;
  Align align = Align::start;
  VerticalAlign vertical_align = VerticalAlign::top;
  Overflow overflow = Overflow::pages;
  bool balanced = false;
};
/// `unit` says what widths are counted in. Only --width and --align unless `all`.
void add_box_options(CLI::App& command, BoxOptions& options, const std::string& unit, bool all);
[[nodiscard]] Box make_box(const BoxOptions& options);

/// A number from `least` to `most`, told plainly if it is none.
[[nodiscard]] CLI::Validator in_range(double least, double most);

struct FontOptions {
  std::string family;
  float size = 28;
};
void add_font_options(CLI::App& command, FontOptions& options);

/// Adds an option that takes one of some words.
template <typename Value>
CLI::Option* add_choice(CLI::App& command, const std::string& name, Value& value,
                        const std::map<std::string, Value>& choices, const std::string& help) {
  std::string words;
  for (const auto& [word, _] : choices) words += (words.empty() ? "" : ", ") + word;
  const auto set = [&value, choices, words, name](const std::string& word) {
    const auto found = choices.find(word);
    if (found == choices.end()) {
      throw CLI::ValidationError(name, quoted_word(word) + " is none of: " + words);
    }
    value = found->second;
  };
  return command.add_option_function<std::string>(name, set, help + " (" + words + ")")
      ->type_name("WORD");
}

/// What prepares lines: the language and the values and styles of these options.
[[nodiscard]] Typesetter make_typesetter(const TextOptions& options);

/// One line through the pipeline. Reports what is wrong with its markup, its layout and its
/// schedule, where these are `shown`; markup with errors sets `status`. With `voice` the line keeps
/// step with its recording. Throws Failure.
[[nodiscard]] PreparedLine prepare_line(const InputText& input, Typesetter& typesetter,
                                        const Pace& pace, const Font& font, const Box& box,
                                        ExitStatus& status, const VoiceTiming* voice = nullptr);

}  // namespace arvik::tool
