#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "located_json.hpp"

namespace arvik::script {

/// Collects what is wrong with a JSON file, each problem with its place in the text.
class Problems {
 public:
  /// Keeps references to all for its own life. Begins with the keys that stand twice.
  Problems(std::string_view text, const LocatedJson& json);
  Problems(const Problems&) = delete;
  Problems& operator=(const Problems&) = delete;

  /// Something is wrong with the value at a pointer.
  void add(const std::string& pointer, DiagnosticCode code, std::string message,
           std::string_view hint = {});
  void bad_value(const std::string& pointer, std::string message, std::string_view hint = {}) {
    add(pointer, DiagnosticCode::bad_value, std::move(message), hint);
  }
  /// Something may be wrong with it.
  void warn(const std::string& pointer, DiagnosticCode code, std::string message);
  /// Something is wrong in a text: a diagnostic of parse() for the string at a pointer.
  void add_in_text(const std::string& pointer, const Diagnostic& in_text);
  /// `what` ("a pace") has no key like the one of the value at `pointer`, but `known` ones.
  void unknown_key(const std::string& pointer, std::string_view key, std::string_view what,
                   const std::vector<std::string_view>& known);

  /// A name that tags are to use must be one word.
  void check_tag_name(const std::string& name, const std::string& pointer);

  [[nodiscard]] std::vector<Diagnostic>& list() { return list_; }
  [[nodiscard]] bool has_errors() const { return arvik::has_errors(list_); }

 private:
  std::string_view text_;
  const LocatedJson& json_;
  std::vector<Diagnostic> list_;
  DiagnosticSink sink_;
};

}  // namespace arvik::script
