#include "script_input.hpp"

#include <fmt/format.h>

#include <filesystem>
#include <map>

#include "arvik/locale.hpp"
#include "arvik/read_file.hpp"
#include "exit_status.hpp"
#include "output.hpp"
#include "report.hpp"

namespace arvik::tool {

std::string read_locale(const std::string& word) {
  const auto tag = canonical_locale(word);
  if (!tag) {
    throw Failure(wrong_usage, quoted_word(word) + " is no locale: write a tag like de or pt-BR");
  }
  return *tag;
}

std::string path_beside(const std::string& script, const std::string& name) {
  return (std::filesystem::path(script).parent_path() / name).string();
}

void report_script(const std::string& path, const std::vector<Diagnostic>& problems) {
  std::map<std::string, std::string> contents;
  for (const Diagnostic& problem : problems) {
    const std::string file = problem.file.empty() ? path : path_beside(path, problem.file);
    const auto [content, is_new] = contents.try_emplace(file);
    if (is_new) content->second = read_file(file).value_or("");
    report(file, content->second, {problem});
  }
}

std::shared_ptr<const Script> read_script(const std::string& path) {
  (void)read_input_file(path);  // tells of what cannot be opened as all commands do
  auto script = load_script(path);
  if (!script) {
    report_script(path, script.error());
    throw Failure(input_has_errors, "the script was not loaded");
  }
  report_script(path, script->diagnostics);
  return std::make_shared<const Script>(std::move(*script));
}

std::shared_ptr<const Script> read_script(const std::string& path, const std::string& locale) {
  auto script = read_script(path);
  if (locale.empty()) return script;
  auto localized = in_locale(script, locale);
  if (!localized) throw Failure(wrong_usage, path + ": " + localized.error().message);
  report_script(path, (*localized)->diagnostics);
  return std::move(*localized);
}

const ScriptConversation& find_conversation(const Script& script, const std::string& path,
                                            const std::string& name) {
  if (script.conversations.empty()) {
    throw Failure(input_has_errors, path + ": the script has no conversation");
  }
  if (name.empty()) return script.conversations[0];
  const ScriptConversation* found = script.find_conversation(name);
  if (found != nullptr) return *found;
  std::vector<std::string_view> names;
  names.reserve(script.conversations.size());
  for (const ScriptConversation& entry : script.conversations) names.push_back(entry.name);
  throw Failure(wrong_usage, fmt::format("{}: no conversation is named {}; there are: {}", path,
                                         quoted_word(name), fmt::join(names, ", ")));
}

void check_values(const ScriptConversation& conversation, const std::string& path,
                  const Vocabulary& vocabulary, ExitStatus& status) {
  Vocabulary values{.value = vocabulary.value};
  std::vector<Diagnostic> missing;
  for (std::size_t i = 0; i < conversation.lines.size(); ++i) {
    const auto look_at = [&](const std::string& text, const std::string& what) {
      missing = parse(text, values).diagnostics;
      std::erase_if(missing, [](const Diagnostic& problem) {
        return problem.code != DiagnosticCode::unknown_value;
      });
      if (missing.empty()) return;
      report(fmt::format("{} ({}, {} {})", path, conversation.name, what, i), text, missing);
      status = input_has_errors;
    };
    look_at(conversation.lines[i].text, "line");
    for (const Choice& choice : conversation.lines[i].choices)
      look_at(choice.text, "answer to line");
  }
}

ScriptPlayer open_player(std::shared_ptr<const Script> script, const Font& font,
                         ScriptPlayerOptions options) {
  auto player = ScriptPlayer::open(std::move(script), font, std::move(options));
  if (!player) throw Failure(input_has_errors, player.error().message);
  return std::move(*player);
}

}  // namespace arvik::tool
