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

#include <unicode/ures.h>
#include <unicode/utypes.h>

#include <algorithm>
#include <array>
#include <cctype>

#include "characters.hpp"

namespace arvik::unicode {
namespace {

struct OwnList {
  std::string_view language;
  std::string_view always;
  std::string_view before_digit;
  std::string_view unless_capital;
  std::string_view spoken_words;      ///< never abbreviations, in any case of letters
  std::string_view one_letter_words;  ///< capitals that may end a sentence
};

constexpr std::array own_lists{
    OwnList{"en",
            "Dr. Drs. Mr. Mrs. Ms. Mx. Messrs. St. Prof. Capt. Lt. Sgt. Cmdr. Gen. Hon. Fr. Rev. "
            "vs. cf. viz. approx. Mt. Ft. e.g. i.e. Ave.",
            "No. Nos. no. nos. Fig. fig. Ch. ch. Vol. vol. p. pp. Sec. sec. Art. art. ca. c.",
            "etc. al. Jr. Sr. Inc. Ltd. Co. a.m. p.m. A.M. P.M.",
            "act ad adj ab aa all alt as by card cont conn dc def diff do ed etc ex exec fri gb go "
            "hat hz id in is jam job joe jun kb lev lib link long mart mb min misc num ok on "
            "or pc pp pro rep sq to up yr phys",
            "I"},
    OwnList{
        "de", "Dr. Prof. Hr. Fr. Frl. St. bzw. vgl. ca. Nr. Str. z.B. d.h. u.a. sog.",
        "S. Abs. Kap.", "usw. etc. v.Chr. n.Chr. Jr.",
        "am so do di dir alt port test art mod max pin temp best gest led ber int rel ben mo mi "
        "sa trans verh ev mind app prot min max reg",
        ""},
    OwnList{"fr", "M. MM. Mme. Mlle. Dr. St. Ste. cf. env. p.ex.", "p. n. vol. art. chap.", "etc.",
            "jeu mer sept mart comm all graph cam sam doc config desc dict sem var dc", ""},
    OwnList{"es", "Sr. Sra. Srta. Dr. Dra. Ud. Uds. Vd. D. Dña. p.ej.", "n. núm. pág. art. cap.",
            "etc.", "mar sol kit rol bien col id all ram ca dc dom cap sa em ms seg var vie",
            "Y O A"},
    OwnList{"it", "Sig. Sig.ra Dott. Prof. S.", "n. p. pag. art. cap.", "ecc. etc.",
            "all on mod int tab ver", "E O"},
    OwnList{"pt", "Sr. Sra. Dr. Dra. D.", "n. p. pág. art. cap.", "etc.",
            "mar com fac long lit out set pal pol rel fem mai cap pe res", "E O A"},
    OwnList{"pl",
            "np. m.in. tzn. tzw. tj. prof. inż. hab. ks. św. ul. al. pl. pt. im. red. gen. kpt. "
            "płk. por. sierż. ww. śp. jw. br. wg. ob. p. pp. ok. płn. płd. wsch. zach.",
            "nr. s. str. godz. rozdz. art. t. poz. pkt.", "itd. itp. etc. in. p.n.e. n.e. r. w.",
            "", "A I O U W Z"},
    OwnList{"ru", "т.е. т.к. г-н. им. ул. проф. др.", "с. стр. г. гл. рис. ст. п.",
            "т.д. т.п. др. н.э.", "", "Я А И О У В К С"},
    OwnList{"uk", "т.зв. ім. вул. проф.", "с. стор. р. гл. ст.", "т.д. т.п. ін.", "",
            "Я А І О У В З"},
    OwnList{"nl", "dhr. mevr. mw. dr. prof. ir. bijv. bv. d.w.z. o.a.", "nr. blz. art.",
            "enz. etc.", "", "U"},
    OwnList{"el", "κ. κα. π.χ. δηλ.", "σελ. αρ.", "κ.λπ. κτλ.", "", ""},
};

const OwnList* own_list(std::string_view language) {
  const auto* found = std::find_if(own_lists.begin(), own_lists.end(),
                                   [&](const OwnList& list) { return list.language == language; });
  return found == own_lists.end() ? nullptr : found;
}

template <typename Visit>
void for_each_word(std::string_view words, Visit visit) {
  while (!words.empty()) {
    const std::size_t blank = std::min(words.find(' '), words.size());
    if (blank > 0) visit(words.substr(0, blank));
    words.remove_prefix(std::min(blank + 1, words.size()));
  }
}

bool contains_word(std::string_view words, std::string_view word) {
  bool found = false;
  for_each_word(words, [&](std::string_view w) { found = found || w == word; });
  return found;
}

// Enough for the lists of spoken words above, which are in ASCII.
std::string lower_ascii(std::string_view word) {
  std::string lower(word);
  std::transform(lower.begin(), lower.end(), lower.begin(), [](unsigned char c) {
    return c < 0x80 ? static_cast<char>(std::tolower(c)) : static_cast<char>(c);
  });
  return lower;
}

bool is_spoken_word(const OwnList* own, std::string_view word) {
  if (own == nullptr) return false;
  word.remove_suffix(1);  // its full stop
  return contains_word(own->spoken_words, lower_ascii(word));
}

bool is_single_capital(std::string_view word) {
  return word.size() == 2 && word[0] >= 'A' && word[0] <= 'Z';
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

AbbreviationTable load_abbreviations(std::string_view language) {
  const OwnList* own = own_list(language);
  AbbreviationTable table;
  const auto add_all = [&](std::string_view words, Abbreviation grade) {
    for_each_word(words, [&](std::string_view word) { table.emplace_back(word, grade); });
  };
  if (own != nullptr) {  // first: where both lists have a word, the project's grade counts
    add_all(own->unless_capital, Abbreviation::unless_capital);
    add_all(own->before_digit, Abbreviation::before_digit);
    add_all(own->always, Abbreviation::always);
  }
  for_each_suppression(std::string(language), [&](std::string_view word) {
    if (!is_single_capital(word) && !is_spoken_word(own, word)) {
      table.emplace_back(word, Abbreviation::always);
    }
  });
  const auto by_word = [](const auto& a, const auto& b) { return a.first < b.first; };
  std::stable_sort(table.begin(), table.end(), by_word);
  const auto same_word = [](const auto& a, const auto& b) { return a.first == b.first; };
  table.erase(std::unique(table.begin(), table.end(), same_word), table.end());
  return table;
}

bool is_one_letter_word(std::string_view language, std::string_view letter) {
  const OwnList* own = own_list(language);
  return own != nullptr && contains_word(own->one_letter_words, letter);
}

namespace {

// Where "3." is "third".
constexpr std::string_view ordinal_languages =
    "bs cs da de et fi fo hr hu is lv nb nn no pl sk sl sr tr";
// German nouns have capitals, so what follows tells less; these follow ordinals more than ends.
constexpr std::string_view german_ordinal_nouns =
    "Januar Jänner Februar März April Mai Juni Juli August September Oktober November Dezember "
    "Jahrhundert Jahrhunderts Stock Stockwerk Klasse Kapitel Akt Tag Mal Platz Lebensjahr";

}  // namespace

bool is_ordinal_before(std::string_view language, std::string_view next_word) {
  if (next_word.empty() || !contains_word(ordinal_languages, language)) return false;
  const char32_t first = decode(next_word, 0).code_point;
  return is_small(first) || (language == "de" && contains_word(german_ordinal_nouns, next_word));
}

}  // namespace arvik::unicode
