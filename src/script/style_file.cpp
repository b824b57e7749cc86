// A style's tags are read by the markup's own parser, so that a style can say what a tag can say,
// in the same words and with the same messages.

#include "arvik/style_file.hpp"

#include "arvik/style.hpp"
#include "fields.hpp"
#include "style_reader.hpp"

namespace arvik {
namespace script {
namespace {

void read_tag(const JsonValue& value, StyleChange& style, Problems& problems) {
  const std::string head = value.text();
  const MarkedText marked = parse("[" + head + ": x]");
  const bool one_tag = marked.spans.size() == 1 && marked.points.empty() && marked.text == "x";
  if (!marked.diagnostics.empty()) {
    problems.bad_value(value, marked.diagnostics[0].message, marked.diagnostics[0].hint);
    return;
  }
  const auto* look = one_tag ? std::get_if<tag::Look>(&marked.spans[0].what) : nullptr;
  if (look != nullptr) {
    apply(look->change, style);
  } else {
    problems.bad_value(value, quoted_word(head) +
                                  " is no tag about looks: a style takes b, i, u, s, color, "
                                  "size and enter");
  }
}

void read_tags(const JsonValue& tags, StyleChange& style, Problems& problems) {
  if (!tags.is_array()) {
    problems.bad_value(tags, "a style is a list of tags, like [\"i\", \"color teal\"]");
    return;
  }
  tags.each([&](const JsonValue& value) {
    if (value.is_string()) {
      read_tag(value, style, problems);
    } else {
      problems.bad_value(value, "a tag must be a string, like \"color teal\"");
    }
  });
}

}  // namespace

NamedStyles read_styles(const JsonValue& styles, Problems& problems) {
  NamedStyles read;
  read_named(styles, "styles must be an object: names with lists of tags", problems,
             [&](const std::string& name, const JsonValue& tags) {
               StyleChange change;
               read_tags(tags, change, problems);
               read.emplace(name, change);
             });
  return read;
}

}  // namespace script

tl::expected<NamedStyles, std::vector<Diagnostic>> parse_styles(std::string_view json) {
  using script::JsonValue;
  using script::Problems;
  return script::read_json<NamedStyles>(json, [](const JsonValue& root, Problems& problems) {
    NamedStyles styles;
    script::Fields fields(root, "a file of styles", problems);
    fields.version("arvik_styles", "a file of styles");
    if (const auto object = fields.value("styles")) {
      styles = script::read_styles(*object, problems);
    } else if (root.is_object()) {
      problems.bad_value(root, "\"styles\" is missing");
    }
    fields.finish();
    return styles;
  });
}

}  // namespace arvik
