// Samples are pushed to the device as time passes, a little ahead of it: `ahead` is what a late
// frame may cost before there is a gap.

#include "sound_output.hpp"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <vector>

#ifdef ARVIK_WITH_SDL
#include <SDL_audio.h>
#include <SDL_error.h>
#include <fcntl.h>
#include <unistd.h>
#endif

namespace arvik::tool {
namespace {

constexpr Nanoseconds ahead = std::chrono::milliseconds(60);
constexpr Nanoseconds longest_tick = std::chrono::milliseconds(250);
constexpr Nanoseconds longest_ring = std::chrono::seconds(5);
constexpr std::int64_t stop_fade = SoundOutput::rate / 50;
constexpr MixOptions mixing{.rate = SoundOutput::rate, .channels = 2, .limited = true};
constexpr double volume = -3;  // decibels

std::size_t frames_of(Nanoseconds time) {
  return static_cast<std::size_t>(frame_at(time, SoundOutput::rate));
}

// Where samples go.
class Device {
 public:
  Device() = default;
  Device(const Device&) = delete;
  Device& operator=(const Device&) = delete;
  virtual ~Device() = default;
  virtual void push(const std::vector<float>& samples) = 0;
  // Frames that were pushed and are still to be heard.
  [[nodiscard]] virtual std::size_t queued() const = 0;
  // Whether it hears on a clock of its own, which must never find it empty.
  [[nodiscard]] virtual bool has_own_clock() const = 0;
};

struct OpenedDevice {
  std::unique_ptr<Device> device;
  std::string problem;  // why there is none
};

class FileDevice final : public Device {
 public:
  explicit FileDevice(std::FILE* file) : file_(file) {}
  FileDevice(const FileDevice&) = delete;
  FileDevice& operator=(const FileDevice&) = delete;
  ~FileDevice() override { std::fclose(file_); }
  void push(const std::vector<float>& samples) override {
    std::fwrite(samples.data(), sizeof(float), samples.size(), file_);
  }
  [[nodiscard]] std::size_t queued() const override { return 0; }
  [[nodiscard]] bool has_own_clock() const override { return false; }

 private:
  std::FILE* file_;
};

OpenedDevice open_file() {
  const char* path = std::getenv("ARVIK_SOUND");
  std::FILE* file = path == nullptr ? nullptr : std::fopen(path, "wb");
  if (file == nullptr) return {nullptr, "ARVIK_SOUND names no file"};
  return {std::make_unique<FileDevice>(file), {}};
}

#ifdef ARVIK_WITH_SDL

// Where there is no sound card, the libraries below SDL say so on stderr, many times, in the middle
// of the screen. While this lives, nothing is written there; the reason is SDL_GetError()'s.
class QuietStderr {
 public:
  QuietStderr() : kept_(dup(STDERR_FILENO)) {
    const int nowhere = open("/dev/null", O_WRONLY | O_CLOEXEC);
    if (nowhere < 0) return;
    if (kept_ >= 0) dup2(nowhere, STDERR_FILENO);
    close(nowhere);
  }
  QuietStderr(const QuietStderr&) = delete;
  QuietStderr& operator=(const QuietStderr&) = delete;
  ~QuietStderr() {
    if (kept_ < 0) return;
    dup2(kept_, STDERR_FILENO);
    close(kept_);
  }

 private:
  int kept_;
};

class SdlDevice final : public Device {
 public:
  SdlDevice() {
    const QuietStderr quiet;
    if (SDL_AudioInit(nullptr) != 0) return;
    SDL_AudioSpec wanted{};
    wanted.freq = SoundOutput::rate;
    wanted.format = AUDIO_F32SYS;
    wanted.channels = 2;
    wanted.samples = 512;
    device_ = SDL_OpenAudioDevice(nullptr, 0, &wanted, nullptr, 0);
    if (is_open()) SDL_PauseAudioDevice(device_, 0);
  }
  SdlDevice(const SdlDevice&) = delete;
  SdlDevice& operator=(const SdlDevice&) = delete;
  ~SdlDevice() override {
    if (is_open()) SDL_CloseAudioDevice(device_);
    SDL_AudioQuit();
  }
  [[nodiscard]] bool is_open() const { return device_ != 0; }
  void push(const std::vector<float>& samples) override {
    SDL_QueueAudio(device_, samples.data(), static_cast<Uint32>(samples.size() * sizeof(float)));
  }
  [[nodiscard]] std::size_t queued() const override {
    return SDL_GetQueuedAudioSize(device_) / (2 * sizeof(float));
  }
  [[nodiscard]] bool has_own_clock() const override { return true; }

 private:
  SDL_AudioDeviceID device_ = 0;
};

OpenedDevice open_machine() {
  auto device = std::make_unique<SdlDevice>();
  if (!device->is_open()) return {nullptr, SDL_GetError()};
  return {std::move(device), {}};
}

#else

OpenedDevice open_machine() { return {nullptr, "arvik was built without SDL"}; }

#endif

}  // namespace

struct SoundOutput::Impl {
  ClipBank& bank;
  live::FrameClock& clock;
  OpenedDevice opened;
  Mixer mixer{mixing};
  std::vector<float> samples{};

  Impl(ClipBank& clips, live::FrameClock& time)
      : bank(clips), clock(time), opened(time.is_driven() ? open_file() : open_machine()) {
    mixer.set_volume(volume);
    if (opened.device && opened.device->has_own_clock()) push(frames_of(ahead));
  }

  void push(std::size_t frames) {
    samples.resize(2 * frames);
    mixer.render(samples);
    opened.device->push(samples);
  }

  void tick(Nanoseconds begin, Nanoseconds length, std::span<const SoundEvent> events) {
    const std::int64_t now = mixer.position();
    for (SoundEvent event : events) {
      event.time -= begin;
      auto mix_event = make_mix_event(event, bank, mixing);
      if (!mix_event) continue;
      mix_event->frame += now;
      mixer.add(*mix_event);
    }
    const std::size_t wanted = frames_of(std::min(length, longest_tick));
    if (!opened.device->has_own_clock()) return push(wanted);
    // The device's clock is not ours: never fall behind it, never run far ahead of it.
    const std::size_t queued = opened.device->queued();
    const std::size_t most = frames_of(3 * ahead);
    const std::size_t least = frames_of(ahead / 2);
    if (queued + wanted > most) return;
    push(std::max(wanted, queued < least ? least - queued : 0));
  }

  void ring_out() {
    const std::int64_t end = mixer.position() + frame_at(longest_ring, rate);
    while (!mixer.silent() && mixer.position() < end) push(frames_of(ahead));
    push(frames_of(ahead));
    const Nanoseconds deadline = clock.now() + longest_ring;
    while (opened.device->queued() > 0 && clock.now() < deadline) {
      clock.wait(std::chrono::milliseconds(10));
    }
  }
};

SoundOutput::SoundOutput(ClipBank& bank, live::FrameClock& clock)
    : impl_(std::make_unique<Impl>(bank, clock)) {}
SoundOutput::~SoundOutput() = default;
bool SoundOutput::is_open() const { return impl_->opened.device != nullptr; }
std::string SoundOutput::problem() const { return impl_->opened.problem; }

void SoundOutput::tick(Nanoseconds begin, Nanoseconds length, std::span<const SoundEvent> events) {
  if (is_open()) impl_->tick(begin, length, events);
}

void SoundOutput::stop() { impl_->mixer.stop(stop_fade); }

void SoundOutput::ring_out() {
  if (is_open()) impl_->ring_out();
}

}  // namespace arvik::tool
