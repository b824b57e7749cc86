#pragma once

#include <cstdint>
#include <span>
#include <string>

/// What is fuzzed. Each target makes something of any bytes and returns which promise it saw
/// broken, or nothing; the sanitizers see the rest. libFuzzer runs them one by one
/// (fuzz_entry.cpp), the test fuzz_seeds_test with the seeds alone.
namespace arvik::fuzz {

using Bytes = std::span<const std::uint8_t>;

/// Text, pace, box and what the player does; the promises of DESIGN.md §4.
[[nodiscard]] std::string fuzz_scenario(Bytes bytes);
/// Scripts, paces, styles, sounds and places as JSON.
[[nodiscard]] std::string fuzz_json(Bytes bytes);
/// Sound files.
[[nodiscard]] std::string fuzz_audio(Bytes bytes);
/// Font files, and what is shaped with them.
[[nodiscard]] std::string fuzz_fonts(Bytes bytes);
/// Calls of the C interface in any order.
[[nodiscard]] std::string fuzz_c(Bytes bytes);
/// Conversations: buttons, times, boxes, places.
[[nodiscard]] std::string fuzz_conversation(Bytes bytes);

/// Tables of strings, conversations as tables, and what comes back from translators.
[[nodiscard]] std::string fuzz_strings(Bytes bytes);

}  // namespace arvik::fuzz
