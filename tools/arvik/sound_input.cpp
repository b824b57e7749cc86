#include "sound_input.hpp"

#include <fmt/format.h>

#include <filesystem>

#include "exit_status.hpp"
#include "input.hpp"
#include "output.hpp"
#include "report.hpp"

namespace arvik::tool {
namespace {

// Samples and clips by the names that sound events have.
void load(const std::vector<NamedClip>& clips, const std::filesystem::path& folder, int rate,
          SoundSet& set) {
  const auto load_one = [&](const std::string& name, const std::string& file) {
    if (set.bank.find(name) != nullptr) return;
    auto clip = read_clip((folder / file).string(), rate);
    remember_input(folder / file);
    if (!clip) throw Failure(input_has_errors, clip.error().message);
    set.bank.add(name, std::move(*clip));
  };
  for (const TypingSound& sound : set.sounds) {
    for (const std::string& sample : sound.samples) load_one(sample, sample);
  }
  for (const NamedClip& clip : clips) load_one(clip.name, clip.file);
}

}  // namespace

void add_typing_option(CLI::App& command, std::string& typing) {
  command
      .add_option("--typing", typing,
                  "Read typing sounds from a JSON file; the line begins with NAME")
      ->type_name("FILE[#NAME]");
}

SoundSet read_sounds(const std::string& typing, int rate) {
  const std::string path = path_of(typing);
  const std::string content = read_input_file(path);
  auto read = parse_sounds(content);
  if (!read) {
    report(path, content, read.error());
    throw Failure(input_has_errors, "the sounds were not used");
  }
  SoundSet set{.sounds = std::move(read->sounds)};
  std::vector<std::string_view> names;
  for (const TypingSound& sound : set.sounds) names.push_back(sound.name);
  if (path.size() < typing.size()) set.begin_with = typing.substr(path.size() + 1);
  if (set.begin_with.empty() && names.size() == 1) set.begin_with = names[0];
  if (std::find(names.begin(), names.end(), set.begin_with) == names.end()) {
    throw Failure(wrong_usage,
                  set.begin_with.empty()
                      ? fmt::format("{}: the file has {} sounds; name one behind #: {}", path,
                                    names.size(), fmt::join(names, ", "))
                      : fmt::format("{}: no typing sound is named {}; there are: {}", path,
                                    quoted_word(set.begin_with), fmt::join(names, ", ")));
  }
  load(read->clips, std::filesystem::path(path).parent_path(), rate, set);
  return set;
}

SoundSet read_sounds(const Script& script, const std::string& path, int rate) {
  SoundSet set;
  read_more_sounds(script, path, rate, set);
  return set;
}

void read_more_sounds(const Script& script, const std::string& path, int rate, SoundSet& set) {
  set.sounds = script.sounds;
  load(script.clips, std::filesystem::path(path).parent_path(), rate, set);
}

std::optional<MixEvent> MixEventMaker::operator()(const SoundEvent& event) {
  auto mix_event = make_mix_event(event, bank_, options_);
  if (!mix_event) missing_.emplace(event.name);
  return mix_event;
}

void report_missing(const MixEventMaker& maker) {
  for (const std::string& name : maker.missing()) {
    fmt::print(stderr, "arvik: warning: there is no clip {}; it is silent\n", quoted_word(name));
  }
}

}  // namespace arvik::tool
