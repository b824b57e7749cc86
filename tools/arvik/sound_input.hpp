#pragma once

#include <CLI/App.hpp>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "arvik/audio_clip.hpp"
#include "arvik/mixer.hpp"
#include "arvik/script_file.hpp"
#include "arvik/sound_file.hpp"

namespace arvik::tool {

/// Typing sounds and clips, with their samples in memory.
struct SoundSet {
  std::vector<TypingSound> sounds{};
  std::string begin_with{};  ///< the sound that a line begins with
  ClipBank bank{};
};

/// Adds --typing FILE[#NAME].
void add_typing_option(CLI::App& command, std::string& typing);

/// Reads what --typing names; of several sounds in it a line begins with the one behind #. Reports
/// a bad file on stderr and throws Failure; so for samples that cannot be read.
[[nodiscard]] SoundSet read_sounds(const std::string& typing, int rate);

/// The sounds of a script, whose files are looked for beside it. Throws Failure.
[[nodiscard]] SoundSet read_sounds(const Script& script, const std::string& path, int rate);
/// The same after the script has changed: files that the set does not have yet are read. Throws
/// Failure.
void read_more_sounds(const Script& script, const std::string& path, int rate, SoundSet& set);

/// Makes mix events and remembers for which names there was no clip.
class MixEventMaker {
 public:
  /// Keeps a reference to the bank.
  MixEventMaker(ClipBank& bank, const MixOptions& options) : bank_(bank), options_(options) {}
  std::optional<MixEvent> operator()(const SoundEvent& event);
  [[nodiscard]] const std::set<std::string, std::less<>>& missing() const { return missing_; }

 private:
  ClipBank& bank_;
  MixOptions options_;
  std::set<std::string, std::less<>> missing_;
};

/// Says on stderr for which names there was no clip.
void report_missing(const MixEventMaker& maker);

}  // namespace arvik::tool
