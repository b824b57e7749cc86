#include "arvik/audio_clip.hpp"

#include <algorithm>
#include <cmath>

#include "resample.hpp"
#include "sound_source.hpp"

namespace arvik {

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
  auto source = audio::SoundSource::open(path);
  if (!source) return tl::unexpected(std::move(source.error()));
  const double ratio = static_cast<double>(rate) / source->rate();
  if (!audio::can_resample(ratio)) {
    return source->failure("its rate of " + std::to_string(source->rate()) +
                           " Hz cannot be converted");
  }
  std::vector<float> samples;
  for (bool more = true; more;) {
    more = source->read(samples);
    if (time_of_frames(source->frames(), source->rate()) > max_clip_length) {
      return source->failure("longer than ten minutes");
    }
  }
  if (auto good = source->finish(); !good) return tl::unexpected(std::move(good.error()));
  // Mono and stereo stay; more channels become their mean.
  AudioClip clip{.rate = rate, .channels = source->channels() == 2 ? 2 : 1};
  if (source->channels() > 2) {
    std::vector<float> mono;
    audio::append_mean(samples, static_cast<std::size_t>(source->channels()), mono);
    samples = std::move(mono);
  }
  if (source->rate() == rate) {
    clip.samples = std::move(samples);
    return clip;
  }
  auto converted = audio::resample(samples, static_cast<std::size_t>(clip.channels), ratio);
  if (!converted) return source->failure("its rate cannot be converted: " + converted.error());
  clip.samples = std::move(*converted);
  if (clip.samples.empty()) {
    return source->failure("shorter than one frame at " + std::to_string(rate) + " Hz");
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

}  // namespace arvik
