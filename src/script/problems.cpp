#include "problems.hpp"

#include <cstdint>
#include <string>

namespace arvik::script {
namespace {

TextRange place_of(const std::map<std::string, TextRange>& places, const std::string& pointer) {
  const auto place = places.find(pointer);
  return place == places.end() ? TextRange{} : place->second;
}

// How many bytes of a JSON string literal, which begins at `begin` with its quote, stand for the
// first `decoded` bytes of its value.
std::size_t raw_offset(std::string_view text, std::size_t begin, std::size_t decoded) {
  std::size_t at = begin + 1;
  for (std::size_t done = 0; done < decoded && at < text.size();) {
    if (text[at] != '\\') {
      ++at;
      ++done;
    } else if (at + 5 < text.size() && text[at + 1] == 'u') {
      const std::uint32_t unit =
          static_cast<std::uint32_t>(std::stoul(std::string(text.substr(at + 2, 4)), nullptr, 16));
      const bool pair = unit >= 0xD800 && unit < 0xDC00;
      done += pair ? 4 : unit < 0x80 ? 1 : unit < 0x800 ? 2 : 3;
      at += pair ? 12 : 6;
    } else {
      at += 2;
      ++done;
    }
  }
  return at;
}

}  // namespace

Problems::Problems(std::string_view text, const LocatedJson& json)
    : text_(text), json_(json), sink_(text, list_) {
  for (const auto& [pointer, place] : json.repeated) {
    sink_.add({.code = DiagnosticCode::duplicate_id,
               .severity = Severity::error,
               .message = "this key stands twice in its object",
               .range = place,
               .pointer = pointer});
  }
}

void Problems::warn(const std::string& pointer, DiagnosticCode code, std::string message) {
  sink_.add({.code = code,
             .severity = Severity::warning,
             .message = std::move(message),
             .range = place_of(json_.places, pointer),
             .pointer = pointer});
}

void Problems::add_in_text(const std::string& pointer, const Diagnostic& in_text) {
  Diagnostic problem = in_text;
  const TextRange literal = place_of(json_.places, pointer);
  problem.range = {raw_offset(text_, literal.begin, in_text.range.begin),
                   raw_offset(text_, literal.begin, in_text.range.end)};
  problem.pointer = pointer;
  problem.message += " (row " + std::to_string(in_text.row) + ", column " +
                     std::to_string(in_text.column) + " of the text)";
  sink_.add(std::move(problem));
}

void Problems::add(const std::string& pointer, DiagnosticCode code, std::string message,
                   std::string_view hint) {
  sink_.add({.code = code,
             .severity = Severity::error,
             .message = std::move(message),
             .range = place_of(json_.places, pointer),
             .hint = std::string(hint),
             .pointer = pointer});
}

void Problems::unknown_key(const std::string& pointer, std::string_view key, std::string_view what,
                           const std::vector<std::string_view>& known) {
  sink_.add({.code = DiagnosticCode::unknown_key,
             .severity = Severity::error,
             .message = std::string(what) + " has no key " + quoted_word(key),
             .range = place_of(json_.keys, pointer),
             .hint = std::string(nearest_name(key, known)),
             .pointer = pointer});
}

void Problems::check_tag_name(const std::string& name, const std::string& pointer) {
  if (name.empty() || name.find_first_of(" \t\r\n[]:") != std::string::npos) {
    bad_value(pointer, quoted_word(name) +
                           " cannot be written in a tag: a name has no blank, colon or bracket");
  }
}

}  // namespace arvik::script
