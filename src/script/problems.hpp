#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "located_json.hpp"

namespace arvik::script {

/// Collects what is wrong with a JSON file, each problem with its place in the text.
class Problems {
 public:
  /// Keeps references to all for its own life.
  Problems(std::string_view text, const LocatedJson& json) : json_(json), sink_(text, list_) {}
  Problems(const Problems&) = delete;
  Problems& operator=(const Problems&) = delete;

  /// Something is wrong with the value at a pointer.
  void add(const std::string& pointer, DiagnosticCode code, std::string message,
           std::string_view hint = {});
  void bad_value(const std::string& pointer, std::string message, std::string_view hint = {}) {
    add(pointer, DiagnosticCode::bad_value, std::move(message), hint);
  }
  /// `what` ("a pace") has no key like the one of the value at `pointer`, but `known` ones.
  void unknown_key(const std::string& pointer, std::string_view key, std::string_view what,
                   const std::vector<std::string_view>& known);

  [[nodiscard]] std::vector<Diagnostic>& list() { return list_; }

 private:
  const LocatedJson& json_;
  std::vector<Diagnostic> list_;
  DiagnosticSink sink_;
};

}  // namespace arvik::script
