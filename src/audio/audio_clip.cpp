#include "arvik/audio_clip.hpp"

#include <sndfile.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <fstream>
#include <memory>
#include <system_error>

#include "resample.hpp"

namespace arvik {
namespace {

tl::unexpected<Diagnostic> failure(DiagnosticCode code, const std::string& path,
                                   const std::string& reason) {
  return tl::unexpected(
      Diagnostic{.code = code, .severity = Severity::error, .message = path + ": " + reason});
}

struct CloseFile {
  void operator()(SNDFILE* file) const { sf_close(file); }
};

// Mono and stereo stay; more channels become their mean.
std::vector<float> with_few_channels(std::vector<float> samples, std::size_t channels) {
  if (channels <= 2) return samples;
  std::vector<float> mono(samples.size() / channels);
  for (std::size_t frame = 0; frame < mono.size(); ++frame) {
    float sum = 0;
    for (std::size_t c = 0; c < channels; ++c) sum += samples[frame * channels + c];
    mono[frame] = sum / static_cast<float>(channels);
  }
  return mono;
}

// Reads block by block, because a file's header may promise any number of frames.
tl::expected<std::vector<float>, std::string> read_samples(SNDFILE* file, const SF_INFO& info) {
  constexpr sf_count_t block_samples = 1 << 16;
  const auto channels = static_cast<sf_count_t>(info.channels);
  const sf_count_t block = std::max<sf_count_t>(block_samples / channels, 1);
  std::vector<float> samples;
  sf_count_t frames = 0;
  for (;;) {
    samples.resize(static_cast<std::size_t>((frames + block) * channels));
    const sf_count_t read = sf_readf_float(file, samples.data() + frames * channels, block);
    frames += std::max<sf_count_t>(read, 0);
    if (time_of_frames(frames, info.samplerate) > max_clip_length) {
      return tl::unexpected(std::string("longer than ten minutes"));
    }
    if (read < block) break;
  }
  if (frames < info.frames) return tl::unexpected(std::string("the file ends before its end"));
  samples.resize(static_cast<std::size_t>(frames * channels));
  return samples;
}

}  // namespace

Nanoseconds time_of_frames(std::int64_t frames, int rate) {
  // Whole seconds apart, so that no product overflows.
  const std::int64_t second = Nanoseconds(std::chrono::seconds(1)).count();
  const std::int64_t seconds = frames / rate;
  if (seconds >= max_duration.count() / second) return max_duration;
  const std::int64_t rest = frames % rate;
  return Nanoseconds(seconds * second + (rest * second + rate / 2) / rate);
}

std::int64_t frame_at(Nanoseconds time, int rate) {
  const std::int64_t second = Nanoseconds(std::chrono::seconds(1)).count();
  const std::int64_t seconds = time.count() / second;
  const std::int64_t rest = time.count() % second;
  return seconds * rate + (rest * rate + second / 2) / second;
}

tl::expected<AudioClip, Diagnostic> read_clip(const std::string& path, int rate) {
  errno = 0;
  if (!std::ifstream(path, std::ios::binary)) {
    return failure(DiagnosticCode::file_unreadable, path,
                   std::generic_category().message(errno != 0 ? errno : EIO));
  }
  SF_INFO info{};
  const std::unique_ptr<SNDFILE, CloseFile> file(sf_open(path.c_str(), SFM_READ, &info));
  const auto bad = [&](const std::string& reason) {
    return failure(DiagnosticCode::bad_audio, path, reason);
  };
  if (file == nullptr) return bad(std::string("no sound file: ") + sf_strerror(nullptr));
  if (info.frames <= 0) return bad("the file holds no sound: it has 0 frames");
  if (info.samplerate < 1 || info.channels < 1) return bad("its rate or channels make no sense");
  const double ratio = static_cast<double>(rate) / info.samplerate;
  if (!audio::can_resample(ratio)) {
    return bad("its rate of " + std::to_string(info.samplerate) + " Hz cannot be converted");
  }
  auto read = read_samples(file.get(), info);
  if (!read) return bad(read.error());
  std::vector<float> samples = std::move(*read);
  if (!std::all_of(samples.begin(), samples.end(), [](float s) { return std::isfinite(s); })) {
    return bad("it holds samples that are no numbers");
  }
  AudioClip clip{.rate = rate, .channels = info.channels == 2 ? 2 : 1};
  samples = with_few_channels(std::move(samples), static_cast<std::size_t>(info.channels));
  if (info.samplerate == rate) {
    clip.samples = std::move(samples);
    return clip;
  }
  auto converted = audio::resample(samples, static_cast<std::size_t>(clip.channels), ratio);
  if (!converted) return bad("its rate cannot be converted: " + converted.error());
  clip.samples = std::move(*converted);
  if (clip.samples.empty()) {
    return bad("shorter than one frame at " + std::to_string(rate) + " Hz");
  }
  return clip;
}

AudioClip pitched(const AudioClip& clip, double semitones) {
  const double ratio = std::exp2(-semitones / 12);
  if (!std::isfinite(ratio)) return clip;
  // Whole clips at a ratio in range are what the converter never refuses.
  auto samples = audio::resample(clip.samples, static_cast<std::size_t>(clip.channels), ratio);
  return {.rate = clip.rate,
          .channels = clip.channels,
          .samples = std::move(samples).value_or(clip.samples)};
}

void ClipBank::add(std::string name, AudioClip clip) {
  const auto [place, is_new] = entries_.try_emplace(std::move(name));
  if (is_new) place->second.clip = std::move(clip);
}

const AudioClip* ClipBank::find(std::string_view name) const& {
  const auto found = entries_.find(name);
  return found == entries_.end() ? nullptr : &found->second.clip;
}

const AudioClip* ClipBank::find(std::string_view name, float semitones) & {
  const auto found = entries_.find(name);
  if (found == entries_.end()) return nullptr;
  const long parts = std::isfinite(semitones) ? std::lround(semitones * pitch_parts) : 0;
  if (parts == 0) return &found->second.clip;
  const auto [place, is_new] = found->second.at_pitch.try_emplace(parts);
  if (is_new) {
    place->second = pitched(found->second.clip, static_cast<double>(parts) / pitch_parts);
  }
  return &place->second;
}

void ClipBank::prepare(const TypingPlan& plan) {
  for (const StepSound& step : plan.steps) {
    if (step.sound == StepSound::none) continue;
    for (const std::string& sample : plan.sounds()[step.sound].samples) {
      (void)find(sample, step.pitch);
    }
  }
  for (const SoundLoop& loop : plan.loops) {
    const TypingSound& sound = plan.sounds()[loop.sound];
    (void)find(sound.samples[0], static_cast<float>(sound.pitch.low));
  }
}

Nanoseconds ClipBank::length(std::string_view name) const {
  const AudioClip* clip = find(name);
  return clip == nullptr ? Nanoseconds::zero() : clip->length();
}

ClipEdges find_edges(const AudioClip& clip) {
  const auto channels = static_cast<std::size_t>(clip.channels);
  const std::size_t window = std::max<std::size_t>(static_cast<std::size_t>(clip.rate) / 100, 1);
  std::vector<double> powers;  // of each window
  for (std::size_t begin = 0; begin < clip.frames(); begin += window) {
    const std::size_t end = std::min(begin + window, clip.frames());
    double sum = 0;
    for (std::size_t i = begin * channels; i < end * channels; ++i) {
      sum += static_cast<double>(clip.samples[i]) * clip.samples[i];
    }
    powers.push_back(sum / static_cast<double>((end - begin) * channels));
  }
  constexpr double quieter = 1e-4;  // 40 dB, of power
  const double loudest = powers.empty() ? 0 : *std::max_element(powers.begin(), powers.end());
  const auto is_loud = [&](double power) { return power > 0 && power >= loudest * quieter; };
  const auto first = std::find_if(powers.begin(), powers.end(), is_loud);
  if (first == powers.end()) return {.lead = clip.length()};
  const auto last = std::find_if(powers.rbegin(), powers.rend(), is_loud);
  const auto frames_of = [&](std::ptrdiff_t windows) {
    return static_cast<std::int64_t>(windows) * static_cast<std::int64_t>(window);
  };
  const std::int64_t end =
      std::min(frames_of(powers.rend() - last), static_cast<std::int64_t>(clip.frames()));
  return {.lead = time_of_frames(frames_of(first - powers.begin()), clip.rate),
          .tail = time_of_frames(static_cast<std::int64_t>(clip.frames()) - end, clip.rate)};
}

}  // namespace arvik
