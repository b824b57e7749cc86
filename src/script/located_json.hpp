#pragma once

#include <map>
#include <nlohmann/json.hpp>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <utility>
#include <vector>

#include "arvik/diagnostic.hpp"

namespace arvik::script {

/// A JSON document that knows where each of its values stands.
struct LocatedJson {
  nlohmann::ordered_json root;
  /// By JSON pointer (RFC 6901; "" is the root): the bytes of each value in the text.
  std::map<std::string, TextRange> places;
  /// By the pointer of a member's value: the bytes of its key.
  std::map<std::string, TextRange> keys;
  /// Keys that an object has twice, each with its later place; the later value counts.
  std::vector<std::pair<std::string, TextRange>> repeated;
};

/// The pointer of a member or an element of what stands at `parent`.
[[nodiscard]] std::string pointer_to(const std::string& parent, std::string_view key);
[[nodiscard]] std::string pointer_to(const std::string& parent, std::size_t index);

/// Parses JSON (RFC 8259). Fails with bad_json at the place where the text stops making sense.
[[nodiscard]] tl::expected<LocatedJson, Diagnostic> parse_located(std::string_view text);

}  // namespace arvik::script
