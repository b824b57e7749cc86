#include <cstring>
#include <string>

#include "arvik/arvik.h"
#include "fuzz/targets.hpp"

namespace arvik::fuzz {
namespace {

constexpr const char* small_script =
    R"({"arvik_script": 1, "sounds": {"a": {"samples": ["s"]}, "l": {"samples": ["s"], "loop": true}},
        "conversations": {"x": [
          {"id": "1", "text": "One two.[hold] [mark m]Three[page]four.", "typing": "a", "voice": "v"},
          {"text": "Five.", "append": true, "auto": "100ms", "typing": "l"},
          {"text": "Six [sound s]seven.", "skippable": false}]}})";

}  // namespace

// The first bytes are the text of a line; each of the others is a call.
std::string fuzz_c(Bytes bytes) {
  static arvik_setter* setter = arvik_setter_create("en", nullptr);
  const std::size_t text = std::min<std::size_t>(bytes.size(), 24);
  arvik_line* line = arvik_line_prepare(setter, reinterpret_cast<const char*>(bytes.data()), text,
                                        nullptr, nullptr, nullptr, nullptr);
  arvik_reveal* reveal = arvik_reveal_create(line, nullptr);
  const std::uint32_t steps = arvik_line_steps(line);
  arvik_line_destroy(line);
  arvik_script* read = arvik_script_read(small_script, ARVIK_NUL, 0, nullptr);
  arvik_talk* talk = arvik_talk_create(setter, read, nullptr, nullptr, nullptr);
  arvik_script_destroy(read);
  arvik_line_place place{};
  place.size = sizeof place;
  arvik_talk_settings settings;
  arvik_talk_settings_init(&settings);
  std::string broken;
  for (const std::uint8_t byte : bytes.subspan(text)) {
    const std::int64_t amount = std::int64_t{1} << (byte >> 2U);
    switch (byte % 16) {
      case 0:
        arvik_reveal_tick(reveal, amount, nullptr);
        break;
      case 1:
        arvik_reveal_skip(reveal, nullptr);
        break;
      case 2:
        arvik_reveal_release_hold(reveal);
        break;
      case 3:
        arvik_reveal_set_speed(reveal, static_cast<std::int32_t>(amount));
        break;
      case 4:
        arvik_reveal_place(reveal, &place);
        break;
      case 5:
        place.shown ^= byte >> 6U;
        arvik_reveal_go_to(reveal, &place);
        break;
      case 6:
        arvik_talk_start(talk, nullptr, nullptr, nullptr);
        break;
      case 7:
        arvik_talk_stop(talk);
        break;
      case 8:
        byte > 127 ? arvik_talk_pause(talk) : arvik_talk_resume(talk);
        break;
      case 9:
        std::memcpy(&settings.reading_rate, &amount, sizeof amount);
        settings.opening_ns = amount;
        arvik_talk_configure(talk, &settings);
        break;
      default:
        arvik_talk_tick(talk, amount, byte >> 6U);
        break;
    }
    arvik_extent extent{};
    extent.size = sizeof extent;
    arvik_reveal_shown(reveal, &extent);
    if (extent.steps > steps) broken = "more is shown than there is";
  }
  arvik_talk_destroy(talk);
  arvik_reveal_destroy(reveal);
  return broken;
}

}  // namespace arvik::fuzz
