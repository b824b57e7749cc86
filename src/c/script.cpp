// Scripts, read from a file or made by the game. A script is shared by the talks that play it; what
// is added to it afterwards goes into a copy. Guarded by tests/c/c_talk_test.cpp.

#include "objects.hpp"

using namespace arvik;
using namespace arvik::c;

namespace {

// The script, for changing it: its own, or a copy where talks play it. Null if there is none.
Script* writable(arvik_script* script, arvik_error* error) {
  if (script == nullptr || script->script == nullptr) {
    put_error("bad-value", "there is no script to add to", error);
    return nullptr;
  }
  if (script->script.use_count() > 1) script->script = std::make_shared<Script>(*script->script);
  return script->script.get();
}

ScriptErrors errors_of(int32_t repair) {
  return repair != 0 ? ScriptErrors::repair : ScriptErrors::refuse;
}

arvik_script* script_of(tl::expected<Script, std::vector<Diagnostic>> read) {
  auto script = std::make_unique<arvik_script>();
  script->problems = read ? read->diagnostics : std::move(read.error());
  if (read) script->script = std::make_shared<Script>(std::move(*read));
  return script.release();
}

ScriptConversation* find(Script& script, std::string_view name) {
  const auto found = std::find_if(script.conversations.begin(), script.conversations.end(),
                                  [&](const auto& entry) { return entry.name == name; });
  return found == script.conversations.end() ? nullptr : &*found;
}

}  // namespace

arvik_script* arvik_script_read(const char* json, size_t bytes, int32_t repair,
                                arvik_error* error) {
  return guarded(error, [&]() -> arvik_script* {
    const auto text = good_text(json, bytes, error);
    return text ? script_of(parse_script(*text, errors_of(repair))) : nullptr;
  });
}

arvik_script* arvik_script_load(const char* path, int32_t repair, arvik_error* error) {
  return guarded(error, [&]() -> arvik_script* {
    auto read = load_script(std::string(text_of(path)), errors_of(repair));
    const bool unreadable = !read && read.error()[0].code == DiagnosticCode::file_unreadable &&
                            read.error()[0].pointer.empty();
    if (unreadable) return put_error(read.error()[0], error), nullptr;
    return script_of(std::move(read));
  });
}

const char* arvik_script_locale(const arvik_script* script, uint32_t index) {
  const bool known =
      script != nullptr && script->script != nullptr && index < script->script->locales.size();
  return known ? script->script->locales[index].c_str() : nullptr;
}

arvik_script* arvik_script_create(const char* locale, arvik_error* error) {
  return guarded(error, [&]() -> arvik_script* {
    Script script;
    if (locale != nullptr) script.locale = locale;
    script.source_locale = script.locale;
    script.locales = {script.locale};
    if (const auto language = Language::open(script.locale); !language) {
      return put_error(language.error(), error), nullptr;
    }
    auto made = std::make_unique<arvik_script>();
    made->script = std::make_shared<Script>(std::move(script));
    return made.release();
  });
}

void arvik_script_destroy(arvik_script* script) { delete script; }

int32_t arvik_script_is_good(const arvik_script* script) {
  return script != nullptr && script->script != nullptr ? 1 : 0;
}

uint32_t arvik_script_problems(const arvik_script* script) {
  return script == nullptr ? 0 : static_cast<uint32_t>(script->problems.size());
}

int32_t arvik_script_problem(const arvik_script* script, uint32_t index, arvik_problem* problem) {
  return script == nullptr ? 0 : put_problem(script->problems, index, problem);
}

const char* arvik_script_conversation(const arvik_script* script, uint32_t index) {
  const bool known = script != nullptr && script->script != nullptr &&
                     index < script->script->conversations.size();
  return known ? script->script->conversations[index].name.c_str() : nullptr;
}

void arvik_line_source_init(arvik_line_source* source) {
  if (source == nullptr) return;
  *source = {};
  source->size = sizeof *source;
  source->text_bytes = ARVIK_NUL;
  source->auto_ns = -1;
  source->skippable = 1;
}

int32_t arvik_script_add_line(arvik_script* script, const char* conversation,
                              const arvik_line_source* line, arvik_error* error) {
  return guarded(error, [&]() -> int32_t {
    Script* changed = writable(script, error);
    const auto source = taken(line, arvik_line_source_init);
    if (changed == nullptr || !source) {
      return source ? 0 : put_error(source.error(), error), 0;
    }
    const auto text = good_text(source->text, source->text_bytes, error);
    if (!text) return 0;
    auto pace = pace_of(source->pace);
    if (!pace) return put_error(pace.error(), error), 0;
    if (const auto problem = find_problem(*pace)) return put_error(*problem, error), 0;
    DialogueLine added{.id = std::string(text_of(source->id)),
                       .speaker = std::string(text_of(source->speaker)),
                       .portrait = std::string(text_of(source->portrait)),
                       .text = std::string(*text),
                       .pace = std::move(*pace),
                       .typing = std::string(text_of(source->typing)),
                       .voice = std::string(text_of(source->voice)),
                       .skippable = source->skippable != 0,
                       .instant = source->instant != 0};
    if (source->auto_ns >= 0 || source->auto_reading != 0) {
      added.automatic = AutoAdvance{
          .after = std::clamp(Nanoseconds(source->auto_ns), Nanoseconds::zero(), max_written_time),
          .reading = source->auto_reading != 0};
    }
    ScriptConversation* into = find(*changed, text_of(conversation));
    if (into == nullptr) {
      into = &changed->conversations.emplace_back();
      into->name = text_of(conversation);
    }
    added.append = source->append != 0 && !into->lines.empty();
    into->lines.push_back(std::move(added));
    return 1;
  });
}

int32_t arvik_script_add_choice(arvik_script* script, const char* conversation, const char* id,
                                const char* text, size_t bytes, const char* leads_to,
                                int32_t available, arvik_error* error) {
  return guarded(error, [&]() -> int32_t {
    Script* changed = writable(script, error);
    const auto markup = good_text(text, bytes, error);
    if (changed == nullptr || !markup) return 0;
    ScriptConversation* into = find(*changed, text_of(conversation));
    if (into == nullptr || into->lines.empty()) {
      put_error("bad-value", "the conversation has no line to answer to", error);
      return 0;
    }
    into->lines.back().choices.push_back({.id = std::string(text_of(id)),
                                          .text = std::string(*markup),
                                          .leads_to = std::string(text_of(leads_to)),
                                          .available = available != 0});
    return 1;
  });
}

int32_t arvik_script_set_sounds(arvik_script* script, const arvik_sounds* sounds) {
  if (sounds == nullptr) return 0;
  return guarded(nullptr, [&]() -> int32_t {
    Script* changed = writable(script, nullptr);
    if (changed == nullptr) return 0;
    changed->sounds = sounds->sounds;
    changed->clips = sounds->files;
    return 1;
  });
}
