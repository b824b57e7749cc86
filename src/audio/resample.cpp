#include "resample.hpp"

#include <samplerate.h>

#include <algorithm>
#include <cmath>

namespace arvik::audio {
namespace {
constexpr double max_ratio = 256;  // libsamplerate's own limit
}

bool can_resample(double ratio) { return ratio >= 1 / max_ratio && ratio <= max_ratio; }

tl::expected<std::vector<float>, std::string> resample(std::span<const float> in,
                                                       std::size_t channels, double ratio) {
  ratio = std::clamp(ratio, 1 / max_ratio, max_ratio);
  const std::size_t frames = in.size() / channels;
  const auto most = static_cast<std::size_t>(std::ceil(static_cast<double>(frames) * ratio)) + 1;
  std::vector<float> out(most * channels);
  SRC_DATA data{};
  data.data_in = in.data();
  data.input_frames = static_cast<long>(frames);
  data.data_out = out.data();
  data.output_frames = static_cast<long>(most);
  data.end_of_input = 1;
  data.src_ratio = ratio;
  if (const int failure = src_simple(&data, SRC_SINC_FASTEST, static_cast<int>(channels))) {
    return tl::unexpected(std::string(src_strerror(failure)));
  }
  out.resize(static_cast<std::size_t>(data.output_frames_gen) * channels);
  return out;
}

}  // namespace arvik::audio
