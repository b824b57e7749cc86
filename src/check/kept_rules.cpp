// What a translation must keep: tags that make something happen, numbers, questions. Guarded by
// tests/check/cases_test.cpp.

#include "kept_rules.hpp"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <deque>
#include <map>
#include <optional>
#include <set>

#include "../unicode/characters.hpp"
#include "../unicode/written.hpp"

namespace arvik::checking {
namespace {

// A tag that a translation must keep.
struct KeptTag {
  std::string name{};     ///< "[mark lamp-flickers]", without attributes
  bool in_order = false;  ///< it happens, so that its order counts
  TextRange source{};
};

std::optional<KeptTag> kept_point(const Instruction& what) {
  std::optional<KeptTag> tag;
  const auto named = [&](std::string_view kind, const std::string& name, bool in_order) {
    tag = KeptTag{"[" + std::string(kind) + (name.empty() ? "" : " " + name) + "]", in_order, {}};
  };
  if (const auto* mark = std::get_if<tag::Mark>(&what)) named("mark", mark->name, true);
  if (const auto* sound = std::get_if<tag::Sound>(&what)) named("sound", sound->name, true);
  if (const auto* face = std::get_if<tag::Portrait>(&what)) named("portrait", face->name, true);
  if (std::holds_alternative<tag::Hold>(what)) named("hold", "", true);
  if (std::holds_alternative<tag::PageEnd>(what)) named("page", "", true);
  if (const auto* icon = std::get_if<tag::Icon>(&what)) named("icon", icon->name, false);
  return tag;
}

// What may stand more than once or less often, as languages have it: a value stands in each form of
// a plural or in none.
std::optional<std::string> used_value(const Instruction& what) {
  if (const auto* value = std::get_if<tag::Value>(&what)) return value->name;
  if (const auto* plural = std::get_if<tag::Plural>(&what)) return plural->name;
  return std::nullopt;
}

struct KeptTags {
  std::vector<KeptTag> tags;
  std::vector<KeptTag> values;  // "[value drops]"

  explicit KeptTags(const MarkedText& marked) {
    std::set<std::string> known;
    const auto take = [&](const Instruction& what, TextRange source) {
      if (auto tag = kept_point(what)) {
        tag->source = source;
        tags.push_back(std::move(*tag));
      }
      if (const auto* select = std::get_if<tag::Select>(&what)) {
        tags.push_back({"[select " + select->name + "]", false, source});
      }
      if (const auto value = used_value(what); value && known.insert(*value).second) {
        values.push_back({"[value " + *value + "]", false, source});
      }
    };
    for (const Span& span : marked.spans) take(span.what, span.source);
    for (const Point& point : marked.points) take(point.what, point.source);
    std::stable_sort(tags.begin(), tags.end(), [](const KeptTag& a, const KeptTag& b) {
      return a.source.begin < b.source.begin;
    });
  }
};

// Those of `from` that `in` has not.
std::vector<KeptTag> without(const std::vector<KeptTag>& from, const std::vector<KeptTag>& in) {
  std::map<std::string_view, std::size_t> there;
  for (const KeptTag& tag : in) ++there[tag.name];
  std::vector<KeptTag> rest;
  for (const KeptTag& tag : from) {
    const auto found = there.find(tag.name);
    if (found == there.end() || found->second == 0) {
      rest.push_back(tag);
    } else {
      --found->second;
    }
  }
  return rest;
}

class KeptRules {
 public:
  KeptRules(const TextView& source, const TextView& target, std::string_view language,
            const Wishes& wishes, const Tell& tell)
      : source_(source), target_(target), language_(language), wishes_(wishes), tell_(tell) {}

  void run() {
    check_tags();
    if (wishes_.has(Rule::changed_number)) check_numbers();
    if (wishes_.has(Rule::lost_question)) check_question();
  }

 private:
  void check_tags() {
    const auto has_tags = [](const TextView& text) {
      return !text.marked->points.empty() || !text.marked->spans.empty();
    };
    if (!has_tags(source_) && !has_tags(target_)) return;
    const KeptTags source(*source_.marked);
    const KeptTags target(*target_.marked);
    bool same = true;
    for (const auto& [from, in] :
         {std::pair(&source.tags, &target.tags), std::pair(&source.values, &target.values)}) {
      for (const KeptTag& tag : without(*from, *in)) {
        same = false;
        if (wishes_.has(Rule::lost_tag)) {
          tell_(Rule::lost_tag, {}, "the translation has lost " + tag.name, {});
        }
      }
      for (const KeptTag& tag : without(*in, *from)) {
        same = false;
        if (wishes_.has(Rule::invented_tag)) {
          tell_(Rule::invented_tag, TextPart{tag.source}, "the source has no " + tag.name, {});
        }
      }
    }
    if (same && wishes_.has(Rule::reordered_tags)) check_order(source.tags, target.tags);
  }

  void check_order(const std::vector<KeptTag>& source, const std::vector<KeptTag>& target) {
    const auto in_order = [](const std::vector<KeptTag>& tags) {
      std::vector<const KeptTag*> those;
      for (const KeptTag& tag : tags) {
        if (tag.in_order) those.push_back(&tag);
      }
      return those;
    };
    const auto a = in_order(source), b = in_order(target);
    for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i) {
      if (a[i]->name == b[i]->name) continue;
      tell_(Rule::reordered_tags, TextPart{b[i]->source},
            fmt::format("{} comes here, where the source has {}", b[i]->name, a[i]->name), {});
      return;
    }
  }

  // --- numbers

  struct Number {
    std::string digits{};  ///< of the decimal system, without separators and zeros before them
    std::uint32_t begin = 0;
    std::uint32_t end = 0;
  };

  static std::vector<Number> numbers_of(const TextView& text) {
    std::vector<Number> numbers;
    const auto& kinds = text.steps->kinds;
    for (std::uint32_t i = 0; i < text.steps->size(); ++i) {
      if (kinds[i] != StepKind::digit || is_value(text, text.steps->begin_byte(i))) continue;
      Number number{.begin = i};
      i = take_digits(text, i, number.digits);
      while (joins_digits(text, number.begin, i)) i = take_digits(text, i + 1, number.digits);
      number.end = i;
      const std::size_t zeros = number.digits.find_first_not_of('0');
      number.digits.erase(0, std::min(zeros, number.digits.size() - 1));
      numbers.push_back(std::move(number));
    }
    return numbers;
  }

  static std::uint32_t take_digits(const TextView& text, std::uint32_t at, std::string& digits) {
    for (; at < text.steps->size() && text.steps->kinds[at] == StepKind::digit; ++at) {
      const int value = unicode::digit_value(text.character(at));
      digits += value >= 0 ? static_cast<char>('0' + value) : '?';
    }
    return at;
  }

  // Whether what stands at `at` is a separator inside a number: a point, a comma, a colon, or a
  // blank before three digits.
  static bool joins_digits(const TextView& text, std::uint32_t begin, std::uint32_t at) {
    const auto& kinds = text.steps->kinds;
    const std::uint32_t size = text.steps->size();
    if (at + 1 >= size || kinds[at + 1] != StepKind::digit) return false;
    if (kinds[at] == StepKind::full_stop || kinds[at] == StepKind::comma ||
        kinds[at] == StepKind::colon) {
      return true;
    }
    const bool mark = text.step(at) == "'" || text.step(at) == "’" || text.step(at) == "٬" ||
                      text.step(at) == "٫";
    if (kinds[at] != StepKind::blank && !mark) return false;
    std::uint32_t end = at + 1;
    while (end < size && kinds[end] == StepKind::digit) ++end;
    return end - at - 1 == 3 && at - begin <= 11 && at - begin > 0;
  }

  // An hour in the afternoon as a clock of 24 hours has it; empty of other numbers.
  static std::string in_the_afternoon(const std::string& digits) {
    if (digits.size() < 3 || digits.size() > 4) return {};
    const int time = std::stoi(digits) + 1200;
    return time < 2400 ? std::to_string(time) : std::string();
  }

  void check_numbers() {
    const auto all = numbers_of(source_);
    if (all.empty()) return;
    const auto translated = numbers_of(target_);
    const bool writes_digits = !translated.empty();
    std::map<std::string, std::deque<const Number*>> left;  // of the translation, by digits
    for (const Number& number : translated) left[number.digits].push_back(&number);
    std::vector<Number> source;  // that the translation has not
    for (const Number& number : all) {
      auto found = left.find(number.digits);
      if (found == left.end()) found = left.find(in_the_afternoon(number.digits));
      if (found == left.end()) {
        source.push_back(number);
        continue;
      }
      found->second.pop_front();
      if (found->second.empty()) left.erase(found);
    }
    std::vector<Number> target;
    for (const auto& [_, numbers] : left) {
      for (const Number* number : numbers) target.push_back(*number);
    }
    std::sort(target.begin(), target.end(),
              [](const Number& a, const Number& b) { return a.begin < b.begin; });
    if (source.empty()) return;
    const auto text_of = [](const TextView& text, const Number& number) {
      const TextRange range = text.bytes(number.begin, number.end);
      return std::string(text.plain().substr(range.begin, range.end - range.begin));
    };
    if (!target.empty()) {
      const Number& number = target.front();
      return tell_(Rule::changed_number, shown_part(target_.bytes(number.begin, number.end)),
                   fmt::format("the number {} is {} in the source", text_of(target_, number),
                               text_of(source_, source.front())),
                   {});
    }
    // Small numbers are often written out in words; not so one beside others, nor a long one.
    const auto lost = std::find_if(source.begin(), source.end(), [&](const Number& number) {
      return writes_digits || number.digits.size() > 1;
    });
    if (lost == source.end()) return;
    tell_(Rule::changed_number, {},
          fmt::format("the number {} of the source is not there", text_of(source_, *lost)), {});
  }

  // --- questions

  void check_question() {
    if (!ends_asking(source_)) return;
    const std::uint32_t last = last_mark(target_);
    if (last == target_.steps->size()) return;
    switch (target_.steps->kinds[last]) {
      case StepKind::full_stop:
        if (last > 0 && target_.steps->kinds[last - 1] == StepKind::full_stop) return;  // "..."
        break;
      case StepKind::stop:
        break;
      default:
        return;  // it asks, exclaims, breaks off, or has no mark at all
    }
    // Where it asks as often, but not at its end, the sentences were put in another order.
    if (count_questions(target_) >= count_questions(source_)) return;
    // Languages that ask with a word leave the mark out.
    static constexpr std::array<std::string_view, 7> without_mark{"ja", "th", "lo", "km",
                                                                  "my", "bo", "dz"};
    if (std::find(without_mark.begin(), without_mark.end(), language_) != without_mark.end()) {
      if (language_ != "ja" || last == 0) return;
      const std::string_view word = target_.step(last - 1);
      if (word == "か" || word == "の" || word == "な" || word == "ね" || word == "さ") return;
    }
    tell_(Rule::lost_question, shown_part(target_.bytes(last, last + 1)),
          "the source asks here, and the translation states", {});
  }

  [[nodiscard]] std::size_t count_questions(const TextView& text) const {
    std::size_t count = 0;
    const auto& kinds = text.steps->kinds;
    for (std::uint32_t i = 0; i < text.steps->size(); ++i) {
      if (kinds[i] != StepKind::terminal && kinds[i] != StepKind::clause) continue;
      const char32_t c = text.character(i);
      if (unicode::asks(c) || (&text == &target_ && language_ == "el" && c == ';')) ++count;
    }
    return count;
  }

  // The last step that is neither a blank nor a closing sign; the size if there is none.
  static std::uint32_t last_mark(const TextView& text) {
    const auto& kinds = text.steps->kinds;
    for (std::uint32_t i = text.steps->size(); i-- > 0;) {
      switch (kinds[i]) {
        case StepKind::blank:
        case StepKind::row_end:
        case StepKind::unseen:
        case StepKind::closer:
        case StepKind::quote:
          continue;
        default:
          return i;
      }
    }
    return text.steps->size();
  }

  const TextView& source_;
  const TextView& target_;
  std::string_view language_;
  const Wishes& wishes_;
  const Tell& tell_;
};

}  // namespace

bool ends_asking(const TextView& text) {
  const auto& boundaries = *text.boundaries;
  const auto last = std::find_if(boundaries.rbegin(), boundaries.rend(), [](const Boundary& at) {
    return at.sentence != SentenceKind::none;
  });
  return last != boundaries.rend() && last->sentence == SentenceKind::asks;
}

void check_kept(const TextView& source, const TextView& target, std::string_view language,
                const Wishes& wishes, const Tell& tell) {
  KeptRules(source, target, language, wishes, tell).run();
}

}  // namespace arvik::checking
