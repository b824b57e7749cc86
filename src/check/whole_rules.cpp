// What nothing uses, and what leads nowhere. Guarded by tests/check/cases_test.cpp.

#include <algorithm>
#include <map>

#include "job.hpp"

namespace arvik::checking {
namespace {

class WholeRules {
 public:
  WholeRules(const Job& job, const CheckOptions& options, const Uses& uses,
             std::vector<RawFinding>& out)
      : job_(job), script_(*job.script), options_(options), uses_(uses), out_(out) {}

  void run() {
    find_uses();
    check_names();
    check_ways();
    if (options_.exists && job_.wishes->has(Rule::missing_file)) check_files();
  }

 private:
  void tell(Rule rule, const ScriptSpot& spot, std::string message) {
    if (!job_.wishes->has(rule)) return;
    out_.push_back({.code = std::string(rule_of(rule).code),
                    .severity = rule_of(rule).severity,
                    .message = std::move(message),
                    .spot = spot});
  }

  void find_uses() {
    for (const ScriptConversation& conversation : script_.conversations) {
      for (const DialogueLine& line : conversation.lines) {
        speakers_.insert(line.speaker);
        typing_.insert(line.typing);
        portraits_.insert(line.speaker + "." + line.portrait);
        clips_.insert(line.voice);
      }
    }
    for (const LinePace& pace :
         script_.original ? script_.original->line_paces : script_.line_paces)
      paces_.insert(pace.name);
    for (const std::string& name : job_.input->map.base_paces) paces_.insert(name);
    for (const Speaker& speaker : script_.cast) {
      if (!speakers_.contains(speaker.id)) continue;
      paces_.insert(speaker.pace);
      typing_.insert(speaker.typing);
    }
    typing_.insert(uses_.typing.begin(), uses_.typing.end());
    portraits_.insert(uses_.portraits.begin(), uses_.portraits.end());
    clips_.insert(uses_.clips.begin(), uses_.clips.end());
    for (const LocaleChanges& changes : original().changes) {
      for (const NamedClip& voice : changes.voices) clips_.insert(voice.file);
    }
  }

  [[nodiscard]] const Script& original() const {
    return script_.original ? *script_.original : script_;
  }

  void check_names() {
    std::set<std::string> voices;  // files that are spoken, whatever their names
    for (const LocaleChanges& changes : original().changes) {
      for (const NamedClip& voice : changes.voices) voices.insert(voice.file);
    }
    const auto clips = script::index_of(
        original().clips, [](const NamedClip& clip) -> std::string_view { return clip.name; });
    for (const NamedSpot& named : job_.input->map.names) {
      const std::string name = quoted_word(named.name);
      switch (named.part) {
        case ScriptPart::speaker:
          if (!speakers_.contains(named.name)) {
            tell(Rule::unused_speaker, named.spot, name + " says nothing");
          }
          break;
        case ScriptPart::portrait:
          if (speakers_.contains(named.name.substr(0, named.name.find('.'))) &&
              !portraits_.contains(named.name)) {
            tell(Rule::unused_portrait, named.spot, "the portrait " + name + " is never shown");
          }
          break;
        case ScriptPart::pace:
          if (!paces_.contains(named.name)) {
            tell(Rule::unused_pace, named.spot, "nothing has the pace " + name);
          }
          break;
        case ScriptPart::style:
          if (!uses_.styles.contains(named.name)) {
            tell(Rule::unused_style, named.spot, "no text has the style " + name);
          }
          break;
        case ScriptPart::sound:
          if (!typing_.contains(named.name)) {
            tell(Rule::unused_sound, named.spot, "nothing has the typing sound " + name);
          }
          break;
        case ScriptPart::clip: {
          const auto clip = clips.find(named.name);
          const bool spoken =
              clip != clips.end() && voices.contains(original().clips[clip->second].file);
          if (!spoken && !clips_.contains(named.name)) {
            tell(Rule::unused_clip, named.spot, "nothing plays the clip " + name);
          }
          break;
        }
        case ScriptPart::conversation:
          break;  // check_ways()
      }
    }
  }

  // From the conversations that the game begins itself along the answers.
  void check_ways() {
    std::map<std::string_view, const ScriptConversation*> by_name;
    for (const ScriptConversation& conversation : script_.conversations) {
      by_name.emplace(conversation.name, &conversation);
    }
    std::set<std::string_view> reached;
    std::vector<std::string_view> ways;
    const CheckWishes& wishes = job_.input->map.wishes;
    for (const std::string& name : wishes.starts) {
      if (by_name.contains(name)) {
        ways.push_back(name);
      } else if (job_.wishes->has(Rule::unreached_conversation)) {
        tell(Rule::unreached_conversation, {},
             "check.starts names " + quoted_word(name) + ", which is no conversation");
      }
    }
    if (!wishes.has_starts && !script_.conversations.empty()) {
      ways.push_back(script_.conversations[0].name);
    }
    while (!ways.empty()) {
      const std::string_view name = ways.back();
      ways.pop_back();
      if (!reached.insert(name).second) continue;
      for (const DialogueLine& line : by_name.at(name)->lines) {
        for (const Choice& choice : line.choices) {
          if (by_name.contains(choice.leads_to)) ways.push_back(choice.leads_to);
        }
      }
    }
    for (const NamedSpot& named : job_.input->map.names) {
      if (named.part != ScriptPart::conversation || reached.contains(named.name)) continue;
      tell(Rule::unreached_conversation, named.spot,
           "nothing leads to the conversation " + quoted_word(named.name));
    }
    for (std::uint32_t i = 0; i < job_.texts->size(); ++i) {
      const TextRef& of = (*job_.texts)[i];
      if (of.choice == no_text) continue;
      const Choice& choice =
          script_.conversations[of.conversation].lines[of.line].choices[of.choice];
      const auto target = by_name.find(choice.leads_to);
      if (target == by_name.end() || !target->second->lines.empty()) continue;
      const TextSpot& spots = job_.input->map.texts[i];
      tell(Rule::dead_answer, spots.whole.is_known() ? spots.whole : spots.text,
           "this answer leads to " + quoted_word(choice.leads_to) + ", where nothing is said");
    }
  }

  void check_files() {
    std::map<std::pair<ScriptPart, std::string_view>, ScriptSpot> spots;
    for (const NamedSpot& named : job_.input->map.names) {
      spots.emplace(std::pair(named.part, std::string_view(named.name)), named.spot);
    }
    const auto look = [&](const std::string& file, ScriptPart part, const std::string& name) {
      if (file.empty() || options_.exists(file)) return;
      tell(Rule::missing_file, spots[{part, name}], "there is no file " + quoted_word(file));
    };
    for (const NamedClip& clip : original().clips) look(clip.file, ScriptPart::clip, clip.name);
    for (const TypingSound& sound : original().sounds) {
      for (const std::string& sample : sound.samples) look(sample, ScriptPart::sound, sound.name);
    }
    for (const LocaleChanges& changes : original().changes) {
      for (const TypingSound& sound : changes.sounds) {
        for (const std::string& sample : sound.samples) look(sample, ScriptPart::sound, sound.name);
      }
    }
  }

  const Job& job_;
  const Script& script_;
  const CheckOptions& options_;
  const Uses& uses_;
  std::vector<RawFinding>& out_;
  std::set<std::string, std::less<>> speakers_, paces_, typing_, portraits_, clips_;
};

}  // namespace

void check_whole(const Job& source, const CheckOptions& options, const Uses& uses,
                 std::vector<RawFinding>& out) {
  WholeRules(source, options, uses, out).run();
}

}  // namespace arvik::checking
