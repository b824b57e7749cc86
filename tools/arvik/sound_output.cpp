// Samples are pushed to the device as time passes, a little ahead of it: `ahead` is what a late
// frame may cost before there is a gap.

#include "sound_output.hpp"

#ifdef ARVIK_WITH_SDL
#include <SDL_audio.h>
#include <SDL_error.h>
#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <thread>
#include <vector>
#endif

namespace arvik::tool {

#ifdef ARVIK_WITH_SDL

namespace {
constexpr Nanoseconds ahead = std::chrono::milliseconds(60);
constexpr Nanoseconds longest_tick = std::chrono::milliseconds(250);
constexpr Nanoseconds longest_ring = std::chrono::seconds(5);
constexpr std::int64_t stop_fade = SoundOutput::rate / 50;
constexpr MixOptions mixing{.rate = SoundOutput::rate, .channels = 2, .limited = true};
constexpr double volume = -3;  // decibels

std::size_t frames_of(Nanoseconds time) {
  return static_cast<std::size_t>(time.count() * SoundOutput::rate / 1'000'000'000);
}

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
}  // namespace

struct SoundOutput::Impl {
  ClipBank& bank;
  Mixer mixer{mixing};
  SDL_AudioDeviceID device = 0;
  std::vector<float> samples{};
  std::string problem{};

  explicit Impl(ClipBank& clips) : bank(clips) {
    open_device();
    if (device == 0) {
      problem = SDL_GetError();
      return;
    }
    push(frames_of(ahead));
    SDL_PauseAudioDevice(device, 0);
  }

  void open_device() {
    const QuietStderr quiet;
    mixer.set_volume(volume);
    if (SDL_AudioInit(nullptr) != 0) return;
    SDL_AudioSpec wanted{};
    wanted.freq = rate;
    wanted.format = AUDIO_F32SYS;
    wanted.channels = 2;
    wanted.samples = 512;
    device = SDL_OpenAudioDevice(nullptr, 0, &wanted, nullptr, 0);
  }
  Impl(const Impl&) = delete;
  Impl& operator=(const Impl&) = delete;
  ~Impl() {
    if (device != 0) SDL_CloseAudioDevice(device);
    SDL_AudioQuit();
  }

  void push(std::size_t frames) {
    samples.resize(2 * frames);
    mixer.render(samples);
    SDL_QueueAudio(device, samples.data(), static_cast<Uint32>(samples.size() * sizeof(float)));
  }

  void tick(Nanoseconds begin, Nanoseconds length, std::span<const SoundEvent> events) {
    const std::int64_t now = mixer.position();
    for (SoundEvent event : events) {
      event.time -= begin;
      auto cue = make_cue(event, bank, mixing);
      if (!cue) continue;
      cue->frame += now;
      mixer.add(*cue);
    }
    const std::size_t queued = SDL_GetQueuedAudioSize(device) / (2 * sizeof(float));
    const std::size_t wanted = frames_of(std::min(length, longest_tick));
    // The device's clock is not ours: never fall behind it, never run far ahead of it.
    const std::size_t most = frames_of(3 * ahead);
    const std::size_t least = frames_of(ahead / 2);
    if (queued + wanted > most) return;
    push(std::max(wanted, queued < least ? least - queued : 0));
  }

  void ring_out() {
    const std::int64_t end = mixer.position() + static_cast<std::int64_t>(frames_of(longest_ring));
    while (!mixer.silent() && mixer.position() < end) push(frames_of(ahead));
    push(frames_of(ahead));
    const auto deadline = std::chrono::steady_clock::now() + longest_ring;
    while (SDL_GetQueuedAudioSize(device) > 0 && std::chrono::steady_clock::now() < deadline) {
      std::this_thread::sleep_for(ahead / 6);
    }
  }
};

SoundOutput::SoundOutput(ClipBank& bank) : impl_(std::make_unique<Impl>(bank)) {}
SoundOutput::~SoundOutput() = default;
bool SoundOutput::is_open() const { return impl_->device != 0; }
std::string SoundOutput::problem() const { return impl_->problem; }

void SoundOutput::tick(Nanoseconds begin, Nanoseconds length, std::span<const SoundEvent> events) {
  if (is_open()) impl_->tick(begin, length, events);
}

void SoundOutput::stop() { impl_->mixer.stop(stop_fade); }

void SoundOutput::ring_out() {
  if (is_open()) impl_->ring_out();
}

#else

struct SoundOutput::Impl {};
SoundOutput::SoundOutput(ClipBank&) {}
SoundOutput::~SoundOutput() = default;
bool SoundOutput::is_open() const { return false; }
std::string SoundOutput::problem() const { return "arvik was built without SDL"; }
void SoundOutput::tick(Nanoseconds, Nanoseconds, std::span<const SoundEvent>) {}
void SoundOutput::stop() {}
void SoundOutput::ring_out() {}

#endif

}  // namespace arvik::tool
