// A script is read in one go, from what others refer to (paces, styles, cast) to what refers
// (lines), so that every problem is told at once.

#include "arvik/script_file.hpp"

#include <algorithm>
#include <map>

#include "arvik/language.hpp"
#include "fields.hpp"
#include "pace_reader.hpp"
#include "sound_reader.hpp"
#include "style_reader.hpp"

namespace arvik {
namespace script {
namespace {

using nlohmann::ordered_json;

template <typename Range>
std::vector<std::string_view> names_of(const Range& range) {
  std::vector<std::string_view> names;
  names.reserve(range.size());
  for (const auto& entry : range) names.push_back(entry.name);
  return names;
}

class ScriptReader {
 public:
  ScriptReader(const ordered_json& root, Problems& problems) : root_(root), problems_(problems) {}

  Script run() {
    Fields fields(root_, "", "a script", problems_);
    fields.version("arvik_script", "a script");
    read_locale(fields);
    if (const auto* paces = fields.value("paces")) {
      script_.paces = read_paces(*paces, "/paces", problems_);
    }
    if (const auto* styles = fields.value("styles")) {
      script_.styles = read_styles(*styles, "/styles", problems_);
    }
    if (const auto* sounds = fields.value("sounds")) {
      script_.sounds = read_sounds(*sounds, "/sounds", problems_);
      has_sounds_ = true;
    }
    if (const auto* clips = fields.value("clips")) {
      script_.clips = read_clips(*clips, "/clips", problems_);
      has_clips_ = true;
    }
    if (const auto* box = fields.value("box")) read_box(*box);
    if (const auto* cast = fields.value("cast")) read_cast(*cast);
    vocabulary_.styles = script_.styles;
    vocabulary_.value = [](std::string_view name) { return std::string(name); };
    if (const auto* conversations = fields.value("conversations")) {
      read_conversations(*conversations);
    } else if (root_.is_object()) {
      problems_.bad_value("", "\"conversations\" is missing");
    }
    fields.finish();
    return std::move(script_);
  }

 private:
  void read_locale(Fields& fields) {
    const auto locale = fields.text("locale");
    if (!locale) return;
    if (const auto language = Language::open(*locale); !language) {
      problems_.bad_value("/locale", language.error().message);
    }
    script_.locale = *locale;
  }

  void read_box(const ordered_json& json) {
    Fields fields(json, "/box", "a box", problems_);
    Box& box = script_.box;
    const auto length = [&](std::string_view key, float& out, double least) {
      const auto number = fields.number(key);
      if (!number) return;
      if (*number >= least && *number <= 100'000) {
        out = static_cast<float>(*number);
      } else {
        problems_.bad_value(fields.pointer(key), std::string(key) + " is out of range");
      }
    };
    length("width", box.width, 1);
    length("height", box.height, 1);
    length("row_spacing", box.row_spacing, 0);
    float rows = 0;
    length("rows", rows, 1);
    box.max_rows = static_cast<std::uint32_t>(rows);
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

  void read_cast(const ordered_json& json) {
    if (!json.is_object()) {
      problems_.bad_value("/cast", "cast must be an object: ids with speakers");
      return;
    }
    for (const auto& [id, entry] : json.items()) {
      Fields fields(entry, pointer_to("/cast", id), "a speaker", problems_);
      Speaker speaker{.id = id, .name = fields.text("name").value_or(id)};
      speaker.typing = read_typing(fields).value_or("");
      if (const auto pace = fields.text("pace")) {
        speaker.pace = *pace;
        (void)find_pace(*pace, fields.pointer("pace"));
      }
      if (const auto color = fields.text("color")) {
        speaker.color = read_color(*color, fields.pointer("color"));
      }
      if (const auto* portraits = fields.value("portraits")) {
        read_portraits(*portraits, fields.pointer("portraits"), speaker);
      }
      fields.finish();
      script_.cast.push_back(std::move(speaker));
    }
  }

  std::optional<std::string> read_typing(Fields& fields) {
    auto name = fields.text("typing");
    if (!name || name->empty() || !has_sounds_) return name;
    const auto names = names_of(script_.sounds);
    if (std::find(names.begin(), names.end(), *name) == names.end()) {
      problems_.add(fields.pointer("typing"), DiagnosticCode::unknown_sound,
                    "no typing sound is named " + quoted_word(*name), nearest_name(*name, names));
    }
    return name;
  }

  // Read as a tag reads it.
  std::optional<Rgba> read_color(const std::string& word, const std::string& pointer) {
    const MarkedText marked = parse("[color " + word + ": x]");
    const auto* color =
        marked.spans.empty() ? nullptr : std::get_if<tag::Color>(&marked.spans[0].what);
    if (color != nullptr) return color->color;
    problems_.bad_value(pointer, quoted_word(word) +
                                     " is not a colour: write #rrggbb, #rrggbbaa or a CSS colour "
                                     "name");
    return std::nullopt;
  }

  void read_portraits(const ordered_json& json, const std::string& pointer, Speaker& speaker) {
    if (!json.is_object()) {
      problems_.bad_value(pointer, "portraits must be an object: names with pictures");
      return;
    }
    for (const auto& [name, picture] : json.items()) {
      if (picture.is_string()) {
        speaker.portraits.push_back({name, picture.get<std::string>()});
      } else {
        problems_.bad_value(pointer_to(pointer, name), "a picture must be a string");
      }
    }
  }

  // The default where there is no such pace, which is told.
  Pace find_pace(const std::string& name, const std::string& pointer) {
    for (const NamedPace& pace : script_.paces) {
      if (pace.name == name) return pace.pace;
    }
    problems_.add(pointer, DiagnosticCode::unknown_pace, "no pace is named " + quoted_word(name),
                  nearest_name(name, names_of(script_.paces)));
    return {};
  }

  void read_conversations(const ordered_json& json) {
    if (!json.is_object()) {
      problems_.bad_value("/conversations", "conversations must be an object: names with lines");
      return;
    }
    for (const auto& [name, lines] : json.items()) {
      const std::string pointer = pointer_to("/conversations", name);
      ScriptConversation& conversation = script_.conversations.emplace_back();
      conversation.name = name;
      if (!lines.is_array()) {
        problems_.bad_value(pointer, "a conversation is a list of lines");
        continue;
      }
      if (lines.empty()) {
        problems_.warn(pointer, DiagnosticCode::nothing_to_say,
                       "conversation " + quoted_word(name) + " has no lines");
      }
      for (std::size_t i = 0; i < lines.size(); ++i) {
        conversation.lines.push_back(read_line(lines[i], pointer_to(pointer, i)));
      }
      if (!conversation.lines.empty() && conversation.lines[0].append) {
        problems_.bad_value(pointer_to(pointer_to(pointer, std::size_t{0}), "append"),
                            "the first line has nothing to be appended to");
      }
    }
  }

  DialogueLine read_line(const ordered_json& json, const std::string& pointer) {
    Fields fields(json, pointer, "a line", problems_);
    DialogueLine line;
    read_id(fields, line);
    const Speaker* speaker = read_speaker(fields, line);
    read_pace(fields, speaker, line);
    line.typing = read_typing(fields).value_or(speaker != nullptr ? speaker->typing : "");
    line.voice = fields.text("voice").value_or("");
    line.skippable = fields.flag("skippable").value_or(true);
    line.append = fields.flag("append").value_or(false);
    line.instant = fields.flag("instant").value_or(false);
    read_auto(fields, line);
    read_text(fields, json, pointer, speaker, line);
    fields.finish();
    return line;
  }

  void read_id(Fields& fields, DialogueLine& line) {
    const auto id = fields.text("id");
    if (!id) return;
    line.id = *id;
    const auto [first, is_new] = ids_.emplace(*id, fields.pointer("id"));
    if (!is_new) {
      problems_.add(fields.pointer("id"), DiagnosticCode::duplicate_id,
                    "another line has the id " + quoted_word(*id) + ", too: " + first->second);
    }
  }

  const Speaker* read_speaker(Fields& fields, DialogueLine& line) {
    const auto id = fields.text("speaker");
    const auto portrait = fields.text("portrait");
    line.portrait = portrait.value_or("");
    if (!id) return nullptr;
    line.speaker = *id;
    const Speaker* speaker = script_.find_speaker(*id);
    if (speaker == nullptr) {
      std::vector<std::string_view> ids;
      ids.reserve(script_.cast.size());
      for (const Speaker& entry : script_.cast) ids.push_back(entry.id);
      problems_.add(fields.pointer("speaker"), DiagnosticCode::unknown_speaker,
                    "nobody of the cast is " + quoted_word(*id), nearest_name(*id, ids));
    } else if (portrait && !has_portrait(*speaker, *portrait)) {
      problems_.add(fields.pointer("portrait"), DiagnosticCode::unknown_portrait,
                    quoted_word(*id) + " has no portrait " + quoted_word(*portrait),
                    nearest_name(*portrait, names_of(speaker->portraits)));
    }
    return speaker;
  }

  static bool has_portrait(const Speaker& speaker, std::string_view name) {
    return std::any_of(speaker.portraits.begin(), speaker.portraits.end(),
                       [&](const Portrait& portrait) { return portrait.name == name; });
  }

  void read_pace(Fields& fields, const Speaker* speaker, DialogueLine& line) {
    if (const auto name = fields.text("pace")) {
      line.pace = find_pace(*name, fields.pointer("pace"));
    } else if (speaker != nullptr && !speaker->pace.empty()) {
      const auto found =
          std::find_if(script_.paces.begin(), script_.paces.end(),
                       [&](const NamedPace& pace) { return pace.name == speaker->pace; });
      if (found != script_.paces.end()) line.pace = found->pace;  // else told with the cast
    }
    const auto word = fields.text("rate");
    if (!word) return;
    const auto change = parse_rate_change(*word);
    if (change) {
      const double rate = change->relative ? line.pace.rate * change->value : change->value;
      line.pace.rate = std::clamp(rate, min_rate, max_rate);
    } else {
      problems_.bad_value(fields.pointer("rate"), change.error());
    }
  }

  void read_auto(Fields& fields, DialogueLine& line) {
    const auto word = fields.text("auto");
    if (!word) return;
    if (*word == "reading") {
      line.automatic = AutoAdvance{.reading = true};
    } else if (const auto time = parse_time(*word)) {
      line.automatic = AutoAdvance{.after = *time};
    } else {
      problems_.bad_value(fields.pointer("auto"),
                          quoted_word(*word) + " is no time: write it like 1.5s, or reading");
    }
  }

  void read_text(Fields& fields, const ordered_json& json, const std::string& pointer,
                 const Speaker* speaker, DialogueLine& line) {
    const auto text = fields.text("text");
    const std::string place = pointer_to(pointer, "text");
    if (!text) {
      if (json.is_object() && !json.contains("text")) {
        problems_.bad_value(pointer, "a line needs a text");
      }
      return;
    }
    line.text = *text;
    if (text->empty()) problems_.warn(place, DiagnosticCode::nothing_to_say, "this line is empty");
    const MarkedText marked = parse(*text, vocabulary_);
    for (const Diagnostic& problem : marked.diagnostics) problems_.add_in_text(place, problem);
    for (const Point& point : marked.points) {
      const auto* portrait = std::get_if<tag::Portrait>(&point.what);
      if (portrait != nullptr && speaker != nullptr && !has_portrait(*speaker, portrait->name)) {
        tell_unknown(place, *text, point.source, DiagnosticCode::unknown_portrait,
                     quoted_word(speaker->id) + " has no portrait ", portrait->name,
                     names_of(speaker->portraits));
      }
      const auto* sound = std::get_if<tag::Sound>(&point.what);
      if (sound != nullptr && has_clips_) {
        check_name(place, *text, point.source, "no clip is named ", sound->name,
                   names_of(script_.clips));
      }
    }
    for (const Span& span : marked.spans) {
      const auto* typing = std::get_if<tag::Typing>(&span.what);
      if (typing != nullptr && has_sounds_) {
        check_name(place, *text, span.source, "no typing sound is named ", typing->name,
                   names_of(script_.sounds));
      }
    }
  }

  void check_name(const std::string& pointer, const std::string& text, TextRange range,
                  const std::string& message, const std::string& name,
                  const std::vector<std::string_view>& known) {
    if (std::find(known.begin(), known.end(), name) != known.end()) return;
    tell_unknown(pointer, text, range, DiagnosticCode::unknown_sound, message, name, known);
  }

  // A tag in the text at `pointer` names what is not there.
  void tell_unknown(const std::string& pointer, const std::string& text, TextRange range,
                    DiagnosticCode code, const std::string& message, const std::string& name,
                    const std::vector<std::string_view>& known) {
    const auto found = TextLocator(text).locate(range.begin);
    problems_.add_in_text(pointer, {.code = code,
                                    .severity = Severity::error,
                                    .message = message + quoted_word(name),
                                    .range = range,
                                    .row = found.row,
                                    .column = found.column,
                                    .hint = std::string(nearest_name(name, known))});
  }

  const ordered_json& root_;
  Problems& problems_;
  Script script_;
  Vocabulary vocabulary_;
  bool has_sounds_ = false;  // else the game has them
  bool has_clips_ = false;
  std::map<std::string, std::string> ids_;  // with the pointer of the first
};

}  // namespace
}  // namespace script

const Speaker* Script::find_speaker(std::string_view id) const {
  const auto found = std::find_if(cast.begin(), cast.end(),
                                  [&](const Speaker& speaker) { return speaker.id == id; });
  return found == cast.end() ? nullptr : &*found;
}

const ScriptConversation* Script::find_conversation(std::string_view name) const {
  const auto found =
      std::find_if(conversations.begin(), conversations.end(),
                   [&](const ScriptConversation& entry) { return entry.name == name; });
  return found == conversations.end() ? nullptr : &*found;
}

tl::expected<Script, std::vector<Diagnostic>> parse_script(std::string_view json) {
  const auto located = script::parse_located(json);
  if (!located) return tl::unexpected(std::vector<Diagnostic>{located.error()});
  script::Problems problems(json, *located);
  Script script = script::ScriptReader(located->root, problems).run();
  if (problems.has_errors()) return tl::unexpected(std::move(problems.list()));
  script.warnings = std::move(problems.list());
  return script;
}

}  // namespace arvik
