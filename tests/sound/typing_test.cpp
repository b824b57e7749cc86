// Typing sounds: which, when, at what pitch; loops, voices, skips; against a plain model.

#include <catch2/catch.hpp>
#include <set>

#include "arvik/conversation.hpp"
#include "arvik/typesetter.hpp"
#include "arvik/typing_player.hpp"
#include "support/allocations.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

struct Voiced {
  PreparedLine line;
  TypingPlan plan;
};

Typesetter& typesetter() {
  static Typesetter only(Language::open("en").value());
  return only;
}

Voiced prepare(const std::string& markup, const std::vector<TypingSound>& sounds,
               const Pace& pace = {.rate = 10}) {
  Voiced voiced;
  voiced.line = typesetter().prepare(markup, pace, GridFont(), Box{}).value();
  voiced.plan = plan_typing(voiced.line.marked, voiced.line.steps, typesetter().language(),
                            voiced.line.schedule, sounds, sounds.empty() ? "" : sounds[0].name)
                    .value();
  return voiced;
}

TypingSound wood() { return {.name = "wood", .samples = {"a", "b", "c"}}; }

// Plays a line in frames of one length; holds are let go of at once.
std::vector<SoundEvent> play(const Voiced& voiced, Nanoseconds frame, std::int32_t speed = 1000,
                             Nanoseconds skip_at = max_duration) {
  std::vector<SoundEvent> sounds;
  TypingPlayer player;
  player.begin(voiced.plan);
  Reveal reveal = voiced.line.reveal();
  reveal.set_speed(speed);
  Nanoseconds now{};
  for (int tick = 0; tick < 200'000 && reveal.state() != RevealState::finished; ++tick) {
    const Reveal before = reveal;
    const Nanoseconds part = std::min(frame, skip_at - now);
    const Progress progress = part > 0ns || now < skip_at ? reveal.tick(part) : reveal.skip();
    player.follow(before, reveal, progress, now, sounds);
    now += std::max(part, 0ns);
    reveal.release_hold();
  }
  return sounds;
}

// The whole line in one tick, under a voice that ends at a time.
std::vector<SoundEvent> play_under_voice(const Voiced& voiced, Nanoseconds voice_end) {
  TypingPlayer player;
  player.begin(voiced.plan);
  player.set_voice_end(voice_end);
  Reveal reveal = voiced.line.reveal();
  const Reveal before = reveal;
  std::vector<SoundEvent> sounds;
  const Progress progress = reveal.tick(1s);
  player.follow(before, reveal, progress, 0ms, sounds);
  return sounds;
}

// "typing:b@0 cut@300", times in milliseconds.
std::string told(const std::vector<SoundEvent>& sounds) {
  std::string result;
  for (const SoundEvent& sound : sounds) {
    if (!result.empty()) result += ' ';
    result += sound_event_name(sound.kind);
    if (!sound.name.empty()) result += ":" + std::string(sound.name);
    result += "@" + std::to_string(sound.time / 1ms);
  }
  return result;
}

std::string samples_of(const std::vector<SoundEvent>& sounds) {
  std::string result;
  for (const SoundEvent& sound : sounds) result += sound.name;
  return result;
}

bool same(const std::vector<SoundEvent>& a, const std::vector<SoundEvent>& b) {
  return std::equal(
      a.begin(), a.end(), b.begin(), b.end(), [](const SoundEvent& x, const SoundEvent& y) {
        return x.kind == y.kind && x.time == y.time && x.name == y.name && x.step == y.step &&
               x.channel == y.channel && x.pitch == y.pitch && x.gain == y.gain;
      });
}

}  // namespace

TEST_CASE("letters sound where they appear; blanks and punctuation are silent") {
  const Voiced voiced = prepare("Go, now", {wood()}, {.rate = 10, .clause = 100ms});
  CHECK(told(play(voiced, 16ms)) ==
        "typing:a@0 typing:b@100 typing:c@500 typing:a@600 typing:b@700");
}

TEST_CASE("what is heard can be chosen") {
  TypingSound sound = wood();
  sound.heard = {.letters = false, .digits = true, .symbols = false, .punctuation = true};
  CHECK(play(prepare("a1, ♪", {sound}), 16ms).size() == 2);
  sound.heard = {.blanks = true};
  CHECK(play(prepare("a1, ♪", {sound}), 16ms).size() == 4);
}

TEST_CASE("every n-th heard step sounds") {
  TypingSound sound = wood();
  sound.every = 3;
  CHECK(told(play(prepare("ab cdefg", {sound}), 16ms)) == "typing:a@0 typing:b@400 typing:c@700");
}

TEST_CASE("a sound shuffles without playing the same twice in a row, and plays them all") {
  TypingSound sound = wood();
  sound.choice = SampleChoice::shuffle;
  const std::string samples = samples_of(play(prepare(std::string(300, 'x'), {sound}), 16ms));
  REQUIRE(samples.size() == 300);
  CHECK(std::adjacent_find(samples.begin(), samples.end()) == samples.end());
  for (const char sample : {'a', 'b', 'c'}) {
    CHECK(std::count(samples.begin(), samples.end(), sample) > 60);
  }
}

TEST_CASE("by letter, the same letter always sounds the same, in any script") {
  TypingSound sound{.name = "voice", .samples = {}, .choice = SampleChoice::by_letter};
  for (int i = 0; i < 12; ++i) sound.samples.push_back(std::to_string(i));
  sound.pitch = {-3, 3};
  const auto letters = [&](const std::string& text) {
    std::vector<std::pair<std::string, float>> result;
    const Voiced voiced = prepare(text, {sound});  // which the names point into
    for (const SoundEvent& event : play(voiced, 16ms)) {
      result.emplace_back(event.name, event.pitch);
    }
    return result;
  };
  const std::string text = GENERATE(as<std::string>(), "ab ba", "дя яд", "かさ さか", "سم مس");
  const auto heard = letters(text);
  REQUIRE(heard.size() == 4);
  CHECK(heard[0] == heard[3]);
  CHECK(heard[1] == heard[2]);
  CHECK(heard[0].second != heard[1].second);
  // Case and marks make no other letter, however they are written.
  CHECK(letters("é")[0] == letters("E")[0]);
  CHECK(letters("e\u0301")[0] == letters("é")[0]);
  CHECK(letters("Я")[0] == letters("я")[0]);
}

TEST_CASE("letters are spread over the samples") {
  TypingSound sound{.name = "voice", .samples = {"a", "b", "c"}, .choice = SampleChoice::by_letter};
  std::set<std::string_view> used;
  const Voiced voiced = prepare("abcdefghijklmnopqrstuvwxyz", {sound});
  for (const SoundEvent& event : play(voiced, 16ms)) used.insert(event.name);
  CHECK(used.size() == 3);
}

TEST_CASE("pitch and gain lie in their ranges and come from the seed and the step") {
  TypingSound sound = wood();
  sound.pitch = {-2, 5};
  sound.gain = {-6, -3};
  const Voiced voiced = prepare(std::string(200, 'x'), {sound});
  const auto sounds = play(voiced, 16ms);
  REQUIRE(sounds.size() == 200);
  const auto by_pitch = [](const SoundEvent& a, const SoundEvent& b) { return a.pitch < b.pitch; };
  const auto [low, high] = std::minmax_element(sounds.begin(), sounds.end(), by_pitch);
  CHECK(low->pitch >= -2);
  CHECK(low->pitch < -1.5);
  CHECK(high->pitch <= 5);
  CHECK(high->pitch > 4.5);
  for (const SoundEvent& event : sounds) CHECK((event.gain >= -6 && event.gain <= -3));
  CHECK(same(sounds, play(prepare(std::string(200, 'x'), {sound}), 16ms)));
  sound.seed = 1;
  CHECK_FALSE(same(sounds, play(prepare(std::string(200, 'x'), {sound}), 16ms)));
}

TEST_CASE("questions rise and statements fall, over their last steps") {
  TypingSound sound = wood();
  sound.question_pitch = 6;
  sound.statement_pitch = -3;
  const auto pitches = [&](const std::string& text) {
    std::vector<float> result;
    for (const SoundEvent& event : play(prepare(text, {sound}), 16ms)) {
      result.push_back(event.pitch);
    }
    return result;
  };
  CHECK(pitches("Are you there?") == std::vector<float>{0, 0, 0, 0, 0, 1, 2, 3, 4, 5, 6});
  CHECK(pitches("Yes. No?") == std::vector<float>{-2, -2.5, -3, 5, 6});
  CHECK(pitches("“Why?!” he") == std::vector<float>{4, 5, 6, 0, 0});
  CHECK(pitches("3.14, Mr. X") == std::vector<float>(6, 0));
  CHECK(pitches("なぜ？") == std::vector<float>{5, 6});
  CHECK(pitches("لماذا؟").back() == 6);
  sound.question_pitch = sound.statement_pitch = 0;
  CHECK(pitches("Why?") == std::vector<float>{0, 0, 0});
}

TEST_CASE("tags change the sound and mute it, and so does a name that is not there") {
  const TypingSound reed{.name = "reed", .samples = {"r"}};
  const Voiced voiced =
      prepare("a[typing reed: b[mute: c]d]e[sound thud][typing rede: f]g", {wood(), reed});
  CHECK(told(play(voiced, 16ms)) ==
        "typing:a@0 typing:r@100 typing:r@300 typing:a@400 clip:thud@500 typing:b@600");
  REQUIRE(voiced.plan.diagnostics.size() == 1);
  CHECK(voiced.plan.diagnostics[0].code == DiagnosticCode::unknown_sound);
  CHECK(voiced.plan.diagnostics[0].hint == "reed");
  CHECK(play(prepare("abc", {}), 16ms).empty());
}

TEST_CASE("what rings at the end is cut where the sound says so") {
  TypingSound sound = wood();
  sound.ending = SoundEnding::cut;
  sound.fade = 20ms;
  const Voiced voiced = prepare("ab", {sound});
  const auto sounds = play(voiced, 16ms);
  CHECK(told(sounds) == "typing:a@0 typing:b@100 cut@100");
  CHECK(sounds.back().fade == 20ms);
  CHECK(told(play(voiced, 16ms, 1000, 50ms)) == "typing:a@0 cut@50");
  sound.ending = SoundEnding::ring;
  CHECK(told(play(prepare("ab", {sound}), 16ms, 1000, 50ms)) == "typing:a@0");
}

TEST_CASE("each sound that rings is cut or rings on as it says itself") {
  TypingSound sound = wood();
  sound.ending = SoundEnding::cut;
  const TypingSound bell{.name = "bell", .samples = {"B"}};
  TypingSound reed{.name = "reed", .samples = {"r"}, .ending = SoundEnding::cut};
  reed.fade = 30ms;
  const Voiced voiced = prepare("a[typing reed: b][typing bell: c]", {sound, bell, reed});
  const auto sounds = play(voiced, 16ms);
  REQUIRE(told(sounds) == "typing:a@0 typing:r@100 typing:B@200 cut@200 cut@200");
  CHECK(sounds[3].sound == 0);
  CHECK(sounds[4].sound == 2);
  CHECK(sounds[4].fade == 30ms);
}

TEST_CASE("a loop runs while characters appear and rests in pauses and holds") {
  const TypingSound motor{.name = "motor", .samples = {"hum"}, .gap = 50ms, .loop = true};
  const Voiced voiced = prepare("ab[pause 300ms]c d[hold]ef[mute: g]h", {motor});
  CHECK(told(play(voiced, 16ms)) ==
        "loop_begin:hum@0 loop_end@200 loop_begin:hum@500 loop_end@800 loop_begin:hum@800 "
        "loop_end@1000");
  SECTION("a rest too short to be heard is none") {
    // At ten times the speed, 300 ms are 30.
    CHECK(told(play(voiced, 1ms, 10'000)) ==
          "loop_begin:hum@0 loop_end@80 loop_begin:hum@80 loop_end@100");
  }
  SECTION("a skip ends it") {
    CHECK(told(play(voiced, 16ms, 1000, 50ms)) == "loop_begin:hum@0 loop_end@50");
  }
  SECTION("a pause ends it, and it goes on") {
    TypingPlayer player;
    player.begin(voiced.plan);
    Reveal reveal = voiced.line.reveal();
    std::vector<SoundEvent> sounds;
    for (const int tick : {0, 1, 2, 3}) {
      if (tick == 1) reveal.pause();
      if (tick == 3) reveal.resume();
      const Reveal before = reveal;
      const Progress progress = reveal.tick(40ms);
      player.follow(before, reveal, progress, tick * 40ms, sounds);
    }
    CHECK(told(sounds) == "loop_begin:hum@0 loop_end@40 loop_begin:hum@120");
  }
}

TEST_CASE("a loop that something else has ended does not sound through a hold") {
  const TypingSound motor{.name = "motor", .samples = {"hum"}, .gap = 500ms, .loop = true};
  const Voiced voiced = prepare("Wait[mute: .][hold] Go", {motor});
  TypingPlayer player;
  player.begin(voiced.plan);
  Reveal reveal = voiced.line.reveal();
  std::vector<SoundEvent> sounds;
  for (Nanoseconds now{}; now < 10s; now += 16ms) {
    const Reveal before = reveal;
    const Progress progress = reveal.tick(16ms);
    player.follow(before, reveal, progress, now, sounds);
  }
  REQUIRE(reveal.state() == RevealState::holding);
  CHECK(told(sounds) == "loop_begin:hum@0 loop_end@400");
}

TEST_CASE("a voice that ends in a bridged rest brings the loop up then, however time is cut") {
  const TypingSound motor{
      .name = "motor", .samples = {"hum"}, .gap = 500ms, .loop = true, .under_voice = -12};
  const Voiced voiced = prepare("ab[pause 300ms]cd[sound thud]ef", {motor});
  for (const Nanoseconds frame : {Nanoseconds(1ms), Nanoseconds(7ms), Nanoseconds(5s)}) {
    TypingPlayer player;
    player.begin(voiced.plan);
    player.set_voice_end(310ms);
    Reveal reveal = voiced.line.reveal();
    std::vector<SoundEvent> sounds;
    Nanoseconds now{};
    while (reveal.state() != RevealState::finished) {
      const Reveal before = reveal;
      const Progress progress = reveal.tick(frame);
      player.follow(before, reveal, progress, now, sounds);
      now += frame;
    }
    CHECK(told(sounds) == "loop_begin:hum@0 loop_gain@310 clip:thud@700 loop_end@800");
    CHECK(std::is_sorted(sounds.begin(), sounds.end(),
                         [](const auto& a, const auto& b) { return a.time < b.time; }));
  }
}

TEST_CASE("channels take turns, as many as may sound at once, and sounds stand at their side") {
  TypingSound sound = wood();
  sound.voices = 3;
  sound.pan = -0.5;
  std::string channels;
  const Voiced voiced = prepare("abcde", {sound});
  for (const SoundEvent& event : play(voiced, 16ms)) {
    channels += std::to_string(event.channel);
    CHECK(event.pan == -0.5F);
  }
  CHECK(channels == "01201");
}

TEST_CASE("a loop under a voice that silences it comes up when the voice ends") {
  const TypingSound motor{
      .name = "motor", .samples = {"hum"}, .gain = {-6, -6}, .loop = true, .under_voice = silence};
  const Voiced voiced = prepare("abcd", {motor});  // which the names of the sounds point into
  const std::vector<SoundEvent> sounds = play_under_voice(voiced, 150ms);
  REQUIRE(told(sounds) == "loop_begin:hum@0 loop_gain@150 loop_end@300");
  CHECK(sounds[0].gain == static_cast<float>(silence));
  CHECK(sounds[1].gain == -6);
}

TEST_CASE("a voice lowers typing sounds or silences them") {
  TypingSound sound = wood();
  sound.under_voice = -12;
  const auto gains = [](const TypingSound& typing) {
    const Voiced voiced = prepare("abcd", {typing});
    std::vector<float> result;
    for (const SoundEvent& event : play_under_voice(voiced, 150ms)) result.push_back(event.gain);
    return result;
  };
  CHECK(gains(sound) == std::vector<float>{-12, -12, 0, 0});
  sound.under_voice = silence;
  CHECK(gains(sound) == std::vector<float>{0, 0});
  TypingSound motor{.name = "motor", .samples = {"hum"}, .loop = true, .under_voice = -12};
  CHECK(gains(motor) == std::vector<float>{-12, 0, 0});  // begin, gain, end
}

TEST_CASE("the gap holds in heard time, at any speed, between lines, and thins words out") {
  const Voiced voiced = prepare("abcdefghij[by word: two words]", {wood()});
  const auto sounds = play(voiced, 7ms, 10'000);
  REQUIRE(sounds.size() == 3);
  for (std::size_t i = 1; i < sounds.size(); ++i) {
    CHECK(sounds[i].time - sounds[i - 1].time >= 45ms);
  }
  CHECK(told(sounds).starts_with("typing:a@0 typing:b@50 typing:c@100"));

  TypingPlayer player;
  std::vector<SoundEvent> two_lines;
  for (const Nanoseconds begin : {0ms, 1030ms, 2060ms}) {
    player.begin(voiced.plan);
    Reveal reveal = voiced.line.reveal();
    const Reveal before = reveal;
    const Progress progress = reveal.tick(1000ms);
    player.follow(before, reveal, progress, begin, two_lines);
  }
  for (std::size_t i = 1; i < two_lines.size(); ++i) {
    CHECK(two_lines[i].time - two_lines[i - 1].time >= 45ms);
  }
  CHECK(player.swallowed() > 0);
}

TEST_CASE("random lines: any frames give the same sounds; gaps hold; skips are silent") {
  test::Random random(20261123);
  for (int trial = 0; trial < 300; ++trial) {
    TypingSound sound = wood();
    sound.choice = static_cast<SampleChoice>(test::below(random, 3));
    sound.every = 1 + static_cast<std::uint32_t>(test::below(random, 3));
    sound.gap = Nanoseconds(5'000'000 + static_cast<std::int64_t>(test::below(random, 90'000'000)));
    sound.pitch = {-3, 3};
    sound.loop = test::below(random, 4) == 0;
    if (sound.loop) sound.samples.resize(1);
    if (test::below(random, 2) == 0) sound.ending = SoundEnding::cut;
    const TypingSound other{.name = "name", .samples = {"r"}, .loop = trial % 3 == 0};
    const std::string markup = test::random_markup(random, 25);
    const Voiced voiced = prepare(markup, {sound, other}, {.rate = 40, .jitter = 0.5});
    const auto speed = static_cast<std::int32_t>(200 + test::below(random, 12'000));
    const Nanoseconds end = voiced.line.schedule.duration * 1000 / speed;
    const Nanoseconds skip_at = test::below(random, 2) == 0
                                    ? max_duration
                                    : Nanoseconds(static_cast<std::int64_t>(test::below(
                                          random, static_cast<std::uint64_t>(end.count()) + 2)));
    INFO(markup << "\nspeed " << speed << " skip " << skip_at.count());
    // Holds are let go of at the ends of frames, so they would differ.
    const bool holds =
        std::any_of(voiced.line.schedule.events.begin(), voiced.line.schedule.events.end(),
                    [](const Event& event) { return event.kind == EventKind::hold; });
    const auto sounds = play(voiced, 16ms, speed, skip_at);
    if (!holds) {
      CHECK(same(sounds, play(voiced, 1ms, speed, skip_at)));
      CHECK(same(sounds, play(voiced, max_duration, speed, skip_at)));
    }
    Nanoseconds last_start = -10s;
    Nanoseconds last{};
    bool loop = false;
    for (const SoundEvent& event : sounds) {
      CHECK(event.time >= last);
      last = event.time;
      if (event.kind == SoundEventKind::loop_begin || event.kind == SoundEventKind::loop_end) {
        CHECK(loop == (event.kind == SoundEventKind::loop_end));
        loop = !loop;
      }
      if (event.kind != SoundEventKind::typing) continue;
      CHECK(event.time - last_start >= (event.sound == 0 ? sound : other).gap);
      last_start = event.time;
      if (holds) continue;
      CHECK(event.time < skip_at);
      // When the reveal comes to the onset, rounded up to what a clock can tell.
      const std::int64_t onset = voiced.line.schedule.onsets[event.step].count();
      CHECK(event.time.count() == (onset * 1000 + speed - 1) / speed);
    }
    CHECK_FALSE(loop);
  }
}

TEST_CASE("following a reveal allocates nothing") {
  const TypingSound motor{.name = "motor", .samples = {"hum"}, .loop = true};
  const Voiced voiced = prepare(
      "The tide [typing motor: clock[pause 90ms] stopped] at [sound thud]four.", {wood(), motor});
  std::vector<SoundEvent> sounds;
  sounds.reserve(8);
  std::size_t count = 0;
  const std::size_t before = test::allocations();
  TypingPlayer player;
  player.begin(voiced.plan);
  Reveal reveal = voiced.line.reveal();
  for (Nanoseconds now{}; reveal.state() != RevealState::finished; now += 16ms) {
    sounds.clear();
    const Reveal at = reveal;
    const Progress progress = reveal.tick(16ms);
    player.follow(at, reveal, progress, now, sounds);
    count += sounds.size();
  }
  CHECK(test::allocations() == before);
  CHECK(count > 15);
}

TEST_CASE("values out of range are refused with a reason") {
  const auto problem = [](auto change) {
    TypingSound sound = wood();
    change(sound);
    const auto found = find_problem(sound);
    const MarkedText nothing;
    const auto plan = plan_typing(nothing, Steps{}, typesetter().language(), Schedule{},
                                  std::vector{sound}, "wood");
    CHECK(plan.has_value() == !found);
    return found ? found->message : "";
  };
  CHECK(problem([](TypingSound&) {}).empty());
  CHECK(problem([](TypingSound& s) { s.samples.clear(); }) ==
        "\"wood\": no samples: a typing sound needs at least one");
  CHECK(problem([](TypingSound& s) { s.gap = 0ns; }) ==
        "\"wood\": gap is out of range: it must be 5ms to 10s, or sounds run into a buzz");
  CHECK(problem([](TypingSound& s) {
          s.pitch = {2, -2};
        }) ==
        "\"wood\": the range of the pitch is the wrong way round: the lower value comes first");
  CHECK(problem([](TypingSound& s) {
          s.gain = {0, -1};
        }).find("wrong way round") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.pitch.high = 49; }).find("pitch") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.gain.low = -silence; }).find("gain") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.every = 0; }).find("every") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.fade = 0ns; }).find("clicks") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.voices = 17; }).find("voices") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.pan = 1.5; }).find("pan") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.loop = true; }).find("one sample") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.under_voice = 3; }).find("voice") != std::string::npos);
  CHECK(problem([](TypingSound& s) { s.question_pitch = std::nan(""); }).find("question") !=
        std::string::npos);
}

TEST_CASE("more sounds than a line may choose from are refused") {
  const std::vector<TypingSound> many(max_typing_sounds + 1, wood());
  const auto plan = [&](std::size_t count) {
    return plan_typing({}, Steps{}, typesetter().language(), Schedule{},
                       std::span(many).first(count), "wood");
  };
  CHECK(plan(max_typing_sounds).has_value());
  REQUIRE_FALSE(plan(max_typing_sounds + 1).has_value());
  CHECK(plan(max_typing_sounds + 1).error().message ==
        "more than 1000 typing sounds to choose from");
}

TEST_CASE("a conversation is heard: speakers, voices, skips and leaving") {
  const GridFont font;
  ConversationSettings settings{.sounds = {wood(), {.name = "reed", .samples = {"r"}}}};
  settings.voice_length = [](std::string_view voice) { return voice == "hello" ? 150ms : 0ms; };
  Conversation talk(typesetter(), font, Box{.width = 30}, settings);
  const std::vector<DialogueLine> lines{
      {.text = "abc", .pace = Pace{.rate = 10}, .typing = "wood", .voice = "hello"},
      {.text = "de[sound thud]f", .pace = Pace{.rate = 10}, .typing = "reed"}};
  REQUIRE(talk.start(lines).has_value());
  std::string heard;
  std::vector<float> gains;
  for (int tick = 0; tick < 60; ++tick) {
    // Goes on at 320 ms, skips at 480 ms.
    const bool pressed = tick == 20 || tick == 30;
    talk.tick(16ms, {.advance = pressed});
    const auto sounds = talk.sounds();
    heard += told({sounds.begin(), sounds.end()});
    if (!sounds.empty()) heard += ' ';
    for (const SoundEvent& sound : sounds) {
      if (sound.kind == SoundEventKind::typing) gains.push_back(sound.gain);
    }
  }
  CHECK(gains == std::vector<float>{-9, -9, 0, 0, 0});  // the voice lasts 150 ms
  CHECK(heard ==
        "voice_begin:hello@0 typing:a@0 typing:b@100 typing:c@200 voice_end:hello@320 "
        "typing:r@320 typing:r@420 clip:thud@480 ");
  SECTION("its sounds are the same however time is cut") {
    std::vector<std::string> logs;
    for (const Nanoseconds frame : {1ms, 16ms, 80ms}) {
      Conversation again(typesetter(), font, Box{.width = 30}, settings);
      ConversationSettings by_itself = again.settings();
      by_itself.play_by_itself = true;
      REQUIRE(again.set_settings(by_itself).has_value());
      REQUIRE(again.start(lines).has_value());
      std::string& log = logs.emplace_back();
      while (again.state() != ConversationState::closed) {
        again.tick(frame);
        const auto sounds = again.sounds();
        if (!sounds.empty()) log += told({sounds.begin(), sounds.end()}) + ' ';
      }
    }
    CHECK(logs[0] == logs[1]);
    CHECK(logs[0] == logs[2]);
    CHECK(logs[0].find("typing:r@1200") != std::string::npos);
  }
  SECTION("stop() ends what sounds") {
    talk.stop();
    REQUIRE(talk.start(lines).has_value());
    talk.tick(10ms);
    talk.stop();
    const auto sounds = talk.sounds();
    CHECK(told({sounds.begin(), sounds.end()}) == "voice_end:hello@10");
  }
  SECTION("a bad sound is told when it is set") {
    ConversationSettings wrong = talk.settings();
    wrong.sounds[0].gap = 0ns;
    CHECK(talk.set_settings(wrong).error().code == DiagnosticCode::bad_sound);
  }
}

TEST_CASE("another box in the middle of a line neither doubles nor loses a loop") {
  const GridFont font;
  ConversationSettings settings{.sounds = {{.name = "motor", .samples = {"hum"}, .loop = true}}};
  Conversation talk(typesetter(), font, Box{.width = 30}, settings);
  REQUIRE(
      talk.start(
              {{.text = "Water, water everywhere.", .pace = Pace{.rate = 10}, .typing = "motor"}})
          .has_value());
  std::string heard;
  for (int tick = 0; tick < 40; ++tick) {
    if (tick == 3) REQUIRE(talk.set_box(Box{.width = 6}).has_value());
    talk.tick(100ms);
    const auto sounds = talk.sounds();
    if (!sounds.empty()) heard += told({sounds.begin(), sounds.end()}) + ' ';
  }
  CHECK(heard == "loop_begin:hum@0 loop_end@600 loop_begin:hum@720 loop_end@2420 ");
}
