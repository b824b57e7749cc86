#pragma once

#include <cstddef>
#include <span>
#include <string>
#include <tl/expected.hpp>
#include <vector>

namespace arvik::audio {

/// Whether the converter takes a ratio of rates: 1/256 to 256.
[[nodiscard]] bool can_resample(double ratio);

/// A whole clip at `ratio` (new rate / old rate, brought into 1/256 to 256), band-limited. The
/// first frame of the result is at the time of the first frame of `in`. Fails with the converter's
/// reason.
[[nodiscard]] tl::expected<std::vector<float>, std::string> resample(std::span<const float> in,
                                                                     std::size_t channels,
                                                                     double ratio);

}  // namespace arvik::audio
