#pragma once

#include <memory>
#include <string>

#include "arvik/script_file.hpp"

namespace arvik::tool {

struct ScreenOptions {
  std::string path;  ///< of the script, for reading it again
  bool watch = false;
  bool by_itself = false;
  Vocabulary values{};
};

/// Plays a conversation on the whole terminal, until it has closed or the user leaves.
void play_on_screen(const std::shared_ptr<const Script>& script, const std::string& conversation,
                    const ScreenOptions& options);

}  // namespace arvik::tool
