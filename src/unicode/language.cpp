// One language: what ICU and CLDR know about it, opened once.

#include "arvik/language.hpp"

#include <unicode/uloc.h>

#include <algorithm>
#include <array>

#include "characters.hpp"
#include "language_impl.hpp"

namespace arvik {
namespace {

Diagnostic unavailable(std::string_view tag, std::string_view why) {
  return {.code = DiagnosticCode::language_unavailable,
          .severity = Severity::error,
          .message = "no rules for language " + quoted_word(tag) + ": " + std::string(why)};
}

}  // namespace

tl::expected<Language, Diagnostic> Language::open(std::string_view tag) {
  UErrorCode status = U_ZERO_ERROR;
  std::array<char, ULOC_FULLNAME_CAPACITY> locale{};
  int32_t parsed = 0;
  const std::string name(tag);
  uloc_forLanguageTag(name.c_str(), locale.data(), static_cast<int32_t>(locale.size()), &parsed,
                      &status);
  if (U_FAILURE(status) || status == U_STRING_NOT_TERMINATED_WARNING || tag.empty() ||
      static_cast<std::size_t>(parsed) != tag.size()) {
    return tl::unexpected(unavailable(tag, "not a BCP 47 language tag"));
  }
  auto impl = std::make_unique<Impl>();
  impl->tag = name;
  impl->language = name.substr(0, name.find('-'));
  impl->locale = locale.data();
  impl->tailored = impl->locale.find('@') != std::string::npos;
  impl->graphemes = unicode::open_iterator(UBRK_CHARACTER, locale.data(), status);
  impl->rows = unicode::open_iterator(UBRK_LINE, locale.data(), status);
  if (U_FAILURE(status)) return tl::unexpected(unavailable(tag, u_errorName(status)));
  impl->look_at_tailoring();
  impl->table = unicode::find_language_table(impl->language);
  impl->abbreviations = unicode::load_abbreviations(impl->language, impl->table);
  impl->habits = unicode::habits_of(impl->table);
  if (impl->table != nullptr) impl->saying = unicode::last_bytes_of(impl->table->saying);
  return Language(std::move(impl));
}

Language::Language(std::unique_ptr<Impl> impl) : impl_(std::move(impl)) {}
Language::Language(Language&&) noexcept = default;
Language& Language::operator=(Language&&) noexcept = default;
Language::~Language() = default;

const std::string& Language::tag() const { return impl_->tag; }

Steps Language::segment(std::string_view text) {
  Steps steps;
  segment(text, steps);
  return steps;
}

Language& Language::other(std::string_view tag) {
  if (tag == impl_->tag) return *this;
  auto& others = impl_->others;
  auto found = others.find(tag);
  if (found == others.end()) {
    auto opened = open(tag);
    if (!opened) return *this;
    if (others.size() >= max_other_languages) {
      others.erase(std::min_element(others.begin(), others.end(), [](const auto& a, const auto& b) {
        return a.second.used < b.second.used;
      }));
    }
    found = others.emplace(std::string(tag), Impl::Other{std::move(*opened)}).first;
  }
  found->second.used = ++impl_->asked_for_others;
  return found->second.language;
}

Direction Language::bidi_levels(std::string_view text, std::optional<Direction> base,
                                std::vector<std::uint8_t>& out) {
  impl_->buffer.clear();
  impl_->append_utf16(unicode::cut_to_limit(text));
  return impl_->bidi.levels(impl_->buffer, base, out);
}

Abbreviation Language::abbreviation(std::string_view word) const {
  return impl_->abbreviations.find(word);
}

bool Language::has(Habit habit) const {
  return (impl_->habits >> static_cast<unsigned>(habit) & 1U) != 0;
}

bool Language::begins_abbreviation(std::string_view parts) const {
  return impl_->abbreviations.has_prefix(parts);
}

bool Language::is_ordinal_before(std::string_view next_word) const {
  if (impl_->table == nullptr || impl_->table->ordinals.empty() || next_word.empty()) return false;
  const std::string_view ordinals = impl_->table->ordinals;
  return unicode::contains_word(ordinals, next_word) ||
         (unicode::contains_word(ordinals, "small-letters") &&
          unicode::is_small(unicode::decode(next_word, 0).code_point));
}

bool Language::is_ordinal_behind(std::string_view word) const {
  if (impl_->table == nullptr || impl_->table->ordinal_articles.empty()) return false;
  return unicode::contains_word(impl_->table->ordinal_articles, unicode::lower_ascii(word));
}

bool Language::is_numbered_by_letters(std::string_view noun) const {
  return impl_->table != nullptr && unicode::contains_word(impl_->table->numbered, noun);
}

bool Language::is_saying(std::string_view word) const {
  const auto bit = static_cast<unsigned char>(word.empty() ? 0 : word.back()) & 63U;
  return (impl_->saying >> bit & 1U) != 0 && unicode::contains_word(impl_->table->saying, word);
}

bool Language::is_one_letter_word(std::string_view letter) const {
  return impl_->table != nullptr && unicode::contains_word(impl_->table->one_letter, letter);
}

}  // namespace arvik
