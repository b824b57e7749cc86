#include "arvik/pace_file.hpp"

#include <algorithm>
#include <array>
#include <map>

#include "arvik/language.hpp"
#include "fields.hpp"
#include "pace_reader.hpp"

namespace arvik {
namespace script {
namespace {

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

constexpr std::array<std::string_view, 10> other_keys{
    "rate",       "unit",  "fit_pauses", "jitter",        "seed",
    "characters", "blank", "by_script",  "abbreviations", "description"};

template <typename Table>
const typename Table::value_type* find_key(const Table& table, const std::string& key) {
  const auto found =
      std::find_if(table.begin(), table.end(), [&](const auto& entry) { return entry.key == key; });
  return found == table.end() ? nullptr : &*found;
}

// Reads the values of one pace into what it is based on.
class PaceReader {
 public:
  PaceReader(const JsonValue& json, Problems& problems, Pace& pace)
      : json_(json), problems_(problems), pace_(pace) {}

  // `more_keys` are those that the caller reads.
  void run(const std::vector<std::string_view>& more_keys) {
    const std::size_t before = problems_.list().size();
    json_.each([&](const JsonValue& member) {
      const std::string key = member.key();
      if (std::find(more_keys.begin(), more_keys.end(), key) == more_keys.end()) {
        read(key, member, more_keys);
      }
    });
    if (problems_.list().size() > before) return;
    if (const auto problem = find_problem(pace_)) {
      problems_.add(json_, problem->code, problem->message);
    }
  }

 private:
  void read(const std::string& key, const JsonValue& value,
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
      read_word<RevealUnit>(value, key, pace_.unit,
                            {{"step", RevealUnit::step},
                             {"word", RevealUnit::word},
                             {"row", RevealUnit::row},
                             {"line", RevealUnit::line}},
                            problems_);
    } else if (key == "fit_pauses") {
      read_word<FitPauses>(value, key, pace_.fit_pauses,
                           {{"scale", FitPauses::scale}, {"keep", FitPauses::keep}}, problems_);
    } else if (key == "jitter") {
      read_percent(key, value, 100, pace_.jitter);
    } else if (key == "blank") {
      read_percent(key, value, 1000, pace_.blank);
    } else if (key == "by_script") {
      if (value.is_boolean()) {
        pace_.by_script = value.is_true();
      } else {
        problems_.bad_value(value, "by_script must be true or false");
      }
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
      problems_.unknown_key(value, "a pace", known);
    }
  }

  template <typename Set>
  void read_time(const std::string& key, const JsonValue& value, Set set) {
    if (!value.is_string()) {
      problems_.bad_value(value, key + " must be a string with a unit, like \"240ms\"");
      return;
    }
    const auto time = parse_time(value.text());
    if (time) {
      set(*time);
    } else {
      problems_.bad_value(value, time.error());
    }
  }

  void read_rate(const JsonValue& value) {
    if (!value.is_string()) {
      problems_.bad_value(value, "rate must be a string with a unit, like \"30cps\"");
      return;
    }
    const auto change = parse_rate_change(value.text());
    if (change) {
      pace_.rate = change->relative ? pace_.rate * change->value : change->value;
    } else {
      problems_.bad_value(value, change.error());
    }
  }

  void read_percent(const std::string& key, const JsonValue& value, int most, double& out) {
    const auto percent = parse_percent(value.text());
    if (percent && *percent <= most) {
      out = *percent / 100;
    } else {
      problems_.bad_value(
          value, key + " must be a string from \"0%\" to \"" + std::to_string(most) + "%\"");
    }
  }

  void read_seed(const JsonValue& value) {
    if (const auto seed = value.whole()) {
      pace_.seed = *seed;
    } else {
      problems_.bad_value(value, "seed must be a whole number, 0 or more");
    }
  }

  void read_characters(const JsonValue& value) {
    if (!value.is_object()) {
      problems_.bad_value(value,
                          "characters must be an object: characters with times, like "
                          "{\"♪\": \"300ms\"}");
      return;
    }
    auto language = Language::open("en");
    value.each([&](const JsonValue& time) {
      const std::string character = time.key();
      if (!language || language->segment(character).size() != 1) {
        problems_.bad_value(time, quoted_word(character) + " is not one character");
      } else if (!time.is_string()) {
        problems_.bad_value(time, "a pause must be a string with a unit, like \"240ms\"");
      } else if (const auto pause = parse_time(time.text()); !pause) {
        problems_.bad_value(time, pause.error());
      } else {
        pace_.characters.push_back({character, *pause});
      }
    });
  }

  void read_abbreviations(const JsonValue& list) {
    if (!list.is_array()) {
      problems_.bad_value(list, "abbreviations must be a list of strings");
      return;
    }
    list.each([&](const JsonValue& value) {
      std::string word = value.text();
      if (word.size() > 1 && word.ends_with('.')) {
        pace_.abbreviations.push_back(std::move(word));
      } else {
        problems_.bad_value(value,
                            "an abbreviation must be a string that ends with a full stop, like "
                            "\"Adm.\"");
      }
    });
  }

  JsonValue json_;
  Problems& problems_;
  Pace& pace_;
};

// Reads the paces of an object, each after the one that it is based on.
class PaceFamily {
 public:
  PaceFamily(const std::vector<PaceSource>& sources, const std::vector<NamedPace>& known)
      : known_(known) {
    for (const PaceSource& source : sources) {
      if (!source.paces.is_object()) {
        source.problems->bad_value(source.paces, "paces must be an object: names with paces");
      }
      source.paces.each([&](const JsonValue& value) {
        entries_.push_back({value, source.problems, value.key()});
        const auto [first, is_new] =
            by_name_.try_emplace(entries_.back().name, entries_.size() - 1);
        if (is_new) return;
        if (entries_[first->second].problems != source.problems) {  // else it was told as a key
          source.problems->add(value, DiagnosticCode::duplicate_id,
                               "a pace " + quoted_word(first->first) + " is there already");
        }
        first->second = entries_.size() - 1;
      });
    }
    read_.resize(entries_.size());
  }

  std::vector<NamedPace> run() {
    for (std::size_t i = 0; i < entries_.size(); ++i) read(i);
    for (std::size_t i = 0; i < entries_.size(); ++i) read_[i].name = entries_[i].name;
    return std::move(read_);
  }

 private:
  enum class State : std::uint8_t { unread, open, read };
  struct Entry {
    JsonValue value;
    Problems* problems;
    std::string name;
    State state = State::unread;
  };

  // Follows what a pace is based on down to one that is based on nothing or has been read, and then
  // reads upwards: a long chain needs no deep recursion.
  void read(std::size_t index) {
    std::vector<std::size_t> chain;
    for (std::optional<std::size_t> at = index; at && entries_[*at].state != State::read;
         at = base_of(*at)) {
      if (entries_[*at].state == State::open) {
        report_loop(chain, *at);
        break;
      }
      entries_[*at].state = State::open;
      chain.push_back(*at);
    }
    for (; !chain.empty(); chain.pop_back()) {
      const std::size_t at = chain.back();
      entries_[at].state = State::read;
      Pace& pace = read_[at].pace;
      if (const auto base = base_of(at); base && *base != at) pace = read_[*base].pace;
      if (const Pace* outside = known_base_of(at)) pace = *outside;
      Problems& problems = *entries_[at].problems;
      const JsonValue& value = entries_[at].value;
      if (value.is_object()) {
        check_base(entries_[at]);
        PaceReader(value, problems, pace).run({"based_on"});
      } else {
        problems.bad_value(value, "a pace is a JSON object");
      }
    }
  }

  [[nodiscard]] std::optional<std::size_t> base_of(std::size_t index) const {
    const auto base = entries_[index].value.find("based_on");
    if (!base || !base->is_string()) return std::nullopt;
    const auto found = by_name_.find(base->text());
    if (found == by_name_.end() || known_base_of(index) != nullptr) return std::nullopt;
    return found->second;
  }

  // Where these paces stand in the place of others, one may be based on that of its own name.
  [[nodiscard]] const Pace* known_base_of(std::size_t index) const {
    const auto base = entries_[index].value.find("based_on");
    if (!base || !base->is_string()) return nullptr;
    const std::string name = base->text();
    if (name != entries_[index].name && by_name_.contains(name)) return nullptr;
    const auto found = std::find_if(known_.begin(), known_.end(),
                                    [&](const NamedPace& pace) { return pace.name == name; });
    return found == known_.end() ? nullptr : &found->pace;
  }

  void check_base(const Entry& entry) {
    const auto base = entry.value.find("based_on");
    Problems& problems = *entry.problems;
    if (!base) return;
    if (!base->is_string()) {
      problems.bad_value(*base, "based_on must be the name of another pace");
    } else if (const std::string name = base->text();
               !by_name_.contains(name) &&
               std::none_of(known_.begin(), known_.end(),
                            [&](const NamedPace& pace) { return pace.name == name; })) {
      std::vector<std::string_view> names;
      for (const Entry& other : entries_) {
        if (problems.is_full()) break;
        names.push_back(other.name);
      }
      for (const NamedPace& pace : known_) names.push_back(pace.name);
      problems.add(*base, DiagnosticCode::unknown_pace, "no pace is named " + quoted_word(name),
                   nearest_name(name, names));
    }
  }

  void report_loop(const std::vector<std::size_t>& chain, std::size_t again) {
    constexpr std::size_t most_shown = 8;
    std::string way;
    auto from = std::find(chain.begin(), chain.end(), again);
    const auto base = entries_[chain.back()].value.find("based_on");
    for (std::size_t shown = 0; from != chain.end(); ++from, ++shown) {
      if (shown == most_shown) way += "… → ";
      if (shown < most_shown) way += entries_[*from].name + " → ";
    }
    entries_[chain.back()].problems->add(*base, DiagnosticCode::pace_loop,
                                         "pace " + quoted_word(entries_[again].name) +
                                             " is based on itself: " + way + entries_[again].name);
  }

  const std::vector<NamedPace>& known_;
  std::vector<Entry> entries_;
  std::map<std::string, std::size_t, std::less<>> by_name_;
  std::vector<NamedPace> read_;
};

constexpr std::string_view one_key = "arvik_pace";
constexpr std::string_view many_key = "arvik_paces";
constexpr std::string_view script_key = "arvik_script";

std::vector<NamedPace> read_file_of_many(const JsonValue& root, Problems& problems) {
  Fields fields(root, "a file of paces", problems);
  fields.version(many_key, "a file of paces");
  std::vector<NamedPace> paces;
  if (const auto object = fields.value("paces")) {
    paces = read_paces({{*object, &problems}});
  } else {
    problems.bad_value(root, "\"paces\" is missing");
  }
  fields.finish();
  return paces;
}

std::vector<NamedPace> read_file_of_one(const JsonValue& root, Problems& problems) {
  const auto version = root.find(one_key);
  if (!version) {
    problems.bad_value(root, "\"arvik_pace\": 1 is missing: is this a pace file?");
  } else if (version->whole() != 1) {
    problems.bad_value(*version, "this version reads format 1 only");
  }
  NamedPace only;
  PaceReader(root, problems, only.pace).run({one_key, "$schema"});
  return {only};
}

std::vector<NamedPace> read_file(const JsonValue& root, Problems& problems) {
  if (!root.is_object()) {
    problems.bad_value(root, "a pace is a JSON object");
    return {};
  }
  if (root.find(many_key)) return read_file_of_many(root, problems);
  if (root.find(script_key)) {  // whose other parts are not looked at here
    const auto paces = root.find("paces");
    return paces ? read_paces({{*paces, &problems}}) : std::vector<NamedPace>{};
  }
  return read_file_of_one(root, problems);
}

}  // namespace

std::vector<NamedPace> read_paces(const std::vector<PaceSource>& sources,
                                  const std::vector<NamedPace>& known) {
  return PaceFamily(sources, known).run();
}

}  // namespace script

tl::expected<std::vector<NamedPace>, std::vector<Diagnostic>> parse_paces(std::string_view json) {
  return script::read_json<std::vector<NamedPace>>(json, script::read_file);
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
