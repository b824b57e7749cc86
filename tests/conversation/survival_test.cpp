// What changes under a running line: box, font, language, script, process. A random mixture of
// everything that a game can do, held against what the texts say must come; and each change by
// itself.
#include <catch2/catch.hpp>
#include <map>
#include <set>

#include "arvik/conversation.hpp"
#include "arvik/place_file.hpp"
#include "support/english.hpp"
#include "support/generator.hpp"

using namespace arvik;
using namespace std::chrono_literals;
using test::grid;
using test::typesetter;

namespace {

Typesetter& other_typesetter() {
  static Typesetter setter(Language::open("pl").value());
  return setter;
}

// Everything is twice as wide.
class WideFont final : public Font {
 public:
  FontMetrics metrics(float size, std::uint16_t face) const override {
    return GridFont().metrics(size, face);
  }
  bool steps_stand_alone() const override { return true; }
  void measure(const TextRun& run, std::vector<float>& advances) const override {
    const std::size_t first = advances.size();
    GridFont().measure(run, advances);
    for (std::size_t i = first; i < advances.size(); ++i) advances[i] *= 2;
  }
  void shape(const TextRun& run, std::vector<ShapedGlyph>& glyphs) const override {
    GridFont().shape(run, glyphs);
  }
};

const WideFont& wide() {
  static const WideFont font;
  return font;
}

DialogueLine line(const std::string& id, const std::string& text) {
  return {.id = id, .speaker = "odrun", .text = text, .pace = Pace{.rate = 20}};
}

// Texts of one line in two languages: the same events, some in another order.
struct Told {
  const char* here;
  const char* there;
};
constexpr Told texts[] = {
    {"The tide [mark a]clock stopped, [hold]and nobody[mark b] heard it.[sound c]",
     "Zegar [mark a]pływów stanął. [hold]Nikt tego[mark b] nie słyszał, nikt.[sound c]"},
    {"First [mark a]one thing, then [mark b]another; [sound c]then the rest of it all.",
     "Najpierw [mark b]drugie, [sound c]potem [mark a]pierwsze."},
    {"[sound c]One.[page]Two and [portrait awake]three.[mark a]",
     "[sound c]Jeden.[page]Dwa i [portrait awake]trzy, i jeszcze cztery.[mark a]"},
    {"[mark a][sound c]", "[mark a][sound c]"},
    {"Short.", "Bardzo, bardzo, bardzo długie zdanie bez żadnych zdarzeń, na kilka wierszy."},
    {"[mark span: All of it is a span.] [hold]Go on. [hold]And on.",
     "[mark span: Całość] [hold]to zakres. [hold]I dalej."},
    {"No [pause 300ms]events, but [rate x0.5: slowly] told.", "Bez zdarzeń."},
    {"", ""},
};

struct Scene {
  DialogueLines here;
  DialogueLines there;
};

Scene random_scene(test::Random& random) {
  std::vector<DialogueLine> here;
  std::vector<DialogueLine> there;
  const std::size_t count = 1 + test::below(random, 6);
  for (std::size_t i = 0; i < count; ++i) {
    const Told& told = texts[test::below(random, std::size(texts))];
    DialogueLine entry = line("line " + std::to_string(i), told.here);
    entry.skippable = test::below(random, 5) != 0;
    if (test::below(random, 4) == 0) entry.automatic = AutoAdvance{.after = 80ms};
    entry.append = i > 0 && here.back().choices.empty() && test::below(random, 4) == 0;
    entry.instant = test::below(random, 9) == 0;
    entry.typing = test::below(random, 2) == 0 ? "wood" : "";
    if (test::below(random, 5) == 0) entry.voice = "v" + std::to_string(i);
    if (test::below(random, 5) == 0) {
      entry.choices = {{.id = "yes", .text = "Yes."},
                       {.id = "no", .text = "No.", .available = false}};
    }
    here.push_back(entry);
    entry.text = told.there;
    for (Choice& choice : entry.choices) choice.text = "Tak.";
    there.push_back(entry);
  }
  return {std::make_shared<const std::vector<DialogueLine>>(std::move(here)),
          std::make_shared<const std::vector<DialogueLine>>(std::move(there))};
}

bool is_told(EventKind kind) {
  return kind == EventKind::mark || kind == EventKind::mark_begin || kind == EventKind::mark_end ||
         kind == EventKind::sound || kind == EventKind::portrait;
}

// How often each event must come while a line is told.
std::map<std::string, int> events_of(const std::string& text) {
  Steps steps;
  MarkedText marked;
  typesetter().read(text, marked, steps);
  std::map<std::string, int> counts;
  const Schedule plan = schedule(marked, steps, typesetter().language(), Pace{}).value();
  for (const Event& event : plan.events) {
    if (is_told(event.kind)) {
      ++counts[std::string(event_kind_name(event.kind)) + ' ' + event.name];
    }
  }
  return counts;
}

std::string text_of(const std::map<std::string, int>& counts) {
  std::string text;
  for (const auto& [name, count] : counts) text += name + " x" + std::to_string(count) + "; ";
  return text;
}

bool is_complete(ConversationState state) {
  return state == ConversationState::waiting || state == ConversationState::choosing;
}

bool in_line(ConversationState state) {
  return is_complete(state) || state == ConversationState::revealing ||
         state == ConversationState::holding;
}

// One conversation under everything that a game does, with what must be true all the time.
class Survivor {
 public:
  explicit Survivor(std::uint64_t seed) : random_(seed) { begin(); }

  void step() {
    switch (test::below(random_, 24)) {
      case 0:
        talk_->paused() ? talk_->resume() : talk_->pause();
        break;
      case 1: {
        PlayerSettings player;
        player.speed = test::below(random_, 4);
        REQUIRE(talk_->set_player(player).has_value());
        break;
      }
      case 2:
        return unchanged([&] { REQUIRE(talk_->set_box(random_box()).has_value()); });
      case 3:
        return unchanged([&] { REQUIRE(talk_->set_font(random_font()).has_value()); });
      case 4:
        return translated([&] {
          language_ = 1 - language_;
          RetellOptions others;
          if (test::below(random_, 2) == 0) others.font = &random_font();
          if (test::below(random_, 2) == 0) others.box = random_box();
          REQUIRE(talk_->retell(lines(), setter(), others).has_value());
        });
      case 5:
        return load();
      case 6:
        (void)talk_->prepare_next();
        break;
      case 7:
        if (talk_->state() == ConversationState::choosing && !talk_->paused()) {
          REQUIRE(talk_->choose(0).has_value());
          CHECK_FALSE(talk_->choose(1).has_value());
        }
        break;
      case 8:
        if (test::below(random_, 20) == 0) {
          stopped_ = true;
          look(talk_->stop());
        }
        break;
      default:
        tick();
    }
    if (talk_->state() == ConversationState::closed) {
      CHECK(closed_ == 1);
      begin();
    }
  }

 private:
  const DialogueLines& lines() const { return language_ == 0 ? scene_.here : scene_.there; }
  Typesetter& setter() const { return language_ == 0 ? typesetter() : other_typesetter(); }
  const Font& random_font() {
    return test::below(random_, 2) == 0 ? static_cast<const Font&>(grid()) : wide();
  }
  Box random_box() {
    return {.width = static_cast<float>(4 + test::below(random_, 40)),
            .align = test::below(random_, 2) == 0 ? Align::start : Align::center,
            .max_rows = static_cast<std::uint32_t>(test::below(random_, 4))};
  }

  std::unique_ptr<Conversation> make() {
    ConversationSettings settings{
        .opening = 30ms,
        .closing = 30ms,
        .hurry_after = hurry_,
        .voice_length = [](std::string_view) { return 400ms; },
        .sounds = {{.name = "wood", .samples = {"w1", "w2"}, .choice = SampleChoice::shuffle}}};
    return std::make_unique<Conversation>(setter(), random_font(), random_box(),
                                          std::move(settings));
  }

  void begin() {
    scene_ = random_scene(random_);
    hurry_ = std::chrono::milliseconds(60 * test::below(random_, 2));
    stopped_ = false;
    closed_ = 0;
    line_ = -1;
    last_time_ = {};
    last_now_ = std::chrono::hours(-9);
    talk_ = make();
    REQUIRE(talk_->start(lines()).has_value());
    REQUIRE(talk_->start(lines()).error().code == DiagnosticCode::conversation_runs);
  }

  void tick() {
    const auto time = std::chrono::microseconds(test::below(random_, 60'000));
    const bool advance = test::below(random_, 3) == 0;
    const bool skip = test::below(random_, 12) == 0;
    look(talk_->tick(time, {.advance = advance, .skip = skip}));
  }

  void look(std::span<const ConversationEvent> events) {
    for (const ConversationEvent& event : events) {
      REQUIRE(event.time >= last_time_);
      last_time_ = event.time;
      switch (event.kind) {
        case ConversationEventKind::line_started:
          REQUIRE(static_cast<int>(event.line) == line_ + 1);
          line_ = static_cast<int>(event.line);
          REQUIRE(event.block->source_line(event.line).id == "line " + std::to_string(line_));
          came_.clear();
          holds_ = 0;
          finished_ = 0;
          seen_.clear();
          break;
        case ConversationEventKind::revealed:
          if (is_told(event.event->kind)) {
            ++came_[std::string(event_kind_name(event.event->kind)) + ' ' + event.event->name];
          }
          if (event.event->kind == EventKind::hold && !event.event->by_layout) ++holds_;
          break;
        case ConversationEventKind::portrait_changed:
          ++came_["portrait " + std::string(event.portrait)];
          break;
        case ConversationEventKind::line_finished:
          REQUIRE(++finished_ == 1);
          break;
        case ConversationEventKind::line_left: {
          REQUIRE(static_cast<int>(event.line) == line_);
          const Told& told = *find(lines()->at(event.line).text);
          REQUIRE(holds_ <= 2);
          if (stopped_) {
            for (const auto& [name, count] : came_) REQUIRE(count <= events_of(told.here)[name]);
          } else {
            REQUIRE(finished_ == 1);
            REQUIRE(text_of(came_) == text_of(events_of(told.here)));
          }
          break;
        }
        case ConversationEventKind::closed:
          ++closed_;
          break;
        default:
          break;
      }
    }
    look_at_view();
  }

  static const Told* find(const std::string& text) {
    for (const Told& told : texts) {
      if (text == told.here || text == told.there) return &told;
    }
    return nullptr;
  }

  // What is shown stays shown, and no step is younger than it was.
  void look_at_view() {
    const ConversationView view = talk_->view();
    if (view.block == nullptr) return;
    REQUIRE(view.shown <= view.block->steps.size());
    REQUIRE(view.steps.size() == view.shown);
    REQUIRE(view.now >= last_now_);
    last_now_ = view.now;
    if (!in_line(view.state)) return;
    REQUIRE(view.shown >= seen_.size());
    for (std::size_t i = 0; i < view.shown; ++i) {  // without Catch, which takes its time
      if (view.steps[i].at > view.now) FAIL("step " << i << " appears in the future");
      const bool is_older = i >= seen_.size() || view.steps[i].at <= seen_[i];
      if (!is_older) FAIL("step " << i << " is younger than it was");
    }
    seen_.clear();
    for (const Appearance& step : view.steps) seen_.push_back(step.at);
    for (const HistoryEntry& entry : talk_->history()) REQUIRE_FALSE(entry.text.empty());
  }

  // A change of box or font: the same steps are shown, and a complete line stays so.
  template <typename Change>
  void unchanged(Change change) {
    const ConversationView before = talk_->view();
    change();
    const ConversationView after = talk_->view();
    REQUIRE(after.shown == before.shown);
    REQUIRE(after.portrait == before.portrait);
    if (is_complete(before.state)) REQUIRE(after.state == before.state);
    if (before.block != nullptr) REQUIRE(before.block->marked.text == after.block->marked.text);
    look_at_view();
  }

  template <typename Change>
  void translated(Change change) {
    const ConversationState before = talk_->state();
    const std::size_t told = talk_->history().size();
    change();
    seen_.clear();
    if (is_complete(before)) {
      REQUIRE(talk_->state() == before);
      const ConversationView view = talk_->view();
      const BlockLine& own = view.block->line(view.line);
      REQUIRE(view.shown == own.part.first_step + own.part.steps.size());
    }
    REQUIRE(talk_->history().size() + 1 >= told);
    look_at_view();
  }

  void load() {
    const ConversationPlace place = talk_->place();
    const bool paused = talk_->paused();
    const auto read = read_place(write_place(place));
    REQUIRE(read.has_value());
    REQUIRE(*read == place);
    const std::uint32_t shown = talk_->view().shown;
    const ConversationState state = talk_->state();
    const int before = language_;
    language_ = static_cast<int>(test::below(random_, 2));
    talk_ = make();
    REQUIRE(talk_->start_at(lines(), *read).has_value());
    last_now_ = talk_->view().now;
    if (paused) talk_->pause();
    seen_.clear();
    if (language_ == before) REQUIRE(talk_->view().shown == shown);
    if (is_complete(state)) REQUIRE(talk_->state() == state);
    REQUIRE(talk_->clock() == place.times.clock);
    look_at_view();
  }

  test::Random random_;
  Scene scene_;
  std::unique_ptr<Conversation> talk_;
  Nanoseconds hurry_{};
  int language_ = 0;
  bool stopped_ = false;
  int closed_ = 0;
  int line_ = -1;
  int finished_ = 0;
  int holds_ = 0;
  Nanoseconds last_time_{};
  Nanoseconds last_now_ = std::chrono::hours(-9);
  std::map<std::string, int> came_;
  std::vector<Nanoseconds> seen_;
};

}  // namespace

// ARVIK_OPERATIONS makes it longer: ten million were run by hand.
TEST_CASE("whatever a game does to a running conversation, everything comes exactly once") {
  const char* wanted = std::getenv("ARVIK_OPERATIONS");
  const long operations = wanted != nullptr ? std::atol(wanted) : 200'000;
  for (long done = 0; done < operations;) {
    INFO("seed " << done);
    Survivor survivor(static_cast<std::uint64_t>(done));
    for (int i = 0; i < 1000; ++i, ++done) survivor.step();
  }
}

// --- each change by itself

namespace {

std::string shown_text(const Conversation& talk) {
  const ConversationView view = talk.view();
  return view.block->marked.text.substr(0, view.block->steps.extents[view.shown].bytes);
}

std::vector<std::string> told(std::span<const ConversationEvent> events) {
  std::vector<std::string> names;
  for (const ConversationEvent& event : events) {
    if (event.event == nullptr) {
      names.emplace_back(conversation_event_name(event.kind));
    } else {
      names.push_back(std::string(event_kind_name(event.event->kind)) +
                      (event.event->name.empty() ? "" : " " + event.event->name));
    }
  }
  return names;
}

using Names = std::vector<std::string>;

Conversation in_box(const Box& box, ConversationSettings settings = {}) {
  return {typesetter(), grid(), box, std::move(settings)};
}

void press(Conversation& talk) {
  talk.tick(1ms);
  talk.tick(1ms, {.advance = true});
  talk.tick(1ms);
}

}  // namespace

TEST_CASE("a hold is told once, whatever box comes while it stands") {
  Conversation talk = in_box({.width = 20, .max_rows = 3});
  REQUIRE(talk.start({line("1", "Wait for me. [hold][sound thud]And then he was gone.")}));
  talk.tick(10s);
  REQUIRE(talk.state() == ConversationState::holding);
  for (const Box& box : {Box{.width = 13, .max_rows = 1}, Box{.width = 20, .max_rows = 3},
                         Box{.width = 60}, Box{.width = 7, .max_rows = 2}}) {
    REQUIRE(talk.set_box(box));
    CHECK(talk.state() == ConversationState::holding);
    CHECK(shown_text(talk) == "Wait for me. ");
    CHECK(talk.tick(1s).empty());
  }
  REQUIRE(talk.set_box({.width = 60}));
  CHECK(told(talk.tick(10s, {.advance = true})) ==
        Names{"sound thud", "finish", "line_finished", "waiting"});
}

TEST_CASE("the same box changes nothing, and a page's hold goes with its page") {
  const Box narrow{.width = 8, .max_rows = 1};
  Conversation talk = in_box(narrow);
  REQUIRE(talk.start({line("1", "The tide clock stopped.")}));
  talk.tick(10s);
  REQUIRE(talk.state() == ConversationState::holding);
  const auto block = talk.view().block;
  REQUIRE(talk.set_box(narrow));
  CHECK(talk.view().block == block);
  CHECK(talk.tick(1s).empty());
  CHECK(talk.state() == ConversationState::holding);
  REQUIRE(talk.set_box({.width = 40}));
  CHECK(talk.state() == ConversationState::revealing);
  CHECK(told(talk.tick(10s)) == Names{"finish", "line_finished", "waiting"});
  // Complete is complete, however many pages there are now.
  REQUIRE(talk.set_box(narrow));
  CHECK(talk.state() == ConversationState::waiting);
  CHECK(talk.tick(1s).empty());
}

TEST_CASE("a written hold at a page's end is that page's hold, with blanks behind it, too") {
  Conversation talk = in_box({.width = 18, .max_rows = 1});
  REQUIRE(talk.start({line("1", "Mind the thin ice.[hold] It sings.")}));
  CHECK(told(talk.tick(10s)).back() == "hold");
  press(talk);
  CHECK(told(talk.tick(10s)) == Names{"page", "finish", "line_finished", "waiting"});
  CHECK(shown_text(talk) == "Mind the thin ice. It sings.");
}

TEST_CASE("an appended line that begins a new page needs one press") {
  DialogueLine more = line("2", "And then it began again.");
  more.append = true;
  Conversation talk = in_box({.width = 24, .max_rows = 1});
  REQUIRE(talk.start({line("1", "The tide clock stopped. "), more}));
  talk.tick(10s);
  REQUIRE(talk.state() == ConversationState::waiting);
  talk.tick(1ms, {.advance = true});
  talk.tick(10s);
  CHECK(talk.line() == 1);
  CHECK(talk.state() == ConversationState::waiting);
}

TEST_CASE("what a view or an event points to lives as long as its block") {
  Conversation talk = in_box({.width = 30});
  REQUIRE(talk.start({line("1", "a[portrait a-name-too-long-for-any-small-string]bc")}));
  const auto events = talk.tick(200ms);
  const ConversationEvent kept = events[2];
  const ConversationView view = talk.view();
  for (const float width : {5.0F, 6.0F, 7.0F}) {
    REQUIRE(talk.set_box({.width = width}));
    talk.tick(1ms);
  }
  CHECK(view.portrait == "a-name-too-long-for-any-small-string");
  CHECK(talk.view().portrait == view.portrait);
  CHECK(kept.portrait == view.portrait);
  CHECK(view.block->marked.text == "abc");
  talk.stop();
  CHECK(view.speaker == "odrun");
}

TEST_CASE("a row that is higher than its page sticks out, and no other row is lost") {
  class TallFont final : public Font {
   public:
    FontMetrics metrics(float size, std::uint16_t) const override {
      return {.row_height = 10 * size, .ascent = 8 * size};
    }
    bool steps_stand_alone() const override { return true; }
    void measure(const TextRun& run, std::vector<float>& advances) const override {
      GridFont().measure(run, advances);
    }
    void shape(const TextRun& run, std::vector<ShapedGlyph>& glyphs) const override {
      GridFont().shape(run, glyphs);
    }
  };
  const TallFont font;
  Conversation talk(typesetter(), font, Box{.width = 12, .height = 25});
  REQUIRE(talk.start({line("1", "One two three.[br][size 400%: X][br]Four five six.")}));
  for (const Row& row : talk.view().block->layout.rows) CHECK(row.page != no_page);
  REQUIRE(talk.diagnostics().size() == 1);
  CHECK(talk.diagnostics()[0].code == DiagnosticCode::text_overflows);
  // A box in which not even a usual row has room is another thing.
  CHECK_FALSE(talk.set_box({.width = 12, .height = -1}));
}

TEST_CASE("hurrying ends with a pause, whatever the button does meanwhile") {
  Conversation talk = in_box({.width = 30}, {.hurry_after = 100ms, .hurry = 10'000});
  REQUIRE(talk.start({line("1", std::string(60, 'x'))}));
  talk.tick(50ms);
  for (int i = 0; i < 10; ++i) talk.tick(20ms, {.advance = true});
  const std::uint32_t hurried = talk.view().shown;
  CHECK(hurried > 15);
  talk.pause();
  talk.resume();  // let go in between, unseen
  talk.tick(100ms);
  CHECK(talk.view().shown - hurried <= 3);
  CHECK(talk.state() == ConversationState::revealing);
}

TEST_CASE("a place counts in every box, and at every line that is still there") {
  const std::string text =
      "The tide clock stopped at a quarter past four, and nobody in the harbour heard it but the "
      "keeper.";
  Conversation talk = in_box({.width = 40});
  REQUIRE(talk.start({line("1", "Before."), line("2", text), line("3", "After.")}));
  talk.tick(10s);
  talk.tick(1ms, {.advance = true});
  talk.tick(3s);
  const std::uint32_t shown = talk.view().shown;
  REQUIRE(shown == 58);
  const ConversationPlace place = read_place(write_place(talk.place())).value();

  Conversation narrow = in_box({.width = 14});
  REQUIRE(narrow.start_at({line("1", "Before."), line("2", text), line("3", "After.")}, place));
  CHECK(narrow.view().shown == shown);
  // One line inserted, another removed.
  Conversation patched = in_box({.width = 14});
  REQUIRE(patched.start_at({line("0", "New."), line("00", "New."), line("2", text)}, place));
  CHECK(patched.line() == 2);
  CHECK(patched.view().shown == shown);
  CHECK(patched.history().size() == 2);
  CHECK(told(patched.tick(10s)) == Names{"finish", "line_finished", "waiting"});
  // The line itself is gone.
  Conversation gone = in_box({.width = 14});
  const auto refused = gone.start_at({line("1", "Before."), line("3", "After.")}, place);
  REQUIRE_FALSE(refused.has_value());
  CHECK(refused.error().code == DiagnosticCode::bad_place);
  CHECK(refused.error().message.find("\"2\" is gone") != std::string::npos);
  REQUIRE(gone.start({line("1", "Before."), line("3", "After.")}, "3"));
  gone.tick(10s);
  CHECK(gone.line() == 1);
}

TEST_CASE("lines without ids are found by their text") {
  const auto plain = [](const std::string& text) {
    DialogueLine entry = line("", text);
    return entry;
  };
  Conversation talk = in_box({.width = 40});
  REQUIRE(talk.start({plain("One."), plain("Two and more.")}));
  talk.tick(10s);
  talk.tick(1ms, {.advance = true});
  talk.tick(100ms);
  const ConversationPlace place = talk.place();
  Conversation later = in_box({.width = 40});
  REQUIRE(later.start_at({plain("New."), plain("One."), plain("Two and more.")}, place));
  CHECK(later.line() == 2);
  later.stop();
  // Another text among as many lines is the same line told otherwise; among more, nobody knows.
  REQUIRE(later.start_at({plain("Raz."), plain("Dwa i więcej.")}, place));
  CHECK(later.line() == 1);
  later.stop();
  CHECK_FALSE(later.start_at({plain("Raz."), plain("Dwa."), plain("Trzy.")}, place));
}

TEST_CASE("another language goes on at the same share, between the same events") {
  Conversation talk = in_box({.width = 60});
  REQUIRE(talk.start({line("1", "0123456789[mark a]0123456789[mark b]")}));
  talk.tick(700ms);  // fifteen are there
  REQUIRE(talk.view().shown == 15);
  REQUIRE(talk.retell({line("1", "[mark b]01234[mark a]0123456789012345678901234567890123456789")},
                      other_typesetter()));
  CHECK(talk.view().shown == 5 + 20);
  const auto events = talk.tick(10s);
  CHECK(told(events) == Names{"mark b", "finish", "line_finished", "waiting"});
  CHECK(events[0].skipped);
  // Complete stays complete, and what was said is told anew.
  REQUIRE(talk.retell({line("1", "0123456789 0123456789[mark a][mark b][mark c]")}, typesetter()));
  CHECK(talk.state() == ConversationState::waiting);
  CHECK(told(talk.tick(1s)) == Names{"mark c"});
  CHECK(talk.history()[0].text == "0123456789 0123456789");
  const auto gone = talk.retell({line("2", "x")}, typesetter());
  REQUIRE_FALSE(gone.has_value());
  CHECK(gone.error().code == DiagnosticCode::bad_place);
  CHECK(shown_text(talk) == "0123456789 0123456789");
}

TEST_CASE("a change of language ends the voice that speaks the other one") {
  DialogueLine spoken = line("1", "A long line that is spoken.");
  spoken.voice = "en/1";
  Conversation talk = in_box({.width = 60});
  REQUIRE(talk.start({spoken}));
  talk.tick(100ms);
  spoken.voice = "pl/1";
  REQUIRE(talk.retell({spoken}, other_typesetter()));
  talk.tick(10ms);
  REQUIRE(talk.sounds().size() == 1);
  CHECK(talk.sounds()[0].kind == SoundEventKind::voice_end);
  CHECK(talk.sounds()[0].name == "en/1");
}

TEST_CASE("the press that loads a game does nothing, and the grace time is part of the place") {
  Conversation talk = in_box({.width = 30}, {.grace = 200ms});
  REQUIRE(talk.start({line("1", "abcdefgh"), line("2", "x")}));
  talk.tick(100ms);
  talk.tick(10ms, {.skip = true});
  const ConversationPlace place = talk.place();
  CHECK(place.times.grace_left == 190ms);
  Conversation later = in_box({.width = 30}, {.grace = 200ms});
  REQUIRE(later.start_at({line("1", "abcdefgh"), line("2", "x")}, place));
  later.tick(1ms, {.advance = true});
  later.tick(50ms);
  later.tick(1ms, {.advance = true});  // still in the grace time
  CHECK(later.line() == 0);
  later.tick(300ms);
  later.tick(1ms, {.advance = true});
  CHECK(later.line() == 1);
}

TEST_CASE("sounds after loading are those that would have come") {
  DialogueLine heard = line("1", "It was calling, all night long, to whoever was there.");
  heard.typing = "wood";
  heard.voice = "v";
  const ConversationSettings settings{.voice_length = [](std::string_view) { return 1500ms; },
                                      .sounds = {{.name = "wood",
                                                  .samples = {"a", "b", "c"},
                                                  .choice = SampleChoice::shuffle,
                                                  .gap = 90ms,
                                                  .voices = 3}}};
  const auto describe = [](const Conversation& talk) {
    std::string all;
    for (const SoundEvent& sound : talk.sounds()) {
      all += std::to_string(sound.time.count()) + std::string(sound.name) +
             std::to_string(sound.channel) + ' ' + std::to_string(sound.gain) + '\n';
    }
    return all;
  };
  Conversation talk = in_box({.width = 60}, settings);
  REQUIRE(talk.start({heard}));
  talk.tick(730ms);
  const ConversationPlace place = read_place(write_place(talk.place())).value();
  Conversation later = in_box({.width = 60}, settings);
  REQUIRE(later.start_at({heard}, place));
  for (int i = 0; i < 20; ++i) {
    talk.tick(70ms);
    later.tick(70ms);
    CHECK(describe(talk) == describe(later));
  }
  CHECK(later.swallowed_sounds() == talk.swallowed_sounds());
}

TEST_CASE("tampered places are refused, or safe: nothing goes backwards or comes twice") {
  test::Random random(81);
  int taken = 0;
  for (int i = 0; i < 2000; ++i) {
    Conversation talk = in_box({.width = 14, .max_rows = 2});
    const std::vector<DialogueLine> lines{line("1", texts[test::below(random, 3)].here)};
    REQUIRE(talk.start(lines));
    talk.tick(std::chrono::milliseconds(test::below(random, 3000)));
    ConversationPlace place = talk.place();
    LinePlace& at = place.in_line;
    for (std::uint32_t* number : {&at.shown, &at.steps, &at.part_begin, &at.part_end, &at.of_layout,
                                  &place.times.part_shown, &place.typing.started}) {
      if (test::below(random, 2) == 0)
        *number = static_cast<std::uint32_t>(test::below(random, 90));
    }
    if (test::below(random, 3) == 0)
      at.position = std::chrono::milliseconds(test::below(random, 9000));
    if (test::below(random, 3) == 0) at.remainder = static_cast<std::int32_t>(random());
    if (test::below(random, 3) == 0 && !at.passed.empty()) at.passed.pop_back();
    if (test::below(random, 3) == 0) at.text ^= random();
    Conversation later = in_box({.width = 14, .max_rows = 2});
    if (!later.start_at(lines, place)) continue;
    ++taken;
    std::map<std::string, int> came;
    for (const PassedEvent& event : at.passed) {
      if (is_told(event.kind)) ++came[std::string(event_kind_name(event.kind)) + ' ' + event.name];
    }
    std::uint32_t shown = later.view().shown;
    for (int t = 0; t < 400 && later.state() != ConversationState::closed; ++t) {
      for (const ConversationEvent& event : later.tick(40ms, {.advance = t % 5 == 0})) {
        if (event.kind == ConversationEventKind::portrait_changed) {
          ++came["portrait " + std::string(event.portrait)];
        } else if (event.event != nullptr && is_told(event.event->kind)) {
          ++came[std::string(event_kind_name(event.event->kind)) + ' ' + event.event->name];
        }
      }
      if (later.state() == ConversationState::closed) break;
      REQUIRE(later.view().shown >= shown);
      shown = later.view().shown;
    }
    REQUIRE(text_of(came) == text_of(events_of(lines[0].text)));
  }
  CHECK(taken > 1000);
}

TEST_CASE("bad sounds are refused while it runs, too") {
  Conversation talk = in_box({.width = 30}, {.sounds = {{.name = "wood", .samples = {"a"}}}});
  DialogueLine heard = line("1", "abcdefgh");
  heard.typing = "wood";
  REQUIRE(talk.start({heard, heard}));
  ConversationSettings settings = talk.settings();
  settings.sounds[0].samples.clear();
  CHECK(talk.set_settings(settings).error().code == DiagnosticCode::bad_sound);
  talk.tick(100ms);
  CHECK_FALSE(talk.sounds().empty());
}

TEST_CASE("a block that was prepared ahead is taken, unless something has changed") {
  Conversation talk = in_box({.width = 30});
  const std::vector<DialogueLine> lines{line("1", "One."), line("2", "Two."), line("3", "Three.")};
  REQUIRE(talk.start(lines));
  talk.tick(10s);
  CHECK(talk.prepare_next());
  CHECK_FALSE(talk.prepare_next());
  CHECK_FALSE(talk.next_request().has_value());
  const auto ready = talk.next_block();
  REQUIRE(ready != nullptr);
  talk.tick(1ms, {.advance = true});
  CHECK(talk.view().block == ready);
  // In another thread of the game's, with a typesetter of its own.
  Typesetter own(Language::open("en").value());
  auto made = prepare_block(talk.next_request().value(), own);
  REQUIRE(made.has_value());
  REQUIRE(talk.set_box({.width = 20}));
  CHECK_FALSE(talk.take_next(*made));
  made = prepare_block(talk.next_request().value(), own);
  CHECK(talk.take_next(*made));
  talk.tick(10s);
  press(talk);
  CHECK(talk.view().block == *made);
  CHECK_FALSE(talk.prepare_next());  // nothing follows
}

TEST_CASE("each line may have a box and a font of its own") {
  ConversationSettings settings;
  settings.box_of = [](const DialogueLine& entry) {
    return Box{.width = entry.speaker.empty() ? 40.0F : 12.0F};
  };
  settings.font_of = [](const DialogueLine& entry) -> const Font* {
    return entry.id == "3" ? &wide() : nullptr;
  };
  DialogueLine narrator = line("2", "The tide turns in the night.");
  narrator.speaker = "";
  Conversation talk = in_box({.width = 5}, settings);
  REQUIRE(talk.start({line("1", "The tide turns."), narrator, line("3", "The tide")}));
  CHECK(talk.view().block->layout.rows.size() == 2);
  talk.tick(10s);
  press(talk);
  CHECK(talk.view().block->layout.rows.size() == 1);
  talk.tick(10s);
  press(talk);
  CHECK(talk.view().block->layout.rows.size() == 2);
}
