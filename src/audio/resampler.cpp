#include "resampler.hpp"

#include <algorithm>
#include <cmath>
#include <new>

namespace arvik::audio {
namespace {
constexpr double max_ratio = 256;  // libsamplerate's own limit
}

Resampler::Resampler(int channels) : channels_(static_cast<std::size_t>(channels)) {
  int failure = 0;
  state_.reset(src_new(SRC_SINC_FASTEST, channels, &failure));
  if (state_ == nullptr) throw std::bad_alloc();  // the only reason left for known arguments
}

void Resampler::run(std::span<const float> in, double ratio, std::vector<float>& out) {
  ratio = std::clamp(ratio, 1 / max_ratio, max_ratio);
  const std::size_t frames = in.size() / channels_;
  const auto most = static_cast<std::size_t>(std::ceil(static_cast<double>(frames) * ratio)) + 1;
  out.resize(most * channels_);
  src_reset(state_.get());
  src_set_ratio(state_.get(), ratio);
  std::size_t taken = 0;
  std::size_t made = 0;
  for (;;) {
    SRC_DATA data{};
    data.data_in = in.data() + taken * channels_;
    data.input_frames = static_cast<long>(frames - taken);
    data.data_out = out.data() + made * channels_;
    data.output_frames = static_cast<long>(most - made);
    data.end_of_input = 1;
    data.src_ratio = ratio;
    if (src_process(state_.get(), &data) != 0) break;
    taken += static_cast<std::size_t>(data.input_frames_used);
    made += static_cast<std::size_t>(data.output_frames_gen);
    if (data.output_frames_gen == 0 || made == most) break;
  }
  out.resize(made * channels_);
}

}  // namespace arvik::audio
