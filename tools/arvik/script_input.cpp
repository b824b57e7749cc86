#include "script_input.hpp"

#include <fmt/format.h>

#include "exit_status.hpp"
#include "output.hpp"
#include "report.hpp"

namespace arvik::tool {

Script read_script(const std::string& path) {
  const std::string content = read_input_file(path);
  auto script = parse_script(content);
  if (!script) {
    report(path, content, script.error());
    throw Failure(input_has_errors, "the script was not loaded");
  }
  report(path, content, script->diagnostics);
  return std::move(*script);
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
    const std::string& text = conversation.lines[i].text;
    missing = parse(text, values).diagnostics;
    std::erase_if(missing, [](const Diagnostic& problem) {
      return problem.code != DiagnosticCode::unknown_value;
    });
    if (missing.empty()) continue;
    report(fmt::format("{} ({}, line {})", path, conversation.name, i), text, missing);
    status = input_has_errors;
  }
}

Typesetter make_typesetter(const Script& script, Vocabulary vocabulary) {
  auto language = Language::open(script.locale);
  if (!language) throw Failure(input_has_errors, language.error().message);
  Typesetter typesetter(std::move(*language));
  typesetter.vocabulary() = std::move(vocabulary);
  typesetter.vocabulary().styles = script.styles;
  return typesetter;
}

}  // namespace arvik::tool
