#include "arvik/pace_file.hpp"

#include <algorithm>
#include <array>
#include <cerrno>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <system_error>

#include "located_json.hpp"

namespace arvik {
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

constexpr std::string_view version_key = "arvik_pace";

class PaceReader {
 public:
  PaceReader(std::string_view text, const script::LocatedJson& json)
      : json_(json), sink_(text, problems_) {}

  tl::expected<Pace, std::vector<Diagnostic>> run() {
    if (!json_.root.is_object()) {
      report(DiagnosticCode::bad_value, "", "a pace is a JSON object");
      return tl::unexpected(problems_);
    }
    if (!json_.root.contains(version_key)) {
      report(DiagnosticCode::bad_value, "", "\"arvik_pace\": 1 is missing: is this a pace file?");
    }
    for (const auto& [key, value] : json_.root.items()) read(key, value);
    if (!problems_.empty()) return tl::unexpected(problems_);
    return pace_;
  }

 private:
  void read(const std::string& key, const ordered_json& value) {
    const auto* pause = std::find_if(pause_keys.begin(), pause_keys.end(),
                                     [&](const PauseKey& entry) { return entry.key == key; });
    if (pause != pause_keys.end()) {
      read_with(parse_time, key, value, pace_.*(pause->member));
    } else if (key == "rate") {
      read_with(parse_rate, key, value, pace_.rate);
    } else if (key == "abbreviations") {
      read_abbreviations(value);
    } else if (key == version_key) {
      if (value != 1) {
        report(DiagnosticCode::bad_value, "/arvik_pace", "this version reads format 1 only");
      }
    } else if (key != "$schema" && key != "description") {
      report_unknown(key);
    }
  }

  template <typename Parse, typename Value>
  void read_with(Parse parse, const std::string& key, const ordered_json& value, Value& out) {
    if (!value.is_string()) {
      report(DiagnosticCode::bad_value, "/" + key,
             key + " must be a string with a unit, like " +
                 (key == "rate" ? "\"30cps\"" : "\"240ms\""));
      return;
    }
    auto parsed = parse(value.get_ref<const std::string&>());
    if (parsed) {
      out = *parsed;
    } else {
      report(DiagnosticCode::bad_value, "/" + key, parsed.error());
    }
  }

  void read_abbreviations(const ordered_json& list) {
    if (!list.is_array()) {
      report(DiagnosticCode::bad_value, "/abbreviations",
             "abbreviations must be a list of strings");
      return;
    }
    for (std::size_t i = 0; i < list.size(); ++i) {
      const bool good = list[i].is_string() && list[i].get_ref<const std::string&>().size() > 1 &&
                        list[i].get_ref<const std::string&>().ends_with('.');
      if (good) {
        pace_.abbreviations.push_back(list[i].get<std::string>());
      } else {
        report(DiagnosticCode::bad_value, "/abbreviations/" + std::to_string(i),
               "an abbreviation must be a string that ends with a full stop, like \"Adm.\"");
      }
    }
  }

  void report_unknown(const std::string& key) {
    std::vector<std::string_view> known{version_key, "rate", "abbreviations", "description"};
    for (const PauseKey& entry : pause_keys) known.push_back(entry.key);
    const auto place = std::find_if(json_.keys.begin(), json_.keys.end(),
                                    [&](const auto& entry) { return entry.first == "/" + key; });
    sink_.add({.code = DiagnosticCode::unknown_key,
               .severity = Severity::error,
               .message = "a pace has no key " + quoted_word(key),
               .range = place == json_.keys.end() ? TextRange{} : place->second,
               .hint = std::string(nearest_name(key, known))});
  }

  void report(DiagnosticCode code, const std::string& pointer, std::string message) {
    const auto place = json_.places.find(pointer);
    sink_.add({.code = code,
               .severity = Severity::error,
               .message = std::move(message),
               .range = place == json_.places.end() ? TextRange{} : place->second});
  }

  const script::LocatedJson& json_;
  Pace pace_;
  std::vector<Diagnostic> problems_;
  DiagnosticSink sink_;
};

}  // namespace

tl::expected<Pace, std::vector<Diagnostic>> parse_pace(std::string_view json) {
  const auto located = script::parse_located(json);
  if (!located) return tl::unexpected(std::vector<Diagnostic>{located.error()});
  return PaceReader(json, *located).run();
}

tl::expected<std::string, Diagnostic> read_file(const std::string& path) {
  const auto unreadable = [&](int error) {
    return tl::unexpected(Diagnostic{
        .code = DiagnosticCode::file_unreadable,
        .severity = Severity::error,
        .message = "cannot read " + path + ": " + std::generic_category().message(error)});
  };
  std::error_code ignored;  // what cannot be looked at cannot be opened either
  if (std::filesystem::is_directory(path, ignored)) return unreadable(EISDIR);
  errno = 0;
  std::ifstream file(path, std::ios::binary);
  if (!file) return unreadable(errno);
  std::ostringstream content;
  if (file.peek() != std::ifstream::traits_type::eof()) content << file.rdbuf();
  if (file.bad() || content.fail()) return unreadable(errno);
  return content.str();
}

}  // namespace arvik
