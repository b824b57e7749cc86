// Which branch a value chooses, and what is wrong with the branches. The terms are those of
// Unicode's plural rules (UTS #35): exact numbers first, then the category of the number, then
// `other`. Guarded by tests/markup/choosing_test.cpp.

#include "choosing.hpp"

#include <algorithm>
#include <charconv>
#include <set>
#include <type_traits>

#include "arvik/locale.hpp"

namespace arvik::markup {
namespace {

template <typename Number>
std::optional<Number> read_number(std::string_view digits) {
  Number number{};
  const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), number);
  if (error != std::errc() || end != digits.data() + digits.size()) return std::nullopt;
  return number;
}

// A text that is a number, as a number.
std::optional<TextValue> as_number(const TextValue& value) {
  const auto* text = std::get_if<std::string>(&value);
  if (text == nullptr) return value;
  if (const auto whole = read_number<std::int64_t>(*text)) return *whole;
  if (const auto fraction = read_number<double>(*text)) return *fraction;
  return std::nullopt;
}

bool is_exact(std::string_view name) { return name.starts_with('='); }

bool is_equal(const TextValue& number, std::string_view digits) {
  if (const auto* whole = std::get_if<std::int64_t>(&number)) {
    if (const auto wanted = read_number<std::int64_t>(digits)) return *whole == *wanted;
    return read_number<double>(digits) == static_cast<double>(*whole);
  }
  return read_number<double>(digits) == std::get<double>(number);
}

std::string category_list(const std::vector<PluralCategory>& categories) {
  std::string list;
  for (const PluralCategory category : categories) {
    list += (list.empty() ? "" : ", ") + std::string(plural_category_name(category));
  }
  return list;
}

const Branch* find(const Choosing& choice, std::string_view name) {
  const auto found = std::find_if(choice.branches.begin(), choice.branches.end(),
                                  [&](const Branch& branch) { return branch.name == name; });
  return found == choice.branches.end() ? nullptr : &*found;
}

// What is wrong with the name of a plural's branch; nothing for a good one.
std::optional<BranchProblem> check_name(const Branch& branch, Language* language) {
  if (is_exact(branch.name)) {
    if (read_number<double>(branch.name.substr(1))) return std::nullopt;
    return BranchProblem{.code = DiagnosticCode::unknown_branch,
                         .range = branch.head,
                         .message = quoted_word(branch.name) + " is no number: write it like =0"};
  }
  const auto category = plural_category_of(branch.name);
  if (!category) {
    return BranchProblem{
        .code = DiagnosticCode::unknown_branch,
        .range = branch.head,
        .message = quoted_word(branch.name) +
                   " is no plural category: they are zero, one, two, few, many and other",
        .hint =
            std::string(nearest_name(branch.name, {"zero", "one", "two", "few", "many", "other"}))};
  }
  if (language == nullptr || language->has_category(*category)) return std::nullopt;
  return BranchProblem{.code = DiagnosticCode::unknown_branch,
                       .severity = Severity::warning,
                       .range = branch.head,
                       .message = "no number has the plural category " + quoted_word(branch.name) +
                                  " in the language " + quoted_word(language->tag())};
}

}  // namespace

std::optional<NumberForm> number_of(const TextValue& value, Language* language) {
  const auto number = as_number(value);
  if (!number) return std::nullopt;
  return std::visit(
      [&](const auto& known) -> std::optional<NumberForm> {
        if constexpr (std::is_same_v<std::decay_t<decltype(known)>, std::string>) {
          return std::nullopt;
        } else {
          if (language != nullptr) return language->write_number(known);
          std::string digits(32, '\0');
          digits.resize(static_cast<std::size_t>(
              std::to_chars(digits.data(), digits.data() + digits.size(), known).ptr -
              digits.data()));
          return NumberForm{.text = std::move(digits)};
        }
      },
      *number);
}

const Branch* choose(const Choosing& choice, Language* language) {
  if (choice.branches.empty()) return nullptr;
  const Branch* chosen = nullptr;
  if (choice.value && choice.is_plural) {
    if (const auto number = as_number(*choice.value)) {
      for (const Branch& branch : choice.branches) {
        const bool wanted = is_exact(branch.name) && is_equal(*number, branch.name.substr(1));
        if (wanted && chosen == nullptr) chosen = &branch;
      }
      if (chosen == nullptr) {
        chosen = find(choice, plural_category_name(number_of(*number, language)->category));
      }
    }
  } else if (choice.value) {
    const auto* text = std::get_if<std::string>(&*choice.value);
    chosen = find(choice, text != nullptr ? *text : number_of(*choice.value, nullptr)->text);
  }
  if (chosen == nullptr) chosen = find(choice, plural_category_name(PluralCategory::other));
  return chosen != nullptr ? chosen : &choice.branches.back();
}

std::vector<BranchProblem> find_problems(const Choosing& choice, Language* language) {
  std::vector<BranchProblem> problems;
  if (choice.is_plural && choice.value && !as_number(*choice.value)) {
    problems.push_back({.code = DiagnosticCode::bad_argument,
                        .range = choice.source,
                        .message = "this value is no number, so no plural goes with it"});
  }
  std::set<std::string_view> names;
  for (const Branch& branch : choice.branches) {
    if (choice.is_plural) {
      if (auto problem = check_name(branch, language)) problems.push_back(std::move(*problem));
    }
    if (!names.insert(branch.name).second) {
      problems.push_back(
          {.code = DiagnosticCode::unknown_branch,
           .range = branch.head,
           .message = "this choice has a branch " + quoted_word(branch.name) + " already"});
    }
  }
  if (find(choice, plural_category_name(PluralCategory::other)) == nullptr) {
    problems.push_back({.code = DiagnosticCode::missing_branch,
                        .range = choice.source,
                        .message = "a choice needs a branch for all other values: [other: text]"});
  }
  if (!choice.is_plural || language == nullptr) return problems;
  std::vector<PluralCategory> missing;
  for (const PluralCategory category : language->needed_categories()) {
    const bool there = find(choice, plural_category_name(category)) != nullptr;
    if (!there && category != PluralCategory::other) missing.push_back(category);
  }
  if (!missing.empty()) {
    problems.push_back({.code = DiagnosticCode::missing_branch,
                        .severity = Severity::warning,
                        .range = choice.source,
                        .message = "plural categories of the language " +
                                   quoted_word(language->tag()) +
                                   " are missing: " + category_list(missing)});
  }
  return problems;
}

}  // namespace arvik::markup
