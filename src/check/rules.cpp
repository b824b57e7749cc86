// The table of rules. docs/checking.md tells of each; tests/check holds both together.

#include "rules.hpp"

#include <algorithm>

namespace arvik {
namespace {

using enum CheckGroup;
constexpr Severity error = Severity::error;
constexpr Severity warning = Severity::warning;

constexpr std::array<CheckRule, checking::rule_count> rules{{
    {"blank-at-edge", texts, warning, true, "a text or row begins or ends with a blank"},
    {"double-blank", texts, warning, true, "several blanks stand together"},
    {"mixed-composition", texts, warning, true,
     "a letter is written in several characters, where the other texts have it in one"},
    {"unseen-character", texts, warning, true,
     "a character that nobody sees, as copies from web pages bring it"},
    {"unbalanced-quote", texts, warning, true, "a quote is opened and not closed, or closed twice"},
    {"unbalanced-bracket", texts, warning, true,
     "a bracket is opened and not closed, or closed twice"},
    {"same-as-source", texts, warning, true, "a translation is its source"},
    {"unused-key", texts, warning, true, "a table has a text that nothing in the script asks for"},
    {"lost-tag", kept, error, true, "a translation lacks a tag that makes something happen"},
    {"invented-tag", kept, error, true,
     "a translation has a tag that makes something happen, and its source has not"},
    {"reordered-tags", kept, warning, true,
     "what happens in a translation comes in another order than in its source"},
    {"changed-number", kept, warning, true, "a number is not that of the source"},
    {"lost-question", kept, warning, true, "the source asks, and the translation states"},
    {"more-pages", box, warning, true, "a translation takes more pages than its source"},
    {"more-rows", box, warning, false, "a translation takes more rows than its source"},
    {"small-text", box, warning, true, "a text must become much smaller to fit"},
    {"lone-letter", box, warning, false, "a row holds a single letter"},
    {"too-fast", time, warning, true, "a line comes faster than anybody reads"},
    {"fitted-too-fast", time, warning, true,
     "a line that must last a given time comes faster than anybody reads"},
    {"unread-advance", time, warning, true, "a line goes on by itself before it can be read"},
    {"missing-voice", time, warning, true,
     "a line is spoken in the source, others in this locale, but this one is not"},
    {"unreadable-voice", time, error, true, "a voice clip is not there or cannot be read"},
    {"short-voice", time, warning, true, "a voice clip is too short for its line"},
    {"long-voice", time, warning, true, "a voice clip is too long for its line"},
    {"no-voice-timing", time, warning, true,
     "a voice clip has no timing: its line does not keep step with it"},
    {"stale-voice-timing", time, warning, true,
     "a timing was made from another recording or another text"},
    {"doubtful-voice-timing", time, warning, true, "a recording does not sound like its line"},
    {"silent-edge", time, warning, true, "a voice clip begins or ends with silence"},
    {"unreached-conversation", whole, warning, true,
     "no answer leads to a conversation that the game does not begin itself"},
    {"dead-answer", whole, warning, true, "an answer leads to a conversation without lines"},
    {"unused-speaker", whole, warning, true, "a speaker says nothing"},
    {"unused-portrait", whole, warning, true, "a portrait is never shown"},
    {"unused-pace", whole, warning, true, "nothing has this pace"},
    {"unused-style", whole, warning, true, "no text has this style"},
    {"unused-sound", whole, warning, true, "nothing has this typing sound"},
    {"unused-clip", whole, warning, true, "nothing plays this clip"},
    {"missing-file", whole, error, true, "a file that the script names is not there"},
    {"unknown-code", whole, warning, true, "what a check is told to leave out or add is no rule"},
}};

constexpr std::array<CheckLimit, checking::limit_count> limits{{
    {"fastest", 90, 1, 100'000, "letters a second over a line: too-fast, fitted-too-fast"},
    {"reading", 20, 1, 1000, "letters a second that a reader manages: unread-advance"},
    {"least_size", 0.75, 0.1, 1, "a factor of the font's size: small-text"},
    {"silence", 0.5, 0, 60, "seconds at the begin or end of a clip: silent-edge"},
    {"fastest_speech", 40, 1, 1000, "letters a second that are spoken: short-voice"},
    {"slowest_speech", 4, 0.1, 1000, "letters a second that are spoken: long-voice"},
}};

}  // namespace

std::string_view check_group_name(CheckGroup group) {
  static constexpr std::array<std::string_view, 5> names{"texts", "kept", "box", "time", "whole"};
  return names[static_cast<std::size_t>(group)];
}

std::span<const CheckRule> check_rules() { return rules; }
std::span<const CheckLimit> check_limits() { return limits; }

namespace checking {
namespace {

// The names of all diagnostics.
const std::vector<std::string_view>& diagnostic_names() {
  static const std::vector<std::string_view> names = [] {
    std::vector<std::string_view> all;
    for (int code = 0;; ++code) {
      const std::string_view name = diagnostic_name(static_cast<DiagnosticCode>(code));
      all.push_back(name);
      if (code == static_cast<int>(DiagnosticCode::voice_doubtful)) return all;
    }
  }();
  return names;
}

std::optional<std::size_t> find_rule(std::string_view code) {
  const auto* found = std::find_if(rules.begin(), rules.end(),
                                   [&](const CheckRule& rule) { return rule.code == code; });
  if (found == rules.end()) return std::nullopt;
  return static_cast<std::size_t>(found - rules.begin());
}

}  // namespace

const CheckRule& rule_of(Rule rule) { return rules[static_cast<std::size_t>(rule)]; }

bool is_code(std::string_view code) {
  const auto& names = diagnostic_names();
  return find_rule(code) || std::find(names.begin(), names.end(), code) != names.end();
}

std::string_view nearest_code(std::string_view code) {
  std::vector<std::string_view> known = diagnostic_names();
  for (const CheckRule& rule : rules) known.push_back(rule.code);
  return nearest_name(code, known);
}

Wishes::Wishes(const CheckWishes& script, const CheckOptions& options,
               const std::function<void(std::string message, std::string hint)>& problem) {
  for (std::size_t i = 0; i < rules.size(); ++i) on_[i] = rules[i].by_default;
  for (std::size_t i = 0; i < limits.size(); ++i) limits_[i] = limits[i].value;
  // Nothing tells which conversations a game begins, so the rule waits until somebody does.
  on_[static_cast<std::size_t>(Rule::unreached_conversation)] = script.has_starts;
  const auto set = [&](const std::vector<std::string>& codes, bool on) {
    for (const std::string& code : codes) {
      if (!is_code(code)) {
        problem("no finding has the code " + quoted_word(code), std::string(nearest_code(code)));
        continue;
      }
      if (const auto rule = find_rule(code)) on_[*rule] = on;
      if (!on) off_.push_back(code);
      if (on) std::erase(off_, code);
    }
  };
  set(script.off, false);
  set(script.on, true);
  set(options.off, false);
  set(options.on, true);
  for (const auto& entry : script.limits) {  // a lambda of clang 14 takes no binding
    const std::string& name = entry.first;
    const double value = entry.second;
    const auto* found = std::find_if(limits.begin(), limits.end(),
                                     [&](const CheckLimit& limit) { return limit.name == name; });
    if (found == limits.end()) {
      std::vector<std::string_view> known;
      known.reserve(limits.size());
      for (const CheckLimit& limit : limits) known.push_back(limit.name);
      problem("no limit is named " + quoted_word(name), std::string(nearest_name(name, known)));
    } else if (!(value >= found->least && value <= found->most)) {
      problem("the limit " + quoted_word(name) + " is out of its range", {});
    } else {
      limits_[static_cast<std::size_t>(found - limits.begin())] = value;
    }
  }
}

bool Wishes::has(std::string_view code) const {
  return std::find(off_.begin(), off_.end(), code) == off_.end();
}

}  // namespace checking
}  // namespace arvik
