#pragma once

#include <algorithm>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "problems.hpp"

namespace arvik::script {

/// Reads one of some words; tells the words if the value is none of them. `name` is the value's in
/// messages.
template <typename Value>
void read_word(const JsonValue& value, std::string_view name, Value& out,
               const std::vector<std::pair<std::string_view, Value>>& words, Problems& problems) {
  const std::string text = value.text();
  std::vector<std::string_view> known;
  std::string list;
  for (const auto& [word, meaning] : words) {
    if (value.is_string() && text == word) {
      out = meaning;
      return;
    }
    known.push_back(word);
    list += (list.empty() ? "" : ", ") + std::string(word);
  }
  problems.bad_value(value, std::string(name) + " must be one of: " + list,
                     nearest_name(text, known));
}

/// Reads an object of named values, in its order: `read` is called with name and value of each.
/// `must_be` tells what it is ("sounds must be an object: …"). Names are for tags.
template <typename Read>
void read_named(const JsonValue& object, const std::string& must_be, Problems& problems,
                Read read) {
  if (!object.is_object()) {
    problems.bad_value(object, must_be);
    return;
  }
  object.each([&](const JsonValue& member) {
    problems.check_tag_name(member);
    read(member.key(), member);
  });
}

/// The members of a JSON object, read one after the other by their keys. What has the wrong type is
/// told and counts as not there; finish() tells of keys that nobody asked for.
class Fields {
 public:
  /// `what` is the object in messages, "a line". Keeps a reference. A value that is no object is
  /// told.
  Fields(const JsonValue& object, std::string_view what, Problems& problems)
      : object_(object), what_(what), problems_(problems) {
    if (!object.is_object()) problems.bad_value(object, what_ + " is a JSON object");
  }

  /// The value of a key, whatever it is.
  std::optional<JsonValue> value(std::string_view key) {
    known_.push_back(key);
    return object_.find(key);
  }

  std::optional<std::string> text(std::string_view key) {
    return typed<std::string>(key, "a string", &JsonValue::is_string, &JsonValue::text);
  }
  std::optional<bool> flag(std::string_view key) {
    return typed<bool>(key, "true or false", &JsonValue::is_boolean, &JsonValue::is_true);
  }
  std::optional<double> number(std::string_view key) {
    return typed<double>(key, "a number", &JsonValue::is_number, &JsonValue::number);
  }

  template <typename Value>
  void word(std::string_view key, Value& out,
            const std::vector<std::pair<std::string_view, Value>>& words) {
    if (const auto found = value(key)) read_word(*found, key, out, words, problems_);
  }

  /// The version of a format: must be there, and 1.
  void version(std::string_view key, std::string_view question) {
    const auto found = value(key);
    if (!object_.is_object()) return;
    if (!found) {
      problems_.bad_value(object_, "\"" + std::string(key) + "\": 1 is missing: is this " +
                                       std::string(question) + "?");
    } else if (found->whole() != 1) {
      problems_.bad_value(*found, "this version reads format 1 only");
    }
  }

  void finish() {
    object_.each([&](const JsonValue& member) {
      const std::string key = member.key();
      if (std::find(known_.begin(), known_.end(), key) == known_.end() && key != "description" &&
          key != "$schema") {
        problems_.unknown_key(member, what_, known_);
      }
    });
  }

 private:
  template <typename Value>
  std::optional<Value> typed(std::string_view key, std::string_view type,
                             bool (JsonValue::*is)() const, Value (JsonValue::*get)() const) {
    const auto found = value(key);
    if (!found) return std::nullopt;
    if (((*found).*is)()) return ((*found).*get)();
    problems_.bad_value(*found, std::string(key) + " must be " + std::string(type));
    return std::nullopt;
  }

  JsonValue object_;
  std::string what_;
  Problems& problems_;
  std::vector<std::string_view> known_;
};

/// Reads a text as JSON and has `read` make a result of its root. Fails with every problem.
template <typename Result, typename Read>
tl::expected<Result, std::vector<Diagnostic>> read_json(std::string_view text, Read read) {
  const auto document = JsonDocument::parse(text);
  if (!document) return tl::unexpected(std::vector<Diagnostic>{document.error()});
  Problems problems(text, *document);
  Result result = read(document->root(), problems);
  if (!problems.list().empty()) return tl::unexpected(std::move(problems.list()));
  return result;
}

}  // namespace arvik::script
