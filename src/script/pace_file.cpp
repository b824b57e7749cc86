#include "arvik/pace_file.hpp"

#include <algorithm>
#include <array>

#include "arvik/language.hpp"
#include "fields.hpp"
#include "pace_reader.hpp"

namespace arvik {
namespace script {
namespace {

using nlohmann::ordered_json;

struct PauseKey {
  std::string_view key;
  Nanoseconds Pace::*member;
};
constexpr std::array pause_keys{
    PauseKey{"sentence", &Pace::sentence}, PauseKey{"clause", &Pace::clause},
    PauseKey{"dash", &Pace::dash},         PauseKey{"ellipsis", &Pace::ellipsis},
    PauseKey{"row_end", &Pace::row_end},   PauseKey{"paragraph", &Pace::paragraph},
    PauseKey{"space", &Pace::space}};

struct DurationKey {
  std::string_view key;
  std::optional<Nanoseconds> Pace::*member;
};
constexpr std::array duration_keys{DurationKey{"fit", &Pace::fit},
                                   DurationKey{"least", &Pace::least},
                                   DurationKey{"most", &Pace::most}};

constexpr std::array<std::string_view, 8> other_keys{
    "rate", "unit", "fit_pauses", "jitter", "seed", "characters", "abbreviations", "description"};

template <typename Table>
const typename Table::value_type* find_key(const Table& table, const std::string& key) {
  const auto found =
      std::find_if(table.begin(), table.end(), [&](const auto& entry) { return entry.key == key; });
  return found == table.end() ? nullptr : &*found;
}

// Reads the values of one pace into what it is based on.
class PaceReader {
 public:
  PaceReader(const ordered_json& json, std::string pointer, Problems& problems, Pace& pace)
      : json_(json), pointer_(std::move(pointer)), problems_(problems), pace_(pace) {}

  // `more_keys` are those that the caller reads.
  void run(const std::vector<std::string_view>& more_keys) {
    const std::size_t before = problems_.list().size();
    for (const auto& [key, value] : json_.items()) {
      if (std::find(more_keys.begin(), more_keys.end(), key) == more_keys.end()) {
        read(key, value, more_keys);
      }
    }
    if (problems_.list().size() > before) return;
    if (const auto problem = find_problem(pace_)) {
      problems_.add(pointer_, problem->code, problem->message);
    }
  }

 private:
  [[nodiscard]] std::string at(std::string_view key) const { return pointer_to(pointer_, key); }

  void read(const std::string& key, const ordered_json& value,
            const std::vector<std::string_view>& more_keys) {
    if (const auto* pause = find_key(pause_keys, key)) {
      read_time(key, value, [&](Nanoseconds time) { pace_.*(pause->member) = time; });
    } else if (const auto* duration = find_key(duration_keys, key)) {
      if (value.is_null()) {
        pace_.*(duration->member) = std::nullopt;
      } else {
        read_time(key, value, [&](Nanoseconds time) { pace_.*(duration->member) = time; });
      }
    } else if (key == "rate") {
      read_rate(value);
    } else if (key == "unit") {
      read_word<RevealUnit>(value, at(key), key, pace_.unit,
                            {{"step", RevealUnit::step},
                             {"word", RevealUnit::word},
                             {"row", RevealUnit::row},
                             {"line", RevealUnit::line}},
                            problems_);
    } else if (key == "fit_pauses") {
      read_word<FitPauses>(value, at(key), key, pace_.fit_pauses,
                           {{"scale", FitPauses::scale}, {"keep", FitPauses::keep}}, problems_);
    } else if (key == "jitter") {
      read_jitter(value);
    } else if (key == "seed") {
      read_seed(value);
    } else if (key == "characters") {
      read_characters(value);
    } else if (key == "abbreviations") {
      read_abbreviations(value);
    } else if (key != "description") {
      std::vector<std::string_view> known(other_keys.begin(), other_keys.end());
      for (const PauseKey& entry : pause_keys) known.push_back(entry.key);
      for (const DurationKey& entry : duration_keys) known.push_back(entry.key);
      known.insert(known.end(), more_keys.begin(), more_keys.end());
      problems_.unknown_key(at(key), key, "a pace", known);
    }
  }

  template <typename Set>
  void read_time(const std::string& key, const ordered_json& value, Set set) {
    if (!value.is_string()) {
      problems_.bad_value(at(key), key + " must be a string with a unit, like \"240ms\"");
      return;
    }
    const auto time = parse_time(value.get_ref<const std::string&>());
    if (time) {
      set(*time);
    } else {
      problems_.bad_value(at(key), time.error());
    }
  }

  void read_rate(const ordered_json& value) {
    if (!value.is_string()) {
      problems_.bad_value(at("rate"), "rate must be a string with a unit, like \"30cps\"");
      return;
    }
    const auto change = parse_rate_change(value.get_ref<const std::string&>());
    if (change) {
      pace_.rate = change->relative ? pace_.rate * change->value : change->value;
    } else {
      problems_.bad_value(at("rate"), change.error());
    }
  }

  void read_jitter(const ordered_json& value) {
    const auto percent =
        parse_percent(value.is_string() ? value.get_ref<const std::string&>() : std::string());
    if (percent && *percent <= 100) {
      pace_.jitter = *percent / 100;
    } else {
      problems_.bad_value(at("jitter"), "jitter must be a string from \"0%\" to \"100%\"");
    }
  }

  void read_seed(const ordered_json& value) {
    if (value.is_number_unsigned()) {
      pace_.seed = value.get<std::uint64_t>();
    } else {
      problems_.bad_value(at("seed"), "seed must be a whole number, 0 or more");
    }
  }

  void read_characters(const ordered_json& value) {
    if (!value.is_object()) {
      problems_.bad_value(at("characters"),
                          "characters must be an object: characters with times, like "
                          "{\"♪\": \"300ms\"}");
      return;
    }
    auto language = Language::open("en");
    for (const auto& [character, time] : value.items()) {
      const std::string pointer = pointer_to(at("characters"), character);
      if (!language || language->segment(character).size() != 1) {
        problems_.bad_value(pointer, quoted_word(character) + " is not one character");
      } else if (!time.is_string()) {
        problems_.bad_value(pointer, "a pause must be a string with a unit, like \"240ms\"");
      } else if (const auto pause = parse_time(time.get_ref<const std::string&>()); !pause) {
        problems_.bad_value(pointer, pause.error());
      } else {
        pace_.characters.push_back({character, *pause});
      }
    }
  }

  void read_abbreviations(const ordered_json& list) {
    if (!list.is_array()) {
      problems_.bad_value(at("abbreviations"), "abbreviations must be a list of strings");
      return;
    }
    for (std::size_t i = 0; i < list.size(); ++i) {
      const bool good = list[i].is_string() && list[i].get_ref<const std::string&>().size() > 1 &&
                        list[i].get_ref<const std::string&>().ends_with('.');
      if (good) {
        pace_.abbreviations.push_back(list[i].get<std::string>());
      } else {
        problems_.bad_value(pointer_to(at("abbreviations"), i),
                            "an abbreviation must be a string that ends with a full stop, like "
                            "\"Adm.\"");
      }
    }
  }

  const ordered_json& json_;
  std::string pointer_;
  Problems& problems_;
  Pace& pace_;
};

// Reads the paces of an object, each after the one that it is based on.
class PaceFamily {
 public:
  PaceFamily(const ordered_json& json, std::string pointer, Problems& problems)
      : json_(json), pointer_(std::move(pointer)), problems_(problems) {
    for (const auto& [name, value] : json.items()) {
      read_.push_back({name, {}});
      names_.push_back(name);
    }
    states_.resize(read_.size(), State::unread);
  }

  std::vector<NamedPace> run() {
    for (std::size_t i = 0; i < read_.size(); ++i) read(i);
    return std::move(read_);
  }

 private:
  enum class State : std::uint8_t { unread, open, read };

  // Follows what a pace is based on down to one that is based on nothing or has been read, and then
  // reads upwards: a long chain needs no deep recursion.
  void read(std::size_t index) {
    std::vector<std::size_t> chain;
    for (std::optional<std::size_t> at = index; at && states_[*at] != State::read;
         at = base_of(*at)) {
      if (states_[*at] == State::open) {
        report_loop(chain, *at);
        break;
      }
      states_[*at] = State::open;
      chain.push_back(*at);
    }
    for (; !chain.empty(); chain.pop_back()) {
      const std::size_t at = chain.back();
      states_[at] = State::read;
      Pace& pace = read_[at].pace;
      if (const auto base = base_of(at); base && *base != at) pace = read_[*base].pace;
      const std::string place = pointer_to(pointer_, read_[at].name);
      const ordered_json& value = json_.at(read_[at].name);
      if (value.is_object()) {
        check_base(value, place);
        PaceReader(value, place, problems_, pace).run({"based_on"});
      } else {
        problems_.bad_value(place, "a pace is a JSON object");
      }
    }
  }

  [[nodiscard]] std::optional<std::size_t> base_of(std::size_t index) const {
    const ordered_json& value = json_.at(read_[index].name);
    if (!value.is_object() || !value.contains("based_on")) return std::nullopt;
    const auto found = std::find_if(names_.begin(), names_.end(), [&](const std::string& name) {
      return value.at("based_on") == name;
    });
    if (found == names_.end()) return std::nullopt;
    return static_cast<std::size_t>(found - names_.begin());
  }

  void check_base(const ordered_json& value, const std::string& place) {
    if (!value.contains("based_on")) return;
    const ordered_json& base = value.at("based_on");
    const std::string pointer = pointer_to(place, "based_on");
    if (!base.is_string()) {
      problems_.bad_value(pointer, "based_on must be the name of another pace");
    } else if (std::find(names_.begin(), names_.end(), base) == names_.end()) {
      const auto& name = base.get_ref<const std::string&>();
      problems_.add(pointer, DiagnosticCode::unknown_pace, "no pace is named " + quoted_word(name),
                    nearest_name(name, {names_.begin(), names_.end()}));
    }
  }

  void report_loop(const std::vector<std::size_t>& chain, std::size_t again) {
    std::string way;
    auto from = std::find(chain.begin(), chain.end(), again);
    const std::string place =
        pointer_to(pointer_to(pointer_, read_[chain.back()].name), "based_on");
    for (; from != chain.end(); ++from) way += read_[*from].name + " → ";
    problems_.add(place, DiagnosticCode::pace_loop,
                  "pace " + quoted_word(read_[again].name) + " is based on itself: " + way +
                      read_[again].name);
  }

  const ordered_json& json_;
  std::string pointer_;
  Problems& problems_;
  std::vector<NamedPace> read_;
  std::vector<std::string> names_;
  std::vector<State> states_;
};

constexpr std::string_view one_key = "arvik_pace";
constexpr std::string_view many_key = "arvik_paces";

std::vector<NamedPace> read_file_of_many(const ordered_json& root, Problems& problems) {
  Fields fields(root, "", "a file of paces", problems);
  fields.version(many_key, "a file of paces");
  std::vector<NamedPace> paces;
  if (const auto* object = fields.value("paces")) {
    paces = read_paces(*object, "/paces", problems);
  } else {
    problems.bad_value("", "\"paces\" is missing");
  }
  fields.finish();
  return paces;
}

std::vector<NamedPace> read_file_of_one(const ordered_json& root, Problems& problems) {
  if (!root.contains(one_key)) {
    problems.bad_value("", "\"arvik_pace\": 1 is missing: is this a pace file?");
  } else if (root.at(one_key) != 1) {
    problems.bad_value(pointer_to("", one_key), "this version reads format 1 only");
  }
  NamedPace only;
  PaceReader(root, "", problems, only.pace).run({one_key, "$schema"});
  return {only};
}

}  // namespace

std::vector<NamedPace> read_paces(const ordered_json& paces, const std::string& pointer,
                                  Problems& problems) {
  if (!paces.is_object()) {
    problems.bad_value(pointer, "paces must be an object: names with paces");
    return {};
  }
  return PaceFamily(paces, pointer, problems).run();
}

}  // namespace script

tl::expected<std::vector<NamedPace>, std::vector<Diagnostic>> parse_paces(std::string_view json) {
  const auto located = script::parse_located(json);
  if (!located) return tl::unexpected(std::vector<Diagnostic>{located.error()});
  script::Problems problems(json, *located);
  std::vector<NamedPace> paces;
  if (!located->root.is_object()) {
    problems.bad_value("", "a pace is a JSON object");
  } else if (located->root.contains(script::many_key)) {
    paces = script::read_file_of_many(located->root, problems);
  } else {
    paces = script::read_file_of_one(located->root, problems);
  }
  if (!problems.list().empty()) return tl::unexpected(std::move(problems.list()));
  return paces;
}

tl::expected<Pace, std::vector<Diagnostic>> parse_pace(std::string_view json,
                                                       std::string_view name) {
  return parse_paces(json).and_then(
      [&](const std::vector<NamedPace>& paces) -> tl::expected<Pace, std::vector<Diagnostic>> {
        std::vector<std::string_view> names;
        std::string list;
        for (const NamedPace& pace : paces) {
          if (pace.name == name) return pace.pace;
          names.push_back(pace.name);
          list += (list.empty() ? "" : ", ") + pace.name;
        }
        if (name.empty() && paces.size() == 1) return paces[0].pace;
        std::string message;
        if (paces.size() == 1 && paces[0].name.empty()) {
          message = "the file has one pace, without a name";
        } else if (name.empty()) {
          message = "the file has several paces; name one of: " + list;
        } else {
          message = "no pace is named " + quoted_word(name) + "; there are: " + list;
        }
        if (paces.empty()) message = "the file has no pace";
        return tl::unexpected(
            std::vector<Diagnostic>{Diagnostic{.code = DiagnosticCode::unknown_pace,
                                               .severity = Severity::error,
                                               .message = std::move(message),
                                               .hint = std::string(nearest_name(name, names))}});
      });
}

}  // namespace arvik
