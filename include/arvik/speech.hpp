#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/audio_clip.hpp"
#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/units.hpp"

/// Part of arvik::audio: where somebody speaks in a recording, and how.
namespace arvik {

/// Recordings are read in slices of this length.
inline constexpr Nanoseconds speech_grid = std::chrono::milliseconds(10);
/// The longest recording that is read: a line of dialogue is never that long.
inline constexpr Nanoseconds max_speech_length = std::chrono::hours(4);

/// From `begin` to before `end` somebody speaks.
struct SpeechSpan {
  Nanoseconds begin{};
  Nanoseconds end{};
  friend bool operator==(const SpeechSpan&, const SpeechSpan&) = default;
};

/// What one slice of a recording is like: levels in half decibels, 255 being full scale.
struct SpeechSlice {
  static constexpr std::size_t bands = 8;
  std::array<std::uint8_t, bands> levels{};  ///< of the bands from 100 Hz to 8 kHz
  std::uint8_t level = 0;                    ///< of all
  std::uint8_t mouth = 0;                    ///< how far the mouth is open, 0 to 255
  /// A level in decibels of full scale.
  [[nodiscard]] static constexpr float decibels(std::uint8_t level) {
    return static_cast<float>(level) / 2 - 127.5F;
  }
};

/// A recording as the aligner and the charts see it. Stands without the samples.
struct SpeechTrack {
  std::vector<SpeechSlice> slices{};  ///< one for each speech_grid; the last may be shorter
  std::vector<SpeechSpan> spans{};    ///< where somebody speaks, rising
  std::vector<Nanoseconds> peaks{};   ///< the loudest moments of syllables, rising
  Nanoseconds length{};
  Nanoseconds lead{};      ///< silence before the first span; all of it if nobody speaks
  Nanoseconds tail{};      ///< silence behind the last
  float noise_level = 0;   ///< of what lies between the speech, in dB of full scale, -127 to 0
  float speech_level = 0;  ///< of the louder half of the speech, in the same way
  float peak = 0;          ///< the largest sample, 0 to 1
  /// Loudness of the whole in LUFS (EBU R 128, ITU-R BS.1770), -70 if it is shorter than 0.4 s or
  /// silent.
  float loudness = -70;
  [[nodiscard]] bool is_silent() const { return spans.empty(); }
  /// How long somebody speaks, the rests between left out.
  [[nodiscard]] Nanoseconds spoken() const;
};

/// Reads a recording block by block and forgets its samples, so that memory is in proportion to the
/// slices alone: 1 kB a second. One thread at a time.
class ARVIK_API SpeechReader {
 public:
  /// `rate` in min_audio_rate to max_audio_rate; others are brought into it.
  explicit SpeechReader(int rate);
  SpeechReader(SpeechReader&&) noexcept;
  SpeechReader& operator=(SpeechReader&&) noexcept;
  ~SpeechReader();
  /// The next frames, of one channel. What is no number counts as 0.
  void push(std::span<const float> mono);
  /// What was read. The reader is empty then.
  [[nodiscard]] SpeechTrack finish();

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

/// Of a clip in memory; of two channels their mean.
[[nodiscard]] ARVIK_API SpeechTrack read_speech(const AudioClip& clip);
/// Of a sound file, without ever holding it whole. Fails with file_unreadable, or with bad_audio as
/// read_clip() does, but for the limit, which is max_speech_length.
[[nodiscard]] ARVIK_API tl::expected<SpeechTrack, Diagnostic> read_speech_file(
    const std::string& path);

/// The fingerprint of a recording's bytes (VoiceTiming::clip); never 0. Fails with file_unreadable.
[[nodiscard]] ARVIK_API tl::expected<std::uint64_t, Diagnostic> fingerprint_of_file(
    const std::string& path);

/// How far the mouth is open at a moment of the recording, 0 to 1: for the face of a portrait or
/// figure. 0 before the begin and behind the end.
[[nodiscard]] ARVIK_API float mouth_open(const SpeechTrack& track, Nanoseconds time);

}  // namespace arvik
