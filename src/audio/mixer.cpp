// Each sounding clip has a level that moves along one ramp at a time: in, out, or to another gain.
// Blocks are cut at the mix events, so that inside a piece nothing changes but levels. The
// limiter's gain falls within one frame, to what that frame needs, and rises slowly: typing sounds
// are all attack, and a limiter that looks ahead would delay them.
//
// Guarded by tests/audio/audio_test.cpp, which reads the files back.

#include "arvik/mixer.hpp"

#include <sndfile.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cmath>
#include <system_error>
#include <utility>
#include <vector>

namespace arvik {
namespace {

constexpr Nanoseconds fade_in = std::chrono::milliseconds(5);
constexpr Nanoseconds end_fade = std::chrono::milliseconds(2);
constexpr Nanoseconds volume_fade = std::chrono::milliseconds(20);
constexpr float release_seconds = 0.1F;  // in which the limiter's gain comes two thirds of its way
constexpr std::size_t block_frames = 4096;

float gain_of(float decibels) { return std::pow(10.0F, decibels / 20); }

// How loud on either side; 1 and 1 in the middle.
std::array<float, 2> sides_of(float pan) {
  constexpr float quarter = 0.785398163F;  // of pi
  constexpr float root = 1.41421356F;
  const float angle = (std::clamp(pan, -1.0F, 1.0F) + 1) * quarter;
  return {root * std::cos(angle), root * std::sin(angle)};
}

enum class Part : std::uint8_t { typing, loop, clip, voice };

Part part_of(SoundEventKind kind) {
  switch (kind) {
    case SoundEventKind::typing:
    case SoundEventKind::cut:
      return Part::typing;
    case SoundEventKind::loop_begin:
    case SoundEventKind::loop_gain:
    case SoundEventKind::loop_end:
      return Part::loop;
    case SoundEventKind::voice_begin:
    case SoundEventKind::voice_end:
      return Part::voice;
    case SoundEventKind::clip:
      break;
  }
  return Part::clip;
}

bool begins_clip(SoundEventKind kind) {
  return kind == SoundEventKind::typing || kind == SoundEventKind::loop_begin ||
         kind == SoundEventKind::clip || kind == SoundEventKind::voice_begin;
}

// A level that moves to another in a straight line.
struct Ramp {
  float level = 1;
  float slope = 0;  // a frame
  float end = 1;
  std::int64_t left = 0;

  void to(float target, std::int64_t frame_count) {
    left = std::max<std::int64_t>(frame_count, 1);
    end = target;
    slope = (target - level) / static_cast<float>(left);
  }
  // One frame on; returns whether it has just arrived.
  bool advance() {
    if (left == 0) return false;
    level += slope;
    if (--left > 0) return false;
    level = end;
    return true;
  }
};

struct Playing {
  Part part{};
  std::uint32_t channel = 0;
  std::uint16_t typing_sound = 0;
  std::span<const float> samples{};
  std::size_t channels = 1;
  std::size_t frames = 0;
  std::size_t at = 0;
  std::size_t end_fade = 0;          // frames; 0: it loops
  std::array<float, 2> sides{1, 1};  // how loud left and right
  Ramp gain{};
  bool ends = false;  // with the ramp
  bool done = false;

  void fade_out(std::int64_t frame_count) {
    if (ends) return;
    gain.to(0, frame_count);
    ends = true;
  }
};

}  // namespace

std::optional<MixEvent> make_mix_event(const SoundEvent& event, ClipBank& bank,
                                       const MixOptions& options) {
  MixEvent mix_event{.frame = frame_at(event.time, options.rate),
                     .kind = event.kind,
                     .channel = event.channel,
                     .sound = event.sound,
                     .gain = event.gain,
                     .pan = event.pan,
                     .fade = frame_at(event.fade, options.rate)};
  if (!begins_clip(event.kind)) return mix_event;
  mix_event.clip = bank.find(event.name, event.pitch);
  if (mix_event.clip == nullptr || mix_event.clip->rate != options.rate) return std::nullopt;
  return mix_event;
}

struct Mixer::Impl {
  MixOptions options;
  std::vector<MixEvent> mix_events;  // those before next_event have happened
  std::size_t next_event = 0;
  std::vector<Playing> playing;
  std::int64_t position = 0;
  Ramp volume{};
  Ramp standing{};  // 0 where it stands still
  bool paused = false;
  float limit = 1;  // the limiter's gain

  // Makes room for all that may sound then, so that rendering need not.
  void add(const MixEvent& mix_event) {
    if (next_event > mix_events.size() / 2) {
      mix_events.erase(mix_events.begin(),
                       mix_events.begin() + static_cast<std::ptrdiff_t>(next_event));
      next_event = 0;
    }
    mix_events.push_back(mix_event);
    const std::size_t most = playing.size() + mix_events.size() - next_event;
    if (playing.capacity() < most) playing.reserve(2 * most);
  }

  void forget_events() {
    mix_events.clear();
    next_event = 0;
  }

  [[nodiscard]] bool event_waits() const { return next_event < mix_events.size(); }

  void begin(const MixEvent& mix_event) {
    if (mix_event.clip == nullptr || mix_event.clip->samples.empty()) return;
    Playing& now = playing.emplace_back();
    now.part = part_of(mix_event.kind);
    now.channel = mix_event.channel;
    now.typing_sound = mix_event.sound;
    now.channels = static_cast<std::size_t>(mix_event.clip->channels);
    now.samples = mix_event.clip->samples;
    now.frames = now.samples.size() / now.channels;
    now.done = now.frames == 0;
    if (options.channels == 2) now.sides = sides_of(mix_event.pan);
    now.gain.level = gain_of(mix_event.gain);
    if (now.part != Part::loop) {
      const auto fade = static_cast<std::size_t>(frame_at(end_fade, options.rate));
      now.end_fade = std::clamp<std::size_t>(now.frames / 4, 1, fade);
    }
    if (now.part == Part::loop || now.part == Part::voice) {
      const float full = std::exchange(now.gain.level, 0.0F);
      now.gain.to(full, frame_at(fade_in, options.rate));
    }
  }

  void obey(const MixEvent& mix_event) {
    const Part part = part_of(mix_event.kind);
    for (Playing& sound : playing) {
      if (sound.part != part || sound.ends) continue;
      switch (mix_event.kind) {
        case SoundEventKind::typing:
          if (sound.channel == mix_event.channel) sound.fade_out(mix_event.fade);
          break;
        case SoundEventKind::cut:
          if (sound.typing_sound == mix_event.sound) sound.fade_out(mix_event.fade);
          break;
        case SoundEventKind::loop_begin:
        case SoundEventKind::loop_end:
        case SoundEventKind::voice_begin:
        case SoundEventKind::voice_end:
          sound.fade_out(mix_event.fade);
          break;
        case SoundEventKind::loop_gain:
          sound.gain.to(gain_of(mix_event.gain), mix_event.fade);
          break;
        case SoundEventKind::clip:
          break;
      }
    }
    begin(mix_event);
  }

  // Adds one sound to `out`.
  void add_to(std::span<float> out, Playing& sound) const {
    const auto sides = static_cast<std::size_t>(options.channels);
    const std::size_t frames = out.size() / sides;
    for (std::size_t i = 0; i < frames && !sound.done; ++i) {
      float level = sound.gain.level;
      if (sound.end_fade > 0 && sound.at + sound.end_fade > sound.frames) {
        level *= static_cast<float>(sound.frames - sound.at) / static_cast<float>(sound.end_fade);
      }
      const float* frame = sound.samples.data() + sound.at * sound.channels;
      const float left = frame[0];
      const float right = frame[sound.channels - 1];
      if (sides == 1) {
        out[i] += (left + right) / 2 * level;
      } else {
        out[2 * i] += left * sound.sides[0] * level;
        out[2 * i + 1] += right * sound.sides[1] * level;
      }
      if (++sound.at == sound.frames) {
        sound.at = 0;
        sound.done = sound.end_fade > 0;
      }
      if (sound.gain.advance()) sound.done = sound.done || sound.ends;
    }
  }

  // Volume and limiter.
  void finish(std::span<float> out) {
    if (volume.left == 0 && volume.level == 1 && !options.limited) return;
    const auto sides = static_cast<std::size_t>(options.channels);
    const float release = 1 / (release_seconds * static_cast<float>(options.rate));
    for (std::size_t i = 0; i < out.size(); i += sides) {
      const std::span<float> frame = out.subspan(i, sides);
      for (float& sample : frame) sample *= volume.level;
      volume.advance();
      if (!options.limited) continue;
      const float peak = std::max(std::abs(frame.front()), std::abs(frame.back()));
      limit += (1 - limit) * release;
      if (peak * limit > mix_ceiling) limit = mix_ceiling / peak;
      for (float& sample : frame) sample *= limit;
    }
  }

  // While a pause begins or ends.
  void fade_standing(std::span<float> out) {
    const auto sides = static_cast<std::size_t>(options.channels);
    for (std::size_t i = 0; i < out.size() && standing.left > 0; i += sides) {
      for (float& sample : out.subspan(i, sides)) sample *= standing.level;
      standing.advance();
    }
  }

  void clear_done() {
    std::erase_if(playing, [](const Playing& sound) { return sound.done; });
  }

  void render(std::span<float> whole) {
    const auto sides = static_cast<std::size_t>(options.channels);
    std::fill(whole.begin(), whole.end(), 0.0F);
    std::span<float> out = whole;
    while (!out.empty() && !(paused && standing.left == 0)) {
      while (event_waits() && mix_events[next_event].frame <= position)
        obey(mix_events[next_event++]);
      auto frames = static_cast<std::int64_t>(out.size() / sides);
      if (event_waits()) frames = std::min(frames, mix_events[next_event].frame - position);
      if (paused) frames = std::min(frames, standing.left);
      const std::span<float> piece = out.first(static_cast<std::size_t>(frames) * sides);
      for (Playing& sound : playing) add_to(piece, sound);
      fade_standing(piece);
      clear_done();
      position += frames;
      out = out.subspan(piece.size());
    }
    finish(whole);
  }
};

Mixer::Mixer(const MixOptions& options) : impl_(std::make_unique<Impl>()) {
  impl_->options = options;
  impl_->options.rate = std::clamp(options.rate, min_audio_rate, max_audio_rate);
  impl_->options.channels = std::clamp(options.channels, 1, 2);
}
Mixer::Mixer(Mixer&&) noexcept = default;
Mixer& Mixer::operator=(Mixer&&) noexcept = default;
Mixer::~Mixer() = default;

void Mixer::add(const MixEvent& mix_event) { impl_->add(mix_event); }

void Mixer::render(std::span<float> out) {
  impl_->render(
      out.first(out.size() - out.size() % static_cast<std::size_t>(impl_->options.channels)));
}

std::int64_t Mixer::position() const { return impl_->position; }

bool Mixer::silent() const { return !impl_->event_waits() && impl_->playing.empty(); }

void Mixer::restart() {
  impl_->forget_events();
  impl_->playing.clear();
  impl_->position = 0;
  impl_->paused = false;
  impl_->standing = {};
  impl_->limit = 1;
}

void Mixer::stop(std::int64_t fade) {
  impl_->forget_events();
  for (Playing& sound : impl_->playing) sound.fade_out(fade);
}

void Mixer::pause(std::int64_t fade) {
  impl_->paused = true;
  impl_->standing.to(0, fade);
}

void Mixer::resume(std::int64_t fade) {
  if (!impl_->paused) return;
  impl_->paused = false;
  impl_->standing.to(1, fade);
}

bool Mixer::paused() const { return impl_->paused; }

std::optional<std::int64_t> Mixer::voice_position() const {
  for (const Playing& sound : impl_->playing) {
    if (sound.part == Part::voice && !sound.ends) return static_cast<std::int64_t>(sound.at);
  }
  return std::nullopt;
}

void Mixer::set_volume(double decibels) {
  const bool is_silence = !(decibels >= min_decibels);  // NaN, too
  const double bounded = std::min(decibels, max_decibels);
  impl_->volume.to(is_silence ? 0.0F : gain_of(static_cast<float>(bounded)),
                   frame_at(volume_fade, impl_->options.rate));
}

namespace {

// Renders all; returns the number of frames.
std::int64_t render_all(Mixer& mixer, std::span<const MixEvent> mix_events, Nanoseconds length,
                        const MixOptions& options,
                        const std::function<void(std::span<float>)>& sink,
                        const std::function<void(double)>& progress) {
  mixer.restart();
  for (const MixEvent& mix_event : mix_events) mixer.add(mix_event);
  const std::int64_t tail = frame_at(mix_tail, options.rate);
  std::int64_t least = frame_at(length, options.rate);
  if (!mix_events.empty()) least = std::max(least, mix_events.back().frame);
  const auto sides = static_cast<std::size_t>(std::clamp(options.channels, 1, 2));
  std::vector<float> block(block_frames * sides);
  while (!mixer.silent() || mixer.position() < least) {
    // Block by block until nothing sounds, then frame by frame up to the end that was asked for.
    std::size_t frames = block_frames;
    if (mixer.silent()) {
      frames =
          static_cast<std::size_t>(std::min<std::int64_t>(block_frames, least - mixer.position()));
    }
    mixer.render(std::span(block).first(frames * sides));
    sink(std::span(block).first(frames * sides));
    if (progress && least > 0) {
      progress(std::min(1.0, static_cast<double>(mixer.position()) / static_cast<double>(least)));
    }
  }
  std::vector<float> silent(static_cast<std::size_t>(tail) * sides);
  sink(silent);
  return mixer.position() + tail;
}

}  // namespace

MixResult mix(std::span<const MixEvent> mix_events, Nanoseconds length, const MixOptions& options,
              const std::function<void(std::span<const float>)>& sink,
              const std::function<void(double)>& progress) {
  const auto half = [&](double offset) {
    return [&progress, offset](double done) {
      if (progress) progress(offset + done / 2);
    };
  };
  MixResult result;
  Mixer mixer(options);
  result.frames = render_all(
      mixer, mix_events, length, options,
      [&](std::span<float> block) {
        for (const float sample : block) result.peak = std::max(result.peak, std::abs(sample));
      },
      half(0));
  const float gain = result.peak > mix_ceiling ? mix_ceiling / result.peak : 1;
  result.lowered_by = gain < 1 ? -20 * std::log10(gain) : 0;
  render_all(
      mixer, mix_events, length, options,
      [&](std::span<float> block) {
        if (gain < 1) {
          for (float& sample : block) sample *= gain;
        }
        sink(block);
      },
      half(0.5));
  return result;
}

tl::expected<MixResult, Diagnostic> write_mix(const std::string& path,
                                              std::span<const MixEvent> mix_events,
                                              Nanoseconds length, const MixOptions& options,
                                              WavFormat format,
                                              const std::function<void(double)>& progress) {
  SF_INFO info{};
  info.samplerate = std::clamp(options.rate, min_audio_rate, max_audio_rate);
  info.channels = std::clamp(options.channels, 1, 2);
  info.format = SF_FORMAT_WAV | (format == WavFormat::int16 ? SF_FORMAT_PCM_16 : SF_FORMAT_FLOAT);
  struct CloseFile {
    void operator()(SNDFILE* file) const { sf_close(file); }
  };
  errno = 0;
  const std::unique_ptr<SNDFILE, CloseFile> file(sf_open(path.c_str(), SFM_WRITE, &info));
  const auto failed = [&](SNDFILE* at) {
    const std::string reason =
        errno != 0 ? std::generic_category().message(errno) : sf_strerror(at);
    return tl::unexpected(Diagnostic{.code = DiagnosticCode::file_unwritable,
                                     .severity = Severity::error,
                                     .message = "cannot write " + path + ": " + reason});
  };
  if (file == nullptr) return failed(nullptr);
  // That chunk would hold the time of writing; the same mix is to give the same bytes.
  sf_command(file.get(), SFC_SET_ADD_PEAK_CHUNK, nullptr, SF_FALSE);
  sf_command(file.get(), SFC_SET_CLIPPING, nullptr, SF_TRUE);
  bool written = true;
  const MixResult result = mix(
      mix_events, length, options,
      [&](std::span<const float> block) {
        const auto size = static_cast<sf_count_t>(block.size());
        written = written && sf_write_float(file.get(), block.data(), size) == size;
      },
      progress);
  if (!written) return failed(file.get());
  return result;
}

}  // namespace arvik
