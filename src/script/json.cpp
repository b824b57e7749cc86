// The JSON library checks the text and tells what it read, not where. Its event parser is fed here
// through an iterator that counts what was taken, so that at every event the count is the end of
// the token (for numbers one further, as a number ends only where something else begins). A token's
// begin is the first byte behind the last token that is no blank and no separator.
//
// Where the text is no JSON, what stands behind the last good token tells what a writer has most
// likely done: that is said, at its place, instead of the library's message.
//
// Guarded by tests/script/json_test.cpp.

#include "json.hpp"

#include <algorithm>
#include <charconv>
#include <iterator>
#include <limits>
#include <nlohmann/json.hpp>

#include "../base/failure.hpp"

namespace arvik::script {
namespace {

using Json = nlohmann::json;

class CountingIterator {
 public:
  using iterator_category = std::input_iterator_tag;
  using value_type = char;
  using difference_type = std::ptrdiff_t;
  using pointer = const char*;
  using reference = const char&;

  CountingIterator(const char* at, std::size_t* count) : at_(at), count_(count) {}
  reference operator*() const { return *at_; }
  CountingIterator& operator++() {
    ++at_;
    ++*count_;
    return *this;
  }
  CountingIterator operator++(int) {
    CountingIterator old = *this;
    ++*this;
    return old;
  }
  friend bool operator==(const CountingIterator& a, const CountingIterator& b) {
    return a.at_ == b.at_;
  }
  friend bool operator!=(const CountingIterator& a, const CountingIterator& b) { return !(a == b); }

 private:
  const char* at_;
  std::size_t* count_;
};

Diagnostic bad_json(std::string_view text, std::size_t begin, std::size_t end,
                    std::string message) {
  Diagnostic problem{.code = DiagnosticCode::bad_json,
                     .severity = Severity::error,
                     .message = "not JSON: " + std::move(message),
                     .range = {std::min(begin, text.size()), std::min(end, text.size())}};
  const auto place = TextLocator(text).locate(problem.range.begin);
  problem.row = place.row;
  problem.column = place.column;
  return problem;
}

// What a writer has most likely done where the text stops being JSON.
class Explainer {
 public:
  // `good` is the end of the last token that made sense, `in_object` whether keys are expected.
  Explainer(std::string_view text, std::size_t good, bool in_object)
      : text_(text), good_(good), in_object_(in_object) {}

  [[nodiscard]] Diagnostic run() const {
    const std::size_t number = text_.find_last_not_of("0123456789", good_ > 0 ? good_ - 1 : 0) + 1;
    if (number + 1 < good_ && text_[number] == '0') {
      return tell(number, good_, "a number does not begin with 0 and another digit");
    }
    const std::size_t first = behind_blanks(good_);
    if (first == text_.size()) return at_end();
    if (is_comment(first)) return comment(first);
    const char separator = text_[first];
    if (separator != ',' && separator != ':') return at_token(first, behind_value());
    const std::size_t second = behind_blanks(first + 1);
    if (second == text_.size()) return at_end();
    if (is_comment(second)) return comment(second);
    const char next = text_[second];
    if (separator == ',' && (next == ']' || next == '}')) {
      return tell(first, first + 1, "nothing follows this comma: remove it");
    }
    if (next == ',') return tell(second, second + 1, "a value is missing before this comma");
    if (separator == ':' && (next == ']' || next == '}')) {
      return tell(first, first + 1, "a value is missing behind this colon");
    }
    return at_token(second, false);
  }

 private:
  [[nodiscard]] std::size_t behind_blanks(std::size_t at) const {
    return std::min(text_.find_first_not_of(" \t\r\n", at), text_.size());
  }

  [[nodiscard]] bool is_comment(std::size_t at) const {
    return text_[at] == '#' || text_.substr(at, 2) == "//" || text_.substr(at, 2) == "/*";
  }

  [[nodiscard]] Diagnostic tell(std::size_t begin, std::size_t end, std::string message) const {
    return bad_json(text_, begin, end, std::move(message));
  }

  [[nodiscard]] Diagnostic comment(std::size_t at) const {
    return tell(at, std::min(text_.find('\n', at), text_.size()),
                "JSON has no comments: use a \"description\" key");
  }

  [[nodiscard]] Diagnostic at_end() const {
    return tell(text_.size(), text_.size(),
                text_.find_first_not_of(" \t\r\n") == std::string_view::npos
                    ? "the file is empty"
                    : "the file ends in the middle: a closing bracket is missing");
  }

  // Whether what stands before is a whole value, so that a comma should follow.
  [[nodiscard]] bool behind_value() const {
    if (good_ == 0) return false;
    const char last = text_[good_ - 1];
    return last != '[' && last != '{';
  }

  [[nodiscard]] Diagnostic at_token(std::size_t at, bool behind_value) const {
    const char c = text_[at];
    const std::size_t end = std::min(text_.find_first_of(" \t\r\n,:[]{}\"", at + 1), text_.size());
    if (c == '"') return at_string(at, behind_value);
    if (c == '\'') return tell(at, end, "strings and keys stand in double quotes");
    const bool letter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_';
    const bool key = text_.substr(behind_blanks(end)).starts_with(':');
    if (letter && in_object_ && key) return tell(at, end, "this key must stand in double quotes");
    if (behind_value) return tell(at, end, "a comma is missing before this");
    if (letter) return tell(at, end, "text must stand in double quotes");
    if ((c >= '0' && c <= '9') || c == '-' || c == '+' || c == '.') {
      return tell(at, end, "this is no number that JSON knows");
    }
    return tell(at, at + 1, "this does not belong here");
  }

  [[nodiscard]] Diagnostic at_string(std::size_t begin, bool behind_value) const {
    for (std::size_t at = begin + 1; at < text_.size(); ++at) {
      const auto byte = static_cast<unsigned char>(text_[at]);
      if (byte == '\\') {
        constexpr std::string_view escapes = "\"\\/bfnrtu";
        if (at + 1 < text_.size() && escapes.find(text_[at + 1]) == std::string_view::npos) {
          return tell(at, at + 2, "this escape is unknown: a backslash itself is written twice");
        }
        if (at + 1 < text_.size() && text_[at + 1] == 'u' && !is_escaped_unit(at + 2)) {
          return tell(at, at + 6, "an escape with u needs four hexadecimal digits and whole pairs");
        }
        ++at;
      } else if (byte == '"') {
        if (behind_value) return tell(begin, at + 1, "a comma is missing before this");
        return tell(begin, at + 1, "this does not belong here");
      } else if (byte == '\n' || byte == '\r') {
        return tell(begin, at, "this string has no closing quote in its row");
      } else if (byte < 0x20) {
        return tell(at, at + 1, "a control character must be written as an escape, like \\t");
      } else if (byte >= 0x80 && !is_character(at)) {
        return tell(at, at + 1, "these bytes are not UTF-8");
      } else if (byte >= 0xC0) {
        while (at + 1 < text_.size() && continues(at + 1)) ++at;
      }
    }
    return tell(begin, text_.size(), "this string has no closing quote");
  }

  [[nodiscard]] bool is_escaped_unit(std::size_t at) const {
    return text_.substr(at, 4).find_first_not_of("0123456789abcdefABCDEF") ==
               std::string_view::npos &&
           at + 4 <= text_.size();
  }

  [[nodiscard]] bool continues(std::size_t at) const {
    return (static_cast<unsigned char>(text_[at]) & 0xC0U) == 0x80U;
  }

  [[nodiscard]] bool is_character(std::size_t at) const {
    std::size_t end = at + 1;
    while (end < text_.size() && continues(end)) ++end;
    const auto quoted = "\"" + std::string(text_.substr(at, end - at)) + "\"";
    return Json::accept(quoted);
  }

  std::string_view text_;
  std::size_t good_;
  bool in_object_;
};

}  // namespace

class JsonBuilder : public nlohmann::json_sax<Json> {
 public:
  JsonBuilder(JsonDocument& out, const std::size_t& taken)
      : text_(out.text_), taken_(taken), nodes_(out.nodes_) {
    nodes_.reserve(text_.size() / 12 + 1);
    if (text_.starts_with("\xEF\xBB\xBF")) token_end_ = 3;  // a byte order mark
  }

  bool null() override { return add(); }
  bool boolean(bool) override { return add(); }
  bool number_integer(number_integer_t) override { return add_number(); }
  bool number_unsigned(number_unsigned_t) override { return add_number(); }
  bool number_float(number_float_t, const string_t&) override { return add_number(); }
  bool string(string_t&) override { return add(); }
  bool binary(binary_t&) override { return false; }  // not in JSON text
  bool start_object(std::size_t) override { return open(); }
  bool start_array(std::size_t) override { return open(); }
  bool end_object() override { return close(); }
  bool end_array() override { return close(); }

  bool key(string_t&) override {
    key_ = static_cast<std::uint32_t>(take_token(taken_).begin);
    return true;
  }

  bool parse_error(std::size_t, const std::string&,
                   const nlohmann::detail::exception& problem) override {
    constexpr int number_overflow = 406;
    if (problem.id == number_overflow) {
      const std::size_t begin = token_begin();
      error_ = bad_json(text_, begin, number_end(begin), "this number is too large");
    } else {
      const bool in_object = !open_.empty() && text_[nodes_[open_.back()].begin] == '{';
      error_ = Explainer(text_, token_end_, in_object).run();
    }
    return false;
  }

  [[nodiscard]] const Diagnostic& error() const { return error_; }

 private:
  [[nodiscard]] std::size_t token_begin() const {
    return std::min(text_.find_first_not_of(" \t\r\n,:]}", token_end_), text_.size());
  }
  [[nodiscard]] std::size_t number_end(std::size_t begin) const {
    return std::min(text_.find_first_not_of("0123456789+-.eE", begin), text_.size());
  }

  TextRange take_token(std::size_t end) {
    const std::size_t begin = token_begin();
    token_end_ = end;
    return {begin, end};
  }

  bool put(const TextRange& range) {
    const std::uint32_t parent = open_.empty() ? 0 : open_.back();
    const auto here = static_cast<std::uint32_t>(nodes_.size());
    nodes_.push_back({static_cast<std::uint32_t>(range.begin),
                      static_cast<std::uint32_t>(range.end), key_, here + 1, parent});
    key_ = 0;
    return true;
  }

  bool add() { return put(take_token(taken_)); }
  bool add_number() { return put(take_token(number_end(token_begin()))); }

  bool open() {
    const TextRange range = take_token(taken_);
    if (open_.size() >= max_json_depth) {
      error_ =
          bad_json(text_, range.begin, range.end,
                   "more than " + std::to_string(max_json_depth) + " brackets inside each other");
      return false;
    }
    put(range);
    open_.push_back(static_cast<std::uint32_t>(nodes_.size() - 1));
    return true;
  }

  bool close() {
    JsonDocument::Node& node = nodes_[open_.back()];
    node.end = static_cast<std::uint32_t>(taken_);
    node.next = static_cast<std::uint32_t>(nodes_.size());
    token_end_ = taken_;
    open_.pop_back();
    return true;
  }

  std::string_view text_;
  const std::size_t& taken_;
  std::vector<JsonDocument::Node>& nodes_;
  std::vector<std::uint32_t> open_;
  std::uint32_t key_ = 0;
  std::size_t token_end_ = 0;
  Diagnostic error_;
};

namespace {

// The value of a string literal that has been found good.
std::string decoded(std::string_view literal) {
  if (literal.find('\\') == std::string_view::npos) {
    return std::string(literal.substr(1, literal.size() - 2));
  }
  return Json::parse(literal).get<std::string>();
}

std::string_view literal_at(std::string_view text, std::size_t begin) {
  std::size_t end = begin + 1;
  while (text[end] != '"') end += text[end] == '\\' ? 2 : 1;
  return text.substr(begin, end + 1 - begin);
}

}  // namespace

tl::expected<JsonDocument, Diagnostic> JsonDocument::parse(std::string_view text) {
  if (text.size() >= std::numeric_limits<std::uint32_t>::max()) {
    return base::failure(DiagnosticCode::bad_json, "the file is larger than 4 GiB");
  }
  if (const std::size_t nul = text.find('\0'); nul != std::string_view::npos) {
    return tl::unexpected(bad_json(text, nul, nul + 1, "there is a NUL byte here"));
  }
  JsonDocument document;
  document.text_ = text;
  std::size_t taken = 0;
  JsonBuilder builder(document, taken);
  const CountingIterator begin(text.data(), &taken);
  const CountingIterator end(text.data() + text.size(), &taken);
  if (!Json::sax_parse(begin, end, &builder)) return tl::unexpected(builder.error());
  document.nodes_.shrink_to_fit();
  return document;
}

bool JsonDocument::key_is(const Node& node, std::string_view key) const {
  const std::string_view literal = literal_at(text_, node.key);
  const std::string_view raw = literal.substr(1, literal.size() - 2);
  return raw == key || (raw.find('\\') != std::string_view::npos && decoded(literal) == key);
}

std::vector<JsonValue> JsonDocument::repeated() const {
  std::vector<JsonValue> repeated;
  std::vector<std::pair<std::string, std::uint32_t>> keys;
  for (std::uint32_t i = 0; i < nodes_.size(); ++i) {
    const JsonValue object(*this, i);
    if (!object.is_object()) continue;
    keys.clear();
    object.each([&](const JsonValue& member) { keys.emplace_back(member.key(), member.node_); });
    std::sort(keys.begin(), keys.end());
    for (std::size_t k = 1; k < keys.size(); ++k) {
      if (keys[k].first == keys[k - 1].first) repeated.push_back({*this, keys[k].second});
    }
  }
  return repeated;
}

char JsonValue::kind() const {
  const char first = document_->text_[document_->nodes_[node_].begin];
  return first == '-' || (first >= '0' && first <= '9') ? '0' : first;
}

std::string JsonValue::text() const {
  if (!is_string()) return {};
  const TextRange at = range();
  return decoded(document_->text_.substr(at.begin, at.end - at.begin));
}

double JsonValue::number() const {
  if (!is_number()) return 0;
  const TextRange at = range();
  double value = 0;  // from_chars leaves it for what is too small to be told from 0
  std::from_chars(document_->text_.data() + at.begin, document_->text_.data() + at.end, value);
  return value;
}

std::optional<std::uint64_t> JsonValue::whole() const {
  if (!is_number()) return std::nullopt;
  const TextRange at = range();
  std::uint64_t value = 0;
  const char* end = document_->text_.data() + at.end;
  const auto read = std::from_chars(document_->text_.data() + at.begin, end, value);
  if (read.ec != std::errc{} || read.ptr != end) return std::nullopt;
  return value;
}

std::size_t JsonValue::size() const {
  std::size_t count = 0;
  each([&](const JsonValue&) { ++count; });
  return count;
}

std::optional<JsonValue> JsonValue::find(std::string_view key) const {
  std::optional<JsonValue> found;
  if (!is_object()) return found;
  each([&](const JsonValue& member) {
    if (document_->key_is(document_->nodes_[member.node_], key)) found = member;
  });
  return found;
}

std::string JsonValue::key() const {
  const std::uint32_t key = document_->nodes_[node_].key;
  return key == 0 ? std::string() : decoded(literal_at(document_->text_, key));
}

TextRange JsonValue::range() const {
  const auto& node = document_->nodes_[node_];
  return {node.begin, node.end};
}

TextRange JsonValue::key_range() const {
  const std::uint32_t key = document_->nodes_[node_].key;
  return key == 0 ? TextRange{} : TextRange{key, key + literal_at(document_->text_, key).size()};
}

std::string JsonValue::pointer() const {
  if (node_ == 0) return {};
  const JsonValue parent(*document_, document_->nodes_[node_].parent);
  std::string pointer = parent.pointer() + '/';
  if (parent.is_array()) {
    std::size_t index = 0;
    for (std::uint32_t at = parent.node_ + 1; at < node_; at = document_->nodes_[at].next) ++index;
    return pointer + std::to_string(index);
  }
  for (const char c : key()) {
    if (c == '~') {
      pointer += "~0";
    } else if (c == '/') {
      pointer += "~1";
    } else {
      pointer += c;
    }
  }
  return pointer;
}

}  // namespace arvik::script
