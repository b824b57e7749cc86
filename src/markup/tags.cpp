#include "tags.hpp"

#include <algorithm>
#include <array>
#include <charconv>

#include "choosing.hpp"
#include "colors.hpp"

namespace arvik::markup {
namespace {

using Result = tl::expected<Instruction, TagProblem>;
using Words = std::vector<std::string_view>;

enum class Shape : std::uint8_t { point, span, either };

struct TagRow {
  std::string_view name;
  Shape shape;
  std::size_t least_arguments;
  std::size_t most_arguments;
  std::string_view example;
  Result (*read)(const Words&, const TagContext&);
};

tl::unexpected<TagProblem> bad_argument(std::string_view word, std::string message) {
  return tl::unexpected(TagProblem{DiagnosticCode::bad_argument, std::move(message), word, {}});
}

tl::unexpected<TagProblem> not_one_of(std::string_view word, std::string_view what,
                                      const std::vector<std::string_view>& known) {
  std::string message = quoted_word(word) + " is not " + std::string(what) + ": ";
  for (const auto& name : known) {
    if (&name != &known.front()) message += &name == &known.back() ? " or " : ", ";
    message += name;
  }
  return tl::unexpected(TagProblem{DiagnosticCode::bad_argument, std::move(message), word,
                                   std::string(nearest_name(word, known))});
}

template <typename Tag>
Result bare(const Words&, const TagContext&) {
  return Tag{};
}

template <std::optional<bool> StyleChange::*member>
Result flag(const Words&, const TagContext&) {
  tag::Look look;
  look.change.*member = true;
  return look;
}

template <typename Tag>
Result named(const Words& words, const TagContext&) {
  return Tag{.name = std::string(words[0])};
}

Result read_pause(const Words& words, const TagContext&) {
  const auto time = parse_time(words[0]);
  if (!time) return bad_argument(words[0], time.error());
  return tag::Pause{*time};
}

Result read_at(const Words& words, const TagContext&) {
  const auto time = parse_time(words[0]);
  if (!time) return bad_argument(words[0], time.error());
  return tag::At{*time};
}

Result read_rate(const Words& words, const TagContext&) {
  const auto change = parse_rate_change(words[0]);
  if (!change) return bad_argument(words[0], change.error());
  return tag::Rate{*change};
}

Result read_by(const Words& words, const TagContext&) {
  if (words[0] == "word") return tag::By{RevealUnit::word};
  if (words[0] == "row") return tag::By{RevealUnit::row};
  return not_one_of(words[0], "a unit", {"word", "row"});
}

Result read_mark(const Words& words, const TagContext&) {
  tag::Mark mark{std::string(words[0]), {}};
  if (words[0].find('=') != std::string_view::npos) {
    return bad_argument(words[0], "a mark's name comes first and has no equals sign");
  }
  for (std::size_t i = 1; i < words.size(); ++i) {
    const std::size_t equals = words[i].find('=');
    if (equals == 0 || equals == std::string_view::npos) {
      return bad_argument(words[i], quoted_word(words[i]) + " is not of the form key=value");
    }
    mark.attributes.push_back(
        {std::string(words[i].substr(0, equals)), std::string(words[i].substr(equals + 1))});
  }
  return mark;
}

Result read_color(const Words& words, const TagContext&) {
  const auto color = parse_color(words[0]);
  if (!color) {
    return tl::unexpected(TagProblem{DiagnosticCode::bad_argument,
                                     quoted_word(words[0]) +
                                         " is not a colour: write #rrggbb, #rrggbbaa or a CSS "
                                         "colour name",
                                     words[0], std::string(nearest_color_name(words[0]))});
  }
  return tag::Look{.change = {.color = *color}};
}

Result read_size(const Words& words, const TagContext&) {
  constexpr double least = 10;
  constexpr double most = 1000;
  const auto value = parse_percent(words[0]);
  if (!value || *value < least || *value > most) {
    return bad_argument(words[0], quoted_word(words[0]) + " is not a size: write 10% to 1000%");
  }
  return tag::Look{.change = {.percent = *value}};
}

Result read_enter(const Words& words, const TagContext&) {
  struct Name {
    std::string_view name;
    Entrance how;
  };
  static constexpr std::array names{Name{"cut", Entrance::cut}, Name{"fade", Entrance::fade},
                                    Name{"wipe", Entrance::wipe}, Name{"rise", Entrance::rise}};
  const auto* found = std::find_if(names.begin(), names.end(),
                                   [&](const Name& entry) { return entry.name == words[0]; });
  if (found == names.end()) {
    return not_one_of(words[0], "an entrance", {"cut", "fade", "wipe", "rise"});
  }
  if (words.size() == 1) return tag::Look{.change = {.entrance = found->how}};
  const auto time = parse_time(words[1]);
  if (!time) return bad_argument(words[1], time.error());
  return tag::Look{.change = {.entrance = found->how, .entrance_time = *time}};
}

// BCP 47 (RFC 5646 §2.1), its outer form: subtags of one to eight letters and digits.
Result read_lang(const Words& words, const TagContext&) {
  std::size_t subtag = 0;
  bool good = true;
  for (const char c : words[0]) {
    const bool letter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
    const bool digit = c >= '0' && c <= '9';
    if (c == '-') {
      good = good && subtag > 0;
      subtag = 0;
    } else {
      good = good && (letter || digit) && ++subtag <= 8;
    }
  }
  if (!good || subtag == 0) {
    return bad_argument(
        words[0], quoted_word(words[0]) + " is not a language tag: write it like ja or pt-BR");
  }
  return tag::Lang{std::string(words[0])};
}

// Beyond so many, looking for the nearest at every slip would take longer than reading the text.
constexpr std::size_t most_names_to_guess_from = 1000;

Result read_style(const Words& words, const TagContext& context) {
  const auto found = context.vocabulary.styles.find(words[0]);
  if (found != context.vocabulary.styles.end()) return tag::Look{found->second, found->first};
  std::vector<std::string_view> names;
  if (context.vocabulary.styles.size() <= most_names_to_guess_from) {
    for (const auto& [name, _] : context.vocabulary.styles) names.push_back(name);
  }
  return tl::unexpected(TagProblem{DiagnosticCode::unknown_style,
                                   context.vocabulary.styles.empty()
                                       ? "no named styles are given here"
                                       : "no style is named " + quoted_word(words[0]),
                                   words[0], std::string(nearest_name(words[0], names))});
}

std::string written(TextValue value, Language* language) {
  if (auto* text = std::get_if<std::string>(&value)) return std::move(*text);
  return number_of(value, language)->text;
}

Result read_value(const Words& words, const TagContext& context) {
  const auto& value_of = context.vocabulary.value;
  if (!value_of) {
    return tl::unexpected(
        TagProblem{DiagnosticCode::unknown_value,
                   "no values are given here, so " + quoted_word(words[0]) + " has no text",
                   words[0],
                   {}});
  }
  auto value = value_of(words[0]);
  if (!value) {
    return tl::unexpected(TagProblem{
        DiagnosticCode::unknown_value, "no value is named " + quoted_word(words[0]), words[0], {}});
  }
  return tag::Value{std::string(words[0]), written(std::move(*value), context.language)};
}

// A reading may have blanks.
Result read_ruby(const Words& words, const TagContext&) {
  tag::Ruby ruby;
  for (const std::string_view word : words) {
    if (!ruby.reading.empty()) ruby.reading += ' ';
    ruby.reading += word;
  }
  return ruby;
}

constexpr std::size_t any_number = 64;

constexpr std::array table{
    TagRow{"b", Shape::span, 0, 0, "[b: text]", flag<&StyleChange::bold>},
    TagRow{"br", Shape::point, 0, 0, "[br]", bare<tag::RowEnd>},
    TagRow{"by", Shape::span, 1, 1, "[by word: text]", read_by},
    TagRow{"color", Shape::span, 1, 1, "[color teal: text]", read_color},
    TagRow{"enter", Shape::span, 1, 2, "[enter fade 200ms: text]", read_enter},
    TagRow{"flow", Shape::span, 0, 0, "[flow: text]", bare<tag::Flow>},
    TagRow{"hold", Shape::point, 0, 0, "[hold]", bare<tag::Hold>},
    TagRow{"i", Shape::span, 0, 0, "[i: text]", flag<&StyleChange::italic>},
    TagRow{"icon", Shape::point, 1, 1, "[icon NAME]", named<tag::Icon>},
    TagRow{"keep", Shape::span, 0, 0, "[keep: text]", bare<tag::Keep>},
    TagRow{"lang", Shape::span, 1, 1, "[lang ja: text]", read_lang},
    TagRow{"mark", Shape::either, 1, any_number, "[mark NAME]", read_mark},
    TagRow{"mute", Shape::span, 0, 0, "[mute: text]", bare<tag::Mute>},
    TagRow{"page", Shape::point, 0, 0, "[page]", bare<tag::PageEnd>},
    TagRow{"pause", Shape::point, 1, 1, "[pause 400ms]", read_pause},
    TagRow{"at", Shape::point, 1, 1, "[at 1.25s]", read_at},
    TagRow{"plural", Shape::span, 1, 1, "[plural NAME: [one: text][other: text]]",
           named<tag::Plural>},
    TagRow{"portrait", Shape::point, 1, 1, "[portrait NAME]", named<tag::Portrait>},
    TagRow{"rate", Shape::span, 1, 1, "[rate x0.5: text]", read_rate},
    TagRow{"ruby", Shape::span, 1, any_number, "[ruby READING: text]", read_ruby},
    TagRow{"s", Shape::span, 0, 0, "[s: text]", flag<&StyleChange::strike>},
    TagRow{"select", Shape::span, 1, 1, "[select NAME: [VALUE: text][other: text]]",
           named<tag::Select>},
    TagRow{"size", Shape::span, 1, 1, "[size 120%: text]", read_size},
    TagRow{"sound", Shape::point, 1, 1, "[sound NAME]", named<tag::Sound>},
    TagRow{"style", Shape::span, 1, 1, "[style NAME: text]", read_style},
    TagRow{"typing", Shape::span, 1, 1, "[typing NAME: text]", named<tag::Typing>},
    TagRow{"u", Shape::span, 0, 0, "[u: text]", flag<&StyleChange::underline>},
    TagRow{"value", Shape::point, 1, 1, "[value NAME]", read_value},
    TagRow{"whole", Shape::span, 0, 0, "[whole: text]", bare<tag::Whole>},
};

// What other names people try first.
struct OtherName {
  std::string_view name;
  std::string_view tag;
};
constexpr std::array other_names{
    OtherName{"bold", "b"},      OtherName{"italic", "i"},     OtherName{"underline", "u"},
    OtherName{"strike", "s"},    OtherName{"colour", "color"}, OtherName{"wait", "pause"},
    OtherName{"delay", "pause"}, OtherName{"speed", "rate"},   OtherName{"stop", "hold"},
    OtherName{"event", "mark"},  OtherName{"image", "icon"},   OtherName{"var", "value"}};

std::string_view nearest_tag(std::string_view name) {
  const auto* other = std::find_if(other_names.begin(), other_names.end(),
                                   [&](const OtherName& entry) { return entry.name == name; });
  if (other != other_names.end()) return other->tag;
  std::vector<std::string_view> names;
  names.reserve(table.size());
  for (const TagRow& row : table) names.push_back(row.name);
  return nearest_name(name, names);
}

}  // namespace

tl::expected<Instruction, TagProblem> read_tag(const TagHead& head, const TagContext& context) {
  const auto* row = std::find_if(table.begin(), table.end(),
                                 [&](const TagRow& entry) { return entry.name == head.name; });
  if (row == table.end()) {
    return tl::unexpected(TagProblem{DiagnosticCode::unknown_tag,
                                     "unknown tag " + quoted_word(head.name), head.name,
                                     std::string(nearest_tag(head.name))});
  }
  const std::string example = ": write it like " + std::string(row->example);
  const auto problem = [&](DiagnosticCode code, std::string_view where, const std::string& what) {
    return tl::unexpected(
        TagProblem{code, quoted_word(head.name) + " " + what + example, where, {}});
  };
  if (head.is_span && row->shape == Shape::point) {
    return problem(DiagnosticCode::not_a_span, head.name, "stands alone and takes no content");
  }
  if (!head.is_span && row->shape == Shape::span) {
    return problem(DiagnosticCode::not_a_point, head.name, "needs a colon and content");
  }
  if (head.arguments.size() < row->least_arguments) {
    return problem(DiagnosticCode::missing_argument, head.name, "needs an argument");
  }
  if (head.arguments.size() > row->most_arguments) {
    return problem(DiagnosticCode::extra_argument, head.arguments[row->most_arguments],
                   row->most_arguments == 0 ? "takes no argument" : "takes fewer arguments");
  }
  return row->read(head.arguments, context);
}

}  // namespace arvik::markup
