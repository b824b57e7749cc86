#include "problems.hpp"

namespace arvik::script {
namespace {

TextRange place_of(const std::map<std::string, TextRange>& places, const std::string& pointer) {
  const auto place = places.find(pointer);
  return place == places.end() ? TextRange{} : place->second;
}

}  // namespace

void Problems::add(const std::string& pointer, DiagnosticCode code, std::string message,
                   std::string_view hint) {
  sink_.add({.code = code,
             .severity = Severity::error,
             .message = std::move(message),
             .range = place_of(json_.places, pointer),
             .hint = std::string(hint)});
}

void Problems::unknown_key(const std::string& pointer, std::string_view key, std::string_view what,
                           const std::vector<std::string_view>& known) {
  sink_.add({.code = DiagnosticCode::unknown_key,
             .severity = Severity::error,
             .message = std::string(what) + " has no key " + quoted_word(key),
             .range = place_of(json_.keys, pointer),
             .hint = std::string(nearest_name(key, known))});
}

}  // namespace arvik::script
