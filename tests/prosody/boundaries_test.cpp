// One reading of a text: what stands behind each step, and that pauses, pages and the melody of
// typing sounds come from it alone. Where a reader rests in each language: tests/pacing/languages.
#include <catch2/catch.hpp>
#include <map>

#include "arvik/boundaries.hpp"
#include "arvik/layout.hpp"
#include "arvik/schedule.hpp"
#include "arvik/typing_sound.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

Language& language(const std::string& tag) {
  static std::map<std::string, Language> all;
  auto found = all.find(tag);
  if (found == all.end()) found = all.emplace(tag, Language::open(tag).value()).first;
  return found->second;
}

// The text with `<kind sentence>` behind its boundaries; blanks alone are left out.
std::string told(const std::string& text, const std::string& tag = "en",
                 const BoundaryOptions& options = {}) {
  const Steps steps = language(tag).segment(text);
  std::vector<Boundary> boundaries;
  read_boundaries(text, steps, language(tag), {}, options, boundaries);
  std::string result;
  auto next = boundaries.begin();
  for (std::uint32_t i = 0; i < steps.size(); ++i) {
    result += steps.text(text, i);
    if (next == boundaries.end() || next->step != i) continue;
    if (next->kind() != BoundaryKind::space) {
      result += '<' + std::string(boundary_name(next->kind()));
      if (next->sentence != SentenceKind::none) {
        result += ' ' + std::string(sentence_name(next->sentence));
      }
      result += '>';
    }
    ++next;
  }
  CHECK(next == boundaries.end());
  return result;
}

}  // namespace

TEST_CASE("sentences state, ask and exclaim, by the strongest of their marks") {
  const std::vector<std::pair<std::string, std::string>> cases{
      {"en",
       "The clock stopped.<sentence states> Why?<sentence asks> Nobody heard!<sentence exclaims>"},
      {"en",
       "What?!<sentence asks> No!?<sentence asks> Well…<ellipsis states> Really…?<ellipsis asks>"},
      {"en",
       "“Why?”<clause asks> he said.<sentence states> “Stop!”<clause> he said.<sentence states>"},
      {"en", "“Why?”,<clause asks> he said.<sentence states>"},
      {"en", "Wait,<clause> no —<dash> one,<clause> two.<sentence states>"},
      {"es", "¿Y tú?<sentence asks> ¡Vamos!<sentence exclaims>"},
      {"el", "Πού;<sentence asks> Εδώ.<sentence states>"},
      {"ar", "أين؟<sentence asks> هنا.<sentence states>"},
      {"ja", "本当？<sentence asks>はい。<sentence states>"},
      {"en", "Dr. Pell asked.<sentence states>"},
      {"de", "Z. B. am 4. Mai.<sentence states> Wirklich?<sentence asks>"}};
  for (const auto& [tag, expected] : cases) {
    std::string text;
    bool inside = false;
    for (const char c : expected) {
      inside = inside || c == '<';
      if (!inside) text += c;
      if (c == '>') inside = false;
    }
    CHECK(told(text, tag) == expected);
  }
}

TEST_CASE("what a pace adds counts in the reading") {
  const std::vector<std::string> own{"Kpr."};
  const std::vector<CharacterPause> notes{{"♪", 300ms}, {".", 0ms}};
  CHECK(told("The Kpr. Odrun.") == "The Kpr.<sentence states> Odrun.<sentence states>");
  CHECK(told("The Kpr. Odrun.", "en", {.abbreviations = own}) ==
        "The Kpr. Odrun.<sentence states>");
  CHECK(told("la ♪ la.", "en", {.characters = notes}) == "la ♪<character> la.<character>");
}

TEST_CASE("a pace whose commas do not rest reads the same sentences") {
  const std::string text = "“Who?” — “Only me, Odrun,” said Pell. And then, twice… — nothing.";
  const Steps steps = language("en").segment(text);
  const std::vector<Boundary> boundaries = read_boundaries(text, steps, language("en"));
  MarkedText marked = parse(text);
  const Pace still{.sentence = {}, .clause = {}, .dash = {}, .ellipsis = {}};
  const Pace only_dashes{.sentence = {}, .clause = {}, .dash = 200ms, .ellipsis = {}};
  for (const Pace& pace : {Pace{}, still, only_dashes}) {
    const Schedule given = schedule(marked, steps, language("en"), pace, RowStarts{}).value();
    Schedule from_boundaries;
    REQUIRE(schedule(marked, steps, language("en"), pace, from_boundaries, {}, &boundaries));
    CHECK(given.onsets == from_boundaries.onsets);
    for (const StepPause& pause : given.pauses) {
      const bool is_there = std::any_of(
          boundaries.begin(), boundaries.end(),
          [&](const Boundary& b) { return b.step == pause.step && b.has(pause.reason); });
      CHECK(is_there);
    }
  }
}

TEST_CASE("pages end where sentences do, and nowhere at an abbreviation") {
  // Both full stops lie in the last third of the page; only one ends a sentence.
  const std::string text = "It is a long way to the pier. See Mr. Odrun there and ask him for it";
  MarkedText marked = parse(text);
  const Steps steps = language("en").segment(text);
  const GridFont grid;
  const Box box{.width = 21, .max_rows = 2};
  const Layout layout = lay_out(marked, steps, language("en"), grid, box).value();
  REQUIRE(layout.pages.size() >= 2);
  CHECK(layout.pages[1].first_step == text.find("See"));
  // Other boundaries, other pages: the layout finds no sentence by itself.
  const std::vector<Boundary> none;
  const Layout without = lay_out(marked, steps, language("en"), grid, box, {}, &none).value();
  CHECK(without.pages[1].first_step != text.find("See"));
}

TEST_CASE("the melody of typing sounds follows the same sentences") {
  const std::string text = "Is it Mr. Odrun? It is he.";
  MarkedText marked = parse(text);
  const Steps steps = language("en").segment(text);
  const Schedule times = schedule(marked, steps, language("en"), Pace{}).value();
  const std::vector<TypingSound> sounds{
      {.name = "t", .samples = {"s"}, .question_pitch = 6, .statement_pitch = -3}};
  const TypingPlan plan = plan_typing(marked, steps, language("en"), times, sounds, "t").value();
  CHECK(plan.steps[text.find("n?")].pitch == 6);
  CHECK(plan.steps[text.find("Mr.")].pitch == 0);
  CHECK(plan.steps[text.find("e.")].pitch == -3);
  const std::vector<Boundary> none;
  const TypingPlan flat =
      plan_typing(marked, steps, language("en"), times, sounds, "t", {}, &none).value();
  for (const StepSound& step : flat.steps) CHECK(step.pitch == 0);
}

TEST_CASE("any text has its boundaries in order, each inside it") {
  test::Random random(61);
  for (int i = 0; i < 3000; ++i) {
    const std::string text = parse(test::random_markup(random, 12)).text;
    const Steps steps = language("en").segment(text);
    const std::vector<Boundary> boundaries = read_boundaries(text, steps, language("en"));
    for (std::size_t b = 0; b < boundaries.size(); ++b) {
      REQUIRE(boundaries[b].step < steps.size());
      REQUIRE(boundaries[b].kind() != BoundaryKind::none);
      if (b > 0) REQUIRE(boundaries[b].step > boundaries[b - 1].step);
    }
  }
}
