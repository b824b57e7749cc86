#include "sound.hpp"

#include <cstdlib>
#include <filesystem>
#include <stdexcept>

namespace {
constexpr Uint16 block = 512;  // frames; mix events are heard one block after they were given
}  // namespace

void Sound::load(const arvik::Script& script, const std::string& script_path) {
  const auto load_one = [&](const std::string& name, const std::string& file) {
    if (!loaded_.insert(name).second) return;
    const auto path = std::filesystem::path(script_path).parent_path() / file;
    auto clip = arvik::read_clip(path.string(), options_.rate);
    if (!clip) throw std::runtime_error(clip.error().message);
    bank_.add(name, std::move(*clip));
  };
  for (const arvik::TypingSound& sound : script.sounds) {
    for (const std::string& sample : sound.samples) load_one(sample, sample);
  }
  for (const arvik::NamedClip& clip : script.clips) load_one(clip.name, clip.file);
  for (const arvik::ScriptConversation& conversation : script.conversations) {
    for (const arvik::DialogueLine& line : conversation.lines) {
      const arvik::AudioClip* clip = bank_.find(line.voice);
      if (clip == nullptr || speech_.contains(line.voice)) continue;
      speech_.emplace(line.voice, arvik::read_speech(*clip));
    }
  }
}

Sound::Sound(bool driven) {
  if (driven) {
    const char* path = std::getenv("ARVIK_SOUND");
    if (path != nullptr) file_ = std::fopen(path, "wb");
    return;
  }
  SDL_AudioSpec wanted{};
  wanted.freq = options_.rate;
  wanted.format = AUDIO_F32SYS;
  wanted.channels = 2;
  wanted.samples = block;
  wanted.callback = fill;
  wanted.userdata = this;
  device_ = SDL_OpenAudioDevice(nullptr, 0, &wanted, nullptr, 0);
  if (device_ != 0) SDL_PauseAudioDevice(device_, 0);
}

Sound::~Sound() {
  if (device_ != 0) SDL_CloseAudioDevice(device_);
  if (file_ != nullptr) std::fclose(file_);
}

void Sound::pass(arvik::Nanoseconds time) {
  if (file_ == nullptr) return;
  samples_.resize(2 * static_cast<std::size_t>(arvik::frame_at(time, options_.rate)));
  mixer_.render(samples_);
  std::fwrite(samples_.data(), sizeof(float), samples_.size(), file_);
}

void Sound::fill(void* self, Uint8* stream, int bytes) {
  const std::span<float> out(reinterpret_cast<float*>(stream),
                             static_cast<std::size_t>(bytes) / sizeof(float));
  static_cast<Sound*>(self)->mixer_.render(out);
}

void Sound::play(arvik::Nanoseconds begin, std::span<const arvik::SoundEvent> events) {
  if (device_ == 0 && file_ == nullptr) return;
  // What may take time happens before the lock: the audio thread never waits for a pitch.
  mix_events_.clear();
  for (arvik::SoundEvent event : events) {
    event.time -= begin;  // the offset inside the frame keeps ticks even
    if (const auto mix_event = make_mix_event(event, bank_, options_))
      mix_events_.push_back(*mix_event);
  }
  if (mix_events_.empty()) return;
  SDL_LockAudioDevice(device_);
  const std::int64_t now = mixer_.position() + block;
  for (arvik::MixEvent mix_event : mix_events_) {
    mix_event.frame += now;
    mixer_.add(mix_event);
  }
  SDL_UnlockAudioDevice(device_);
}

void Sound::set_volume(double decibels) {
  if (device_ == 0 && file_ == nullptr) return;
  SDL_LockAudioDevice(device_);
  mixer_.set_volume(decibels);
  SDL_UnlockAudioDevice(device_);
}

void Sound::stop() {
  if (device_ == 0 && file_ == nullptr) return;
  SDL_LockAudioDevice(device_);
  mixer_.stop(options_.rate / 50);
  SDL_UnlockAudioDevice(device_);
}

void Sound::pause(bool paused) {
  if (device_ == 0 && file_ == nullptr) return;
  SDL_LockAudioDevice(device_);
  const std::int64_t fade = options_.rate / 100;
  paused ? mixer_.pause(fade) : mixer_.resume(fade);
  SDL_UnlockAudioDevice(device_);
}

std::optional<arvik::Nanoseconds> Sound::voice_position() {
  if (device_ == 0 && file_ == nullptr) return std::nullopt;
  SDL_LockAudioDevice(device_);
  const auto frames = mixer_.voice_position();
  SDL_UnlockAudioDevice(device_);
  if (!frames) return std::nullopt;
  return arvik::time_of_frames(*frames, options_.rate);
}

float Sound::mouth(std::string_view voice, arvik::Nanoseconds position) const {
  const auto speech = speech_.find(voice);
  return speech == speech_.end() ? 0 : mouth_open(speech->second, position);
}

arvik::Nanoseconds Sound::length_of(std::string_view clip) const { return bank_.length(clip); }
