#pragma once

#include <sndfile.h>

#include <cstdint>
#include <memory>
#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "arvik/diagnostic.hpp"

namespace arvik::audio {

/// A sound file, read block by block, because its header may promise any number of frames.
class SoundSource {
 public:
  /// Fails with file_unreadable, or with bad_audio where it is no sound file or holds no frames.
  [[nodiscard]] static tl::expected<SoundSource, Diagnostic> open(const std::string& path);

  [[nodiscard]] int rate() const { return info_.samplerate; }
  [[nodiscard]] int channels() const { return info_.channels; }

  /// Appends the next frames to `out`, some ten thousands at most, channel beside channel. Returns
  /// false at the end, or where something is wrong.
  bool read(std::vector<float>& out);
  [[nodiscard]] std::int64_t frames() const { return frames_; }  ///< so far
  /// What is wrong, once the end has come: it came early, or samples were no numbers.
  [[nodiscard]] tl::expected<void, Diagnostic> finish() const;
  [[nodiscard]] tl::unexpected<Diagnostic> failure(const std::string& reason) const;

 private:
  struct Close {
    void operator()(SNDFILE* file) const { sf_close(file); }
  };

  std::string path_;
  SF_INFO info_{};
  std::unique_ptr<SNDFILE, Close> file_;
  std::int64_t frames_ = 0;
  bool all_numbers_ = true;
};

/// Adds the mean of the channels of each frame to `mono`.
void append_mean(const std::vector<float>& samples, std::size_t channels, std::vector<float>& mono);

}  // namespace arvik::audio
