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

namespace arvik::unicode {
namespace {

// One table a language. A contributor who adds a language copies a row and fills in:
// - always: titles and words that something follows (a name, an example);
// - before_digit: words that count only before a number ("No. 5");
// - unless_capital: words that may also end a sentence ("etc."): they do before a capital;
// - spoken_words: what CLDR's list has and speech needs as plain words;
// - one_letter_words: capitals that are words ("I"), so that a full stop behind them ends a
// sentence;
// - numbered: nouns that letters number ("plan B.");
// - habits: what it writes in a way of its own (include/arvik/language.hpp, Habit).
// Parts that are written apart ("z. B.") are found from the form without blanks. Words count with a
// capital at a sentence's begin, too. Nothing that is a common last word of a sentence belongs
// here.
struct OwnList {
  std::string_view language;
  std::string_view always{};
  std::string_view before_digit{};
  std::string_view unless_capital{};
  std::string_view spoken_words{};      // never abbreviations, in any case of letters
  std::string_view one_letter_words{};  // capitals that may end a sentence
  std::string_view numbered{};
  std::string_view habits{};  // the words of habit_words
};

// Titles that games keep in every language that does not read them otherwise.
constexpr std::string_view latin_titles = "Dr. Mr. Mrs. Ms. St. Prof.";

constexpr std::array own_lists{
    OwnList{.language = "ca", .habits = "attached-dash elision"},
    OwnList{.language = "gl", .habits = "attached-dash"},
    OwnList{
        .language = "en",
        .always = "Dr. Drs. Mr. Mrs. Ms. Mx. Messrs. St. Prof. Capt. Lt. Sgt. Cmdr. Col. Maj. Gen. "
                  "Hon. Fr. Rev. vs. cf. viz. approx. Mt. Ft. e.g. i.e. Ave. Adm. Gov. Pres. Sen.",
        .before_digit = "No. Nos. no. nos. Fig. fig. Ch. ch. Vol. vol. p. pp. Sec. sec. Art. art. "
                        "ca. c.",
        .unless_capital = "etc. al. Jr. Sr. Inc. Ltd. Co. a.m. p.m. A.M. P.M. B.C. A.D.",
        .spoken_words =
            "act ad adj ab aa all alt as by card cont conn dc def diff do ed etc ex exec fri gb go "
            "hat hz id in is jam job joe jun kb lev lib link long mart mb min misc num ok on "
            "or pc pp pro rep sq to up yr phys",
        .one_letter_words = "I",
        .numbered = "plan option vitamin type class group team grade section block room point "
                    "level gate dock pier deck row exit door line letter side part unit zone "
                    "hall an a the"},
    OwnList{
        .language = "de",
        .always = "Dr. Prof. Hr. Hrn. Fr. Frl. St. Dipl. Ing. Mag. Hptm. bzw. vgl. ca. Nr. Str. "
                  "z.B. d.h. u.a. o.g. i.d.R. sog. evtl. ggf. inkl. zzgl. allg. ehem. gegr.",
        .before_digit = "S. Abs. Kap. Art. Bd. Abb. Tel. Hs.",
        .unless_capital = "usw. etc. v.Chr. n.Chr. Jr. usf. u.s.w. a.D. o.Ä. u.Ä.",
        .spoken_words = "am so do di dir alt port test art mod max pin temp best gest led ber int "
                        "rel ben mo mi sa trans verh ev mind app prot min max reg",
        .numbered = "plan option vitamin typ klasse gruppe team stufe block raum punkt tor gleis",
        .habits = "hanging-hyphen"},
    OwnList{
        .language = "fr",
        .always = "M. MM. Mme. Mmes. Mlle. Mlles. Dr. Pr. Prof. Me. Mgr. St. Ste. cf. env. p.ex. "
                  "c.-à-d. bd. gén. lt. col. cap.",
        .before_digit = "p. pp. n. no. vol. art. chap. fig. tél.",
        .unless_capital = "etc. J.-C. S.A.",
        .spoken_words = "jeu mer sept mart comm all graph cam sam doc config desc dict sem var dc",
        .one_letter_words = "À A Ô Y",
        .numbered = "plan option vitamine type classe groupe équipe bloc salle porte quai",
        .habits = "elision"},
    OwnList{
        .language = "es",
        .always =
            "aprox. sr. sra. srta. sres. dr. dra. D. dña. ud. uds. vd. vds. prof. lic. ing. gral. "
            "cnel. Cap. sto. sta. mons. p.ej. cf. av. avda. pza.",
        .before_digit = "n. núm. pág. págs. art. cap. vol. fig. tel.",
        .unless_capital = "etc. EE.UU. a.C. d.C. a.m. p.m. S.A. Cía.",
        .spoken_words = "mar sol kit rol bien col id all ram ca dc dom cap sa em ms seg var vie",
        .one_letter_words = "Y O A E U",
        .numbered = "plan opción vitamina tipo clase grupo equipo bloque sala puerta muelle",
        .habits = "attached-dash"},
    OwnList{.language = "it",
            .always = "sig. sigg. sig.ra sig.na dott. dott.ssa prof. prof.ssa avv. ing. arch. rag. "
                      "geom. gen. mons. S. p.es. cfr.",
            .before_digit = "n. p. pp. pag. art. cap. vol. fig. tel.",
            .unless_capital = "ecc. etc. a.C. d.C. a.m. p.m.",
            .spoken_words = "all on mod int tab ver",
            .one_letter_words = "E È O A I Ò",
            .numbered = "piano opzione vitamina tipo classe gruppo squadra blocco sala porta molo",
            .habits = "elision"},
    OwnList{
        .language = "pt",
        .always =
            "aprox. sr. sra. srs. srta. dr. dra. D. prof. profa. eng. Cap. gen. sto. sta. S. Exmo. "
            "Exma. p.ex. Av. cf. obs.",
        .before_digit = "n. p. pág. págs. art. cap. vol. fig. tel.",
        .unless_capital = "etc. a.C. d.C. Ltda. Cia. a.m. p.m.",
        .spoken_words = "mar com fac long lit out set pal pol rel fem mai cap pe res",
        .one_letter_words = "E É O Ó A À",
        .numbered = "plano opção vitamina tipo classe grupo equipe bloco sala porta cais",
        .habits = "attached-dash"},
    OwnList{.language = "nl",
            .always =
                "dhr. mevr. mw. dr. prof. ir. drs. ing. mr. ds. St. bijv. bv. nl. o.a. d.w.z. "
                "m.a.w. i.p.v. t.o.v. evt. resp. ca. incl. excl.",
            .before_digit = "nr. blz. art. hfst. fig. p. tel.",
            .unless_capital = "enz. etc. e.d. v.Chr. n.Chr. a.s.",
            .one_letter_words = "U",
            .numbered = "plan optie vitamine type klas groep team blok zaal deur steiger"},
    OwnList{.language = "pl",
            .always =
                "np. m.in. tzn. tzw. tj. prof. inż. hab. dr. mgr. ks. św. ul. al. pl. pt. red. "
                "gen. kpt. płk. mjr. sierż. por. ww. śp. jw. br. wg. ob. p. pp. płn. płd. "
                "wsch. zach.",
            .before_digit = "nr. s. str. godz. rozdz. art. t. poz. pkt. tel.",
            .unless_capital = "itd. itp. etc. in. ok. p.n.e. n.e. r. w.",
            .spoken_words = "im",
            .one_letter_words = "A I O U W Z",
            .numbered = "plan opcja witamina typ klasa grupa blok sala punkt"},
    OwnList{.language = "cs",
            .always =
                "dr. mgr. ing. MUDr. JUDr. PhDr. RNDr. prof. doc. p. sv. gen. kpt. por. např. tj. "
                "tzv. tzn. cca. popř. příp. resp. ul. nám. mj.",
            .before_digit = "č. str. obr. tab. kap. čl. odst. roč. s. r. tel.",
            .unless_capital = "atd. apod. atp. aj. n.l. hod.",
            .one_letter_words = "A I O U K S V Z",
            .numbered = "plán typ třída skupina blok bod"},
    OwnList{.language = "sk",
            .always =
                "dr. mgr. ing. MUDr. JUDr. PhDr. prof. doc. p. sv. gen. kpt. por. napr. t.j. tj. "
                "tzv. tzn. cca. resp. príp. ul. nám.",
            .before_digit = "č. str. obr. tab. kap. čl. ods. roč. s. r. tel.",
            .unless_capital = "atď. apod. atp. n.l. hod.",
            .one_letter_words = "A I O U K S V Z",
            .numbered = "plán typ trieda skupina blok bod"},
    OwnList{
        .language = "hu",
        .always = "dr. ifj. id. özv. prof. Szt. szt. pl. ill. ún. kb. vö. ti. gr. br. hg. tkp. ld.",
        .before_digit = "sz. o. fej.",
        .unless_capital = "stb. kft. Rt. i.sz. i.e. Kr.e. Kr.u.",
        .one_letter_words = "A Ő Ó",
        .numbered = "terv típus osztály csoport blokk",
        .habits = "ordinal-years"},
    OwnList{.language = "ro",
            .always =
                "dl. dna. d-l. d-na. dra. dr. prof. ing. Sf. sf. gen. col. cpt. bd. ex. cca. resp. "
                "p.ex.",
            .before_digit = "nr. p. pag. art. cap. vol. fig. tel.",
            .unless_capital = "etc. ș.a. ș.a.m.d. d.Hr. î.Hr. a.c.",
            .one_letter_words = "A E O I",
            .numbered = "plan plana planul opțiunea vitamina tip clasa grupa"},
    OwnList{.language = "hr",
            .always =
                "dr. mr. prof. g. gđa. gđica. gosp. sv. ul. npr. tj. tzv. odn. inž. gen. kap. por. "
                "mn.",
            .before_digit = "br. str. čl. st. gl. toč. tel.",
            .unless_capital = "itd. sl. n.e. god.",
            .one_letter_words = "A I O U S K",
            .numbered = "plan tip razred grupa blok"},
    OwnList{.language = "bs",
            .always = "dr. mr. prof. g. gđa. sv. ul. npr. tj. tzv. odn. inž. gen. kap.",
            .before_digit = "br. str. čl. st. gl. tel.",
            .unless_capital = "itd. sl. n.e. god.",
            .one_letter_words = "A I O U S K"},
    OwnList{.language = "sr",
            .always =
                "др. мр. проф. г. гђа. гђица. св. ул. нпр. тј. тзв. инж. ген. кап. dr. mr. prof. "
                "g. gđa. sv. ul. npr. tj. tzv. inž. gen. kap.",
            .before_digit = "бр. стр. чл. ст. гл. br. str. čl. st. gl.",
            .unless_capital = "итд. сл. н.е. год. itd. sl. n.e. god.",
            .one_letter_words = "А И О У С К A I O U S K"},
    OwnList{.language = "sl",
            .always = "dr. mag. prof. g. ga. gdč. sv. ul. npr. tj. t.i. oz. inž. gen.",
            .before_digit = "št. str. čl. pogl.",
            .unless_capital = "itd. ipd. n.št.",
            .one_letter_words = "A O V S Z"},
    OwnList{.language = "bg",
            .always =
                "г-н. г-жа. д-р. проф. инж. доц. ген. полк. кап. св. ул. бул. напр. т.е. т.нар. "
                "вкл. срв.",
            .before_digit = "стр. с. фиг. гл. чл. ал. т. бр.",
            .unless_capital = "т.н. др. пр. г. гг. в. н.е. ч.",
            .one_letter_words = "А И О С В К У",
            .numbered = "план тип клас група блок"},
    OwnList{
        .language = "ru",
        .always =
            "т.е. т.к. г-н. г-жа. ул. проф. акад. доц. ген. кап. св. тов. гр. гн. см. ср. напр. "
            "т.н. т.ч.",
        .before_digit = "с. стр. гл. рис. ст. п. кв. д.",
        .unless_capital = "т.д. т.п. др. пр. н.э. в. вв. г. гг.",
        .spoken_words = "им",
        .one_letter_words = "Я А И О У В К С",
        .numbered = "план тип класс группа блок пункт"},
    OwnList{.language = "uk",
            .always = "т.зв. вул. проф. акад. доц. ген. св. див. напр. т.є. п. пп.",
            .before_digit = "с. стор. гл. рис. ст.",
            .unless_capital = "т.д. т.п. ін. н.е. р. рр.",
            .one_letter_words = "Я А І О У В З Є",
            .numbered = "план тип клас група блок пункт"},
    OwnList{.language = "el",
            .always = "κ. κα. κκ. δρ. δηλ. π.χ. λ.χ. αγ. οδ. βλ. πρβλ. καθ.",
            .before_digit = "σελ. αρ. κεφ. τηλ.",
            .unless_capital = "κ.λπ. κτλ. κ.ά. π.μ. μ.μ. π.Χ. μ.Χ.",
            .one_letter_words = "Α Η Ο Ω",
            .habits = "ano-teleia"},
    OwnList{.language = "tr",
            .always =
                "dr. prof. doç. av. sn. bkz. hz. sok. cad. mah. apt. alb. gen. yzb. kpt. örn. M.Ö. "
                "M.S. yy.",
            .before_digit = "no. s. sf. tel. şek.",
            .unless_capital = "vb. vs. vd.",
            .one_letter_words = "O",
            .numbered = "plan tip sınıf grup blok"},
    OwnList{.language = "fi",
            .always = "esim. ks. ts. vrt. ym. tri. prof. hra. rva. nti. nk. ns. mm. n.",
            .before_digit = "nro. s. klo. kpl.",
            .unless_capital = "jne. yms. eaa. eKr. jKr. jms.",
            .numbered = "suunnitelma tyyppi luokka ryhmä"},
    OwnList{.language = "sv",
            .always =
                "t.ex. bl.a. d.v.s. dvs. ca. dr. prof. hr. fr. frk. f.d. s.k. p.g.a. resp. jfr. "
                "ang. avd.",
            .before_digit = "nr. s. kap. kl. tel.",
            .unless_capital = "osv. o.s.v. m.m. m.fl. etc. f.Kr. e.Kr. o.d.",
            .one_letter_words = "I Å Ö",
            .numbered = "plan typ klass grupp block"},
    OwnList{.language = "da",
            .always =
                "f.eks. bl.a. dvs. d.v.s. ca. dr. prof. hr. fr. frk. Sct. Skt. jf. pga. ang. mht. "
                "ift.",
            .before_digit = "nr. s. kap. kl. stk. tlf.",
            .unless_capital = "osv. o.s.v. m.m. m.fl. etc. f.Kr. e.Kr. o.l. mv.",
            .one_letter_words = "I Å",
            .numbered = "plan type klasse gruppe blok"},
    OwnList{
        .language = "nb",
        .always = "f.eks. bl.a. dvs. ca. dr. prof. hr. fr. frk. St. jf. pga. ang. mht. iht. evt.",
        .before_digit = "nr. s. kap. kl. tlf.",
        .unless_capital = "osv. m.m. m.fl. etc. f.Kr. e.Kr. o.l. mv.",
        .one_letter_words = "I Å",
        .numbered = "plan type klasse gruppe blokk"},
    OwnList{.language = "vi",
            .always = "TS. ThS. PGS. GS. BS. KS. Tp. TP. Q. tr.",
            .unless_capital = "v.v.",
            .one_letter_words = "Ừ Ờ Ồ À Ô Ơ Ủ Ư Ấy"},
    OwnList{
        .language = "id",
        .always = "dr. prof. ir. drs. dra. H. Hj. bpk. sdr. yth. jl. a.n. u.p. mis. Tn. Ny. Nn.",
        .before_digit = "no. hlm. hal. gbr.",
        .unless_capital = "dll. dsb. dst. dkk. S.H."},
    OwnList{.language = "hi",
            .always = "डॉ. श्री. प्रो. पं. सु. कु. मि. डा. लि. कं. सं. क्र. पृ.",
            .unless_capital = "ई.पू. बी.ए."},
    OwnList{
        .language = "th",
        .always =
            "ดร. นพ. พญ. ศ. รศ. ผศ. พ.ต.อ. พล.อ. ด.ช. ด.ญ. น.ส. ร.ต. ร.อ. พ.ศ. ค.ศ. ต. อ. จ. ถ. ซ.",
        .unless_capital = "ฯลฯ."},
    OwnList{.language = "he", .always = "פרופ. עמ."},
    OwnList{.language = "ar", .always = "ق.م.", .unless_capital = "إلخ. الخ."},
    OwnList{.language = "fa", .always = "ر.ک. ه.ش. ق.م.", .unless_capital = "غیره."},
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

AbbreviationTable load_abbreviations(std::string_view language) {
  const OwnList* own = own_list(language);
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

bool is_one_letter_word(std::string_view language, std::string_view letter) {
  const OwnList* own = own_list(language);
  return own != nullptr && contains_word(own->one_letter_words, letter);
}

unsigned habits_of(std::string_view language) {
  // In the order of Habit.
  constexpr std::array<std::string_view, 5> habit_words{"attached-dash", "hanging-hyphen",
                                                        "ordinal-years", "ano-teleia", "elision"};
  const OwnList* own = own_list(language);
  unsigned habits = 0;
  for (unsigned i = 0; own != nullptr && i < habit_words.size(); ++i) {
    if (contains_word(own->habits, habit_words[i])) habits |= 1U << i;
  }
  return habits;
}

bool is_numbered_by_letters(std::string_view language, std::string_view noun) {
  const OwnList* own = own_list(language);
  return own != nullptr && contains_word(own->numbered, noun);
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
