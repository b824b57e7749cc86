#pragma once

#include <memory>
#include <string>
#include <vector>

#include "arvik/script_player.hpp"
#include "arvik/typesetter.hpp"
#include "exit_status.hpp"

namespace arvik::tool {

/// Reads a script with its other files and reports what is wrong with it on stderr. Throws Failure
/// if it cannot be used.
[[nodiscard]] std::shared_ptr<const Script> read_script(const std::string& path);
/// The script in one of its locales, or as it is for an empty tag; reports what is missing there.
/// Throws Failure if it has no such locale.
[[nodiscard]] std::shared_ptr<const Script> read_script(const std::string& path,
                                                        const std::string& locale);

/// A locale as it is usually written. Throws Failure for what is none.
[[nodiscard]] std::string read_locale(const std::string& word);

/// The path of a file that a script names.
[[nodiscard]] std::string path_beside(const std::string& script, const std::string& name);

/// Reports problems of a script's files, each in its file.
void report_script(const std::string& path, const std::vector<Diagnostic>& problems);

/// The conversation of that name, or the first for an empty name. `path` is the script's, for
/// messages. Throws Failure if there is none.
[[nodiscard]] const ScriptConversation& find_conversation(const Script& script,
                                                          const std::string& path,
                                                          const std::string& name);

/// Reports the values that the texts of a conversation name and the vocabulary lacks; `status` then
/// says that the input has errors. `path` is the script's, for messages.
void check_values(const ScriptConversation& conversation, const std::string& path,
                  const Vocabulary& vocabulary, ExitStatus& status);

/// What plays a script. Throws Failure for a language that ICU cannot serve. The font must outlive
/// it.
[[nodiscard]] ScriptPlayer open_player(std::shared_ptr<const Script> script, const Font& font,
                                       ScriptPlayerOptions options);

}  // namespace arvik::tool
