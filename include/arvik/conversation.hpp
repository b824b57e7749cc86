#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/box.hpp"
#include "arvik/export.hpp"
#include "arvik/font.hpp"
#include "arvik/pace.hpp"
#include "arvik/player_settings.hpp"
#include "arvik/reveal.hpp"
#include "arvik/typesetter.hpp"
#include "arvik/typing_player.hpp"
#include "arvik/typing_sound.hpp"

namespace arvik {

/// A line that goes on by itself, at the earliest so long after its last character.
struct AutoAdvance {
  Nanoseconds after{};   ///< 0 to one hour
  bool reading = false;  ///< and not before it can have been read, from its begin or last hold on
};

/// One line of a conversation.
struct DialogueLine {
  std::string id{};
  std::string speaker{};
  /// At its begin. Nothing is taken over from the line before: a line without a portrait has none
  /// until `[portrait NAME]` names one.
  std::string portrait{};
  std::string text{};  ///< markup
  Pace pace{};
  std::string typing{};   ///< typing sound, one of ConversationSettings::sounds
  std::string voice{};    ///< voice clip
  bool skippable = true;  ///< whether the advance button may show the rest at once
  std::optional<AutoAdvance> automatic{};
  bool append = false;   ///< goes on behind the text that stands, in the same box
  bool instant = false;  ///< all of it at once
};

/// The raw state of the player's buttons during a tick.
struct Buttons {
  bool advance = false;
  bool skip = false;  ///< shows the rest, but never goes on; for games that have such a button
};

struct ConversationSettings {
  Nanoseconds opening{};  ///< how long the box takes to open, 0 to one hour
  Nanoseconds closing{};
  /// After a skip, presses are ignored for so long: they were meant for the text that is there now.
  Nanoseconds grace = std::chrono::milliseconds(150);
  /// Advance held for so long while a line is revealed makes it hurry; a shorter press then shows
  /// the rest when it ends. 0: never, and a press shows the rest when it begins.
  Nanoseconds hurry_after{};
  std::int32_t hurry = 4 * Reveal::normal_speed;  ///< speed while hurrying, times the player's
  double reading_rate = 15;                       ///< characters a second, for AutoAdvance::reading
  Nanoseconds least_reading = std::chrono::milliseconds(1200);
  Nanoseconds indicator_period = std::chrono::milliseconds(900);
  /// All lines go on by themselves when they can have been read, and so do holds.
  bool play_by_itself = false;
  PlayerSettings player{};
  /// How long a voice clip lasts: a line that goes on by itself waits for its end, and typing
  /// sounds give way to it. May be empty.
  std::function<Nanoseconds(std::string_view voice)> voice_length{};
  std::vector<TypingSound> sounds{};                       ///< all that lines and tags name
  Nanoseconds voice_fade = std::chrono::milliseconds(40);  ///< of a clip whose line is left
};

/// The first value that is out of its range, as a bad_settings or bad_sound diagnostic; nothing if
/// all are good. Times are 0 to one hour, `hurry` is 1 to Reveal::max_speed, `reading_rate`
/// min_rate to max_rate.
[[nodiscard]] ARVIK_API std::optional<Diagnostic> find_problem(
    const ConversationSettings& settings);

enum class ConversationState : std::uint8_t {
  closed,
  opening,
  revealing,
  holding,  ///< at a hold or page end, until the player goes on
  waiting,  ///< the line is complete, until the player goes on
  closing
};
/// "closed", "opening", …
[[nodiscard]] ARVIK_API std::string_view conversation_state_name(ConversationState state);

enum class ConversationEventKind : std::uint8_t {
  opened,            ///< the box is open
  line_started,      ///< with its speaker and portrait
  revealed,          ///< an event of the line's schedule
  portrait_changed,  ///< by `[portrait NAME]`
  line_finished,     ///< its last character is there
  waiting,           ///< the conversation waits for the player, or for the time to go on
  line_left,
  closed  ///< the box is gone and the game has its controls back; once for each start
};
/// "opened", "line_started", …
[[nodiscard]] ARVIK_API std::string_view conversation_event_name(ConversationEventKind kind);

/// Something that the game hears of at an exact time. What it points to lives until the next
/// tick(), stop() or start.
struct ConversationEvent {
  ConversationEventKind kind{};
  Nanoseconds time{};           ///< since the conversation's start; time does not pass while paused
  std::uint32_t line = 0;       ///< index of the line
  bool skipped = false;         ///< a skip passed it over
  std::string_view portrait{};  ///< of line_started and portrait_changed
  const Event* event = nullptr;  ///< of revealed; else null
};

/// What stands in the box: a line, or several that were appended to each other. Text, layout and
/// schedule are of all of them; what the later ones will show is laid out already, so that nothing
/// moves when they come.
struct ConversationText {
  MarkedText marked;
  Steps steps;
  Layout layout;
  Schedule schedule;  ///< for make_frame(): the lines one after the other
};

/// What to draw now. Views live until the next tick(), stop() or start.
struct ConversationView {
  ConversationState state = ConversationState::closed;
  float openness = 0;  ///< 0 to 1, rising while opening and falling while closing
  const ConversationText* text = nullptr;  ///< null while no line has started
  std::uint32_t shown = 0;                 ///< steps of the text
  Nanoseconds now{};                       ///< for make_frame()
  std::string_view speaker;
  std::string_view portrait;
  std::string_view typing;
  bool indicator = false;  ///< visible exactly while waiting or holding
  float phase = 0;         ///< 0 to 1, again and again, for its bobbing
};

/// A line that was shown, for reading back.
struct HistoryEntry {
  std::string speaker{};
  std::string text{};  ///< plain
};

/// Where a conversation stands: small, copyable, and enough to go on exactly there with the same
/// lines.
struct ConversationPlace {
  ConversationState state = ConversationState::closed;
  std::uint32_t line = 0;
  Nanoseconds clock{};           ///< since the start
  Nanoseconds since{};           ///< in the state
  Nanoseconds line_time{};       ///< since the line's begin
  Nanoseconds part_time{};       ///< since the line's begin or the last hold in it
  std::uint32_t part_shown = 0;  ///< steps that were there then
  Nanoseconds shown_for{};       ///< since the last character came
  RevealPlace reveal{};
  std::string portrait{};
  friend bool operator==(const ConversationPlace&, const ConversationPlace&) = default;
};

/// A sequence of lines with speakers, run one after another in one box: from the first character to
/// the moment at which the game has its controls back.
///
/// The same press never does two things. A button that is held since before a line began counts
/// only after it was released. However the same time is cut into ticks, the same events come at the
/// same times, but for the moments at which the buttons are looked at: the begins of ticks.
///
/// Lines are prepared when they begin; ticks in between allocate nothing. Keeps
/// references to the typesetter and the font, which must outlive it. One thread at a time.
class ARVIK_API Conversation {
 public:
  /// Settings that are out of their ranges make start() fail.
  Conversation(Typesetter& typesetter, const Font& font, const Box& box,
               ConversationSettings settings = {});
  Conversation(Typesetter& typesetter, const Font&& font, const Box& box,
               ConversationSettings settings = {}) = delete;
  Conversation(Conversation&&) noexcept;
  Conversation& operator=(Conversation&&) noexcept;
  ~Conversation();

  /// Begins; the first events come with the next tick. Without lines it closes at once. Fails with
  /// conversation_runs if one runs already, bad_pace, bad_sound, bad_settings, bad_box; nothing has
  /// begun then. Names that are not UTF-8 are repaired (invalid_utf8, a warning, to the
  /// typesetter's diagnostic hook).
  [[nodiscard]] tl::expected<void, Diagnostic> start(std::vector<DialogueLine> lines);

  /// Lets time pass and looks at the buttons, whose state holds from the begin of the tick on. A
  /// negative time counts as 0. The events live until the next tick(), stop() or start.
  std::span<const ConversationEvent> tick(Nanoseconds time, Buttons buttons = {});

  /// Ends it wherever it is, without closing slowly: the line is left and the box closed.
  std::span<const ConversationEvent> stop();

  /// Stops the clock; ticks bring nothing until resume(). Buttons pressed meanwhile do not count.
  void pause();
  void resume();
  [[nodiscard]] bool paused() const;

  [[nodiscard]] ConversationState state() const;
  /// The index of the line that stands in the box or stood there last.
  [[nodiscard]] std::uint32_t line() const;
  [[nodiscard]] const std::vector<DialogueLine>& lines() const;
  [[nodiscard]] Nanoseconds clock() const;
  [[nodiscard]] ConversationView view() const;

  /// What is to be heard of the last tick() or stop(), in order; times are those of the clock, so
  /// that the offset inside a frame is what lies behind clock() before the tick. Lives until the
  /// next tick(), stop() or start. On pause, what rings is the game's to stop; loops end by
  /// themselves with the next tick().
  [[nodiscard]] std::span<const SoundEvent> sounds() const;
  /// How many typing sounds their gaps have swallowed since the start.
  [[nodiscard]] std::uint32_t swallowed_sounds() const;

  /// The lines that were begun, in order.
  [[nodiscard]] const std::vector<HistoryEntry>& history() const;
  /// What was wrong with the markup or the layout of the text in the box.
  [[nodiscard]] std::vector<Diagnostic> diagnostics() const;

  [[nodiscard]] const ConversationSettings& settings() const;
  /// Other settings, also while it runs; sounds count from the next line on. Fails with what
  /// find_problem() finds; then nothing has changed.
  [[nodiscard]] tl::expected<void, Diagnostic> set_settings(ConversationSettings settings);
  /// The same for the player's alone.
  [[nodiscard]] tl::expected<void, Diagnostic> set_player(PlayerSettings player);

  /// Lays the text out anew, in another box, and keeps the place. Fails with bad_box; then nothing
  /// has changed.
  [[nodiscard]] tl::expected<void, Diagnostic> set_box(const Box& box);

  [[nodiscard]] ConversationPlace place() const;
  /// Begins at a place of the same lines, without any event for what lies before it; a voice clip
  /// that played then does not begin again. Fails as
  /// start() does, and with bad_place if these lines have no such place.
  [[nodiscard]] tl::expected<void, Diagnostic> start_at(std::vector<DialogueLine> lines,
                                                        const ConversationPlace& place);

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace arvik
