#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"

/// JSON documents (RFC 8259) whose values know where they stand in the text. A document is an array
/// of small nodes in the order of the text; strings and numbers are read from the text when they
/// are asked for. So its size is linear in the file's, whatever is in it.
namespace arvik::script {

/// How deep values may stand inside each other.
inline constexpr std::size_t max_json_depth = 64;

class JsonDocument;

/// One value of a document: an index, to be copied. Good as long as its document and text.
class JsonValue {
 public:
  [[nodiscard]] bool is_object() const { return kind() == '{'; }
  [[nodiscard]] bool is_array() const { return kind() == '['; }
  [[nodiscard]] bool is_string() const { return kind() == '"'; }
  [[nodiscard]] bool is_number() const { return kind() == '0'; }
  [[nodiscard]] bool is_boolean() const { return kind() == 't' || kind() == 'f'; }
  [[nodiscard]] bool is_null() const { return kind() == 'n'; }

  /// The value of a string, decoded; empty for other values.
  [[nodiscard]] std::string text() const;
  [[nodiscard]] bool is_text(std::string_view wanted) const {
    return is_string() && text() == wanted;
  }
  [[nodiscard]] bool is_true() const { return kind() == 't'; }
  /// The value of a number; 0 for other values.
  [[nodiscard]] double number() const;
  /// The value of a whole number of 64 bits, 0 or more, written without point and exponent.
  [[nodiscard]] std::optional<std::uint64_t> whole() const;

  /// Calls `visit` with each member of an object or element of an array, in order.
  template <typename Visit>
  void each(Visit visit) const;
  [[nodiscard]] std::size_t size() const;
  /// The member of that key; of several the last. Linear in the size of the object.
  [[nodiscard]] std::optional<JsonValue> find(std::string_view key) const;

  /// Of a member of an object, decoded; else empty.
  [[nodiscard]] std::string key() const;
  /// The bytes of the value, and of its key, quotes included.
  [[nodiscard]] TextRange range() const;
  [[nodiscard]] TextRange key_range() const;
  /// The JSON pointer (RFC 6901). Costs as much as walking over its elder siblings.
  [[nodiscard]] std::string pointer() const;

 private:
  friend class JsonDocument;
  JsonValue(const JsonDocument& document, std::uint32_t node) : document_(&document), node_(node) {}
  [[nodiscard]] char kind() const;

  const JsonDocument* document_;
  std::uint32_t node_;
};

class JsonDocument {
 public:
  /// Keeps the view. Fails with bad_json at the place where the text stops making sense, also for
  /// values deeper than max_json_depth and for texts of 4 GiB and more.
  [[nodiscard]] static tl::expected<JsonDocument, Diagnostic> parse(std::string_view text);

  [[nodiscard]] JsonValue root() const { return {*this, 0}; }
  /// Members whose key stood in the same object before.
  [[nodiscard]] std::vector<JsonValue> repeated() const;

 private:
  friend class JsonValue;
  friend class JsonBuilder;
  struct Node {
    std::uint32_t begin = 0;
    std::uint32_t end = 0;
    std::uint32_t key = 0;   // where its key begins; 0: none
    std::uint32_t next = 0;  // the node behind it and all that is in it
    std::uint32_t parent = 0;
  };
  [[nodiscard]] bool key_is(const Node& node, std::string_view key) const;

  std::string_view text_;
  std::vector<Node> nodes_;
};

template <typename Visit>
void JsonValue::each(Visit visit) const {
  if (!is_object() && !is_array()) return;
  const auto& nodes = document_->nodes_;
  for (std::uint32_t child = node_ + 1; child < nodes[node_].next; child = nodes[child].next) {
    visit(JsonValue(*document_, child));
  }
}

}  // namespace arvik::script
