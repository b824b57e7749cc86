#pragma once

#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/reveal.hpp"
#include "arvik/typing_sound.hpp"

namespace arvik {

enum class SoundEventKind : std::uint8_t {
  typing,      ///< one sample starts
  loop_begin,  ///< a looping clip starts …
  loop_gain,   ///< … goes on louder or softer …
  loop_end,    ///< … and fades out
  cut,         ///< what still rings of a typing sound fades out
  clip,        ///< a one-off sound, by `[sound NAME]`
  voice_begin,
  voice_end
};
/// "typing", "loop_begin", …
[[nodiscard]] ARVIK_API std::string_view sound_event_name(SoundEventKind kind);

/// Something to be heard at an exact time.
struct SoundEvent {
  SoundEventKind kind{};
  Nanoseconds time{};  ///< as heard, on the clock that follow() was given
  /// The sample or clip. Points into the plan, the schedule or the line, and lives as long.
  std::string_view name{};
  std::uint32_t step = 0;     ///< of typing; else how many steps are shown
  std::uint16_t sound = 0;    ///< of typing, cuts and loops: index in TypingPlan::sounds
  std::uint16_t sample = 0;   ///< of typing: index in TypingSound::samples
  std::uint32_t channel = 0;  ///< of typing: what still plays on the same channel fades out
  float pitch = 0;            ///< semitones
  float gain = 0;             ///< decibels
  float pan = 0;              ///< -1 left, 1 right
  Nanoseconds fade{};         ///< how long what ends takes to fade out
};

/// What a TypingPlayer remembers of the lines before, for saved games.
struct TypingPlace {
  std::optional<Nanoseconds> last_start{};  ///< of a typing sound, as heard
  std::optional<Nanoseconds> voice_end{};
  std::uint32_t started = 0;  ///< typing samples so far
  std::uint32_t swallowed = 0;
  std::optional<std::uint32_t> last_sample{};  ///< of last_sound, in this line
  std::uint16_t last_sound = StepSound::none;
  std::uint64_t ringing = 0;  ///< which sounds may ring, bit by index modulo 64
  friend bool operator==(const TypingPlace&, const TypingPlace&) = default;
};

/// Turns "these steps appeared" into sounds at exact times, beside a reveal. It does not know how
/// long samples are; channels limit how many sound at once.
///
/// However the same time is cut into ticks, the sounds are the same. A skip plays only sounds that
/// are written as `[sound NAME]`. While a reveal is paused or its speed is 0, loops stop.
///
/// A small value: a copy goes on independently. Keeps a pointer to the plan. Allocates only if
/// `out` must grow. One thread at a time.
class ARVIK_API TypingPlayer {
 public:
  /// Silent until begin().
  TypingPlayer() = default;

  /// A line begins. Keeps only the time of the last sound, so that the gap holds between lines,
  /// too. `plan` must outlive the player or the next begin().
  void begin(const TypingPlan& plan);
  void begin(TypingPlan&&) = delete;

  /// The line goes on at `position` with another plan of the same text, as after it was laid out in
  /// another box.
  void replace(const TypingPlan& plan, Nanoseconds position);
  void replace(TypingPlan&&, Nanoseconds) = delete;

  [[nodiscard]] TypingPlace place() const;
  /// A line goes on at `position`, in the state `place`. A loop that ran starts again.
  void begin_at(const TypingPlan& plan, Nanoseconds position, const TypingPlace& place);
  void begin_at(TypingPlan&&, Nanoseconds, const TypingPlace&) = delete;

  /// A voice clip plays until this moment; typing sounds before it are softer or silent.
  void set_voice_end(Nanoseconds time) { voice_end_ = time; }
  /// The last moment that it was given; nothing if there was none.
  [[nodiscard]] std::optional<Nanoseconds> voice_end() const {
    return voice_end_ == never ? std::nullopt : std::optional(voice_end_);
  }

  /// Call it after every tick or skip of the reveal. `before` is a copy of the reveal taken before,
  /// `now` the heard time then, which never goes back. Appends to `out`, in order of time.
  void follow(const Reveal& before, const Reveal& after, const Progress& progress, Nanoseconds now,
              std::vector<SoundEvent>& out);

  /// Ends a running loop; follow() starts it again when the reveal goes on. For games that stop
  /// ticking while they are paused; if ticks go on, pausing the reveal is enough.
  void pause(Nanoseconds now, std::vector<SoundEvent>& out);

  /// The line is left or stopped: loops end, and what rings is cut where the sound says so.
  void stop(Nanoseconds now, std::vector<SoundEvent>& out);

  /// How many sounds were left out because of the gap so far.
  [[nodiscard]] std::uint32_t swallowed() const { return swallowed_; }

 private:
  void step_appeared(std::uint32_t step, Nanoseconds heard, std::vector<SoundEvent>& out);
  void run_loops(const Reveal& before, const Reveal& after, Nanoseconds until, Nanoseconds now,
                 std::vector<SoundEvent>& out);
  void begin_loop(Nanoseconds heard, std::vector<SoundEvent>& out);
  void end_loop(Nanoseconds heard, std::vector<SoundEvent>& out);
  void cut(Nanoseconds heard, std::vector<SoundEvent>& out);
  [[nodiscard]] double voice_gain(const TypingSound& sound, Nanoseconds heard) const;

  static constexpr Nanoseconds never{std::int64_t{-1} << 60};
  static constexpr std::uint32_t no_sample = 0xFFFFFFFF;

  const TypingPlan* plan_ = nullptr;
  Nanoseconds last_start_ = never;
  Nanoseconds voice_end_ = never;
  std::uint32_t next_loop_ = 0;  // the loop that runs, or the next one
  std::uint32_t started_ = 0;    // typing samples, for cycling and for channels
  std::uint32_t last_sample_ = no_sample;
  std::uint32_t swallowed_ = 0;
  std::uint16_t last_sound_ = StepSound::none;
  std::uint16_t loop_sound_ = StepSound::none;  // the one that runs
  bool loop_runs_ = false;
  bool loop_lowered_ = false;  // by a voice
  bool loop_ends_ = false;     // it runs, but has no place in the new plan
  std::uint64_t rings_ = 0;    // which sounds were started and not cut, by index modulo 64
};

}  // namespace arvik
