#pragma once

#include <cstddef>
#include <cstdint>
#include <limits>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/boundaries.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/markup.hpp"
#include "arvik/pace.hpp"
#include "arvik/schedule.hpp"
#include "arvik/steps.hpp"

namespace arvik {

/// Which of its samples a typing sound takes next.
enum class SampleChoice : std::uint8_t {
  cycle,     ///< one after the other
  shuffle,   ///< at random, never the same twice in a row
  by_letter  ///< the same letter always sounds the same: sample, pitch and gain
};

/// What becomes of sounds that still ring when the line ends or is skipped.
enum class SoundEnding : std::uint8_t { ring, cut };

/// Which steps are heard.
struct HeardSteps {
  bool letters = true;
  bool digits = true;
  bool symbols = true;  ///< emoji and icons, too
  bool punctuation = false;
  bool blanks = false;  ///< row ends, too
};

/// Inclusive range.
struct SoundRange {
  double low = 0;
  double high = 0;
};

/// The gain that means silence.
inline constexpr double silence = -std::numeric_limits<double>::infinity();

inline constexpr Nanoseconds min_sound_gap = std::chrono::milliseconds(5);
inline constexpr Nanoseconds max_sound_gap = std::chrono::seconds(10);
inline constexpr std::uint32_t max_sound_voices = 16;
/// The most typing sounds that a line may choose from.
inline constexpr std::size_t max_typing_sounds = 1000;

/// The profile of the small sound played as characters appear. Samples are names; the game decides
/// what they stand for.
struct TypingSound {
  std::string name{};
  std::vector<std::string> samples{};  ///< at least one
  SampleChoice choice = SampleChoice::cycle;
  std::uint32_t every = 1;  ///< every n-th heard step of the line sounds, 1 to 1000
  /// The least time between two starts, as heard: text that is fast or hurried thins out instead of
  /// buzzing. min_sound_gap to max_sound_gap.
  Nanoseconds gap = std::chrono::milliseconds(45);
  SoundRange pitch{};  ///< semitones, each -max_semitones to max_semitones
  SoundRange gain{};   ///< decibels, min_decibels to max_decibels
  HeardSteps heard{};
  /// How many semitones the pitch has moved at the last heard step of a question, and of another
  /// sentence; it begins to move contour_steps before. 0: not at all.
  double question_pitch = 0;
  double statement_pitch = 0;
  SoundEnding ending = SoundEnding::ring;
  Nanoseconds fade = std::chrono::milliseconds(12);  ///< of what is cut, 1 ms to 1 s
  /// One long clip, the first sample, that runs while characters appear and rests while none do.
  bool loop = false;
  /// How many may sound at once, 1 to max_sound_voices: one more cuts the oldest.
  std::uint32_t voices = 4;
  double under_voice = -9;  ///< added to the gain while a voice clip plays; may be `silence`
  double pan = 0;           ///< -1 left, 0 middle, 1 right
  std::uint64_t seed = 0;   ///< another seed draws other samples, pitches and gains
};

/// Planned pitches are multiples of 1/pitch_parts semitone (6 cents, finer than the ear notices in
/// a short sound), so that a game can compute each sample at each pitch once.
inline constexpr int pitch_parts = 16;

/// Over how many heard steps the pitch moves at a sentence's end.
inline constexpr std::uint32_t contour_steps = 6;

/// The first value that is out of its range, as a bad_sound diagnostic; nothing if it is good.
[[nodiscard]] ARVIK_API std::optional<Diagnostic> find_problem(const TypingSound& sound);
/// The first problem of a list of sounds; more than max_typing_sounds are a problem, too.
[[nodiscard]] ARVIK_API std::optional<Diagnostic> find_problem(std::span<const TypingSound> sounds);

/// What one step sounds like.
struct StepSound {
  static constexpr std::uint16_t none = 0xFFFF;
  std::uint16_t sound = none;  ///< index of the typing sound
  std::uint32_t draw = 0;      ///< random; chooses the sample
  float pitch = 0;             ///< semitones, on the grid of pitch_parts
  float gain = 0;              ///< decibels
};

/// A stretch of a line in which a looping sound runs.
struct SoundLoop {
  Nanoseconds begin{};  ///< times of the line
  Nanoseconds end{};
  std::uint32_t first_step = 0;
  std::uint16_t sound = 0;
  bool ends_at_hold = false;  ///< a hold lies between it and the next one
};

/// All sounds that lines may name, shared by their plans. Null: none.
using TypingSounds = std::shared_ptr<const std::vector<TypingSound>>;

/// What a line sounds like: made once, like its schedule.
struct TypingPlan {
  TypingSounds all_sounds{};
  std::vector<StepSound> steps{};  ///< one a step
  std::vector<SoundLoop> loops{};  ///< in order of time
  /// Warnings: unknown_sound.
  std::vector<Diagnostic> diagnostics{};

  [[nodiscard]] std::span<const TypingSound> sounds() const {
    return all_sounds != nullptr ? std::span<const TypingSound>(*all_sounds)
                                 : std::span<const TypingSound>();
  }
};

/// Plans the typing sounds of a line. `sounds` are all that may be named; `name` is the one that
/// the line begins with (mostly the speaker's), empty for none; `[typing NAME: …]` and `[mute: …]`
/// change it. A name that is not there is silent, with an unknown_sound warning.
///
/// Everything random is drawn from the sound's seed, the text and the step (by letter: from the
/// seed and the letter). Sentences that move the pitch end where `boundaries`
/// say, which were read with the pace's abbreviations and characters; null: they are read here.
/// Fails with what find_problem() finds. Linear.
[[nodiscard]] ARVIK_API tl::expected<TypingPlan, Diagnostic> plan_typing(
    const MarkedText& marked, const Steps& steps, Language& language, const Schedule& schedule,
    TypingSounds sounds, std::string_view name, const Pace& pace = {},
    const std::vector<Boundary>* boundaries = nullptr);
/// The same with a copy of the sounds.
[[nodiscard]] ARVIK_API tl::expected<TypingPlan, Diagnostic> plan_typing(
    const MarkedText& marked, const Steps& steps, Language& language, const Schedule& schedule,
    std::span<const TypingSound> sounds, std::string_view name, const Pace& pace = {},
    const std::vector<Boundary>* boundaries = nullptr);

}  // namespace arvik
