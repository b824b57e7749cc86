// Compiled without being linked: as it stands, and with DANGLING, where each function is a case in
// which the line marked "refused" would keep a reference to a temporary and must not compile. See
// tests/project/check_lifetimes.py.
#include <arvik/arvik.hpp>
#include <arvik/audio_clip.hpp>
#include <arvik/draw.hpp>
#include <arvik/script_player.hpp>

arvik::Steps make_steps();
arvik::Schedule make_schedule();
arvik::PreparedLine make_line();
arvik::MarkedText make_text();
arvik::Typesetter make_setter();
arvik::FontSet make_fonts();
struct MyFont : arvik::Font {
  arvik::FontMetrics metrics(float, std::uint16_t) const override { return {}; }
  bool steps_stand_alone() const override { return true; }
  void measure(const arvik::TextRun&, std::vector<float>&) const override {}
  void shape(const arvik::TextRun&, std::vector<arvik::ShapedGlyph>&) const override {}
};

#ifdef DANGLING

void reveal_of_temporary_steps(const arvik::Schedule& schedule) {
  const arvik::Reveal reveal(make_steps(), schedule);  // refused
}

void reveal_of_temporary_schedule(const arvik::Steps& steps) {
  const arvik::Reveal reveal(steps, make_schedule());  // refused
}

void reveal_of_temporary_line() {
  const arvik::Reveal reveal = make_line().reveal();  // refused
}

void walker_of_temporary_text() {
  const arvik::EdgeWalker walker(make_text());  // refused
}

void player_of_temporary_plan() {
  arvik::TypingPlayer player;
  player.begin(arvik::TypingPlan{});  // refused
}

void player_going_on_with_temporary_plan() {
  arvik::TypingPlayer player;
  player.replace(arvik::TypingPlan{}, {});  // refused
}

void conversation_of_temporary_font(arvik::Typesetter& setter) {
  arvik::Conversation talk(setter, arvik::GridFont{}, arvik::Box{});  // refused
}

void conversation_of_temporary_font_of_the_game(arvik::Typesetter& setter) {
  arvik::Conversation talk(setter, MyFont{}, arvik::Box{}, {});  // refused
}

void conversation_of_temporary_typesetter() {
  const arvik::GridFont font;
  arvik::Conversation talk(make_setter(), font, {});  // refused
}

void conversation_with_temporary_font_set(arvik::Typesetter& setter) {
  const arvik::GridFont font;
  arvik::Conversation talk(setter, font, arvik::Box{});
  (void)talk.set_font(MyFont{});  // refused
}

void stage_of_temporary_font(arvik::Typesetter& setter) {
  arvik::Stage stage(setter, MyFont{});  // refused
}

void script_player_of_temporary_font() {
  (void)arvik::ScriptPlayer::open(nullptr, MyFont{});  // refused
}

void player_of_temporary_plan_at_a_place() {
  arvik::TypingPlayer player;
  player.begin_at(arvik::TypingPlan{}, {}, {});  // refused
}

void locator_of_temporary_text() {
  arvik::TextLocator locator(std::string("text"));  // refused
}

void speaker_of_temporary_script() {
  const auto* speaker = arvik::Script{}.find_speaker("x");  // refused
}

void conversation_of_temporary_script() {
  const auto* found = arvik::Script{}.find_conversation("x");  // refused
}

void clip_of_temporary_bank() {
  const auto* clip = arvik::ClipBank{}.find("x");  // refused
}

#else

void done_right(arvik::Typesetter& setter, const arvik::Steps& steps,
                const arvik::Schedule& schedule) {
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
}

#endif
