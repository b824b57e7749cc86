#include "problems.hpp"

#include <cstdint>
#include <string>

namespace arvik::script {

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

Problems::Problems(std::string_view text, const JsonDocument& json, std::string file,
                   Relocate relocate)
    : text_(text), file_(std::move(file)), relocate_(std::move(relocate)), sink_(text, list_) {
  for (const JsonValue& member : json.repeated()) {
    put(member, {.code = DiagnosticCode::duplicate_id,
                 .severity = Severity::error,
                 .message = "this key stands twice in its object",
                 .range = member.key_range()});
  }
}

void Problems::put(const JsonValue& value, Diagnostic problem) {
  problem.file = file_;
  if (!is_full() && !relocate_) problem.pointer = value.pointer();
  const std::size_t before = list_.size();
  sink_.add(std::move(problem));
  if (relocate_ && list_.size() > before) relocate_(list_.back());
}

void Problems::warn(const JsonValue& value, DiagnosticCode code, std::string message) {
  put(value, {.code = code,
              .severity = Severity::warning,
              .message = std::move(message),
              .range = value.range()});
}

void Problems::add_in_text(const JsonValue& value, const Diagnostic& in_text) {
  Diagnostic problem = in_text;
  const std::size_t begin = value.range().begin;
  problem.range = {raw_offset(text_, begin, in_text.range.begin),
                   raw_offset(text_, begin, in_text.range.end)};
  problem.message += " (row " + std::to_string(in_text.row) + ", column " +
                     std::to_string(in_text.column) + " of the text)";
  put(value, std::move(problem));
}

void Problems::add(const JsonValue& value, DiagnosticCode code, std::string message,
                   std::string_view hint) {
  put(value, {.code = code,
              .severity = Severity::error,
              .message = std::move(message),
              .range = value.range(),
              .hint = std::string(hint)});
}

void Problems::unknown_key(const JsonValue& member, std::string_view what,
                           const std::vector<std::string_view>& known) {
  const std::string key = member.key();
  put(member, {.code = DiagnosticCode::unknown_key,
               .severity = Severity::error,
               .message = std::string(what) + " has no key " + quoted_word(key),
               .range = member.key_range(),
               .hint = std::string(nearest_name(key, known))});
}

void Problems::check_tag_name(const JsonValue& member) {
  const std::string name = member.key();
  if (name.empty() || name.find_first_of(" \t\r\n[]:") != std::string::npos) {
    bad_value(member, quoted_word(name) +
                          " cannot be written in a tag: a name has no blank, colon or bracket");
  }
}

}  // namespace arvik::script
