#pragma once

#include <samplerate.h>

#include <memory>
#include <span>
#include <vector>

namespace arvik::audio {

/// A band-limited rate converter for whole clips; keeps its state and tables between them.
class Resampler {
 public:
  explicit Resampler(int channels);
  /// Replaces what `out` held by `in` at `ratio` (new rate / old rate, 1/256 to 256), reusing its
  /// memory. The first frame of the result is at the time of the first frame of `in`.
  void run(std::span<const float> in, double ratio, std::vector<float>& out);

 private:
  struct Close {
    void operator()(SRC_STATE* state) const { src_delete(state); }
  };
  std::size_t channels_;
  std::unique_ptr<SRC_STATE, Close> state_;
};

}  // namespace arvik::audio
