// XLIFF 1.2 (OASIS Standard, 1 February 2008), as far as translation tools agree on it: one file, a
// group for each conversation, a trans-unit for each text; `g` and `x` for tags. What comes back is
// read by the ids of its elements alone: tools drop attributes, and translators move tags. Of tools
// that drop the elements, too, texts come back as markup, each tag in a `ph` (TagForm).
//
// Guarded by tests/script/translation_test.cpp and, with other programs,
// tests/project/check_xliff.py.

#include <algorithm>
#include <deque>
#include <map>
#include <pugixml.hpp>
#include <set>
#include <sstream>

#include "arvik/locale.hpp"
#include "arvik/translation.hpp"
#include "translation_tags.hpp"

namespace arvik {
namespace {

constexpr const char* xliff_namespace = "urn:oasis:names:tc:xliff:document:1.2";
constexpr std::string_view placeholder_type = "x-arvik-markup";
constexpr int max_depth = 130;  // of elements inside a text: choices have branches

using script::TextPart;

// XML 1.0 has no other control characters.
std::string printable(std::string_view text) {
  std::string out;
  out.reserve(text.size());
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    const bool good = byte >= 0x20 || c == '\t' || c == '\n' || c == '\r';
    out += good ? std::string(1, c) : std::string("\xEF\xBF\xBD");
  }
  return out;
}

void put_text(pugi::xml_node node, std::string_view text) {
  node.append_child(pugi::node_pcdata).set_value(printable(text).c_str());
}

// An element in a row of its own; rows inside texts would be text.
pugi::xml_node append_row(pugi::xml_node node, const char* name, int depth) {
  put_text(node, "\n" + std::string(static_cast<std::size_t>(2 * depth), ' '));
  return node.append_child(name);
}
void end_rows(pugi::xml_node node, int depth) {
  put_text(node, "\n" + std::string(static_cast<std::size_t>(2 * depth), ' '));
}

// The ids of a text's tags in the source, so that the same tags of its translation have the same.
class TagIds {
 public:
  void add(const std::string& head, std::size_t tag) { free_[head].push_back(tag); }

  std::string take(const std::string& head) {
    const auto found = free_.find(head);
    if (found == free_.end() || found->second.empty()) return "n" + std::to_string(++added_);
    const std::size_t tag = found->second.front();
    found->second.pop_front();
    return std::to_string(tag);
  }

 private:
  std::map<std::string, std::deque<std::size_t>> free_;
  std::size_t added_ = 0;
};

void put_parts(pugi::xml_node node, const std::vector<TextPart>& parts, TagIds& ids) {
  for (const TextPart& part : parts) {
    if (part.kind == MarkupPieceKind::text) {
      put_text(node, part.text);
    } else if (part.kind == MarkupPieceKind::close) {
      node = node.parent();
    } else {
      const bool point = part.kind == MarkupPieceKind::point;
      pugi::xml_node tag = node.append_child(point ? "x" : "g");
      tag.append_attribute("id") = ids.take(part.text).c_str();
      tag.append_attribute("equiv-text") = printable(part.text).c_str();
      if (!point) node = tag;
    }
  }
}

void put_placeholders(pugi::xml_node node, const std::vector<TextPart>& parts) {
  std::size_t id = 0;
  for (const TextPart& part : parts) {
    if (part.kind == MarkupPieceKind::text) {
      put_text(node, escape(part.text));
      continue;
    }
    pugi::xml_node tag = node.append_child("ph");
    tag.append_attribute("id") = std::to_string(++id).c_str();
    put_text(tag, part.text);
  }
}

void put_unit(pugi::xml_node group, const TranslationUnit& unit, Language& language,
              const Vocabulary& vocabulary, TagForm form) {
  const auto source =
      script::parts_of(script::with_branches_of(unit.source, language, vocabulary), vocabulary);
  TagIds ids;
  TagIds ids_of_target;
  for (const TextPart& part : source) {
    if (part.kind == MarkupPieceKind::text || part.kind == MarkupPieceKind::close) continue;
    ids.add(part.text, part.tag);
    ids_of_target.add(part.text, part.tag);
  }
  pugi::xml_node node = append_row(group, "trans-unit", 4);
  node.append_attribute("id") = printable(unit.key).c_str();
  node.append_attribute("resname") = printable(unit.key).c_str();
  if (unit.longest) {
    node.append_attribute("maxwidth") = *unit.longest;
    node.append_attribute("size-unit") = "char";
  }
  if (unit.state == TranslationState::done) node.append_attribute("approved") = "yes";
  node.append_attribute("xml:space") = "preserve";
  const auto put = [&](pugi::xml_node text, const std::vector<TextPart>& parts, TagIds& known) {
    form == TagForm::placeholders ? put_placeholders(text, parts) : put_parts(text, parts, known);
  };
  put(append_row(node, "source", 5), source, ids);
  if (unit.has_target) {
    pugi::xml_node target = append_row(node, "target", 5);
    target.append_attribute("state") =
        unit.state == TranslationState::done ? "translated" : "needs-review-translation";
    put(target, script::parts_of(unit.target, vocabulary), ids_of_target);
  }
  const auto note = [&](const std::string& text) { put_text(append_row(node, "note", 5), text); };
  if (!unit.speaker.empty()) note("speaker: " + unit.speaker);
  if (!unit.before.empty()) note("before: " + unit.before);
  for (const std::string& text : unit.notes) note(text);
  end_rows(node, 4);
}

class XliffReader {
 public:
  XliffReader(std::string_view xliff, const Script& script, TagForm form)
      : script_(script.original != nullptr ? *script.original : script),
        vocabulary_(script::any_vocabulary(script_)),
        form_(form),
        locator_(xliff) {
    // With white space, and with the document type, which is refused.
    const auto loaded = document_.load_buffer(
        xliff.data(), xliff.size(),
        pugi::parse_default | pugi::parse_ws_pcdata | pugi::parse_doctype, pugi::encoding_utf8);
    if (!loaded) {
      refuse(static_cast<std::size_t>(std::max<std::ptrdiff_t>(loaded.offset, 0)),
             std::string("not XML: ") + loaded.description());
    }
  }

  tl::expected<Translations, std::vector<Diagnostic>> run() {
    if (problems_.empty()) read_file();
    if (!problems_.empty()) return tl::unexpected(std::move(problems_));
    return std::move(out_);
  }

 private:
  void read_file() {
    for (const pugi::xml_node node : document_.children()) {
      if (node.type() == pugi::node_doctype) return refuse(node, "a document type is not allowed");
    }
    const pugi::xml_node root = document_.document_element();
    const std::string_view version = root.attribute("version").value();
    if (std::string_view(root.name()) != "xliff" || version != "1.2") {
      return refuse(root, "this is no XLIFF 1.2");
    }
    const pugi::xml_node file = root.child("file");
    if (!file) return refuse(root, "there is no file in it");
    const std::string_view from = file.attribute("source-language").value();
    if (canonical_locale(from) != canonical_locale(script_.source_locale)) {
      return refuse(file, "its texts are in the locale " + quoted_word(from) + ", not in " +
                              quoted_word(script_.source_locale) + " like the script's");
    }
    const auto to = canonical_locale(file.attribute("target-language").value());
    if (!to) {
      return refuse(file, quoted_word(file.attribute("target-language").value()) +
                              " is no locale to translate into");
    }
    if (std::string_view(file.attribute("datatype").value()) == placeholder_type) {
      form_ = TagForm::placeholders;
    }
    auto language = Language::open(*to);
    if (!language) return refuse(file, language.error().message);
    language_.emplace(std::move(*language));
    out_.locale = *to;
    for (const TranslationUnit& unit : translation_units(script_, *to)) {
      sources_.emplace(unit.key, unit.source);
    }
    // In the order of the document, without recursion.
    for (pugi::xml_node node = root.first_child(); node && problems_.empty();) {
      const bool is_unit = std::string_view(node.name()) == "trans-unit";
      if (is_unit) read_unit(node);
      pugi::xml_node next = is_unit ? pugi::xml_node() : node.first_child();
      while (!next && node && node != root) {
        next = node.next_sibling();
        if (!next) node = node.parent();
      }
      node = next;
    }
  }

  void read_unit(const pugi::xml_node& unit) {
    std::string key = unit.attribute("resname").value();
    if (key.empty()) key = unit.attribute("id").value();
    const pugi::xml_node target = unit.child("target");
    if (!target.first_child()) return;  // not translated yet
    if (key.empty()) return tell(unit, key, "this text has no id, and is left out");
    const auto found = sources_.find(key);
    std::string source;
    tags_.clear();
    if (found == sources_.end()) {
      tell(unit, key, "the script has no text of this key");
    } else {
      source = script::with_branches_of(found->second, *language_, vocabulary_);
      for (TextPart& part : script::parts_of(source, vocabulary_)) {
        const bool tag = part.kind == MarkupPieceKind::open || part.kind == MarkupPieceKind::point;
        if (tag) tags_.push_back(std::move(part));
      }
    }
    std::string old_source;
    quiet_ = true;
    used_.assign(tags_.size(), false);
    put(unit.child("source"), key, old_source, 0);
    quiet_ = false;
    used_.assign(tags_.size(), false);
    Translation translation{.key = key};
    put(target, key, translation.text, 0);
    if (form_ == TagForm::placeholders) match_tags(target, key, translation.text);
    const std::string lost = lost_tags();
    if (!lost.empty()) tell(target, key, "the translation has lost " + lost);
    const bool same = found != sources_.end() && old_source == source;
    translation.made_from = same ? fingerprint_of(found->second) : std::string(8, '0');
    out_.texts.push_back(std::move(translation));
  }

  // Which of the source's tags stand in a text of placeholders.
  void match_tags(const pugi::xml_node& target, const std::string& key, const std::string& text) {
    std::map<std::string_view, std::deque<std::size_t>> free;
    for (std::size_t i = 0; i < tags_.size(); ++i) free[tags_[i].text].push_back(i);
    for (const TextPart& part : script::parts_of(text, vocabulary_)) {
      if (part.kind != MarkupPieceKind::open && part.kind != MarkupPieceKind::point) continue;
      const auto found = free.find(part.text);
      if (found != free.end() && !found->second.empty()) {
        used_[found->second.front()] = true;
        found->second.pop_front();
      } else if (!is_reading(part.text) && (found == free.end() || !is_value(part.text))) {
        // A value may be said more often: other plural forms say the number, too.
        tell(target, key, "the translation has invented " + part.text);
      }
    }
  }

  static bool is_value(std::string_view tag) { return tag.starts_with("[value "); }
  // Readings are a matter of each language.
  static bool is_reading(std::string_view tag) { return tag.starts_with("[ruby "); }

  // What is not in the translation; but not every plural form says the number.
  [[nodiscard]] std::string lost_tags() const {
    std::set<std::string_view> said;
    for (std::size_t i = 0; i < tags_.size(); ++i) {
      if (used_[i] && is_value(tags_[i].text)) said.insert(tags_[i].text);
    }
    std::string lost;
    for (std::size_t i = 0; i < tags_.size(); ++i) {
      if (used_[i] || said.contains(tags_[i].text) || is_reading(tags_[i].text)) continue;
      lost += (lost.empty() ? "" : ", ") + tags_[i].text;
    }
    return lost;
  }

  // The content of an element as markup.
  void put(const pugi::xml_node& node, const std::string& key, std::string& out, int depth) {
    if (depth > max_depth) return refuse(node, "elements stand too deep inside each other");
    for (const pugi::xml_node child : node.children()) {
      const std::string_view name = child.name();
      if (child.type() == pugi::node_pcdata || child.type() == pugi::node_cdata) {
        out += form_ == TagForm::placeholders ? child.value() : escape(child.value());
      } else if (name == "g" || name == "x") {
        const std::string head = head_of(child, key, name == "g");
        out += head;
        put(child, key, out, depth + 1);
        if (name == "g" && !head.empty()) out += ']';
      } else if (child.type() == pugi::node_element) {  // a tool's own
        put(child, key, out, depth + 1);
      }
    }
  }

  // The tag that an element stands for; empty if there is none.
  std::string head_of(const pugi::xml_node& element, const std::string& key, bool span) {
    const std::string_view id = element.attribute("id").value();
    std::size_t number = 0;
    for (const char c : id) {
      const bool digit = c >= '0' && c <= '9' && number < 100'000;
      number = digit ? number * 10 + static_cast<std::size_t>(c - '0') : 1'000'000;
    }
    const auto kind = span ? MarkupPieceKind::open : MarkupPieceKind::point;
    const bool known = number > 0 && number <= tags_.size() && tags_[number - 1].kind == kind;
    if (known && !used_[number - 1]) {
      used_[number - 1] = true;
      return tags_[number - 1].text;
    }
    // One of the translation's own, or copied by the translator.
    std::string text = known ? tags_[number - 1].text : element.attribute("equiv-text").value();
    if (!is_tag(text, span)) {
      tell(element, key,
           "no tag belongs to the element " + quoted_word(id) + ", which is left out");
      return {};
    }
    if (!id.starts_with('n')) tell(element, key, "the translation has invented " + text);
    return text;
  }

  [[nodiscard]] bool is_tag(const std::string& text, bool span) const {
    const auto pieces = cut_markup(span ? text + "x]" : text, vocabulary_);
    if (!span) return pieces.size() == 1 && pieces[0].kind == MarkupPieceKind::point;
    // A branch is one only inside its choice.
    const auto branch = cut_markup("[select x: " + text + "x]]", vocabulary_);
    const auto spans = [&](const std::vector<MarkupPiece>& all, std::size_t first) {
      return all.size() == first * 2 + 3 && all[first].kind == MarkupPieceKind::open &&
             all[first].source.end - all[first].source.begin == text.size();
    };
    return spans(pieces, 0) || spans(branch, 1);
  }

  void tell(const pugi::xml_node& node, const std::string& key, std::string message) {
    if (quiet_ || out_.diagnostics.size() > max_diagnostics) return;
    if (out_.diagnostics.size() == max_diagnostics) {
      out_.diagnostics.push_back({.code = DiagnosticCode::too_many_diagnostics,
                                  .message = "there are more problems in this file"});
      return;
    }
    out_.diagnostics.push_back(
        problem(node, DiagnosticCode::changed_tags, quoted_word(key) + ": " + std::move(message)));
    out_.diagnostics.back().key = key;
    out_.diagnostics.back().locale = out_.locale;
  }

  void refuse(const pugi::xml_node& node, std::string message) {
    if (problems_.empty()) {
      problems_.push_back(problem(node, DiagnosticCode::bad_xliff, std::move(message)));
    }
  }
  void refuse(std::size_t offset, std::string message) {
    const auto place = locator_.locate(offset);
    problems_.push_back({.code = DiagnosticCode::bad_xliff,
                         .message = std::move(message),
                         .range = {offset, offset},
                         .row = place.row,
                         .column = place.column});
  }

  Diagnostic problem(const pugi::xml_node& node, DiagnosticCode code, std::string message) {
    const std::size_t offset =
        static_cast<std::size_t>(std::max<std::ptrdiff_t>(node.offset_debug(), 0));
    const auto place = locator_.locate(offset);
    return {.code = code,
            .message = std::move(message),
            .range = {offset, offset + std::string_view(node.name()).size()},
            .row = place.row,
            .column = place.column};
  }

  const Script& script_;
  Vocabulary vocabulary_;
  TagForm form_;
  TextLocator locator_;
  pugi::xml_document document_;
  std::optional<Language> language_;
  std::map<std::string, std::string> sources_;  // by key
  std::vector<TextPart> tags_;                  // of the text that is read
  std::vector<bool> used_;
  bool quiet_ = false;
  Translations out_;
  std::vector<Diagnostic> problems_;
};

}  // namespace

std::string write_xliff(const Script& script, std::string_view locale, TagForm form) {
  const Script& original = script.original != nullptr ? *script.original : script;
  const Vocabulary vocabulary = script::any_vocabulary(original);
  auto opened = Language::open(locale);
  Language language = opened ? std::move(*opened) : Language::open().value();
  pugi::xml_document document;
  pugi::xml_node root = document.append_child("xliff");
  root.append_attribute("version") = "1.2";
  root.append_attribute("xmlns") = xliff_namespace;
  pugi::xml_node file = append_row(root, "file", 1);
  file.append_attribute("original") = "script";
  file.append_attribute("source-language") = original.source_locale.c_str();
  file.append_attribute("target-language") = std::string(locale).c_str();
  file.append_attribute("datatype") =
      form == TagForm::placeholders ? placeholder_type.data() : "plaintext";
  pugi::xml_node body = append_row(file, "body", 2);
  pugi::xml_node group;
  std::string conversation;
  for (const TranslationUnit& unit : translation_units(original, locale)) {
    if (!group || unit.conversation != conversation) {
      conversation = unit.conversation;
      if (group) end_rows(group, 3);
      group = append_row(body, "group", 3);
      group.append_attribute("resname") =
          conversation.empty() ? "others" : printable(conversation).c_str();
    }
    put_unit(group, unit, language, vocabulary, form);
  }
  if (group) end_rows(group, 3);
  end_rows(body, 2);
  end_rows(file, 1);
  end_rows(root, 0);
  std::ostringstream out;
  document.save(out, "", pugi::format_raw | pugi::format_no_declaration, pugi::encoding_utf8);
  return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + out.str() + "\n";
}

tl::expected<Translations, std::vector<Diagnostic>> read_xliff(std::string_view xliff,
                                                               const Script& script, TagForm form) {
  return XliffReader(xliff, script, form).run();
}

}  // namespace arvik
