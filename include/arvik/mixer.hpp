#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/audio_clip.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/typing_player.hpp"

/// Part of arvik::audio: turns sound events into samples, live or into a file.
namespace arvik {

/// The loudest sample of a mix: 1 dB below full scale.
inline constexpr float mix_ceiling = 0.891F;

struct MixOptions {
  int rate = 48'000;  ///< frames per second, min_audio_rate to max_audio_rate
  int channels = 2;   ///< 1, or 2: left and right
  /// For live sound: what would exceed mix_ceiling is turned down at once, and comes up again
  /// within some tenths of a second. mix() does without: it knows the loudest sample ahead.
  bool limited = false;
};

/// What a mixer does at one frame: a sound event, with its clip found.
struct MixEvent {
  std::int64_t frame = 0;  ///< event.time · rate, rounded to the nearest
  SoundEventKind kind{};
  const AudioClip* clip = nullptr;  ///< of what begins, at its pitch
  std::uint32_t channel = 0;
  std::uint16_t sound = 0;  ///< of typing and cuts
  float gain = 0;           ///< decibels
  float pan = 0;
  std::int64_t fade = 0;  ///< frames
};

/// The mix event of an event; nothing if the bank has no clip of its name, or if it has another
/// rate. A pitch that the bank has not computed yet is computed: call it in the game's thread, not
/// in that of the audio.
[[nodiscard]] ARVIK_API std::optional<MixEvent> make_mix_event(const SoundEvent& event,
                                                               ClipBank& bank,
                                                               const MixOptions& options);

/// Mixes mix events into blocks of samples. What begins at a mix event begins at exactly its frame.
///
/// Nothing clicks: what is cut fades out linearly over its fade, so that neighbouring samples
/// differ by no more than the clip's own step and its level / fade; what ends by itself fades over
/// its last 2 ms; loops and voices fade in over 5 ms. One-off and typing sounds begin as they are.
///
/// A sound in the middle is as loud in stereo as in mono; one at a side is 3 dB louder there, for
/// the same power. Sums may exceed full scale, unless MixOptions::limited.
///
/// Made for an audio callback: render() takes nothing from the heap, asks for no lock and computes
/// nothing but sums. add() may allocate.
///
/// One thread at a time: mostly the audio thread renders, and mix events are added under its lock.
/// Moved-from objects can only be assigned to or destroyed.
class ARVIK_API Mixer {
 public:
  explicit Mixer(const MixOptions& options = {});
  Mixer(Mixer&&) noexcept;
  Mixer& operator=(Mixer&&) noexcept;
  ~Mixer();

  /// Cues come in order of their frames. One that lies before position() happens there. Clips must
  /// outlive the mixer.
  void add(const MixEvent& mix_event);
  /// Fills `out`, whole frames, with what comes next. Allocates nothing.
  void render(std::span<float> out);
  /// The frame that comes next.
  [[nodiscard]] std::int64_t position() const;
  /// Whether nothing sounds and nothing is to come.
  [[nodiscard]] bool silent() const;
  /// Begins anew at frame 0: forgets all but its memory.
  void restart();
  /// Fades everything out over so many frames, at once, and forgets what is to come.
  void stop(std::int64_t fade);
  /// Fades out over so many frames, and then stands still: position() stops, and render() gives
  /// silence until resume(), which fades in and goes on where everything stood.
  void pause(std::int64_t fade);
  void resume(std::int64_t fade);
  [[nodiscard]] bool paused() const;
  /// How many frames of the voice clip that plays were rendered; nothing where none does. What
  /// Conversation::set_voice_position() wants, as a time.
  [[nodiscard]] std::optional<std::int64_t> voice_position() const;
  /// How loud everything is, in decibels, min_decibels to max_decibels, or `silence`; 0 at first.
  /// Gets there over 20 ms, so that a player may turn it while something sounds.
  void set_volume(double decibels);

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

/// What follows the last sound in a mix.
inline constexpr Nanoseconds mix_tail = std::chrono::milliseconds(20);

struct MixResult {
  std::int64_t frames = 0;
  float peak = 0;        ///< of the sum, full scale is 1; may be more
  float lowered_by = 0;  ///< decibels, by which the whole mix was lowered to keep mix_ceiling
};

/// Mixes all mix events, which come in order, and calls `sink` with one block of whole frames after
/// the other; it ends where everything has rung out, not before `length`, and mix_tail behind it.
/// Where the sum would exceed mix_ceiling, the whole mix is lowered, so that nothing clips and
/// nothing is distorted; for that it is computed twice. `progress`, if given, is called with 0
/// to 1. The same mix events give the same samples.
ARVIK_API MixResult mix(std::span<const MixEvent> mix_events, Nanoseconds length,
                        const MixOptions& options,
                        const std::function<void(std::span<const float>)>& sink,
                        const std::function<void(double)>& progress = {});

enum class WavFormat : std::uint8_t { int16, float32 };

/// Writes what `mix` makes as a WAV file. Fails with file_unwritable, with the reason; what was
/// written then is left behind.
[[nodiscard]] ARVIK_API tl::expected<MixResult, Diagnostic> write_mix(
    const std::string& path, std::span<const MixEvent> mix_events, Nanoseconds length,
    const MixOptions& options, WavFormat format = WavFormat::int16,
    const std::function<void(double)>& progress = {});

}  // namespace arvik
