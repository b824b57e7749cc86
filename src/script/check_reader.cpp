// Guarded by tests/check/check_test.cpp.

#include "check_reader.hpp"

#include "fields.hpp"

namespace arvik::script {

std::vector<std::string> read_words(const JsonValue& value, const std::string& name,
                                    const std::string& what, Problems& problems) {
  std::vector<std::string> words;
  if (!value.is_array()) problems.bad_value(value, name + " must be a list of " + what);
  value.each([&](const JsonValue& word) {
    if (word.is_string()) {
      words.push_back(word.text());
    } else {
      problems.bad_value(word, name + " must be a list of " + what);
    }
  });
  return words;
}

CheckWishes read_wishes(const JsonValue& json, Problems& problems) {
  Fields fields(json, "check", problems);
  CheckWishes wishes;
  const auto words = [&](std::string_view key, const std::string& what,
                         std::vector<std::string>& out) {
    const auto value = fields.value(key);
    if (value) out = read_words(*value, std::string(key), what, problems);
    return value.has_value();
  };
  words("off", "codes", wishes.off);
  words("on", "codes", wishes.on);
  wishes.has_starts = words("starts", "conversations", wishes.starts);
  words("own_keys", "keys", wishes.own_keys);
  if (const auto limits = fields.value("limits")) {
    if (!limits->is_object()) {
      problems.bad_value(*limits, "limits must be an object: names with numbers");
    }
    limits->each([&](const JsonValue& limit) {
      if (limit.is_number()) {
        wishes.limits.insert_or_assign(limit.key(), limit.number());
      } else {
        problems.bad_value(limit, "a limit must be a number");
      }
    });
  }
  fields.finish();
  return wishes;
}

}  // namespace arvik::script
