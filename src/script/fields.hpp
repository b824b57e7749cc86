#pragma once

#include <algorithm>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "problems.hpp"

namespace arvik::script {

/// Reads one of some words; tells the words if the value is none of them.
template <typename Value>
void read_word(const nlohmann::ordered_json& value, const std::string& pointer,
               std::string_view key, Value& out,
               const std::vector<std::pair<std::string_view, Value>>& words, Problems& problems) {
  std::vector<std::string_view> known;
  std::string list;
  for (const auto& [word, meaning] : words) {
    if (value == word) {
      out = meaning;
      return;
    }
    known.push_back(word);
    list += (list.empty() ? "" : ", ") + std::string(word);
  }
  const auto hint =
      value.is_string() ? nearest_name(value.template get_ref<const std::string&>(), known) : "";
  problems.bad_value(pointer, std::string(key) + " must be one of: " + list, hint);
}

/// Reads an object of named values, in its order: `read` is called with name, value and pointer of
/// each. `must_be` tells what it is ("sounds must be an object: …"). Names are for tags.
template <typename Read>
void read_named(const nlohmann::ordered_json& object, const std::string& pointer,
                const std::string& must_be, Problems& problems, Read read) {
  if (!object.is_object()) {
    problems.bad_value(pointer, must_be);
    return;
  }
  for (const auto& [name, value] : object.items()) {
    const std::string place = pointer_to(pointer, name);
    problems.check_tag_name(name, place);
    read(name, value, place);
  }
}

/// The members of a JSON object, read one after the other by their keys. What has the wrong type is
/// told and counts as not there; finish() tells of keys that nobody asked for.
class Fields {
 public:
  /// `what` is the object in messages, "a line". Keeps references. A value that is no object is
  /// told.
  Fields(const nlohmann::ordered_json& object, std::string pointer, std::string_view what,
         Problems& problems)
      : object_(object), pointer_(std::move(pointer)), what_(what), problems_(problems) {
    if (!object.is_object()) problems.bad_value(pointer_, what_ + " is a JSON object");
  }

  [[nodiscard]] std::string pointer(std::string_view key) const {
    return pointer_to(pointer_, key);
  }

  /// The value of a key, whatever it is; null if it is not there.
  const nlohmann::ordered_json* value(std::string_view key) {
    known_.push_back(key);
    if (!object_.is_object()) return nullptr;
    const auto found = object_.find(key);
    return found == object_.end() ? nullptr : &*found;
  }

  std::optional<std::string> text(std::string_view key) {
    return typed<std::string>(key, "a string", [](const auto& v) { return v.is_string(); });
  }
  std::optional<bool> flag(std::string_view key) {
    return typed<bool>(key, "true or false", [](const auto& v) { return v.is_boolean(); });
  }
  std::optional<double> number(std::string_view key) {
    return typed<double>(key, "a number", [](const auto& v) { return v.is_number(); });
  }

  template <typename Value>
  void word(std::string_view key, Value& out,
            const std::vector<std::pair<std::string_view, Value>>& words) {
    const nlohmann::ordered_json* found = value(key);
    if (found != nullptr) read_word(*found, pointer(key), key, out, words, problems_);
  }

  /// The version of a format: must be there, and 1.
  void version(std::string_view key, std::string_view question) {
    const nlohmann::ordered_json* found = value(key);
    if (!object_.is_object()) return;
    if (found == nullptr) {
      problems_.bad_value(pointer_, "\"" + std::string(key) + "\": 1 is missing: is this " +
                                        std::string(question) + "?");
    } else if (*found != 1) {
      problems_.bad_value(pointer(key), "this version reads format 1 only");
    }
  }

  void finish() {
    if (!object_.is_object()) return;
    for (const auto& [key, member] : object_.items()) {
      if (std::find(known_.begin(), known_.end(), key) == known_.end() && key != "description" &&
          key != "$schema") {
        problems_.unknown_key(pointer(key), key, what_, known_);
      }
    }
  }

 private:
  template <typename Value, typename Check>
  std::optional<Value> typed(std::string_view key, std::string_view type, Check is) {
    const nlohmann::ordered_json* found = value(key);
    if (found == nullptr) return std::nullopt;
    if (is(*found)) return found->template get<Value>();
    problems_.bad_value(pointer(key), std::string(key) + " must be " + std::string(type));
    return std::nullopt;
  }

  const nlohmann::ordered_json& object_;
  std::string pointer_;
  std::string what_;
  Problems& problems_;
  std::vector<std::string_view> known_;
};

}  // namespace arvik::script
