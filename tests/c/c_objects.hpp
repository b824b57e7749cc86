#pragma once

#include <arvik/arvik.h>

#include <string>

/// Objects of the C interface that end with their scope, and what its tests do again and again.
namespace arvik::test {

// Destroys with the scope.
template <typename Object, void (*destroy)(Object*)>
struct Owned {
  Object* object;
  ~Owned() { destroy(object); }
  operator Object*() const { return object; }  // NOLINT: stands for the pointer
};
using Setter = Owned<arvik_setter, arvik_setter_destroy>;
using Line = Owned<arvik_line, arvik_line_destroy>;
using Reveal = Owned<arvik_reveal, arvik_reveal_destroy>;
using CFont = Owned<arvik_font, arvik_font_destroy>;
using Sounds = Owned<arvik_sounds, arvik_sounds_destroy>;
using Talk = Owned<arvik_talk, arvik_talk_destroy>;
using Script = Owned<arvik_script, arvik_script_destroy>;
using CFrame = Owned<arvik_frame, arvik_frame_destroy>;

inline Setter english() { return {arvik_setter_create(nullptr, nullptr)}; }

inline Line prepare(arvik_setter* setter, const char* markup, const arvik_font* font = nullptr,
                    const arvik_box* box = nullptr) {
  arvik_pace pace;
  arvik_pace_init(&pace);
  pace.rate = 10;
  return {arvik_line_prepare(setter, markup, ARVIK_NUL, &pace, font, box, nullptr)};
}

inline arvik_error new_error() {
  arvik_error error{};
  error.size = sizeof error;
  return error;
}

// A talk of a script's text; it keeps the script alive.
inline arvik_talk* new_talk(arvik_setter* setter, const char* json, const arvik_font* font,
                            const arvik_box* box, arvik_error* error) {
  const Script script{arvik_script_read(json, ARVIK_NUL, 0, error)};
  return arvik_talk_create(setter, script, font, box, error);
}

template <typename Struct>
Struct sized() {
  Struct value{};
  value.size = sizeof value;
  return value;
}

const char* const sounds_json = R"({"arvik_sounds": 1, "clips": {"thud": "thud.wav"},
    "sounds": {"wood": {"samples": ["w1", "w2"], "gap": "50ms", "pan": -0.5, "ending": "cut"},
               "hum": {"samples": ["h"], "loop": true}}})";

// "typing w1 +0, …": what the last tick brought, with milliseconds behind its begin.
template <typename Object>
inline std::string heard(const Object* object, std::uint32_t (*count)(const Object*),
                         std::int32_t (*at)(const Object*, std::uint32_t, arvik_sound*)) {
  std::string result;
  for (std::uint32_t i = 0; i < count(object); ++i) {
    arvik_sound sound{};
    sound.size = sizeof sound;
    REQUIRE(at(object, i, &sound) == 1);
    if (i > 0) result += ", ";
    result += std::string(sound.kind_name) + ' ' + sound.name + " +" +
              std::to_string(sound.delay_ns / 1'000'000);
  }
  return result;
}
inline std::string heard(const arvik_reveal* reveal) {
  return heard(reveal, arvik_reveal_sounds, arvik_reveal_sound);
}
inline std::string heard(const arvik_talk* talk) {
  return heard(talk, arvik_talk_sounds, arvik_talk_sound);
}

const char* const talk_script = R"({"arvik_script": 1,
    "cast": {"pell": {"name": "Pell", "color": "#102030", "typing": "wood", "pace": "slow",
                      "portraits": {"still": "pell.png"}}},
    "paces": {"slow": {"rate": "10cps"}},
    "styles": {"loud": ["b"]},
    "clips": {"hello": "hello.wav"},
    "sounds": {"wood": {"samples": ["w1"], "gap": "50ms", "under_voice": "silent"}},
    "box": {"width": 8},
    "conversations": {"a": [
      {"id": "one", "speaker": "pell", "portrait": "still", "voice": "hello",
       "text": "Tick [mark gear teeth=9][style loud: tock] tick"},
      {"id": "two", "speaker": "pell", "portrait": "still", "text": "Boom."}]}})";

}  // namespace arvik::test
