// A script is read in one go, from what others refer to (paces, styles, cast) to what refers
// (lines), so that every problem is told at once.

#include "arvik/script_file.hpp"

#include <algorithm>
#include <map>
#include <unordered_map>
#include <utility>

#include "arvik/language.hpp"
#include "fields.hpp"
#include "pace_reader.hpp"
#include "sound_reader.hpp"
#include "style_reader.hpp"

namespace arvik {
namespace script {
namespace {

template <typename Range>
std::vector<std::string_view> names_of(const Range& range) {
  std::vector<std::string_view> names;
  names.reserve(range.size());
  for (const auto& entry : range) names.push_back(entry.name);
  return names;
}

// Names with what they stand for, in order, and found by name in the time of a few comparisons.
template <typename Range, typename NameOf>
std::map<std::string_view, std::size_t, std::less<>> index_of(const Range& range, NameOf name_of) {
  std::map<std::string_view, std::size_t, std::less<>> index;
  for (std::size_t i = 0; i < range.size(); ++i) index.emplace(name_of(range[i]), i);
  return index;
}

class ScriptReader {
 public:
  ScriptReader(const JsonValue& root, Problems& problems) : root_(root), problems_(problems) {}

  Script run() {
    Fields fields(root_, "a script", problems_);
    fields.version("arvik_script", "a script");
    read_locale(fields);
    if (const auto paces = fields.value("paces")) script_.paces = read_paces(*paces, problems_);
    if (const auto styles = fields.value("styles")) {
      script_.styles = read_styles(*styles, problems_);
    }
    if (const auto sounds = fields.value("sounds")) {
      script_.sounds = read_sounds(*sounds, problems_);
      has_sounds_ = true;
    }
    if (const auto clips = fields.value("clips")) {
      script_.clips = read_clips(*clips, problems_);
      has_clips_ = true;
    }
    const auto name = [](const auto& entry) -> std::string_view { return entry.name; };
    paces_ = index_of(script_.paces, name);
    sounds_ = index_of(script_.sounds, name);
    clips_ = index_of(script_.clips, name);
    if (const auto box = fields.value("box")) read_box(*box);
    if (const auto cast = fields.value("cast")) read_cast(*cast);
    cast_ = index_of(script_.cast,
                     [](const Speaker& speaker) -> std::string_view { return speaker.id; });
    vocabulary_.styles = script_.styles;
    vocabulary_.value = [](std::string_view value) { return std::string(value); };
    if (const auto conversations = fields.value("conversations")) {
      read_conversations(*conversations);
      check_choices();
    } else if (root_.is_object()) {
      problems_.bad_value(root_, "\"conversations\" is missing");
    }
    fields.finish();
    return std::move(script_);
  }

 private:
  using Index = std::map<std::string_view, std::size_t, std::less<>>;

  void read_locale(Fields& fields) {
    const auto value = fields.value("locale");
    if (!value) return;
    if (!value->is_string()) {
      problems_.bad_value(*value, "locale must be a string");
      return;
    }
    const auto language = Language::open(value->text());
    if (language) {
      script_.locale = value->text();
    } else {
      problems_.bad_value(*value, language.error().message);
    }
  }

  void read_box(const JsonValue& json) {
    Fields fields(json, "a box", problems_);
    Box& box = script_.box;
    constexpr double most = 100'000;
    const auto out_of_range = [&](const JsonValue& value, std::string_view key) {
      problems_.bad_value(value, std::string(key) + " is out of range");
    };
    const auto length = [&](std::string_view key, float& out, double least) {
      const auto value = fields.value(key);
      if (!value) return;
      if (!value->is_number()) {
        problems_.bad_value(*value, std::string(key) + " must be a number");
      } else if (value->number() < least || value->number() > most) {
        out_of_range(*value, key);
      } else {
        out = static_cast<float>(value->number());
      }
    };
    length("width", box.width, 1);
    length("height", box.height, 1);
    length("row_spacing", box.row_spacing, 0);
    if (const auto rows = fields.value("rows")) {
      const auto whole = rows->whole();
      if (!whole) {
        problems_.bad_value(*rows, "rows must be a whole number");
      } else if (*whole < 1 || *whole > static_cast<std::uint64_t>(most)) {
        out_of_range(*rows, "rows");
      } else {
        box.max_rows = static_cast<std::uint32_t>(*whole);
      }
    }
    box.balanced = fields.flag("balanced").value_or(false);
    fields.word<Align>("align", box.align,
                       {{"start", Align::start}, {"center", Align::center}, {"end", Align::end}});
    fields.word<Overflow>("overflow", box.overflow,
                          {{"pages", Overflow::pages},
                           {"shrink", Overflow::shrink},
                           {"clip", Overflow::clip},
                           {"refuse", Overflow::refuse}});
    fields.finish();
  }

  void read_cast(const JsonValue& json) {
    if (!json.is_object()) {
      problems_.bad_value(json, "cast must be an object: ids with speakers");
      return;
    }
    json.each([&](const JsonValue& entry) {
      Fields fields(entry, "a speaker", problems_);
      Speaker speaker{.id = entry.key(), .name = fields.text("name").value_or(entry.key())};
      speaker.typing = read_typing(fields).value_or("");
      if (const auto pace = fields.value("pace")) {
        speaker.pace = read_pace_name(*pace);
        check_pace(speaker.pace, *pace);
      }
      if (const auto color = fields.value("color")) speaker.color = read_color(*color);
      if (const auto portraits = fields.value("portraits")) read_portraits(*portraits, speaker);
      fields.finish();
      script_.cast.push_back(std::move(speaker));
    });
  }

  std::string read_pace_name(const JsonValue& value) {
    if (!value.is_string()) problems_.bad_value(value, "pace must be a string");
    return value.text();
  }

  std::optional<std::string> read_typing(Fields& fields) {
    const auto value = fields.value("typing");
    if (!value) return std::nullopt;
    std::string name = value->text();
    if (!value->is_string()) {
      problems_.bad_value(*value, "typing must be a string");
    } else if (!name.empty() && has_sounds_ && !sounds_.contains(name)) {
      problems_.add(*value, DiagnosticCode::unknown_sound,
                    "no typing sound is named " + quoted_word(name), nearest(name, sounds_));
    }
    return name;
  }

  // Read as a tag reads it.
  std::optional<Rgba> read_color(const JsonValue& value) {
    const std::string word = value.text();
    const MarkedText marked = parse("[color " + word + ": x]");
    const auto* look =
        marked.spans.empty() ? nullptr : std::get_if<tag::Look>(&marked.spans[0].what);
    if (look != nullptr && look->change.color) return look->change.color;
    problems_.bad_value(value, quoted_word(word) +
                                   " is not a colour: write #rrggbb, #rrggbbaa or a CSS colour "
                                   "name");
    return std::nullopt;
  }

  void read_portraits(const JsonValue& json, Speaker& speaker) {
    if (!json.is_object()) {
      problems_.bad_value(json, "portraits must be an object: names with pictures");
      return;
    }
    json.each([&](const JsonValue& picture) {
      if (picture.is_string()) {
        speaker.portraits.push_back({picture.key(), picture.text()});
      } else {
        problems_.bad_value(picture, "a picture must be a string");
      }
    });
  }

  // The hint for a name that is not there; none once problems are only counted.
  [[nodiscard]] std::string_view nearest(std::string_view name, const Index& index) const {
    if (problems_.is_full()) return {};
    std::vector<std::string_view> names;
    names.reserve(index.size());
    for (const auto& [known, _] : index) names.push_back(known);
    return nearest_name(name, names);
  }

  void check_pace(const std::string& name, const JsonValue& value) {
    if (!paces_.contains(name) && value.is_string()) {
      problems_.add(value, DiagnosticCode::unknown_pace, "no pace is named " + quoted_word(name),
                    nearest(name, paces_));
    }
  }

  // The default where there is no such pace.
  SharedPace find_pace(const std::string& name) {
    const auto found = paces_.find(name);
    if (found == paces_.end()) return {};
    auto [shared, is_new] = shared_paces_.try_emplace(found->first);
    if (is_new) shared->second = script_.paces[found->second].pace;
    return shared->second;
  }

  void read_conversations(const JsonValue& json) {
    if (!json.is_object()) {
      problems_.bad_value(json, "conversations must be an object: names with lines");
      return;
    }
    json.each([&](const JsonValue& lines) {
      ScriptConversation& conversation = script_.conversations.emplace_back();
      conversation.name = lines.key();
      if (!lines.is_array()) {
        problems_.bad_value(lines, "a conversation is a list of lines");
        return;
      }
      conversation.lines.reserve(lines.size());
      lines.each([&](const JsonValue& line) {
        if (!line.is_object()) {
          problems_.bad_value(line, "a line is a JSON object");
        } else {
          conversation.lines.push_back(read_line(line));
        }
        if (conversation.lines.size() == 1 && conversation.lines[0].append) {
          conversation.lines[0].append = false;
          problems_.bad_value(*line.find("append"), "the first line has nothing to be appended to");
        }
        check_appended(conversation, line);
      });
      if (conversation.lines.empty()) {
        problems_.warn(lines, DiagnosticCode::nothing_to_say,
                       "conversation " + quoted_word(conversation.name) + " has no lines");
      }
    });
  }

  // An appended line stands in the box of the line before, under its speaker's name.
  void check_appended(const ScriptConversation& conversation, const JsonValue& json) {
    const std::size_t count = conversation.lines.size();
    if (count < 2 || !conversation.lines[count - 1].append) return;
    const DialogueLine& line = conversation.lines[count - 1];
    if (line.speaker == conversation.lines[count - 2].speaker) return;
    problems_.warn(json, DiagnosticCode::bad_value,
                   "this line is appended to one of another speaker, in the same box");
  }

  DialogueLine read_line(const JsonValue& json) {
    Fields fields(json, "a line", problems_);
    DialogueLine line;
    read_id(fields, line.id);
    const Speaker* speaker = read_speaker(fields, line);
    read_pace(fields, speaker, line);
    line.typing = read_typing(fields).value_or(speaker != nullptr ? speaker->typing : "");
    line.voice = fields.text("voice").value_or("");
    line.skippable = fields.flag("skippable").value_or(true);
    line.append = fields.flag("append").value_or(false);
    line.instant = fields.flag("instant").value_or(false);
    read_auto(fields, line);
    read_text(fields, json, speaker, line.text);
    if (const auto choices = fields.value("choices")) read_choices(*choices, speaker, line);
    fields.finish();
    return line;
  }

  // Lines and answers share their ids: they are the keys of their texts.
  void read_id(Fields& fields, std::string& id) {
    const auto value = fields.value("id");
    if (!value) return;
    if (!value->is_string()) {
      problems_.bad_value(*value, "id must be a string");
      return;
    }
    id = value->text();
    // Found by their hashes, which take less room than the ids of a whole game.
    const std::size_t hash = std::hash<std::string_view>{}(id);
    const auto [begin, end] = ids_.equal_range(hash);
    const auto first =
        std::find_if(begin, end, [&](const auto& entry) { return entry.second.is_text(id); });
    const bool is_new = first == end;
    if (is_new) ids_.emplace(hash, *value);
    if (is_new) return;
    const std::string where = problems_.is_full() ? "" : ": " + first->second.pointer();
    problems_.add(*value, DiagnosticCode::duplicate_id,
                  "another line or answer has the id " + quoted_word(id) + ", too" + where);
  }

  void read_choices(const JsonValue& json, const Speaker* speaker, DialogueLine& line) {
    if (!json.is_array()) {
      problems_.bad_value(json, "choices is a list of answers");
      return;
    }
    json.each([&](const JsonValue& value) {
      if (!value.is_object()) {
        problems_.bad_value(value, "an answer is a JSON object");
        return;
      }
      Fields fields(value, "an answer", problems_);
      Choice choice;
      read_id(fields, choice.id);
      read_text(fields, value, speaker, choice.text);
      if (const auto target = fields.value("leads_to")) {
        if (target->is_string()) {
          choice.leads_to = target->text();
          targets_.emplace_back(choice.leads_to, *target);
        } else {
          problems_.bad_value(*target, "leads_to must be a string");
        }
      }
      choice.available = fields.flag("available").value_or(true);
      fields.finish();
      line.choices.push_back(std::move(choice));
    });
    if (line.choices.empty()) {
      problems_.warn(json, DiagnosticCode::nothing_to_say, "there are no answers to choose from");
    }
  }

  // Where answers lead, once all conversations are known.
  void check_choices() {
    const auto conversations = index_of(
        script_.conversations, [](const auto& entry) -> std::string_view { return entry.name; });
    for (const auto& [name, value] : targets_) {
      if (conversations.contains(name)) continue;
      problems_.add(value, DiagnosticCode::unknown_conversation,
                    "no conversation is named " + quoted_word(name), nearest(name, conversations));
    }
    // From the conversations that can end, backwards to those from which they can be reached.
    std::vector<std::vector<std::size_t>> comes_from(script_.conversations.size());
    std::vector<std::size_t> ending;
    std::vector<bool> can_end(script_.conversations.size());
    for (std::size_t i = 0; i < script_.conversations.size(); ++i) {
      bool goes_on = true;
      for (const DialogueLine& line : script_.conversations[i].lines) {
        if (!goes_on) break;
        goes_on = line.choices.empty();
        for (const Choice& choice : line.choices) {
          const auto target = conversations.find(choice.leads_to);
          if (choice.leads_to.empty()) goes_on = true;
          if (target != conversations.end()) comes_from[target->second].push_back(i);
        }
      }
      can_end[i] = goes_on;
      if (goes_on) ending.push_back(i);
    }
    while (!ending.empty()) {
      const std::size_t reached = ending.back();
      ending.pop_back();
      for (const std::size_t i : comes_from[reached]) {
        if (can_end[i]) continue;
        can_end[i] = true;
        ending.push_back(i);
      }
    }
    std::size_t i = 0;
    if (const auto all = root_.find("conversations"); all && all->is_object()) {
      all->each([&](const JsonValue& lines) {
        if (!can_end[i]) {
          problems_.warn(lines, DiagnosticCode::endless_loop,
                         "the answers of " + quoted_word(script_.conversations[i].name) +
                             " lead round and round: no way leads to an end");
        }
        ++i;
      });
    }
  }

  const Speaker* read_speaker(Fields& fields, DialogueLine& line) {
    const auto id = fields.value("speaker");
    const auto portrait = fields.value("portrait");
    for (const auto& [value, key] : {std::pair(id, "speaker"), std::pair(portrait, "portrait")}) {
      if (value && !value->is_string()) {
        problems_.bad_value(*value, std::string(key) + " must be a string");
      }
    }
    line.portrait = portrait ? portrait->text() : "";
    if (!id || !id->is_string()) return nullptr;
    line.speaker = id->text();
    const auto found = cast_.find(line.speaker);
    if (found == cast_.end()) {
      problems_.add(*id, DiagnosticCode::unknown_speaker,
                    "nobody of the cast is " + quoted_word(line.speaker),
                    nearest(line.speaker, cast_));
      return nullptr;
    }
    const Speaker& speaker = script_.cast[found->second];
    if (portrait && portrait->is_string() && !has_portrait(speaker, line.portrait)) {
      problems_.add(*portrait, DiagnosticCode::unknown_portrait,
                    quoted_word(line.speaker) + " has no portrait " + quoted_word(line.portrait),
                    nearest_name(line.portrait, names_of(speaker.portraits)));
    }
    return &speaker;
  }

  static bool has_portrait(const Speaker& speaker, std::string_view name) {
    return std::any_of(speaker.portraits.begin(), speaker.portraits.end(),
                       [&](const Portrait& portrait) { return portrait.name == name; });
  }

  void read_pace(Fields& fields, const Speaker* speaker, DialogueLine& line) {
    if (const auto value = fields.value("pace")) {
      const std::string name = read_pace_name(*value);
      check_pace(name, *value);
      line.pace = find_pace(name);
    } else if (speaker != nullptr) {  // what is not there was told with the cast
      line.pace = find_pace(speaker->pace);
    }
    const auto rate = fields.value("rate");
    if (!rate) return;
    const auto change = parse_rate_change(rate->text());
    if (!rate->is_string()) {
      problems_.bad_value(*rate, "rate must be a string");
    } else if (change) {
      Pace pace = line.pace;
      const double value = change->relative ? pace.rate * change->value : change->value;
      pace.rate = std::clamp(value, min_rate, max_rate);
      line.pace = std::move(pace);
    } else {
      problems_.bad_value(*rate, change.error());
    }
  }

  void read_auto(Fields& fields, DialogueLine& line) {
    const auto value = fields.value("auto");
    if (!value) return;
    const std::string word = value->text();
    if (!value->is_string()) {
      problems_.bad_value(*value, "auto must be a string");
    } else if (word == "reading") {
      line.automatic = AutoAdvance{.reading = true};
    } else if (const auto time = parse_time(word)) {
      line.automatic = AutoAdvance{.after = *time};
    } else {
      problems_.bad_value(*value,
                          quoted_word(word) + " is no time: write it like 1.5s, or reading");
    }
  }

  void read_text(Fields& fields, const JsonValue& json, const Speaker* speaker, std::string& text) {
    const auto value = fields.value("text");
    if (!value) {
      problems_.bad_value(json, "a text is missing");
      return;
    }
    if (!value->is_string()) {
      problems_.bad_value(*value, "text must be a string");
      return;
    }
    text = value->text();
    if (text.empty()) {
      problems_.warn(*value, DiagnosticCode::nothing_to_say, "this text is empty");
    }
    parse(text, marked_, vocabulary_);
    for (const Diagnostic& problem : marked_.diagnostics) problems_.add_in_text(*value, problem);
    for (const Point& point : marked_.points) {
      const auto* portrait = std::get_if<tag::Portrait>(&point.what);
      if (portrait != nullptr && speaker != nullptr && !has_portrait(*speaker, portrait->name)) {
        tell_unknown(*value, text, point.source, DiagnosticCode::unknown_portrait,
                     quoted_word(speaker->id) + " has no portrait ", portrait->name,
                     nearest_name(portrait->name, names_of(speaker->portraits)));
      }
      const auto* sound = std::get_if<tag::Sound>(&point.what);
      if (sound != nullptr && has_clips_ && !clips_.contains(sound->name)) {
        tell_unknown(*value, text, point.source, DiagnosticCode::unknown_sound, "no clip is named ",
                     sound->name, nearest(sound->name, clips_));
      }
    }
    for (const Span& span : marked_.spans) {
      const auto* typing = std::get_if<tag::Typing>(&span.what);
      if (typing != nullptr && has_sounds_ && !sounds_.contains(typing->name)) {
        tell_unknown(*value, text, span.source, DiagnosticCode::unknown_sound,
                     "no typing sound is named ", typing->name, nearest(typing->name, sounds_));
      }
    }
  }

  // A tag in a text names what is not there.
  void tell_unknown(const JsonValue& value, const std::string& text, TextRange range,
                    DiagnosticCode code, const std::string& message, const std::string& name,
                    std::string_view hint) {
    TextLocator locator{std::string_view(text)};
    const auto found = locator.locate(range.begin);
    problems_.add_in_text(value, {.code = code,
                                  .severity = Severity::error,
                                  .message = message + quoted_word(name),
                                  .range = range,
                                  .row = found.row,
                                  .column = found.column,
                                  .hint = std::string(hint)});
  }

  JsonValue root_;
  Problems& problems_;
  Script script_;
  Vocabulary vocabulary_;
  MarkedText marked_;        // of the line that is read
  bool has_sounds_ = false;  // else the game has them
  bool has_clips_ = false;
  std::map<std::string_view, SharedPace, std::less<>> shared_paces_;  // of those that lines have
  Index paces_, sounds_, clips_, cast_;
  std::unordered_multimap<std::size_t, JsonValue> ids_;     // by hash, with the first of that id
  std::vector<std::pair<std::string, JsonValue>> targets_;  // where answers lead
};

}  // namespace
}  // namespace script

const Speaker* Script::find_speaker(std::string_view id) const& {
  const auto found = std::find_if(cast.begin(), cast.end(),
                                  [&](const Speaker& speaker) { return speaker.id == id; });
  return found == cast.end() ? nullptr : &*found;
}

const ScriptConversation* Script::find_conversation(std::string_view name) const& {
  const auto found =
      std::find_if(conversations.begin(), conversations.end(),
                   [&](const ScriptConversation& entry) { return entry.name == name; });
  return found == conversations.end() ? nullptr : &*found;
}

tl::expected<Script, std::vector<Diagnostic>> parse_script(std::string_view json,
                                                           ScriptErrors errors) {
  const auto document = script::JsonDocument::parse(json);
  if (!document) return tl::unexpected(std::vector<Diagnostic>{document.error()});
  script::Problems problems(json, *document);
  Script script = script::ScriptReader(document->root(), problems).run();
  if (problems.has_errors() && errors == ScriptErrors::refuse) {
    return tl::unexpected(std::move(problems.list()));
  }
  script.diagnostics = std::move(problems.list());
  return script;
}

}  // namespace arvik
