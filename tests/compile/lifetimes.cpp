// Compiled once for each case, without being linked; see tests/CMakeLists.txt.
#include <arvik/arvik.hpp>
#include <arvik/audio_clip.hpp>
#include <arvik/draw.hpp>
#include <arvik/script_player.hpp>

arvik::Steps make_steps();
arvik::Schedule make_schedule();
arvik::PreparedLine make_line();
arvik::MarkedText make_text();

arvik::FontSet make_fonts();
struct MyFont : arvik::Font {
  arvik::FontMetrics metrics(float, std::uint16_t) const override { return {}; }
  bool steps_stand_alone() const override { return true; }
  void measure(const arvik::TextRun&, std::vector<float>&) const override {}
  void shape(const arvik::TextRun&, std::vector<arvik::ShapedGlyph>&) const override {}
};

void use(arvik::Typesetter& setter) {
  const arvik::Steps steps = make_steps();
  const arvik::Schedule schedule = make_schedule();
#if defined(REVEAL_OF_TEMPORARY_STEPS)
  const arvik::Reveal reveal(make_steps(), schedule);
#elif defined(REVEAL_OF_TEMPORARY_SCHEDULE)
  const arvik::Reveal reveal(steps, make_schedule());
#elif defined(REVEAL_OF_TEMPORARY_LINE)
  const arvik::Reveal reveal = make_line().reveal();
#elif defined(WALKER_OF_TEMPORARY_TEXT)
  const arvik::EdgeWalker walker(make_text());
#elif defined(PLAYER_OF_TEMPORARY_PLAN)
  arvik::TypingPlayer player;
  player.begin(arvik::TypingPlan{});
#elif defined(PLAYER_GOING_ON_WITH_TEMPORARY_PLAN)
  arvik::TypingPlayer player;
  player.replace(arvik::TypingPlan{}, {});
#elif defined(CONVERSATION_OF_TEMPORARY_FONT)
  arvik::Conversation talk(setter, arvik::GridFont{}, arvik::Box{});
#elif defined(CONVERSATION_OF_TEMPORARY_FONT_OF_THE_GAME)
  arvik::Conversation talk(setter, MyFont{}, arvik::Box{}, {});
#elif defined(CONVERSATION_OF_TEMPORARY_TYPESETTER)
  const arvik::GridFont font;
  arvik::Conversation talk(arvik::Typesetter(arvik::Language::open("en").value()), font, {});
#elif defined(CONVERSATION_WITH_TEMPORARY_FONT_SET)
  const arvik::GridFont font;
  arvik::Conversation talk(setter, font, arvik::Box{});
  (void)talk.set_font(MyFont{});
#elif defined(STAGE_OF_TEMPORARY_FONT)
  arvik::Stage stage(setter, MyFont{});
#elif defined(SCRIPT_PLAYER_OF_TEMPORARY_FONT)
  (void)arvik::ScriptPlayer::open(nullptr, MyFont{});
#elif defined(PLAYER_OF_TEMPORARY_PLAN_AT_A_PLACE)
  arvik::TypingPlayer player;
  player.begin_at(arvik::TypingPlan{}, {}, {});
#elif defined(LOCATOR_OF_TEMPORARY_TEXT)
  arvik::TextLocator locator(std::string("text"));
#elif defined(SPEAKER_OF_TEMPORARY_SCRIPT)
  const auto* speaker = arvik::Script{}.find_speaker("x");
#elif defined(CONVERSATION_OF_TEMPORARY_SCRIPT)
  const auto* found = arvik::Script{}.find_conversation("x");
#elif defined(CLIP_OF_TEMPORARY_BANK)
  const auto* clip = arvik::ClipBank{}.find("x");
#elif defined(DONE_RIGHT)
  const arvik::PreparedLine line = make_line();
  const arvik::MarkedText text = make_text();
  const arvik::Reveal reveal(steps, schedule);
  const arvik::Reveal other = line.reveal();
  const arvik::EdgeWalker walker(text);
  const arvik::TypingPlan plan;
  arvik::TypingPlayer player;
  player.begin(plan);
  const MyFont font;
  arvik::Conversation talk(setter, font, arvik::Box{});
  (void)talk.set_font(font);
  (void)talk.retell(arvik::DialogueLines{}, setter);
  arvik::Stage stage(setter, font);
  (void)arvik::ScriptPlayer::open(nullptr, font);
  const std::string words = "text";
  arvik::TextLocator locator(words);
  const arvik::Script script;
  const auto* speaker = script.find_speaker("x");
  const arvik::ClipBank bank;
  const auto* clip = bank.find("x");
  const arvik::Painter painter(make_fonts());  // keeps the faces alive
  (void)speaker, (void)clip;
#endif
}
