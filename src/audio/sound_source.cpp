#include "sound_source.hpp"

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <fstream>
#include <system_error>

namespace arvik::audio {

tl::unexpected<Diagnostic> SoundSource::failure(const std::string& reason) const {
  return tl::unexpected(Diagnostic{.code = DiagnosticCode::bad_audio,
                                   .severity = Severity::error,
                                   .message = path_ + ": " + reason});
}

tl::expected<SoundSource, Diagnostic> SoundSource::open(const std::string& path) {
  errno = 0;
  if (!std::ifstream(path, std::ios::binary)) {
    return tl::unexpected(Diagnostic{
        .code = DiagnosticCode::file_unreadable,
        .severity = Severity::error,
        .message = path + ": " + std::generic_category().message(errno != 0 ? errno : EIO)});
  }
  SoundSource source;
  source.path_ = path;
  source.file_.reset(sf_open(path.c_str(), SFM_READ, &source.info_));
  if (source.file_ == nullptr) {
    return source.failure(std::string("no sound file: ") + sf_strerror(nullptr));
  }
  if (source.info_.frames <= 0) {
    return source.failure("the file holds no sound: it has 0 frames");
  }
  if (source.info_.samplerate < 1 || source.info_.channels < 1) {
    return source.failure("its rate or channels make no sense");
  }
  return source;
}

bool SoundSource::read(std::vector<float>& out) {
  constexpr sf_count_t block_samples = 1 << 16;
  const auto channels = static_cast<sf_count_t>(info_.channels);
  const sf_count_t block = std::max<sf_count_t>(block_samples / channels, 1);
  const std::size_t before = out.size();
  out.resize(before + static_cast<std::size_t>(block * channels));
  const sf_count_t read =
      std::max<sf_count_t>(sf_readf_float(file_.get(), out.data() + before, block), 0);
  out.resize(before + static_cast<std::size_t>(read * channels));
  frames_ += read;
  all_numbers_ =
      all_numbers_ && std::all_of(out.begin() + static_cast<std::ptrdiff_t>(before), out.end(),
                                  [](float sample) { return std::isfinite(sample); });
  return read == block;
}

tl::expected<void, Diagnostic> SoundSource::finish() const {
  if (frames_ < info_.frames) return failure("the file ends before its end");
  if (!all_numbers_) return failure("it holds samples that are no numbers");
  return {};
}

void append_mean(const std::vector<float>& samples, std::size_t channels,
                 std::vector<float>& mono) {
  for (std::size_t at = 0; at + channels <= samples.size(); at += channels) {
    float sum = 0;
    for (std::size_t c = 0; c < channels; ++c) sum += samples[at + c];
    mono.push_back(sum / static_cast<float>(channels));
  }
}

}  // namespace arvik::audio
