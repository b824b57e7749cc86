// Every tag of the table takes effect somewhere.

#include <catch2/catch.hpp>

#include "arvik/arvik.hpp"
#include "support/english.hpp"

using namespace arvik;
using test::english;

// Nothing that a writer or a pace can say is without effect.
TEST_CASE("each tag changes the schedule, the layout or the events") {
  const Vocabulary words{.styles = {{"dread", {.italic = true}}},
                         .value = [](std::string_view) { return "Odrun"; }};
  const auto fingerprint = [&](const std::string& markup) {
    const MarkedText marked = parse(markup, words);
    INFO(markup);
    REQUIRE(marked.diagnostics.empty());
    const Steps steps = english().segment(marked.text);
    const Layout layout = lay_out(marked, steps, english(), GridFont(), {.width = 12}).value();
    const Schedule timed = schedule(marked, steps, english(), {}, row_starts(layout)).value();
    std::string print = marked.text + '|';
    for (const Nanoseconds onset : timed.onsets) print += std::to_string(onset.count()) + ' ';
    for (const Event& event : timed.events) {
      print += event_kind_name(event.kind);
      print += event.name + std::to_string(event.time.count()) + ' ';
    }
    for (const Row& row : layout.rows) {
      print += std::to_string(row.first_step) + '/' + std::to_string(row.page) + ' ';
    }
    for (const std::string& icon : layout.icons) print += icon;
    for (const StyleRun& run : layout.styles) {
      const TextStyle& s = run.style;
      print += '{' + std::to_string(run.first_step) + (s.bold ? "b" : "") + (s.italic ? "i" : "") +
               (s.underline ? "u" : "") + (s.strike ? "s" : "") + std::to_string(s.size) +
               std::to_string(s.color.green) + std::to_string(static_cast<int>(s.entrance)) +
               (s.has_entrance ? "e" : "") + std::to_string(s.entrance_time.count()) + '}';
    }
    return print;
  };
  const auto differs = [&](const std::string& with, const std::string& without) {
    CHECK(fingerprint(with) != fingerprint(without));
  };
  for (const char* point : {"[pause 1s]", "[hold]", "[mark m]", "[sound s]", "[portrait p]",
                            "[icon key]", "[value keeper]", "[br]", "[page]"}) {
    differs(std::string("One, two") + point + " three four", "One, two three four");
  }
  for (const char* head : {"rate x2", "whole", "by word", "by row", "flow", "mark m", "typing reed",
                           "mute", "b", "i", "u", "s", "color teal", "size 90%", "style dread",
                           "enter fade 90ms", "enter cut", "keep"}) {
    differs("One, [" + std::string(head) + ": two, three four] five", "One, two, three four five");
  }
  differs("Er [lang de: sagt Hr. Pell] ja", "Er sagt Hr. Pell ja");
}
