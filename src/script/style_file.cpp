// A style's tags are read by the markup's own parser, so that a style can say what a tag can say,
// in the same words and with the same messages.

#include "arvik/style_file.hpp"

#include "fields.hpp"
#include "style_reader.hpp"

namespace arvik {
namespace script {
namespace {

using nlohmann::ordered_json;

// Takes a tag into the style; answers whether it is one about looks.
bool take(StyleChange& style, const Instruction& what) {
  if (std::holds_alternative<tag::Bold>(what)) {
    style.bold = true;
  } else if (std::holds_alternative<tag::Italic>(what)) {
    style.italic = true;
  } else if (std::holds_alternative<tag::Underline>(what)) {
    style.underline = true;
  } else if (std::holds_alternative<tag::Strike>(what)) {
    style.strike = true;
  } else if (const auto* color = std::get_if<tag::Color>(&what)) {
    style.color = color->color;
  } else if (const auto* size = std::get_if<tag::Size>(&what)) {
    style.percent = size->percent;
  } else if (const auto* enter = std::get_if<tag::Enter>(&what)) {
    style.entrance = enter->how;
    style.entrance_time = enter->time;
  } else {
    return false;
  }
  return true;
}

void read_tag(const std::string& head, const std::string& pointer, StyleChange& style,
              Problems& problems) {
  const MarkedText marked = parse("[" + head + ": x]");
  const bool one_tag = marked.spans.size() == 1 && marked.points.empty() && marked.text == "x";
  if (!marked.diagnostics.empty()) {
    problems.bad_value(pointer, marked.diagnostics[0].message, marked.diagnostics[0].hint);
  } else if (!one_tag || !take(style, marked.spans[0].what)) {
    problems.bad_value(pointer, quoted_word(head) +
                                    " is no tag about looks: a style takes b, i, u, s, color, "
                                    "size and enter");
  }
}

void read_tags(const ordered_json& tags, const std::string& pointer, StyleChange& style,
               Problems& problems) {
  if (!tags.is_array()) {
    problems.bad_value(pointer, "a style is a list of tags, like [\"i\", \"color teal\"]");
    return;
  }
  for (std::size_t i = 0; i < tags.size(); ++i) {
    if (tags[i].is_string()) {
      read_tag(tags[i].get<std::string>(), pointer_to(pointer, i), style, problems);
    } else {
      problems.bad_value(pointer_to(pointer, i), "a tag must be a string, like \"color teal\"");
    }
  }
}

}  // namespace

std::vector<NamedStyle> read_styles(const ordered_json& styles, const std::string& pointer,
                                    Problems& problems) {
  std::vector<NamedStyle> read;
  read_named(styles, pointer, "styles must be an object: names with lists of tags", problems,
             [&](const std::string& name, const ordered_json& tags, const std::string& place) {
               NamedStyle& style = read.emplace_back();
               style.name = name;
               read_tags(tags, place, style.change, problems);
             });
  return read;
}

}  // namespace script

tl::expected<std::vector<NamedStyle>, std::vector<Diagnostic>> parse_styles(std::string_view json) {
  const auto located = script::parse_located(json);
  if (!located) return tl::unexpected(std::vector<Diagnostic>{located.error()});
  script::Problems problems(json, *located);
  std::vector<NamedStyle> styles;
  script::Fields fields(located->root, "", "a file of styles", problems);
  fields.version("arvik_styles", "a file of styles");
  if (const auto* object = fields.value("styles")) {
    styles = script::read_styles(*object, "/styles", problems);
  } else if (located->root.is_object()) {
    problems.bad_value("", "\"styles\" is missing");
  }
  fields.finish();
  if (!problems.list().empty()) return tl::unexpected(std::move(problems.list()));
  return styles;
}

}  // namespace arvik
