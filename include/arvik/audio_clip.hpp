#pragma once

#include <cstddef>
#include <cstdint>
#include <map>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"
#include "arvik/export.hpp"
#include "arvik/typing_sound.hpp"
#include "arvik/units.hpp"

/// Part of arvik::audio.
namespace arvik {

inline constexpr int min_audio_rate = 8000;
inline constexpr int max_audio_rate = 192'000;
/// The longest clip that is read.
inline constexpr Nanoseconds max_clip_length = std::chrono::minutes(10);

/// How long so many frames last at `rate` frames per second, more than 0: the one way from frames
/// to time. Rounded to the nearest nanosecond.
[[nodiscard]] ARVIK_API Nanoseconds time_of_frames(std::int64_t frames, int rate);
/// The frame at a time, 0 or later: time · rate, rounded to the nearest.
[[nodiscard]] ARVIK_API std::int64_t frame_at(Nanoseconds time, int rate);

/// A sound in memory.
struct AudioClip {
  int rate = 48'000;             ///< frames per second
  int channels = 1;              ///< 1, or 2: left and right
  std::vector<float> samples{};  ///< frame after frame; full scale is -1 to 1
  [[nodiscard]] std::size_t frames() const {
    return samples.size() / static_cast<std::size_t>(channels);
  }
  [[nodiscard]] Nanoseconds length() const {
    return time_of_frames(static_cast<std::int64_t>(frames()), rate);
  }
};

/// Reads a sound file (WAV, FLAC, Ogg, … as libsndfile knows them) and converts it to `rate`. More
/// than two channels become one, their mean. Fails with file_unreadable, or with bad_audio if the
/// file is broken, holds no frames, ends before its end, is longer than max_clip_length, or holds
/// what is no number.
[[nodiscard]] ARVIK_API tl::expected<AudioClip, Diagnostic> read_clip(const std::string& path,
                                                                      int rate);

/// The same sound, so many semitones higher and shorter, or lower and longer; eight octaves at
/// most.
[[nodiscard]] ARVIK_API AudioClip pitched(const AudioClip& clip, double semitones);

/// Clips by name, and what they sound like at other pitches. Clips keep their addresses as long as
/// the bank. One thread at a time; clips that it has returned may be read by any other meanwhile,
/// as a mixer in an audio thread does.
class ARVIK_API ClipBank {
 public:
  /// Replaces nothing: the first of a name counts.
  void add(std::string name, AudioClip clip);
  /// Null if there is none.
  [[nodiscard]] const AudioClip* find(std::string_view name) const&;
  const AudioClip* find(std::string_view name) && = delete;
  /// The clip at a pitch, on the grid of pitch_parts. Computed when it is first asked for, which
  /// takes some tens of microseconds for a sample of 50 ms, and kept. Null if there is none.
  [[nodiscard]] const AudioClip* find(std::string_view name, float semitones) &;
  /// Computes what a line may sound like ahead, so that no frame has to: every sample of the plan
  /// at every pitch of its steps.
  void prepare(const TypingPlan& plan);
  /// How long a clip is, as ConversationSettings::voice_length wants it; 0 if there is none.
  [[nodiscard]] Nanoseconds length(std::string_view name) const;

 private:
  struct Entry {
    AudioClip clip{};
    std::map<long, AudioClip> at_pitch{};  // by parts of a semitone
  };
  std::map<std::string, Entry, std::less<>> entries_;
};

}  // namespace arvik
