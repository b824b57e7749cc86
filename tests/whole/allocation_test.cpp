// Promise 5: nothing on the heap per frame. The program's operator new counts.

#include <catch2/catch.hpp>
#include <cstring>

#include "arvik/conversation.hpp"
#include "arvik/typesetter.hpp"
#include "support/allocations.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {
const std::string counted_markup =
    "The tide clock [mark stops a=b: stopped] at [rate x0.5: a quarter past four].[hold] No wind… "
    "[whole: no water],[pause 300ms] and “yet” [mark ticking]it [i: ticks].";
}

TEST_CASE("the counter counts") {
  const std::size_t before = test::allocations();
  const std::string text(1000, 'x');
  CHECK(test::allocations() == before + 1);
}

TEST_CASE("ticks and queries allocate nothing, from the first to the last") {
  Typesetter typesetter(Language::open("en").value());
  const PreparedLine line =
      typesetter.prepare(counted_markup, {}, GridFont(), {.width = 30}).value();
  std::size_t events = 0;
  std::size_t sum = 0;
  const std::size_t before = test::allocations();
  Reveal reveal = line.reveal();
  reveal.set_speed(1100);
  while (reveal.state() != RevealState::finished) {
    const Progress progress = reveal.tick(16ms);
    for (const Event& event : progress.events) events += event.name.size() + 1;
    sum += reveal.shown_steps() + reveal.shown().bytes + reveal.shown().utf16_units;
    sum += static_cast<std::size_t>(reveal.position().count());
    if (reveal.state() == RevealState::holding) reveal.release_hold();
    reveal.pause();
    reveal.resume();
  }
  Reveal again = line.reveal();
  events += again.skip().events.size();
  const std::size_t after = test::allocations();
  CHECK(after == before);
  CHECK(events > 5);
  CHECK(sum > 0);
}

TEST_CASE("a conversation allocates nothing between lines") {
  Typesetter typesetter(Language::open("en").value());
  const GridFont font;
  const TypingSound sound{.name = "a name longer than any buffer is", .samples = {"knock"}};
  Conversation talk(typesetter, font, Box{.width = 30}, {.sounds = {sound}});
  DialogueLine line{
      .speaker = "somebody with a long name", .text = counted_markup, .typing = sound.name};
  line.text += "[portrait one-with-a-name-that-is-longer-than-any-buffer]";
  REQUIRE(talk.start({line, line}).has_value());
  talk.tick(0ms);  // the first line is prepared
  std::size_t events = 0;
  std::size_t heard = 0;
  float sum = 0;
  const std::size_t before = test::allocations();
  for (int i = 0; talk.state() != ConversationState::waiting; ++i) {
    const bool press = talk.state() == ConversationState::holding && i % 2 == 0;
    for (const ConversationEvent& event : talk.tick(16ms, {.advance = press})) {
      events += event.event != nullptr ? event.event->name.size() + 1 : event.portrait.size();
    }
    sum += static_cast<float>(talk.view().shown) + talk.view().phase;
    heard += talk.sounds().size();
  }
  const std::size_t after = test::allocations();
  CHECK(after == before);
  CHECK(events > 50);
  CHECK(heard > 20);
  CHECK(sum > 0);
}

TEST_CASE("preparing a line of a length that was prepared before takes nothing from the heap") {
  Typesetter typesetter(Language::open("en").value());
  const Pace pace;
  const Box box{.width = 20};
  const GridFont font;
  PreparedLine line;
  const auto cost = [&](const std::string& text) {
    const std::size_t before = test::allocations();
    REQUIRE(typesetter.prepare(text, pace, font, box, line).has_value());
    return test::allocations() - before;
  };
  for (const char* text :
       {"The tide clock stopped at a quarter past four, and nobody saw it go.",
        "“No,” she said. “Mr. Odrun keeps the ledger – all of it – himself.”",
        "Часы остановились в четверть пятого, и никто этого не видел. Никто?",
        "時計は四時十五分に止まった。日誌にはそう書いてある……「本当に」と言った。",
        "توقفت الساعة عند الرابعة والربع، ولم يرها أحد؟", "นาฬิกาหยุดเดินเมื่อสี่โมงสิบห้า ไม่มีใครเห็น",
        "घड़ी सवा चार बजे रुक गई, किसी ने नहीं देखा।", "A row\nof its own."}) {
    INFO(text);
    cost(text);
    cost(text);
    CHECK(cost(text) == 0);
  }
  // Tags are cut out of the text in memory of their own.
  const std::string tagged = "Some [i: slanted] and [b: bold], with [rate x2: haste].";
  cost(tagged);
  CHECK(cost(tagged) <= 4 * 3);
}

TEST_CASE("a tick that brings hundreds of events and sounds allocates nothing") {
  Typesetter typesetter(Language::open("en").value());
  const GridFont font;
  std::string many;
  for (int i = 0; i < 300; ++i) many += "[mark a]x[sound b]";
  Conversation talk(typesetter, font, Box{.width = 30},
                    {.sounds = {{.name = "k", .samples = {"k"}, .gap = 5ms}}});
  REQUIRE(talk.start({{.text = many, .pace = Pace{.rate = 100}, .typing = "k"}}).has_value());
  talk.tick(0ms);
  const std::size_t before = test::allocations();
  const std::size_t events = talk.tick(1h).size();
  const std::size_t sounds = talk.sounds().size();
  CHECK(test::allocations() == before);
  CHECK(events > 600);
  CHECK(sounds > 550);
}
