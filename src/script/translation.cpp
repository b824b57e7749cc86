// Which texts a script has, how far each is translated, and where a translation is put. Guarded by
// tests/script/translation_test.cpp.

#include "arvik/translation.hpp"

#include <algorithm>
#include <charconv>
#include <set>

#include "../base/failure.hpp"
#include "../base/random.hpp"
#include "arvik/locale.hpp"
#include "translation_tags.hpp"

namespace arvik {
namespace {

const Script& original_of(const Script& script) {
  return script.original != nullptr ? *script.original : script;
}

class UnitFinder {
 public:
  UnitFinder(const Script& script, std::string_view locale)
      : script_(original_of(script)),
        locale_(locale),
        vocabulary_(script::any_vocabulary(script_)) {
    vocabulary_.value = [](std::string_view name) { return "{" + std::string(name) + "}"; };
  }

  std::vector<TranslationUnit> run() {
    for (const Speaker& speaker : script_.cast) {
      if (add("cast." + speaker.id, speaker.name)) units_.back().notes.emplace_back("a name");
    }
    for (const ScriptConversation& conversation : script_.conversations) {
      std::string before;
      for (const DialogueLine& line : conversation.lines) {
        add_line(conversation, line, before);
        const std::string said = plain(line.text);
        if (!said.empty()) before = said;
      }
    }
    add_words_of_game();
    return std::move(units_);
  }

 private:
  // What tables have and the script does not name.
  void add_words_of_game() {
    if (script_.strings == nullptr) return;
    for (const StringsTable& table : script_.strings->tables()) {
      const auto source = table.find_column(script_.source_locale);
      for (std::uint32_t row = 0; source && row < table.rows(); ++row) {
        const std::string key(table.key(row));
        if (!keys_.contains(key)) (void)add(key, std::string(table.cell(row, *source)));
      }
    }
  }

  void add_line(const ScriptConversation& conversation, const DialogueLine& line,
                const std::string& before) {
    const Speaker* speaker = script_.find_speaker(line.speaker);
    const std::string name = speaker != nullptr ? speaker->name : line.speaker;
    if (add(line.id, line.text)) {
      units_.back().conversation = conversation.name;
      units_.back().speaker = name;
      units_.back().before = before;
    }
    for (const Choice& choice : line.choices) {
      if (!add(choice.id, choice.text)) continue;
      units_.back().conversation = conversation.name;
      units_.back().before = plain(line.text);
      units_.back().notes.insert(units_.back().notes.begin(), "an answer");
    }
  }

  [[nodiscard]] std::string plain(const std::string& markup) {
    parse(markup, marked_, vocabulary_);
    return marked_.text;
  }

  bool add(const std::string& key, const std::string& source) {
    if (key.empty() || source.empty()) return false;
    keys_.insert(key);
    TranslationUnit& unit = units_.emplace_back();
    unit.key = key;
    unit.source = source;
    if (script_.strings == nullptr) return true;
    for (const Strings::Place& place : script_.strings->find(key)) look_into(place, unit);
    return true;
  }

  void look_into(const Strings::Place& place, TranslationUnit& unit) const {
    const StringsTable& table = script_.strings->tables()[place.table];
    const std::string made_from = made_from_header(locale_);
    std::string fingerprint;
    bool here = false;
    for (std::size_t i = 1; i < table.columns().size(); ++i) {
      const StringsColumn& column = table.columns()[i];
      const std::string_view cell = table.cell(place.row, i);
      if (cell.empty()) continue;
      if (column.kind == ColumnKind::locale && column.locale == locale_) {
        unit.has_target = here = true;
        unit.target = cell == empty_on_purpose ? "" : std::string(cell);
      } else if (column.header == made_from) {
        fingerprint = cell;
      } else if (column.header == "#longest") {
        std::uint32_t longest = 0;
        const auto [end, error] = std::from_chars(cell.data(), cell.data() + cell.size(), longest);
        if (error == std::errc() && end == cell.data() + cell.size()) unit.longest = longest;
      } else if (column.kind == ColumnKind::note && !is_made_from(column.header)) {
        unit.notes.push_back(column.header.substr(1) + ": " + std::string(cell));
      }
    }
    if (!here) return;
    const bool same = fingerprint.empty() || fingerprint == fingerprint_of(unit.source);
    unit.state = same ? TranslationState::done : TranslationState::changed;
  }

  static bool is_made_from(std::string_view header) { return header.ends_with(" made from"); }

  const Script& script_;
  std::string locale_;
  Vocabulary vocabulary_;
  MarkedText marked_;
  std::set<std::string, std::less<>> keys_;
  std::vector<TranslationUnit> units_;
};

tl::unexpected<Diagnostic> no_table() {
  return base::failure(DiagnosticCode::bad_value,
                       "the script has no table to put texts into: name one in \"strings\"");
}

}  // namespace

std::vector<TranslationUnit> translation_units(const Script& script, std::string_view locale) {
  return UnitFinder(script, locale).run();
}

std::string made_from_header(std::string_view locale) {
  return "#" + std::string(locale) + " made from";
}

std::string fingerprint_of(std::string_view source) {
  constexpr std::string_view digits = "0123456789abcdef";
  std::uint64_t hash = base::hash_of(source);
  std::string text(8, '0');
  for (char& digit : text) {
    digit = digits[hash % 16];
    hash /= 16;
  }
  return text;
}

tl::expected<std::vector<StringsTable>, Diagnostic> put_translations(
    const Script& script, const Translations& translations) {
  const Script& base = original_of(script);
  if (base.strings == nullptr) return no_table();
  std::vector<StringsTable> tables = base.strings->tables();
  std::set<std::size_t> changed;
  for (const Translation& translation : translations.texts) {
    const auto places = base.strings->find(translation.key);
    const auto in_locale = std::find_if(places.begin(), places.end(), [&](const auto& place) {
      return base.strings->tables()[place.table].find_column(translations.locale).has_value();
    });
    const std::size_t into = places.empty()              ? 0
                             : in_locale != places.end() ? in_locale->table
                                                         : places[0].table;
    StringsTable& table = tables[into];
    const std::size_t column = table.add_column(translations.locale);
    const std::size_t made_from = table.add_column(made_from_header(translations.locale));
    const std::uint32_t row = table.add_row(translation.key);
    if (table.cell(row, column) == translation.text &&
        table.cell(row, made_from) == translation.made_from) {
      continue;
    }
    table.set(row, column, translation.text);
    table.set(row, made_from, translation.made_from);
    changed.insert(into);
  }
  std::vector<StringsTable> result;
  result.reserve(changed.size());
  for (const std::size_t table : changed) result.push_back(std::move(tables[table]));
  return result;
}

tl::expected<std::optional<StringsTable>, Diagnostic> add_strings(const Script& script) {
  const Script& base = original_of(script);
  if (base.strings == nullptr) return no_table();
  StringsTable table = base.strings->tables()[0];
  bool changed = false;
  std::size_t column = 0;
  for (const TranslationUnit& unit : translation_units(base, base.source_locale)) {
    const auto places = base.strings->find(unit.key);
    const bool elsewhere = !places.empty() && places[0].table != 0;
    if (elsewhere) continue;  // in a table of its own
    if (column == 0) column = table.add_column(base.source_locale);
    const std::uint32_t row = table.add_row(unit.key);
    if (table.cell(row, column) == unit.source) continue;
    table.set(row, column, unit.source);
    changed = true;
  }
  return changed ? std::optional(std::move(table)) : std::nullopt;
}

}  // namespace arvik
