// The JSON library tells what it read, not where. Its event parser is fed here through an iterator
// that counts what was taken, so that at every event the count is the end of the token (for numbers
// one further, as a number ends only where something else begins). A token's begin is the first
// byte behind the last token that is no blank and no separator.

#include "located_json.hpp"

#include <iterator>

namespace arvik::script {
namespace {

using Json = nlohmann::ordered_json;

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

class Builder : public nlohmann::json_sax<Json> {
 public:
  Builder(std::string_view text, const std::size_t& taken, LocatedJson& out)
      : text_(text), taken_(taken), out_(out) {}

  bool null() override { return add(nullptr); }
  bool boolean(bool value) override { return add(value); }
  bool number_integer(number_integer_t value) override { return add_number(value); }
  bool number_unsigned(number_unsigned_t value) override { return add_number(value); }
  bool number_float(number_float_t value, const string_t&) override { return add_number(value); }
  bool string(string_t& value) override { return add(value); }
  bool binary(binary_t&) override { return false; }  // not in JSON text

  bool start_object(std::size_t) override { return open(Json::object()); }
  bool start_array(std::size_t) override { return open(Json::array()); }
  bool end_object() override { return close(); }
  bool end_array() override { return close(); }

  bool key(string_t& value) override {
    key_ = value;
    key_range_ = take_token(taken_);
    return true;
  }

  bool parse_error(std::size_t position, const std::string&,
                   const nlohmann::detail::exception& problem) override {
    // The library's message begins with its own name, number and place; what follows is for people.
    std::string message = problem.what();
    if (const std::size_t colon = message.find(": "); colon != std::string::npos) {
      message.erase(0, colon + 2);
    }
    const std::size_t at = position > 0 ? position - 1 : 0;
    error_ = Diagnostic{.code = DiagnosticCode::bad_json,
                        .severity = Severity::error,
                        .message = "not JSON: " + message,
                        .range = {std::min(at, text_.size()), std::min(at + 1, text_.size())}};
    const auto place = TextLocator(text_).locate(error_.range.begin);
    error_.row = place.row;
    error_.column = place.column;
    return false;
  }

  [[nodiscard]] const Diagnostic& error() const { return error_; }

 private:
  struct Open {
    Json* value = nullptr;
    std::string pointer;
    std::size_t begin = 0;
  };

  TextRange take_token(std::size_t end) {
    const std::size_t begin =
        std::min(text_.find_first_not_of(" \t\r\n,:]}", token_end_), text_.size());
    token_end_ = end;
    return {begin, end};
  }

  [[nodiscard]] std::string next_pointer() const {
    if (open_.empty()) return {};
    const Open& parent = open_.back();
    if (parent.value->is_array()) return pointer_to(parent.pointer, parent.value->size());
    return pointer_to(parent.pointer, key_);
  }

  Json* put(Json value, const TextRange& range) {
    const std::string pointer = next_pointer();
    out_.places[pointer] = range;
    if (open_.empty()) {
      out_.root = std::move(value);
      return &out_.root;
    }
    Json& parent = *open_.back().value;
    if (parent.is_array()) {
      parent.push_back(std::move(value));
      return &parent.back();
    }
    if (!out_.keys.insert_or_assign(pointer, key_range_).second) {
      out_.repeated.emplace_back(pointer, key_range_);
    }
    return &(parent[key_] = std::move(value));
  }

  bool add(Json value) {
    put(std::move(value), take_token(taken_));
    return true;
  }

  template <typename Number>
  bool add_number(Number value) {
    const std::size_t begin = text_.find_first_not_of(" \t\r\n,:]}", token_end_);
    const std::size_t end = text_.find_first_not_of("0123456789+-.eE", begin);
    put(value, take_token(std::min(end, text_.size())));
    return true;
  }

  bool open(Json value) {
    const std::string pointer = next_pointer();
    const TextRange range = take_token(taken_);
    Json* placed = put(std::move(value), range);
    open_.push_back({placed, pointer, range.begin});
    return true;
  }

  bool close() {
    out_.places[open_.back().pointer].end = taken_;
    token_end_ = taken_;
    open_.pop_back();
    return true;
  }

  std::string_view text_;
  const std::size_t& taken_;
  LocatedJson& out_;
  std::vector<Open> open_;
  std::string key_;
  TextRange key_range_;
  std::size_t token_end_ = 0;
  Diagnostic error_;
};

}  // namespace

std::string pointer_to(const std::string& parent, std::string_view key) {
  std::string pointer = parent + '/';
  for (const char c : key) {
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

std::string pointer_to(const std::string& parent, std::size_t index) {
  return parent + '/' + std::to_string(index);
}

tl::expected<LocatedJson, Diagnostic> parse_located(std::string_view text) {
  LocatedJson out;
  std::size_t taken = 0;
  Builder builder(text, taken, out);
  const CountingIterator begin(text.data(), &taken);
  const CountingIterator end(text.data() + text.size(), &taken);
  if (!Json::sax_parse(begin, end, &builder)) return tl::unexpected(builder.error());
  return out;
}

}  // namespace arvik::script
