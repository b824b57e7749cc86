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

#include "arvik/block.hpp"
#include "arvik/box.hpp"
#include "arvik/dialogue_line.hpp"
#include "arvik/entrances.hpp"
#include "arvik/export.hpp"
#include "arvik/font.hpp"
#include "arvik/place.hpp"
#include "arvik/player_settings.hpp"
#include "arvik/reveal.hpp"
#include "arvik/typesetter.hpp"
#include "arvik/typing_player.hpp"
#include "arvik/typing_sound.hpp"

namespace arvik {

/// The raw state of the player's buttons during a tick.
struct Buttons {
  bool advance = false;
  bool skip = false;  ///< shows the rest, but never goes on; for games that have such a button
};

struct ConversationSettings {
  Nanoseconds opening{};  ///< how long the box takes to open, 0 to one hour
  Nanoseconds closing{};
  /// After a skip, presses are ignored for this long: they were meant for the text that is there
  /// now.
  Nanoseconds grace = std::chrono::milliseconds(150);
  /// Holding advance for this long while a line is revealed makes it hurry; a shorter press then
  /// shows the rest when it is released. 0: holding never hurries, and a press shows the rest at
  /// once.
  Nanoseconds hurry_after{};
  std::int32_t hurry = 4 * Reveal::normal_speed;  ///< speed while hurrying, times the player's
  double reading_rate = 15;  ///< letters a second (step_weights()), for reading
  Nanoseconds least_reading = std::chrono::milliseconds(1200);
  Nanoseconds indicator_period = std::chrono::milliseconds(900);
  /// All lines and holds go on by themselves once there was time to read them. Choices wait.
  bool play_by_itself = false;
  PlayerSettings player{};
  /// How long a voice clip lasts: a line that goes on by itself waits for its end, and typing
  /// sounds are softer meanwhile. May be empty.
  std::function<Nanoseconds(std::string_view voice)> voice_length{};
  /// Whether lines that are in step with their voice (DialogueLine::timing) stay so whatever text
  /// speed the player has chosen. `instant` lines are instant all the same.
  bool voices_set_speed = false;
  bool skip_ends_voice = true;        ///< whether showing the rest of a line fades its voice out
  std::vector<TypingSound> sounds{};  ///< all that lines and tags name
  Nanoseconds voice_fade =
      std::chrono::milliseconds(40);  ///< of a clip whose line is left or skipped
  /// The box of a line, asked when its block is prepared: a bubble for each speaker, more room
  /// where there is no portrait. Appended lines stand in the box of the first. Empty: always the
  /// conversation's.
  std::function<Box(const DialogueLine& line)> box_of{};
  /// The same for fonts, which must outlive the conversation; null: the conversation's.
  std::function<const Font*(const DialogueLine& line)> font_of{};
  /// The box that each answer is laid out in; without one, as wide as the line's text may be.
  std::optional<Box> choice_box{};
  /// The lines of a conversation that a choice leads to; null if there is none of that name. Empty:
  /// choices lead to the line that follows.
  std::function<DialogueLines(std::string_view conversation)> lines_of{};
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
  holding,   ///< at a hold or page end, until the player goes on
  waiting,   ///< the line is complete, until the player goes on
  choosing,  ///< the line is complete, until choose()
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
  choosing,          ///< it waits for choose()
  chosen,            ///< the player gave an answer
  line_left,
  closed  ///< the box is gone and the game has its controls back; exactly once for each start
};
/// "opened", "line_started", …
[[nodiscard]] ARVIK_API std::string_view conversation_event_name(ConversationEventKind kind);

/// Something that the game is told of at an exact time. The event itself lives until the next
/// tick(), stop() or start; what it points to, for as long as its block is held.
struct ConversationEvent {
  ConversationEventKind kind{};
  Nanoseconds time{};           ///< since the conversation's start; time does not pass while paused
  std::uint32_t line = 0;       ///< index of the line
  bool skipped = false;         ///< a skip passed it over
  std::uint32_t choice = 0;     ///< of chosen: its index
  std::string_view portrait{};  ///< of line_started and portrait_changed
  const Event* event = nullptr;          ///< of revealed; else null
  std::shared_ptr<const Block> block{};  ///< that stood then; null where none did
};

/// What to draw now. The steps live until the next tick(), stop() or start; everything else, for as
/// long as the block is held.
struct ConversationView {
  ConversationState state = ConversationState::closed;
  float openness = 0;  ///< 0 to 1, rising while opening and falling while closing
  /// The content of the box, also while it opens and closes, so that it can open to its final size
  /// and close with its text. Null if nothing was started or there is no line.
  std::shared_ptr<const Block> block{};
  std::uint32_t line = 0;             ///< index of the line
  std::uint32_t shown = 0;            ///< steps of the block
  std::span<const Appearance> steps;  ///< when each of them appeared, for make_frame()
  Nanoseconds now{};                  ///< for make_frame()
  std::string_view speaker;
  std::string_view portrait;
  std::string_view typing;
  std::span<const ChoiceText> choices;  ///< while choosing
  bool indicator = false;  ///< whether to show the sign "go on": while waiting or holding
  float phase = 0;         ///< from 0 to 1, repeatedly, to animate it
};

/// A line that was shown, for a history.
struct HistoryEntry {
  std::string conversation{};  ///< the name of the one that it belongs to
  std::string line{};          ///< its id
  std::string speaker{};
  std::string text{};    ///< plain, as far as it was shown
  std::string answer{};  ///< plain text of the choice that was taken; else empty
  std::string choice{};  ///< its id
  friend bool operator==(const HistoryEntry&, const HistoryEntry&) = default;
};

/// What else changes when the lines of a conversation are replaced (retell()).
struct RetellOptions {
  const Font* font = nullptr;  ///< must outlive the conversation; null: the one before
  std::optional<Box> box{};    ///< without one: the one before
};

/// The times of a conversation.
struct ConversationTimes {
  ConversationState state = ConversationState::closed;
  Nanoseconds clock{};           ///< since the start
  Nanoseconds since{};           ///< in the state
  Nanoseconds line_time{};       ///< since the line's begin
  Nanoseconds part_time{};       ///< since the line's begin or the last hold in it
  std::uint32_t part_shown = 0;  ///< steps that were there then
  Nanoseconds grace_left{};      ///< how much longer presses are ignored
  friend bool operator==(const ConversationTimes&, const ConversationTimes&) = default;
};

/// Where a conversation stands, in terms that outlive layouts, fonts, boxes, languages and changed
/// scripts (docs/conversation.md).
struct ConversationPlace {
  std::string conversation{};  ///< its name, as start() was given it or a choice led to it
  std::string line{};          ///< the id of the line
  std::uint32_t index = 0;     ///< where it stood
  std::uint32_t lines = 0;     ///< how many there were
  ConversationTimes times{};
  LinePlace in_line{};
  std::string portrait{};
  TypingPlace typing{};
  std::vector<HistoryEntry> history{};
  friend bool operator==(const ConversationPlace&, const ConversationPlace&) = default;
};

/// A sequence of lines with speakers, run one after another in one box, until the game has its
/// controls back.
///
/// The same press never does two things. A button that is held since before a line began, or since
/// before a saved place was loaded, counts only after it was released. However the same time is cut
/// into ticks, the same events come at the same times; only buttons are read once a tick, at its
/// begin.
///
/// A block is prepared when it begins, unless prepare_next() or take_next() came before it; ticks
/// in between allocate nothing. Keeps references to the typesetter and the font, which must outlive
/// it and all blocks that anybody holds. One thread at a time.
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

  /// Begins, at the line with the id `from`, or at the first; the first events come with the next
  /// tick. Without lines it closes at once. `name` is the conversation's, for places. Fails with
  /// conversation_runs if one runs already, bad_pace, bad_sound, bad_settings, bad_box, and
  /// bad_place if no line has that id; nothing has begun then. Names that are not UTF-8 are
  /// repaired (invalid_utf8, a warning, to the typesetter's diagnostic hook).
  [[nodiscard]] tl::expected<void, Diagnostic> start(std::vector<DialogueLine> lines,
                                                     std::string_view from = {},
                                                     std::string_view name = {});
  [[nodiscard]] tl::expected<void, Diagnostic> start(DialogueLines lines,
                                                     std::string_view from = {},
                                                     std::string_view name = {});

  /// Lets time pass. The state of the buttons holds from the begin of the tick on. A negative time
  /// counts as 0.
  std::span<const ConversationEvent> tick(Nanoseconds time, Buttons buttons = {});

  /// Sets the position of the line's voice clip, from its begin. In the next tick the line goes
  /// there (Reveal::advance_to()) instead of following the time of the tick, so that the text keeps
  /// step with a clip that stalls or is moved. Call it before each tick while the clip plays;
  /// without it the text follows the clock. Ignored if no voice plays, or while the player hurries.
  void set_voice_position(Nanoseconds position);

  /// Gives an answer while choosing; the conversation goes on with the next tick. The
  /// conversation goes on in the same box, without closing. Fails with bad_choice if nothing is to
  /// be chosen, or if there is no such answer, or if it is not available.
  [[nodiscard]] tl::expected<void, Diagnostic> choose(std::size_t choice);

  /// Ends it at once, wherever it is, without the time for closing.
  std::span<const ConversationEvent> stop();

  /// Stops the clock; ticks do nothing until resume(). Buttons pressed meanwhile do not count, even
  /// if they are still held afterwards.
  void pause();
  void resume();
  [[nodiscard]] bool paused() const;

  [[nodiscard]] ConversationState state() const;
  /// The index of the line in the box, or of the last one that was.
  [[nodiscard]] std::uint32_t line() const;
  [[nodiscard]] const std::vector<DialogueLine>& lines() const;
  /// The name of the conversation that runs: that of start(), or of the last choice that led on.
  [[nodiscard]] const std::string& name() const;
  [[nodiscard]] Nanoseconds clock() const;
  [[nodiscard]] ConversationView view() const;

  /// The sounds of the last tick() or stop(), in order; times are those of clock(), so the offset
  /// inside a frame is the time minus clock() before the tick. Lives until the next tick(), stop()
  /// or start. On pause, the game itself stops sounds that still play; loops end with the next
  /// tick().
  [[nodiscard]] std::span<const SoundEvent> sounds() const;
  /// How many typing sounds were left out because of their gaps since the start.
  [[nodiscard]] std::uint32_t swallowed_sounds() const;

  /// What was shown so far, in order, with the answers that were given. Lines that show nothing are
  /// left out.
  [[nodiscard]] std::vector<HistoryEntry> history() const;
  /// Problems with the markup or the layout of the text in the box.
  [[nodiscard]] std::vector<Diagnostic> diagnostics() const;

  [[nodiscard]] const ConversationSettings& settings() const;
  /// Other settings, also while it runs. Speeds and times take effect at once; boxes, fonts and
  /// sounds with the next block. Fails with what find_problem() finds; then nothing has changed.
  [[nodiscard]] tl::expected<void, Diagnostic> set_settings(ConversationSettings settings);
  /// The same for the player's settings alone. Readings (PlayerSettings::ruby) come and go at once.
  [[nodiscard]] tl::expected<void, Diagnostic> set_player(PlayerSettings player);

  /// Lays the text out anew, in another box or with another font, at any moment, and keeps the
  /// place. The same box changes nothing. Fails with bad_box; then nothing has changed.
  [[nodiscard]] tl::expected<void, Diagnostic> set_box(const Box& box);
  [[nodiscard]] tl::expected<void, Diagnostic> set_font(const Font& font);
  tl::expected<void, Diagnostic> set_font(const Font&& font) = delete;

  /// The same conversation in another language or after its script was saved: goes on at the same
  /// place of the line with the same id, with `typesetter` from now on, and with another font and
  /// box where they are given; the history changes, too, as far as its lines are found, including
  /// those of conversations before a choice (ConversationSettings::lines_of). Events that have
  /// passed do not come again. Fails with what start() fails with, and with bad_place if the line
  /// is gone; then nothing has changed.
  [[nodiscard]] tl::expected<void, Diagnostic> retell(std::vector<DialogueLine> lines,
                                                      Typesetter& typesetter,
                                                      const RetellOptions& options = {});
  [[nodiscard]] tl::expected<void, Diagnostic> retell(DialogueLines lines, Typesetter& typesetter,
                                                      const RetellOptions& options = {});

  /// Prepares the next block ahead, so that its begin costs no more than any other tick. Call
  /// it while a line is revealed. Returns whether there was something to do.
  bool prepare_next();
  /// What that block is prepared from, for doing it in another thread with a typesetter of its own;
  /// nothing if none follows or it is prepared already.
  [[nodiscard]] std::optional<BlockRequest> next_request() const;
  /// Takes a block that was prepared from next_request(). Returns false, and forgets it, if
  /// something has changed since.
  bool take_next(std::shared_ptr<const Block> block);
  /// The block that was prepared ahead, for computing its sounds; may be null.
  [[nodiscard]] std::shared_ptr<const Block> next_block() const;

  [[nodiscard]] ConversationPlace place() const;
  /// Begins at a place, without any event for what lies before it. In the same lines everything
  /// that comes is the same as if it had never stopped, but for this: a loop that ran begins again,
  /// a voice clip that played does not. In changed lines or another language it finds the place
  /// again as retell() does. Fails as start() does, and with bad_place, with the reason, if the
  /// line is gone.
  [[nodiscard]] tl::expected<void, Diagnostic> start_at(std::vector<DialogueLine> lines,
                                                        const ConversationPlace& place);
  [[nodiscard]] tl::expected<void, Diagnostic> start_at(DialogueLines lines,
                                                        const ConversationPlace& place);

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace arvik
