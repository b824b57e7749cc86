// A script is read in one go, from what others refer to (paces, styles, cast) to what refers
// (lines), so that every problem is told at once.

#include "arvik/script_file.hpp"

#include <algorithm>
#include <deque>
#include <filesystem>
#include <map>
#include <set>
#include <unordered_map>
#include <utility>

#include "arvik/language.hpp"
#include "arvik/locale.hpp"
#include "arvik/read_file.hpp"
#include "box_reader.hpp"
#include "check_reader.hpp"
#include "in_locale.hpp"
#include "map_writer.hpp"
#include "name_index.hpp"
#include "pace_reader.hpp"
#include "script_sources.hpp"
#include "sound_reader.hpp"
#include "style_reader.hpp"
#include "text_checker.hpp"
#include "voice_reader.hpp"
#include "voice_timings.hpp"

namespace arvik {
namespace script {
namespace {

class ScriptReader {
 public:
  ScriptReader(ScriptSources& sources, ScriptErrors errors, ScriptMap* map)
      : sources_(sources), errors_(errors), map_(map) {}

  Script run() {
    std::deque<Fields> all;
    for (ScriptSource* source : sources_.in_order()) {
      Fields& fields = all.emplace_back(source->root(), "a script", source->problems);
      fields.version("arvik_script", "a script");
      fields.value("include");
      fields.value("strings");
      map_.add_file(*source);
    }
    const auto each = [&](std::string_view key, auto read) {
      for (std::size_t i = 0; i < all.size(); ++i) {
        const auto value = all[i].value(key);
        if (!value) continue;
        go_to(*sources_.in_order()[i]);
        read(*value);
      }
    };
    each("locale", [&](const JsonValue& value) { read_locale(value); });
    script_.locale = script_.source_locale;
    each("check", [&](const JsonValue& value) { map_.add_wishes(read_wishes(value, *problems_)); });
    take_strings();
    std::vector<PaceSource> paces;
    each("paces", [&](const JsonValue& value) {
      paces.push_back({value, problems_});
      map_.add_names(ScriptPart::pace, value, *source_);
      map_.add_bases(value);
    });
    script_.paces = read_paces(paces);
    each("styles", [&](const JsonValue& value) {
      for (auto& [name, style] : read_styles(value, *problems_)) {
        if (!script_.styles.emplace(name, style).second) tell_twice(value, "style", name);
      }
      map_.add_names(ScriptPart::style, value, *source_);
    });
    each("sounds", [&](const JsonValue& value) {
      add(value, "typing sound", read_own_sounds(value), script_.sounds);
      has_sounds_ = true;
      map_.add_names(ScriptPart::sound, value, *source_);
    });
    each("clips", [&](const JsonValue& value) {
      auto clips = read_clips(value, *problems_);
      for (NamedClip& clip : clips) clip.file = source_->beside(clip.file);
      add(value, "clip", std::move(clips), script_.clips);
      has_clips_ = true;
      map_.add_names(ScriptPart::clip, value, *source_);
    });
    const auto name = [](const auto& entry) -> std::string_view { return entry.name; };
    paces_ = index_of(script_.paces, name);
    sounds_ = index_of(script_.sounds, name);
    clips_ = index_of(script_.clips, name);
    each("box", [&](const JsonValue& value) { read_box(value, *problems_, script_.box); });
    each("fonts", [&](const JsonValue& value) { script_.fonts = read_fonts(value); });
    each("cast", [&](const JsonValue& value) { read_cast(value); });
    cast_ = index_of(script_.cast,
                     [](const Speaker& speaker) -> std::string_view { return speaker.id; });
    texts_.emplace(script_.styles, has_sounds_ ? &sounds_ : nullptr,
                   has_clips_ ? &clips_ : nullptr);
    each("locales", [&](const JsonValue& value) { read_locales(value); });
    each("voices", [&](const JsonValue& value) {
      if (!value.is_object()) return;
      if (const auto timing = value.find("voice_timing")) {
        read_voice_sync(*timing, voice_sync_, *problems_);
      }
    });
    each("conversations", [&](const JsonValue& value) { read_conversations(value); });
    VoiceReader voices(sources_, script_);
    each("voices", [&](const JsonValue& value) { voices.read(value, *source_); });
    const ScriptSource* main = sources_.in_order().back();
    if (script_.conversations.empty() && main->root().is_object() &&
        !main->root().find("conversations")) {
      go_to(*sources_.in_order().back());
      problems_->bad_value(main->root(), "\"conversations\" is missing");
    }
    check_choices();
    if (errors_ == ScriptErrors::refuse && !map_.is_wanted()) check_tables();
    for (Fields& fields : all) fields.finish();
    keep_line_paces();
    find_locales(script_);
    script_.files = sources_.files();
    return std::move(script_);
  }

 private:
  void go_to(ScriptSource& source) {
    source_ = &source;
    problems_ = &source.problems;
  }

  void tell_twice(const JsonValue& object, std::string_view what, const std::string& name) {
    problems_->add(
        object.find(name).value_or(object), DiagnosticCode::duplicate_id,
        "a " + std::string(what) + " " + quoted_word(name) + " stands in another file, too");
  }

  // What another file has named already is told; what this one has twice was told as its keys.
  template <typename Named>
  void add(const JsonValue& object, std::string_view what, std::vector<Named> from,
           std::vector<Named>& to) {
    std::set<std::string> others;
    for (const Named& entry : to) others.insert(entry.name);
    for (Named& entry : from) {
      if (others.contains(entry.name)) tell_twice(object, what, entry.name);
      to.push_back(std::move(entry));
    }
  }

  std::vector<TypingSound> read_own_sounds(const JsonValue& value) {
    auto sounds = read_sounds(value, *problems_);
    for (TypingSound& sound : sounds) {
      for (std::string& sample : sound.samples) sample = source_->beside(sample);
    }
    return sounds;
  }

  void read_locale(const JsonValue& value) {
    if (!value.is_string()) {
      problems_->bad_value(value, "locale must be a string");
      return;
    }
    const auto language = Language::open(value.text());
    if (!language) {
      problems_->bad_value(value, language.error().message);
    } else if (has_locale_ && value.text() != script_.source_locale) {
      problems_->bad_value(value, "a script and what it includes are written in one locale");
    } else {
      script_.source_locale = value.text();
      has_locale_ = true;
    }
  }

  void read_cast(const JsonValue& json) {
    if (!json.is_object()) {
      problems_->bad_value(json, "cast must be an object: ids with speakers");
      return;
    }
    std::set<std::string> others;  // in other files
    for (const Speaker& speaker : script_.cast) others.insert(speaker.id);
    json.each([&](const JsonValue& entry) {
      if (others.contains(entry.key())) tell_twice(json, "speaker", entry.key());
      map_.add_name(ScriptPart::speaker, entry.key(), entry, *source_);
      Fields fields(entry, "a speaker", *problems_);
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
    if (!value.is_string()) problems_->bad_value(value, "pace must be a string");
    return value.text();
  }

  std::optional<std::string> read_typing(Fields& fields) {
    const auto value = fields.value("typing");
    if (!value) return std::nullopt;
    std::string name = value->text();
    if (!value->is_string()) {
      problems_->bad_value(*value, "typing must be a string");
    } else if (!name.empty() && has_sounds_ && !sounds_.contains(name)) {
      problems_->add(*value, DiagnosticCode::unknown_sound,
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
    problems_->bad_value(value, quoted_word(word) +
                                    " is not a colour: write #rrggbb, #rrggbbaa or a CSS colour "
                                    "name");
    return std::nullopt;
  }

  void read_portraits(const JsonValue& json, Speaker& speaker) {
    if (!json.is_object()) {
      problems_->bad_value(json, "portraits must be an object: names with pictures");
      return;
    }
    json.each([&](const JsonValue& picture) {
      if (picture.is_string()) {
        speaker.portraits.push_back({picture.key(), picture.text()});
        map_.add_name(ScriptPart::portrait, speaker.id + "." + picture.key(), picture, *source_);
      } else {
        problems_->bad_value(picture, "a picture must be a string");
      }
    });
  }

  // The hint for a name that is not there; none once problems are only counted.
  [[nodiscard]] std::string_view nearest(std::string_view name, const NameIndex& index) const {
    if (problems_->is_full()) return {};
    return nearest_name(name, names_of(index));
  }

  void check_pace(const std::string& name, const JsonValue& value) {
    if (!paces_.contains(name) && value.is_string()) {
      problems_->add(value, DiagnosticCode::unknown_pace, "no pace is named " + quoted_word(name),
                     nearest(name, paces_));
    }
  }

  // The pace of that name, or the default, at a line's own rate; lines share it.
  SharedPace find_pace(const std::string& name, const std::string& rate = {}) {
    const auto found = paces_.find(name);
    const bool known = found != paces_.end();
    if (!known && rate.empty()) return {};
    auto [shared, is_new] = shared_paces_.try_emplace({known ? name : "", rate});
    if (is_new) {
      Pace pace = known ? script_.paces[found->second].pace : Pace();
      if (!rate.empty()) apply(*parse_rate_change(rate), pace);
      shared->second = std::move(pace);
    }
    return shared->second;
  }

  void read_conversations(const JsonValue& json) {
    if (!json.is_object()) {
      problems_->bad_value(json, "conversations must be an object: names with lines");
      return;
    }
    ScriptSource& here = *source_;
    json.each([&](const JsonValue& entry) {
      go_to(here);
      const std::string name = entry.key();
      map_.add_name(ScriptPart::conversation, name, entry, *source_);
      if (!conversation_names_.insert(name).second && places_.back().source != &here) {
        problems_->add(entry, DiagnosticCode::duplicate_id,
                       "a conversation " + quoted_word(name) + " stands in another file, too");
      }
      ScriptConversation& conversation = script_.conversations.emplace_back();
      conversation.name = name;
      places_.push_back({entry, &here});
      JsonValue lines = entry;
      if (entry.is_string()) {
        const auto table = sources_.table(here, entry);
        if (!table) return;  // told when it was not read
        ScriptSource& made = sources_.conversation(script_.strings->tables()[*table]);
        lines = made.root();
        go_to(made);
      }
      if (!lines.is_array()) {
        problems_->bad_value(lines, "a conversation is a list of lines, or the name of a table");
        return;
      }
      conversation.lines.reserve(lines.size());
      lines.each([&](const JsonValue& line) {
        if (!line.is_object()) {
          problems_->bad_value(line, "a line is a JSON object");
        } else {
          conversation.lines.push_back(read_line(line));
        }
        if (conversation.lines.size() == 1 && conversation.lines[0].append) {
          conversation.lines[0].append = false;
          problems_->bad_value(*line.find("append"),
                               "the first line has nothing to be appended to");
        }
        check_appended(conversation, line);
      });
      if (conversation.lines.empty()) {
        problems_->warn(lines, DiagnosticCode::nothing_to_say,
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
    problems_->warn(json, DiagnosticCode::bad_value,
                    "this line is appended to one of another speaker, in the same box");
  }

  DialogueLine read_line(const JsonValue& json) {
    Fields fields(json, "a line", *problems_);
    DialogueLine line;
    map_.add_text(json, read_unchecked(fields), *source_);
    read_id(fields, line.id);
    const Speaker* speaker = read_speaker(fields, line);
    read_pace(fields, speaker, line);
    line.typing = read_typing(fields).value_or(speaker != nullptr ? speaker->typing : "");
    line.voice = fields.text("voice").value_or("");
    line.voice_sync = voice_sync_;
    if (const auto timing = fields.value("voice_timing")) {
      read_voice_sync(*timing, line.voice_sync, *problems_);
    }
    line.skippable = fields.flag("skippable").value_or(true);
    line.append = fields.flag("append").value_or(false);
    line.instant = fields.flag("instant").value_or(false);
    read_auto(fields, line);
    read_text(fields, json, speaker, line.id, line.text);
    if (const auto choices = fields.value("choices")) read_choices(*choices, speaker, line);
    fields.finish();
    return line;
  }

  // Lines and answers share their ids: they are the keys of their texts.
  void read_id(Fields& fields, std::string& id) {
    const auto value = fields.value("id");
    if (!value) return;
    if (!value->is_string()) {
      problems_->bad_value(*value, "id must be a string");
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
    const std::string where = problems_->is_full() ? "" : ": " + first->second.pointer();
    problems_->add(*value, DiagnosticCode::duplicate_id,
                   "another line or answer has the id " + quoted_word(id) + ", too" + where);
  }

  void read_choices(const JsonValue& json, const Speaker* speaker, DialogueLine& line) {
    if (!json.is_array()) {
      problems_->bad_value(json, "choices is a list of answers");
      return;
    }
    json.each([&](const JsonValue& value) {
      if (!value.is_object()) {
        problems_->bad_value(value, "an answer is a JSON object");
        return;
      }
      Fields fields(value, "an answer", *problems_);
      Choice choice;
      map_.add_text(value, read_unchecked(fields), *source_);
      read_id(fields, choice.id);
      read_text(fields, value, speaker, choice.id, choice.text);
      if (const auto target = fields.value("leads_to")) {
        if (target->is_string()) {
          choice.leads_to = target->text();
          targets_.push_back({choice.leads_to, *target, problems_});
        } else {
          problems_->bad_value(*target, "leads_to must be a string");
        }
      }
      choice.available = fields.flag("available").value_or(true);
      fields.finish();
      line.choices.push_back(std::move(choice));
    });
    if (line.choices.empty()) {
      problems_->warn(json, DiagnosticCode::nothing_to_say, "there are no answers to choose from");
    }
  }

  // Where answers lead, once all conversations are known.
  void check_choices() {
    const auto conversations = index_of(
        script_.conversations, [](const auto& entry) -> std::string_view { return entry.name; });
    for (const auto& [name, value, problems] : targets_) {
      if (conversations.contains(name)) continue;
      problems->add(value, DiagnosticCode::unknown_conversation,
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
    for (std::size_t i = 0; i < can_end.size(); ++i) {
      if (can_end[i]) continue;
      places_[i].source->problems.warn(places_[i].value, DiagnosticCode::endless_loop,
                                       "the answers of " +
                                           quoted_word(script_.conversations[i].name) +
                                           " lead round and round: no way leads to an end");
    }
  }

  const Speaker* read_speaker(Fields& fields, DialogueLine& line) {
    const auto id = fields.value("speaker");
    const auto portrait = fields.value("portrait");
    for (const auto& [value, key] : {std::pair(id, "speaker"), std::pair(portrait, "portrait")}) {
      if (value && !value->is_string()) {
        problems_->bad_value(*value, std::string(key) + " must be a string");
      }
    }
    line.portrait = portrait ? portrait->text() : "";
    if (!id || !id->is_string()) return nullptr;
    line.speaker = id->text();
    const auto found = cast_.find(line.speaker);
    if (found == cast_.end()) {
      problems_->add(*id, DiagnosticCode::unknown_speaker,
                     "nobody of the cast is " + quoted_word(line.speaker),
                     nearest(line.speaker, cast_));
      return nullptr;
    }
    const Speaker& speaker = script_.cast[found->second];
    if (portrait && portrait->is_string() && !has_portrait(speaker, line.portrait)) {
      problems_->add(*portrait, DiagnosticCode::unknown_portrait,
                     quoted_word(line.speaker) + " has no portrait " + quoted_word(line.portrait),
                     nearest_name(line.portrait, names_of(speaker.portraits)));
    }
    return &speaker;
  }

  void read_pace(Fields& fields, const Speaker* speaker, DialogueLine& line) {
    std::string name = speaker != nullptr ? speaker->pace : "";  // was checked with the cast
    if (const auto value = fields.value("pace")) {
      name = read_pace_name(*value);
      check_pace(name, *value);
    }
    std::string word;
    if (const auto rate = fields.value("rate")) {
      const auto change = parse_rate_change(rate->text());
      if (!rate->is_string()) {
        problems_->bad_value(*rate, "rate must be a string");
      } else if (change) {
        word = rate->text();
      } else {
        problems_->bad_value(*rate, change.error());
      }
    }
    line.pace = find_pace(name, word);
  }

  void read_auto(Fields& fields, DialogueLine& line) {
    const auto value = fields.value("auto");
    if (!value) return;
    const std::string word = value->text();
    if (!value->is_string()) {
      problems_->bad_value(*value, "auto must be a string");
    } else if (word == "reading") {
      line.automatic = AutoAdvance{.reading = true};
    } else if (const auto time = parse_time(word)) {
      line.automatic = AutoAdvance{.after = *time};
    } else {
      problems_->bad_value(*value,
                           quoted_word(word) + " is no time: write it like 1.5s, or reading");
    }
  }

  void read_text(Fields& fields, const JsonValue& json, const Speaker* speaker,
                 const std::string& id, std::string& text) {
    const auto value = fields.value("text");
    if (speaker != nullptr && !id.empty() && errors_ == ScriptErrors::refuse)
      speakers_.emplace(id, speaker);
    if (!value) {
      text_of_table(json, id, text);
      return;
    }
    if (!value->is_string()) {
      problems_->bad_value(*value, "text must be a string");
      return;
    }
    text = value->text();
    if (text.empty()) {
      problems_->warn(*value, DiagnosticCode::nothing_to_say, "this text is empty");
    }
    if (map_.is_wanted()) return;
    texts_->check(text, speaker, script_.source_locale,
                  [&](const Diagnostic& problem) { problems_->add_in_text(*value, problem); });
  }

  void text_of_table(const JsonValue& json, const std::string& id, std::string& text) {
    const auto found = script_.strings && !id.empty()
                           ? script_.strings->text(id, script_.source_locale)
                           : std::nullopt;
    if (found) {
      text = *found;
    } else if (!script_.strings) {
      problems_->bad_value(json, "a text is missing");
    } else {
      problems_->add(json, DiagnosticCode::missing_text,
                     id.empty()
                         ? "a text is missing, or the id by which a table has it"
                         : "a text is missing: no table has one of the key " + quoted_word(id) +
                               " in the locale " + quoted_word(script_.source_locale));
    }
  }

  // What is not looked for in a line or an answer.
  std::vector<std::string> read_unchecked(Fields& fields) {
    const auto value = fields.value("unchecked");
    return value ? read_words(*value, "unchecked", "codes", *problems_)
                 : std::vector<std::string>();
  }

  // --- tables and locales

  void take_strings() {
    auto tables = sources_.take_tables();
    if (tables.empty()) return;
    script_.strings = std::make_shared<const Strings>(std::move(tables));
    for (const Strings::Place& place : script_.strings->repeated()) {
      const StringsTable& table = script_.strings->tables()[place.table];
      Diagnostic problem{.code = DiagnosticCode::duplicate_id,
                         .message = "the key " + quoted_word(table.key(place.row)) +
                                    " stands in another table, too",
                         .range = {0, table.key(place.row).size()}};
      table.locate(place.row, 0, problem);
      sources_.add(std::move(problem));
    }
  }

  // The texts of all locales.
  void check_tables() {
    if (!script_.strings) return;
    std::size_t told = 0;
    for (const StringsTable& table : script_.strings->tables()) {
      for (std::size_t column = 1; column < table.columns().size(); ++column) {
        if (table.columns()[column].kind != ColumnKind::locale) continue;
        for (std::uint32_t row = 0; row < table.rows() && told < max_diagnostics; ++row) {
          const std::string_view cell = table.cell(row, column);
          if (cell.empty() || cell == empty_on_purpose) continue;
          const auto speaker = speakers_.find(table.key(row));
          texts_->check(cell, speaker == speakers_.end() ? nullptr : speaker->second,
                        table.columns()[column].locale, [&](Diagnostic problem) {
                          problem.message += " (" + quoted_word(table.key(row)) + " in " +
                                             table.columns()[column].locale + ")";
                          table.locate(row, column, problem);
                          sources_.add(std::move(problem));
                          ++told;
                        });
        }
      }
    }
  }

  void read_locales(const JsonValue& json) {
    if (!json.is_object()) {
      problems_->bad_value(json, "locales must be an object: tags with what differs there");
      return;
    }
    json.each([&](const JsonValue& value) {
      const auto tag = canonical_locale(value.key());
      if (!tag) {
        problems_->add(value, DiagnosticCode::unknown_locale,
                       quoted_word(value.key()) + " is no locale: write a tag like de or pt-BR");
        return;
      }
      LocaleChanges& changes = changes_of(*tag, script_);
      Fields fields(value, "a locale", *problems_);
      if (const auto rate = fields.value("rate")) read_factor(*rate, changes);
      if (const auto paces = fields.value("paces")) {
        for (NamedPace& pace : read_paces({{*paces, problems_}}, script_.paces)) {
          if (!paces_.contains(pace.name)) tell_no_such(*paces, pace.name, "pace", paces_);
          changes.paces.push_back(std::move(pace));
        }
      }
      if (const auto styles = fields.value("styles")) {
        for (auto& style : read_styles(*styles, *problems_)) changes.styles.insert(style);
      }
      if (const auto sounds = fields.value("sounds")) {
        for (TypingSound& sound : read_own_sounds(*sounds)) {
          if (!sounds_.contains(sound.name)) {
            tell_no_such(*sounds, sound.name, "typing sound", sounds_);
          }
          changes.sounds.push_back(std::move(sound));
        }
      }
      if (const auto box = fields.value("box")) {
        changes.box = script_.box;
        read_box(*box, *problems_, *changes.box);
      }
      if (const auto fonts = fields.value("fonts")) changes.fonts = read_fonts(*fonts);
      fields.finish();
    });
  }

  // A locale puts something in the place of what is not there.
  void tell_no_such(const JsonValue& object, const std::string& name, const std::string& what,
                    const NameIndex& known) {
    problems_->add(object.find(name).value_or(object),
                   what == "pace" ? DiagnosticCode::unknown_pace : DiagnosticCode::unknown_sound,
                   "the script has no " + what + " " + quoted_word(name) +
                       " that this could take the place of",
                   nearest(name, known));
  }

  void read_factor(const JsonValue& value, LocaleChanges& changes) {
    const auto change = parse_rate_change(value.text());
    if (value.is_string() && change && change->relative && change->value >= 0.1 &&
        change->value <= 10) {
      changes.rate = change->value;
    } else {
      problems_->bad_value(value, "rate must be a factor from x0.1 to x10, like \"x0.8\"");
    }
  }

  std::vector<std::string> read_fonts(const JsonValue& value) {
    std::vector<std::string> families;
    value.each([&](const JsonValue& family) {
      if (family.is_string()) {
        families.push_back(family.text());
      } else {
        problems_->bad_value(family, "a font must be the name of a family");
      }
    });
    if (!value.is_array()) problems_->bad_value(value, "fonts must be a list of families");
    return families;
  }

  void keep_line_paces() {
    for (auto& [of, pace] : shared_paces_) {
      const auto& [name, rate] = of;
      const auto change = rate.empty() ? std::nullopt : std::optional(*parse_rate_change(rate));
      script_.line_paces.push_back({pace, name, change});
    }
  }

  struct Target {
    std::string name;
    JsonValue value;
    Problems* problems;
  };
  struct ConversationPlace {
    JsonValue value;
    ScriptSource* source;
  };

  ScriptSources& sources_;
  ScriptErrors errors_;
  MapWriter map_;
  ScriptSource* source_ = nullptr;  // that is being read …
  Problems* problems_ = nullptr;    // … and its problems
  Script script_;
  std::optional<TextChecker> texts_;  // once all that texts name is known
  bool has_sounds_ = false;           // else the game has them
  bool has_clips_ = false;
  // Of those that lines have, by their names and the lines' own rates.
  std::map<std::pair<std::string, std::string>, SharedPace> shared_paces_;
  NameIndex paces_, sounds_, clips_, cast_;
  std::unordered_multimap<std::size_t, JsonValue> ids_;  // by hash, with the first of that id
  std::vector<Target> targets_;                          // where answers lead
  std::vector<ConversationPlace> places_;                // of the conversations
  std::set<std::string> conversation_names_;
  std::map<std::string, const Speaker*, std::less<>> speakers_;  // of texts, by their keys
  bool has_locale_ = false;
  VoiceSync voice_sync_ = VoiceSync::align;
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
                                                           ScriptErrors errors,
                                                           const ScriptFiles& files,
                                                           std::string name, ScriptMap* map) {
  const TableErrors tables =
      errors == ScriptErrors::repair ? TableErrors::repair : TableErrors::refuse;
  script::ScriptSources sources(json, files, std::move(name), tables);
  Script script;
  if (!sources.in_order().empty()) script = script::ScriptReader(sources, errors, map).run();
  auto problems = sources.problems();
  const bool refused = errors == ScriptErrors::refuse && has_errors(problems);
  if (sources.in_order().empty() || refused) return tl::unexpected(std::move(problems));
  if (files.read && files.exists) script.access = std::make_shared<const ScriptFiles>(files);
  if (!script.changes.empty()) {
    const std::string locale = script.source_locale;
    script = script::in_own_locale(std::make_shared<const Script>(std::move(script)), locale);
  }
  script.diagnostics = std::move(problems);
  script::load_timings(script);
  return script;
}

tl::expected<Script, std::vector<Diagnostic>> load_script(const std::string& path,
                                                          ScriptErrors errors, ScriptMap* map) {
  const auto json = read_file(path);
  if (!json) return tl::unexpected(std::vector<Diagnostic>{json.error()});
  const std::filesystem::path whole(path);
  const std::string folder = whole.parent_path().string();
  return parse_script(*json, errors, files_in(folder.empty() ? "." : folder),
                      whole.filename().string(), map);
}

}  // namespace arvik
