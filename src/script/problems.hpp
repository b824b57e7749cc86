#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "json.hpp"

namespace arvik::script {

/// How many bytes of a JSON string literal, which begins at `begin` with its quote, stand for the
/// first `decoded` bytes of its value: as an offset in the file.
[[nodiscard]] std::size_t raw_offset(std::string_view text, std::size_t begin, std::size_t decoded);

/// Collects what is wrong with a JSON file, each problem with its place in the text.
class Problems {
 public:
  /// Turns a problem of the text into one of what the text was made from.
  using Relocate = std::function<void(Diagnostic& problem)>;

  /// Keeps references to both for its own life. Begins with the keys that stand twice. `file` is
  /// the text's name in problems.
  Problems(std::string_view text, const JsonDocument& json, std::string file = {},
           Relocate relocate = {});
  Problems(const Problems&) = delete;
  Problems& operator=(const Problems&) = delete;

  /// Something is wrong with a value.
  void add(const JsonValue& value, DiagnosticCode code, std::string message,
           std::string_view hint = {});
  void bad_value(const JsonValue& value, std::string message, std::string_view hint = {}) {
    add(value, DiagnosticCode::bad_value, std::move(message), hint);
  }
  /// Something may be wrong with it.
  void warn(const JsonValue& value, DiagnosticCode code, std::string message);
  /// Something is wrong in a text: a diagnostic of parse() for a string.
  void add_in_text(const JsonValue& value, const Diagnostic& in_text);
  /// `what` ("a pace") has no key like that of `member`, but `known` ones.
  void unknown_key(const JsonValue& member, std::string_view what,
                   const std::vector<std::string_view>& known);

  /// A member's key that tags are to use must be one word.
  void check_tag_name(const JsonValue& member);

  [[nodiscard]] std::vector<Diagnostic>& list() { return list_; }
  [[nodiscard]] const std::vector<Diagnostic>& list() const { return list_; }
  [[nodiscard]] bool has_errors() const { return arvik::has_errors(list_); }
  /// Whether further problems are only counted, so that looking for hints is in vain.
  [[nodiscard]] bool is_full() const { return list_.size() >= max_diagnostics; }

 private:
  void put(const JsonValue& value, Diagnostic problem);

  std::string_view text_;
  std::string file_;
  Relocate relocate_;
  std::vector<Diagnostic> list_;
  DiagnosticSink sink_;
};

}  // namespace arvik::script
