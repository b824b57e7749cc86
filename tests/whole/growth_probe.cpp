// Does one kind of work on hostile input at two sizes, under callgrind, which counts instructions:
// tests/project/check_growth.py compares the counts. Instructions are the same on a busy machine.
//
// Usage: growth_probe, under valgrind --tool=callgrind.

#include <valgrind/callgrind.h>

#include <cstdio>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/check.hpp"
#include "arvik/conversation.hpp"
#include "arvik/font_set.hpp"
#include "arvik/pace_file.hpp"
#include "arvik/script_file.hpp"
#include "arvik/style_file.hpp"
#include "arvik/translation.hpp"
#include "arvik/typing_sound.hpp"
#include "support/fonts.hpp"

using namespace arvik;

namespace {

std::string repeated(std::string_view piece, std::size_t times) {
  std::string text;
  for (std::size_t i = 0; i < times; ++i) text += piece;
  return text;
}

void measure(const std::string& name, std::size_t size, const std::function<void()>& work) {
  CALLGRIND_ZERO_STATS;
  work();
  const std::string trigger = name + ":" + std::to_string(size);
  CALLGRIND_DUMP_STATS_AT(trigger.c_str());
}

struct Family {
  std::string name;
  std::size_t size;  // the larger one is four times as large
  std::function<void(std::size_t)> work;
};

const std::vector<std::string_view> text_pieces{"a-b ",
                                                ".",
                                                ". ",
                                                "...",
                                                "\"",
                                                "“",
                                                " ",
                                                "\n",
                                                "-",
                                                "— ",
                                                "(",
                                                ")",
                                                "a.",
                                                "A. ",
                                                "1.",
                                                "a",
                                                "水",
                                                "。",
                                                "e\u0301",
                                                "👩‍",
                                                "ب",
                                                "\u202e",
                                                "[",
                                                "]",
                                                "[[",
                                                "[b: ",
                                                "[b: x]",
                                                "[mark a]",
                                                "[hold]",
                                                "[page]",
                                                "[x]",
                                                "[value v]",
                                                "[style s: x]",
                                                "[lang ja: x]",
                                                "[icon i]",
                                                "[by word: a b]",
                                                "\xff"};

void prepare(Typesetter& setter, const std::string& text, const Font& font, const Box& box) {
  const Pace pace{.space = std::chrono::milliseconds(20), .jitter = 0.5};
  const auto line = setter.prepare(text, pace, font, box);
  if (!line) std::printf("refused: %s\n", line.error().message.c_str());
  if (!line) return;
  const std::vector<TypingSound> sounds{{.name = "t", .samples = {"s"}, .question_pitch = 1}};
  (void)plan_typing(line->marked, line->steps, setter.language(), line->schedule, sounds, "t");
}

std::string script_of(std::size_t conversations, std::size_t lines) {
  std::string json =
      "{\"arvik_script\": 1, \"cast\": {\"o\": {}}, \"conversations\": {\"first\": []";
  for (std::size_t c = 0; c < conversations; ++c) {
    json += ",\"c" + std::to_string(c) + "\": [";
    for (std::size_t i = 0; i < lines; ++i) {
      json += (i == 0 ? "" : ",");
      json += "{\"id\": \"" + std::to_string(c) + "-" + std::to_string(i) +
              "\", \"speaker\": \"o\", \"text\": \"x\"}";
    }
    json += "]";
  }
  return json + "}}";
}

std::string chain_of_paces(std::size_t count) {
  std::string json = "{\"arvik_paces\": 1, \"paces\": {\"p0\": {}";
  for (std::size_t i = 1; i < count; ++i) {
    json += ",\"p" + std::to_string(i) + "\": {\"based_on\": \"p" + std::to_string(i - 1) + "\"}";
  }
  return json + "}}";
}

std::string many_styles(std::size_t count) {
  std::string json = "{\"arvik_styles\": 1, \"styles\": {\"s\": [\"b\"]";
  for (std::size_t i = 0; i < count; ++i) json += ",\"s" + std::to_string(i) + "\": [\"i\"]";
  return json + "}}";
}

std::vector<Family> families() {
  static Typesetter setter(Language::open("en").value());
  setter.vocabulary().styles["s"] = {.bold = true};
  setter.vocabulary().value = [](std::string_view) { return std::string("value"); };
  static const GridFont grid;
  static const FontSet real = test::dejavu(20);
  std::vector<Family> list;
  for (std::size_t i = 0; i < text_pieces.size(); ++i) {
    const std::string_view piece = text_pieces[i];
    list.push_back(
        {"text " + std::to_string(i) + " " + std::string(piece), 240, [piece](std::size_t n) {
           prepare(setter, repeated(piece, n / piece.size()), grid, {.width = 40, .max_rows = 3});
         }});
  }
  list.push_back({"one long word", 400, [](std::size_t n) {
                    prepare(setter, std::string(n, 'x'), grid, {.width = 40, .max_rows = 3});
                  }});
  list.push_back({"one cluster, real font", 560, [](std::size_t n) {
                    prepare(setter, repeated("👩‍", n / 7) + "👧", real, {.width = 400});
                  }});
  list.push_back({"marks on one letter, real font", 100, [](std::size_t n) {
                    prepare(setter, "a" + repeated("\u0301", n), real, {.width = 400});
                  }});
  list.push_back({"words, real font", 400, [](std::size_t n) {
                    prepare(setter, repeated("tide ", n / 5), real, {.width = 400, .max_rows = 3});
                  }});
  list.push_back({"readings, real font", 20, [](std::size_t n) {
                    prepare(setter, repeated("[ruby abc: tide] ", n), real, {.width = 400});
                  }});
  list.push_back({"appended lines", 20, [](std::size_t n) {
                    Conversation talk(setter, grid, Box{.width = 40});
                    std::vector<DialogueLine> lines(n, {.text = "Some words. ", .append = true});
                    lines[0].append = false;
                    (void)talk.start(lines).has_value();
                    for (std::size_t i = 0; i < 2 * n; ++i) {
                      talk.tick(std::chrono::seconds(9), {.advance = i % 2 == 0});
                    }
                  }});
  list.push_back(
      {"conversations", 100, [](std::size_t n) { (void)parse_script(script_of(n, 0)); }});
  list.push_back({"lines", 30, [](std::size_t n) { (void)parse_script(script_of(1, n)); }});
  list.push_back(
      {"a chain of paces", 50, [](std::size_t n) { (void)parse_paces(chain_of_paces(n)); }});
  list.push_back({"named styles", 50, [](std::size_t n) { (void)parse_styles(many_styles(n)); }});
  list.push_back({"unknown names among many styles", 2, [](std::size_t n) {
                    Vocabulary many;
                    for (std::size_t i = 0; i < 900; ++i) many.styles["s" + std::to_string(i)] = {};
                    (void)parse(repeated("[style zzz: x]", n), many);
                  }});
  list.push_back({"unknown keys", 60, [](std::size_t n) {
                    std::string json = "{\"arvik_script\": 1";
                    for (std::size_t i = 0; i < n; ++i)
                      json += ",\"k" + std::to_string(i) + "\": 1";
                    (void)parse_script(json + "}");
                  }});
  list.push_back(
      {"brackets in JSON", 1000, [](std::size_t n) { (void)parse_script(std::string(n, '[')); }});
  list.push_back({"rows of a table", 40, [](std::size_t n) {
                    std::string csv = "key,en,de\n";
                    for (std::size_t i = 0; i < n; ++i) {
                      csv += "k" + std::to_string(i) + ",\"a, \"\"b\"\"\",\xFF\n";
                    }
                    std::vector<Diagnostic> warnings;
                    (void)parse_strings(csv, {}, &warnings);
                  }});
  list.push_back({"branches of a choice", 60, [](std::size_t n) {
                    std::string choice = "[plural v: ";
                    for (std::size_t i = 0; i < n; ++i) choice += "[=" + std::to_string(i) + ": x]";
                    prepare(setter, choice + "]", grid, {.width = 40});
                  }});
  list.push_back({"choices inside choices", 7, [](std::size_t n) {
                    prepare(setter, repeated("[select v: [other: ", n) + repeated("]]", n), grid,
                            {.width = 40});
                  }});
  list.push_back(
      {"tags of a text for translators", 100, [](std::size_t n) {
         Script script;
         script.conversations.push_back({"c", {{.id = "k", .text = repeated("[hold]a", n)}}});
         for (const TagForm form : {TagForm::elements, TagForm::placeholders}) {
           std::string xliff = write_xliff(script, "pl", form);
           xliff.insert(xliff.find("</source>") + 9, "<target>a<x id=\"7\"/></target>");
           (void)read_xliff(xliff, script, form);
         }
       }});
  // Large enough for more findings than are told: up to there each costs a look at its text.
  const auto checked = [](const std::string& en, const std::string& de) {
    const std::string json =
        R"({"arvik_script": 1, "strings": "s.csv", "conversations": {"a": [{"id": "k"}]}})";
    const std::string csv = "key,en,de\nk,\"" + en + "\",\"" + de + "\"\n";
    const auto script = parse_for_check(
        json,
        {.read = [&](const std::string&) -> tl::expected<std::string, Diagnostic> { return csv; }});
    (void)check(script, {.threads = 1}).has_value();
  };
  list.push_back({"a check of faults", 60, [checked](std::size_t n) {
                    checked(repeated("a ( 1  ", n), repeated("b ) 2\u200B «  ", n));
                  }});
  list.push_back({"a check of tags", 60, [checked](std::size_t n) {
                    checked(repeated("[mark a][value v] 3 ", n),
                            repeated("[lang de: x][hold][value w]  4 ", n));
                  }});
  list.push_back({"a check of texts", 20, [](std::size_t n) {
                    const auto script = parse_for_check(script_of(1, n));
                    (void)check(script, {.threads = 1}).has_value();
                  }});
  list.push_back({"a long list under long keys", 2000, [](std::size_t n) {
                    std::string json;
                    for (int i = 0; i < 30; ++i) json += "{\"" + std::string(n / 60, 'k') + "\": ";
                    json += "[" + repeated("1,", n / 4) + "1]" + std::string(30, '}');
                    (void)parse_script(json);
                  }});
  return list;
}

}  // namespace

int main() {
  for (const Family& family : families()) {
    family.work(family.size);  // what is loaded once is loaded now
    for (const std::size_t size : {family.size, 4 * family.size}) {
      measure(family.name, size, [&] { family.work(size); });
    }
  }
}
