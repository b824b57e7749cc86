// Which full stops end no sentence.
//
// The ground is CLDR's sentence-break suppressions, read from ICU's own data. They were collected
// for cutting running text into sentences and are too eager for dialogue: the English list holds
// "Is.", "In.", "Go.", "OK.", the Spanish "Bien.", the German "am." and "Dir.", all of which end
// spoken sentences. They also miss "Dr." and "St.". So words that are common in speech are taken
// out, and a short list of the project's own is added, with two weaker grades: "No." counts before
// a digit only, "etc." and "p.m." unless a capital follows.
//
// ICU returns a request for a language that it has no list for with its default language; that
// answer is dropped. Single capital letters are left out of the lists: pacing knows initials by
// their form.
//
// Guarded by tests/unicode/language_test.cpp and the tables in tests/pacing/pauses_test.cpp.

#include "abbreviations.hpp"

#include <unicode/uchar.h>
#include <unicode/ures.h>
#include <unicode/utypes.h>

#include <algorithm>
#include <array>
#include <cctype>

#include "characters.hpp"
#include "language_table.hpp"

namespace arvik::unicode {
namespace {

// Titles that games keep in every language that does not read them otherwise.
constexpr std::string_view latin_titles = "Dr. Mr. Mrs. Ms. St. Prof.";

bool is_spoken_word(const LanguageTable* own, std::string_view word) {
  if (own == nullptr) return false;
  word.remove_suffix(1);  // its full stop
  return contains_word(own->spoken, lower_ascii(word));
}

bool is_single_capital(std::string_view word) {
  return word.size() == 2 && word[0] >= 'A' && word[0] <= 'Z';
}

std::string with_capital(std::string_view word) {
  const Decoded first = decode(word, 0);
  std::string capital;
  append(capital, static_cast<char32_t>(u_totitle(static_cast<UChar32>(first.code_point))));
  return capital + std::string(word.substr(first.size));
}

std::uint64_t bit_of(char c) { return std::uint64_t{1} << (static_cast<unsigned char>(c) & 63U); }

auto lower_bound(const std::vector<AbbreviationTable::Entry>& entries, std::string_view word) {
  return std::lower_bound(entries.begin(), entries.end(), word,
                          [](const auto& entry, std::string_view w) { return entry.first < w; });
}

class Bundle {
 public:
  explicit Bundle(UResourceBundle* bundle) : bundle_(bundle) {}
  Bundle(const Bundle&) = delete;
  Bundle& operator=(const Bundle&) = delete;
  ~Bundle() { ures_close(bundle_); }
  [[nodiscard]] UResourceBundle* get() const { return bundle_; }

 private:
  UResourceBundle* bundle_;
};

// Calls visit for every word of CLDR's list. An entry of several words ("до н. э.") counts as its
// parts, since pacing looks at one full stop at a time.
template <typename Visit>
void for_each_suppression(const std::string& language, Visit visit) {
  UErrorCode status = U_ZERO_ERROR;
  const Bundle root(ures_open(U_ICUDATA_NAME "-brkitr", language.c_str(), &status));
  if (U_FAILURE(status) || status == U_USING_DEFAULT_WARNING) return;
  const Bundle exceptions(ures_getByKey(root.get(), "exceptions", nullptr, &status));
  const Bundle list(ures_getByKey(exceptions.get(), "SentenceBreak", nullptr, &status));
  if (U_FAILURE(status) || status == U_USING_DEFAULT_WARNING) return;  // this language has no list
  for (int32_t i = 0; i < ures_getSize(list.get()); ++i) {
    std::array<char, 128> buffer{};
    int32_t length = static_cast<int32_t>(buffer.size());
    UErrorCode entry_status = U_ZERO_ERROR;
    const char* entry =
        ures_getUTF8StringByIndex(list.get(), i, buffer.data(), &length, false, &entry_status);
    if (U_FAILURE(entry_status)) continue;  // longer than any abbreviation
    for_each_word({entry, static_cast<std::size_t>(length)}, [&](std::string_view word) {
      if (word.size() > 1 && word.ends_with('.')) visit(word);
    });
  }
}

}  // namespace

AbbreviationTable::AbbreviationTable(std::vector<Entry> entries) : entries_(std::move(entries)) {
  const auto by_word = [](const Entry& a, const Entry& b) { return a.first < b.first; };
  std::stable_sort(entries_.begin(), entries_.end(), by_word);
  const auto same_word = [](const Entry& a, const Entry& b) { return a.first == b.first; };
  entries_.erase(std::unique(entries_.begin(), entries_.end(), same_word), entries_.end());
  for (const auto& [word, grade] : entries_) {
    Edges& edges = edges_[std::min(word.size(), lengths - 1)];
    edges.first |= bit_of(word.front());
    edges.last |= bit_of(word[word.size() - 2]);
  }
}

Abbreviation AbbreviationTable::find(std::string_view word) const {
  if (word.size() < 2) return Abbreviation::none;
  const Edges& edges = edges_[std::min(word.size(), lengths - 1)];
  if ((edges.first & bit_of(word.front())) == 0 ||
      (edges.last & bit_of(word[word.size() - 2])) == 0) {
    return Abbreviation::none;
  }
  const auto found = lower_bound(entries_, word);
  return found != entries_.end() && found->first == word ? found->second : Abbreviation::none;
}

bool AbbreviationTable::has_prefix(std::string_view parts) const {
  const auto found = lower_bound(entries_, parts);
  return found != entries_.end() && found->first.starts_with(parts);
}

AbbreviationTable load_abbreviations(std::string_view language, const LanguageTable* own) {
  std::vector<AbbreviationTable::Entry> table;
  const auto add_all = [&](std::string_view words, Abbreviation grade) {
    for_each_word(words, [&](std::string_view word) { table.emplace_back(word, grade); });
  };
  if (own != nullptr) {  // first: where both lists have a word, the project's grade counts
    const auto add_list = [&](std::string_view words, Abbreviation grade) {
      add_all(words, grade);
      // At a sentence's begin; but single capitals are initials.
      for_each_word(words, [&](std::string_view word) {
        if (decode(word, 0).size + 1 < word.size()) table.emplace_back(with_capital(word), grade);
      });
    };
    add_list(own->unless_capital, Abbreviation::unless_capital);
    add_list(own->before_digit, Abbreviation::before_digit);
    for_each_word(own->before_digit,
                  [&](std::string_view word) {  // before a digit none is an initial
                    table.emplace_back(with_capital(word), Abbreviation::before_digit);
                  });
    add_list(own->always, Abbreviation::always);
  }
  add_all(latin_titles, Abbreviation::always);
  for_each_suppression(std::string(language), [&](std::string_view word) {
    if (!is_single_capital(word) && !is_spoken_word(own, word)) {
      table.emplace_back(word, Abbreviation::always);
    }
  });
  return AbbreviationTable(std::move(table));
}

unsigned habits_of(const LanguageTable* table) {
  // In the order of Habit.
  constexpr std::array<std::string_view, 5> habit_words{"attached-dash", "hanging-hyphen",
                                                        "ordinal-years", "ano-teleia", "elision"};
  unsigned habits = 0;
  for (unsigned i = 0; table != nullptr && i < habit_words.size(); ++i) {
    if (contains_word(table->habits, habit_words[i])) habits |= 1U << i;
  }
  return habits;
}

std::uint64_t last_bytes_of(std::string_view words) {
  std::uint64_t bytes = 0;
  for_each_word(words, [&](std::string_view word) { bytes |= bit_of(word.back()); });
  return bytes;
}

const LanguageTable* find_language_table(std::string_view tag) {
  const auto found = std::find_if(language_tables.begin(), language_tables.end(),
                                  [&](const LanguageTable& table) { return table.tag == tag; });
  return found == language_tables.end() ? nullptr : &*found;
}

std::string lower_ascii(std::string_view word) {
  std::string lower(word);
  std::transform(lower.begin(), lower.end(), lower.begin(), [](unsigned char c) {
    return c < 0x80 ? static_cast<char>(std::tolower(c)) : static_cast<char>(c);
  });
  return lower;
}

bool contains_word(std::string_view words, std::string_view word) {
  bool found = false;
  for_each_word(words, [&](std::string_view w) { found = found || w == word; });
  return found;
}

}  // namespace arvik::unicode
