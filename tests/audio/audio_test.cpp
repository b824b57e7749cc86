// Sound files, pitch and the mixer: mixes are read back, and the starts of sounds found in their
// samples.

#include <sndfile.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <limits>

#include "arvik/mixer.hpp"
#include "arvik/typesetter.hpp"
#include "support/allocations.hpp"
#include "support/process.hpp"

using namespace arvik;
using namespace std::chrono_literals;

namespace {

struct Folder : test::ScratchFolder {
  [[nodiscard]] std::string operator/(const std::string& name) const { return path() / name; }
};

void write_wav(const std::string& path, int rate, int channels, const std::vector<float>& samples) {
  SF_INFO info{};
  info.samplerate = rate;
  info.channels = channels;
  info.format = SF_FORMAT_WAV | SF_FORMAT_FLOAT;
  SNDFILE* file = sf_open(path.c_str(), SFM_WRITE, &info);
  REQUIRE(file != nullptr);
  const auto size = static_cast<sf_count_t>(samples.size());
  REQUIRE(sf_write_float(file, samples.data(), size) == size);
  REQUIRE(sf_close(file) == 0);
}

struct Wav {
  SF_INFO info{};
  std::vector<float> samples;
};

Wav read_wav(const std::string& path) {
  Wav wav;
  SNDFILE* file = sf_open(path.c_str(), SFM_READ, &wav.info);
  REQUIRE(file != nullptr);
  wav.samples.resize(static_cast<std::size_t>(wav.info.frames * wav.info.channels));
  sf_readf_float(file, wav.samples.data(), wav.info.frames);
  sf_close(file);
  return wav;
}

// Begins at once and dies away.
AudioClip knock(int rate) {
  AudioClip clip{.rate = rate};
  for (int i = 0; i < 300; ++i)
    clip.samples.push_back(0.6F * std::exp(-static_cast<float>(i) / 40));
  return clip;
}

AudioClip plateau(int rate, std::size_t frames, float level = 0.5F) {
  return {.rate = rate, .channels = 1, .samples = std::vector<float>(frames, level)};
}

AudioClip sine(int rate, double frequency, std::size_t frames) {
  AudioClip clip{.rate = rate};
  for (std::size_t i = 0; i < frames; ++i) {
    const double phase = 2 * M_PI * frequency * static_cast<double>(i) / rate;
    clip.samples.push_back(static_cast<float>(0.5 * std::sin(phase)));
  }
  return clip;
}

std::size_t crossings(const std::vector<float>& samples) {
  std::size_t count = 0;
  for (std::size_t i = 1; i < samples.size(); ++i) {
    count += (samples[i - 1] < 0) != (samples[i] < 0) ? 1 : 0;
  }
  return count;
}

// What a line sounds like, and when it ends.
struct Heard {
  TypingPlan plan;
  PreparedLine line;
  std::vector<SoundEvent> events;
};

Heard hear(const std::string& markup, const TypingSound& sound, std::int32_t speed = 1000) {
  static Typesetter typesetter(Language::open("en").value());
  Heard heard;
  heard.line = typesetter.prepare(markup, {.rate = 23}, GridFont(), Box{}).value();
  heard.plan = plan_typing(heard.line.marked, heard.line.steps, typesetter.language(),
                           heard.line.schedule, std::vector{sound}, sound.name)
                   .value();
  TypingPlayer player;
  player.begin(heard.plan);
  Reveal reveal = heard.line.reveal();
  reveal.set_speed(speed);
  const Reveal before = reveal;
  const Progress progress = reveal.tick(max_duration);
  player.follow(before, reveal, progress, 0ns, heard.events);
  return heard;
}

std::vector<MixEvent> cues_of(const std::vector<SoundEvent>& events, ClipBank& bank,
                              const MixOptions& options) {
  std::vector<MixEvent> mix_events;
  for (const SoundEvent& event : events) {
    if (const auto mix_event = make_mix_event(event, bank, options))
      mix_events.push_back(*mix_event);
  }
  return mix_events;
}

// The mix in memory.
std::vector<float> mixed(const std::vector<MixEvent>& mix_events, const MixOptions& options,
                         MixResult* result = nullptr) {
  std::vector<float> samples;
  const MixResult made = mix(mix_events, 0ns, options, [&](std::span<const float> block) {
    samples.insert(samples.end(), block.begin(), block.end());
  });
  if (result != nullptr) *result = made;
  return samples;
}

void check_silent_end(const std::vector<float>& samples, int rate) {
  const auto last = static_cast<std::size_t>(rate / 200);  // 5 ms
  REQUIRE(samples.size() > last);
  CHECK(std::all_of(samples.end() - static_cast<std::ptrdiff_t>(last), samples.end(),
                    [](float sample) { return sample == 0; }));
}

}  // namespace

TEST_CASE("sounds start in the file where the plan says, to the sample") {
  const Folder folder;
  const int rate = GENERATE(8000, 22'050, 44'100, 48'000);
  const auto format = GENERATE(WavFormat::int16, WavFormat::float32);
  const auto speed = GENERATE(1000, 1700, 10'000);
  const Heard heard = hear("The tide clock stopped, at a quarter past four.",
                           {.name = "knock", .samples = {"knock"}}, speed);
  REQUIRE(heard.events.size() > 3);
  ClipBank bank;
  bank.add("knock", knock(rate));
  const MixOptions options{.rate = rate, .channels = 1};
  const std::string path = folder / "mix.wav";
  const auto result = write_mix(path, cues_of(heard.events, bank, options), 0ns, options, format);
  REQUIRE(result.has_value());
  const Wav wav = read_wav(path);
  CHECK(wav.info.samplerate == rate);
  CHECK(wav.info.frames == result->frames);

  std::vector<std::int64_t> starts;
  for (std::size_t i = 0; i < wav.samples.size(); ++i) {
    const float before = i > 0 ? wav.samples[i - 1] : 0;
    if (wav.samples[i] - before > 0.3F) starts.push_back(static_cast<std::int64_t>(i));
    CHECK(std::abs(wav.samples[i]) <= 1);
  }
  std::vector<std::int64_t> planned;
  for (const SoundEvent& event : heard.events) {
    planned.push_back(std::llround(static_cast<double>(event.time.count()) * rate / 1e9));
  }
  CHECK(starts == planned);
  check_silent_end(wav.samples, rate);
}

TEST_CASE("what is cut fades: no step beyond its level / fade") {
  const int rate = 48'000;
  TypingSound sound{.name = "tone", .samples = {"tone"}, .ending = SoundEnding::cut, .fade = 10ms};
  sound.gap = 20ms;
  sound.voices = 1;  // so that every start cuts the one before
  const Heard heard = hear("abcdef.", sound);
  ClipBank bank;
  bank.add("tone", plateau(rate, 40'000));
  const MixOptions options{.rate = rate, .channels = 1};
  const auto samples = mixed(cues_of(heard.events, bank, options), options);
  const float limit = 0.5F / (0.010F * static_cast<float>(rate)) + 1e-6F;
  std::size_t starts = 0;
  for (std::size_t i = 1; i < samples.size(); ++i) {
    const float step = samples[i] - samples[i - 1];
    if (step > 0.3F) {
      ++starts;  // the sample's own begin
      continue;
    }
    CHECK(std::abs(step) <= limit);
  }
  CHECK(starts == 5);  // and the first at frame 0
  check_silent_end(samples, rate);
  // Nothing goes on after the line but the fade.
  const std::int64_t end = heard.line.schedule.duration.count() * rate / 1'000'000'000;
  for (std::size_t i = static_cast<std::size_t>(end) + 481; i < samples.size(); ++i) {
    CHECK(samples[i] == 0);
  }
}

TEST_CASE("a cut is one sound's: another rings on") {
  ClipBank bank;
  bank.add("tone", plateau(48'000, 9600));
  const MixOptions options{.rate = 48'000, .channels = 1};
  const auto samples =
      mixed(cues_of({{.kind = SoundEventKind::typing, .name = "tone", .sound = 1, .gain = -6.0206F},
                     {.kind = SoundEventKind::typing, .name = "tone", .sound = 2, .channel = 1},
                     {.kind = SoundEventKind::cut, .time = 50ms, .sound = 2, .fade = 10ms}},
                    bank, options),
            options);
  CHECK(samples[2300] == Approx(0.75).margin(0.001));
  CHECK(samples[3000] == Approx(0.25).margin(0.001));
}

TEST_CASE("a clip that ends abruptly does not click") {
  ClipBank bank;
  bank.add("tone", plateau(48'000, 4800));
  const MixOptions options{.rate = 48'000, .channels = 1};
  const auto samples =
      mixed(cues_of({{.kind = SoundEventKind::clip, .time = 0ms, .name = "tone"}}, bank, options),
            options);
  for (std::size_t i = 1; i < samples.size(); ++i) {
    CHECK(std::abs(samples[i] - samples[i - 1]) <= 0.5F / 96 + 1e-6F);
  }
}

TEST_CASE("loops close without a gap, fade in and out, and move to another gain") {
  ClipBank bank;
  bank.add("hum", plateau(48'000, 480));
  const MixOptions options{.rate = 48'000, .channels = 1};
  const std::vector<SoundEvent> events{
      {.kind = SoundEventKind::loop_begin, .time = 0ms, .name = "hum", .gain = -6.0206F},
      {.kind = SoundEventKind::loop_gain, .time = 100ms, .gain = 0, .fade = 10ms},
      {.kind = SoundEventKind::loop_end, .time = 200ms, .fade = 10ms}};
  const auto samples = mixed(cues_of(events, bank, options), options);
  CHECK(samples[2400] == Approx(0.25).margin(0.001));
  CHECK(samples[6000] == Approx(0.5).margin(0.001));
  CHECK(samples[9599] == Approx(0.5).margin(0.001));
  CHECK(samples[10'081] == 0);
  for (std::size_t i = 1; i < samples.size(); ++i) {
    CHECK(std::abs(samples[i] - samples[i - 1]) <= 0.5F / 240);
  }
}

TEST_CASE("a loop that a voice silences comes up when the voice has ended") {
  ClipBank bank;
  bank.add("hum", plateau(48'000, 480));
  const MixOptions options{.rate = 48'000, .channels = 1};
  const std::vector<SoundEvent> events{
      {.kind = SoundEventKind::loop_begin,
       .time = 0ms,
       .name = "hum",
       .gain = static_cast<float>(silence)},
      {.kind = SoundEventKind::loop_gain, .time = 100ms, .gain = -6.0206F, .fade = 10ms},
      {.kind = SoundEventKind::loop_end, .time = 200ms, .fade = 10ms}};
  const auto samples = mixed(cues_of(events, bank, options), options);
  CHECK(samples[4000] == 0);
  CHECK(samples[6000] == Approx(0.25).margin(0.001));
  CHECK(samples[10'081] == 0);
}

TEST_CASE("stop() fades out what sounds, and forgets what is to come") {
  ClipBank bank;
  bank.add("tone", plateau(48'000, 48'000));
  Mixer mixer({.rate = 48'000, .channels = 1});
  mixer.add({.kind = SoundEventKind::clip, .clip = bank.find("tone")});
  mixer.add({.frame = 300, .kind = SoundEventKind::clip, .clip = bank.find("tone")});
  std::vector<float> block(200);
  mixer.render(block);
  CHECK(block[199] == Approx(0.5));
  mixer.stop(100);
  mixer.render(block);
  CHECK(block[50] == Approx(0.25).margin(0.01));
  CHECK(block[101] == 0);
  CHECK(mixer.silent());
}

TEST_CASE("a pause stands still without a click, and goes on where it stood") {
  AudioClip clip{.rate = 48'000, .channels = 1};
  for (int i = 0; i < 48'000; ++i) clip.samples.push_back(static_cast<float>(i) / 96'000);
  Mixer mixer({.rate = 48'000, .channels = 1});
  CHECK_FALSE(mixer.voice_position());
  mixer.add({.frame = 0, .kind = SoundEventKind::voice_begin, .clip = &clip});
  std::vector<float> out(10'000);
  mixer.render(out);
  CHECK(mixer.voice_position() == 10'000);
  mixer.pause(480);
  CHECK(mixer.paused());
  std::vector<float> fading(1000);
  mixer.render(fading);
  CHECK(mixer.position() == 10'480);  // it stands behind its fade
  CHECK(mixer.voice_position() == 10'480);
  for (std::size_t i = 1; i < fading.size(); ++i) {
    CHECK(std::abs(fading[i] - fading[i - 1]) < 0.001F);
  }
  CHECK(fading[480] == 0);
  mixer.render(out);
  CHECK(std::all_of(out.begin(), out.end(), [](float sample) { return sample == 0; }));
  mixer.resume(480);
  mixer.render(out);
  CHECK(mixer.position() == 20'480);
  CHECK(out[1000] == Approx(clip.samples[11'480]));
  for (std::size_t i = 1; i < out.size(); ++i) CHECK(std::abs(out[i] - out[i - 1]) < 0.001F);
  mixer.add({.frame = mixer.position(), .kind = SoundEventKind::voice_end, .fade = 100});
  mixer.render(std::span(out).first(50));
  CHECK_FALSE(mixer.voice_position());  // it ends
  mixer.resume(10);                     // nothing to resume
  CHECK_FALSE(mixer.paused());
}

TEST_CASE("a sum beyond full scale lowers the whole mix; a quiet one stays as it is") {
  ClipBank bank;
  bank.add("knock", knock(48'000));
  const MixOptions options{.rate = 48'000, .channels = 2};
  std::vector<SoundEvent> events(5, {.kind = SoundEventKind::clip, .time = 10ms, .name = "knock"});
  events.push_back({.kind = SoundEventKind::clip, .time = 50ms, .name = "knock"});
  MixResult result;
  const auto samples = mixed(cues_of(events, bank, options), options, &result);
  CHECK(result.peak == Approx(3));
  CHECK(result.lowered_by == Approx(20 * std::log10(3 / mix_ceiling)));
  CHECK(*std::max_element(samples.begin(), samples.end()) == Approx(mix_ceiling));
  CHECK(samples[2 * 2400] == Approx(mix_ceiling / 5));
  const auto one = mixed(cues_of({events[5]}, bank, options), options, &result);
  CHECK(result.lowered_by == 0);
  CHECK(one[2 * 2400] == Approx(0.6));
}

TEST_CASE("live sound is limited: no sample beyond the ceiling, and quiet ones as they are") {
  ClipBank bank;
  bank.add("tone", plateau(48'000, 24'000));
  Mixer mixer({.rate = 48'000, .channels = 2, .limited = true});
  for (const std::int64_t frame : {0, 4800, 9600, 9600}) {
    mixer.add({.frame = frame, .kind = SoundEventKind::clip, .clip = bank.find("tone")});
  }
  std::vector<float> samples(2 * 48'000);
  mixer.render(samples);
  CHECK(samples[2 * 4000] == Approx(0.5));
  for (const float sample : samples) CHECK(sample <= mix_ceiling + 1e-6F);
  CHECK(samples[2 * 9600] == Approx(mix_ceiling));    // four at once
  CHECK(samples[2 * 9600 + 1] == samples[2 * 9600]);  // and the middle stays in the middle
  // One alone is as loud as ever, a while after the others.
  mixer.add({.frame = 60'000, .kind = SoundEventKind::clip, .clip = bank.find("tone")});
  mixer.render(samples);
  CHECK(samples[2 * 20'000] == Approx(0.5).margin(0.001));
}

TEST_CASE("a volume is reached without a click, silence too") {
  ClipBank bank;
  bank.add("tone", plateau(48'000, 48'000));
  Mixer mixer({.rate = 48'000, .channels = 1});
  mixer.add({.kind = SoundEventKind::clip, .clip = bank.find("tone")});
  std::vector<float> samples(4800);
  mixer.render(samples);
  CHECK(samples.back() == 0.5F);
  float last = samples.back();
  const auto turned_to = [&](double decibels) {
    mixer.set_volume(decibels);
    mixer.render(samples);
    for (const float sample : samples) {
      CHECK(std::abs(sample - std::exchange(last, sample)) <= 0.5F / 960 + 1e-5F);
    }
    return samples.back();
  };
  CHECK(turned_to(-6.0206) == Approx(0.25));
  CHECK(turned_to(silence) == 0);
  CHECK(turned_to(0) == Approx(0.5));
  CHECK(turned_to(std::nan("")) == 0);
}

TEST_CASE("sounds stand at their side") {
  ClipBank bank;
  bank.add("knock", knock(48'000));
  const auto sides = [&](float pan) {
    const MixOptions options{.rate = 48'000, .channels = 2};
    const auto samples =
        mixed(cues_of({{.kind = SoundEventKind::clip, .name = "knock", .pan = pan}}, bank, options),
              options);
    return std::pair(samples[0], samples[1]);
  };
  CHECK(sides(0).first == Approx(0.6));
  CHECK(sides(0).second == Approx(0.6));
  CHECK(sides(-1).first == Approx(0.6 * std::sqrt(2)));
  CHECK(sides(-1).second == Approx(0).margin(1e-6));
  CHECK(sides(0.5).second > sides(0.5).first);
}

TEST_CASE("pitch moves the frequency, and the length with it") {
  const AudioClip tone = sine(48'000, 1000, 9600);
  const AudioClip high = pitched(tone, 12);
  CHECK(high.frames() == Approx(4800).margin(2));
  CHECK(static_cast<double>(crossings(high.samples)) ==
        Approx(static_cast<double>(crossings(tone.samples))).margin(2));
  CHECK(pitched(tone, -12).frames() == Approx(19'200).margin(2));
  ClipBank bank;
  bank.add("tone", tone);
  const MixOptions options{.rate = 48'000, .channels = 1};
  const auto samples =
      mixed(cues_of({{.kind = SoundEventKind::clip, .name = "tone", .pitch = 12}}, bank, options),
            options);
  const std::vector<float> body(samples.begin(), samples.begin() + 4700);
  CHECK(static_cast<double>(crossings(body)) == Approx(392).margin(3));
}

TEST_CASE("the same seed gives the same file, byte for byte, and another one another") {
  const Folder folder;
  ClipBank bank;
  for (const char* name : {"a", "b", "c"}) bank.add(name, sine(48'000, 300.0 * *name, 2000));
  TypingSound sound{.name = "x",
                    .samples = {"a", "b", "c"},
                    .choice = SampleChoice::shuffle,
                    .pitch = {-3, 3},
                    .gain = {-6, 0}};
  const auto write = [&](const std::string& name, std::uint64_t seed, WavFormat format) {
    sound.seed = seed;
    const Heard heard = hear("No wind, no water. And yet it is ticking.", sound);
    const MixOptions options;
    REQUIRE(write_mix(folder / name, cues_of(heard.events, bank, options), 0ns, options, format)
                .has_value());
    return test::read_whole(folder / name);
  };
  for (const WavFormat format : {WavFormat::int16, WavFormat::float32}) {
    const std::string first = write("first.wav", 1, format);
    CHECK(first.find("PEAK") == std::string::npos);  // a chunk that holds the time of writing
    CHECK(first == write("second.wav", 1, format));
    CHECK(first != write("other.wav", 2, format));
  }
}

TEST_CASE("live mixing in any blocks gives the same samples as at once") {
  const Heard heard = hear("Odrun! The clock!", {.name = "knock", .samples = {"knock"}});
  ClipBank bank;
  bank.add("knock", knock(48'000));
  const MixOptions options;
  const auto whole = mixed(cues_of(heard.events, bank, options), options);
  Mixer mixer(options);
  std::vector<float> pieces;
  auto event = heard.events.begin();
  for (Nanoseconds now{}; pieces.size() < whole.size(); now += 16ms) {
    for (; event != heard.events.end() && event->time < now + 16ms; ++event) {
      mixer.add(make_mix_event(*event, bank, options).value());
    }
    std::vector<float> block(2 * 768);  // 16 ms
    mixer.render(block);
    pieces.insert(pieces.end(), block.begin(), block.end());
  }
  CHECK(mixer.silent());
  pieces.resize(whole.size());
  CHECK(pieces == whole);
}

TEST_CASE("rendering allocates nothing, nor do mix_events of a line that was prepared for") {
  TypingSound sound{.name = "tone", .samples = {"a", "b"}, .pitch = {-4, 4}};
  sound.gap = 5ms;
  const Heard heard = hear("Odrun! The clock! It is ticking [mute: backwards].", sound);
  ClipBank bank;
  for (const char* name : {"a", "b"}) bank.add(name, sine(48'000, 300, 4800));
  bank.prepare(heard.plan);
  const MixOptions options;
  Mixer mixer(options);
  std::vector<float> block(2 * 512);
  std::vector<MixEvent> mix_events;
  mix_events.reserve(heard.events.size());
  REQUIRE(heard.events.size() > 20);

  std::size_t before = test::allocations();
  for (const SoundEvent& event : heard.events) {
    if (const auto mix_event = make_mix_event(event, bank, options))
      mix_events.push_back(*mix_event);
  }
  CHECK(test::allocations() == before);
  CHECK(mix_events.size() == heard.events.size());
  for (const MixEvent& mix_event : mix_events) mixer.add(mix_event);
  before = test::allocations();
  while (!mixer.silent()) mixer.render(block);
  CHECK(test::allocations() == before);
}

TEST_CASE("a bank computes each pitch once, on the grid, and keeps it") {
  ClipBank bank;
  bank.add("tone", sine(48'000, 1000, 4800));
  const AudioClip* plain = bank.find("tone");
  const AudioClip* high = bank.find("tone", 12);
  CHECK(bank.find("tone", 0) == plain);
  CHECK(high->frames() == Approx(2400).margin(2));
  for (int i = 0; i < 200; ++i) bank.add(std::to_string(i), knock(48'000));
  CHECK(bank.find("tone") == plain);
  CHECK(bank.find("tone", 12.01F) == high);
  CHECK(bank.find("tone", 12.1F) != high);
  CHECK(bank.find("gong", 12) == nullptr);
  CHECK(bank.find("tone", std::nanf("")) == plain);
}

TEST_CASE("files of other rates and channels are converted") {
  const Folder folder;
  const AudioClip tone = sine(22'050, 441, 22'050);
  write_wav(folder / "slow.wav", 22'050, 1, tone.samples);
  const auto clip = read_clip(folder / "slow.wav", 48'000);
  REQUIRE(clip.has_value());
  CHECK(clip->rate == 48'000);
  CHECK(clip->frames() == Approx(48'000).margin(2));
  CHECK(static_cast<double>(crossings(clip->samples)) == Approx(882).margin(2));
  CHECK(clip->length() / 1ms == Approx(1000).margin(1));

  write_wav(folder / "stereo.wav", 48'000, 2, {0.5F, -0.5F, 0.25F, 0});
  const auto stereo = read_clip(folder / "stereo.wav", 48'000);
  REQUIRE(stereo.has_value());
  CHECK(stereo->channels == 2);
  CHECK(stereo->samples == std::vector<float>{0.5F, -0.5F, 0.25F, 0});

  write_wav(folder / "six.wav", 48'000, 6, {0.6F, 0, 0, 0, 0, 0, 0.3F, 0.3F, 0, 0, 0, 0});
  const auto six = read_clip(folder / "six.wav", 48'000);
  REQUIRE(six.has_value());
  CHECK(six->channels == 1);
  CHECK(six->samples[1] == Approx(0.1));
}

TEST_CASE("bad files are told with a reason") {
  const Folder folder;
  const auto error = [&](const std::string& name) {
    const auto clip = read_clip(folder / name, 48'000);
    REQUIRE_FALSE(clip.has_value());
    CHECK(clip.error().message.find(name) != std::string::npos);
    return clip.error();
  };
  CHECK(error("missing.wav").code == DiagnosticCode::file_unreadable);
  CHECK(error("missing.wav").message.find("No such file") != std::string::npos);
  folder.write("text.wav", "this is no sound");
  CHECK(error("text.wav").code == DiagnosticCode::bad_audio);
  write_wav(folder / "empty.wav", 48'000, 1, {});
  CHECK(error("empty.wav").message.find("0 frames") != std::string::npos);
  write_wav(folder / "nan.wav", 48'000, 1, {0, std::nanf(""), 0});
  CHECK(error("nan.wav").message.find("no numbers") != std::string::npos);
  write_wav(folder / "long.wav", 200, 1, std::vector<float>(120'001, 0));
  CHECK(error("long.wav").message.find("ten minutes") != std::string::npos);
  write_wav(folder / "slow.wav", 1, 1, {0, 0.5F, 0});
  CHECK(error("slow.wav").message.find("1 Hz cannot be converted") != std::string::npos);
  // A header may promise any number of frames: 42 bytes of it, and nothing behind.
  std::string flac = "fLaC";
  flac += std::string("\x80\0\0\x22\x10\0\x10\0\0\0\0\0\0\0\x0A\xC4\x42\xFF", 18);
  flac += std::string("\xFF\xFF\xFF\xFF", 4) + std::string(16, '\0');
  REQUIRE(flac.size() == 42);
  folder.write("promise.flac", flac);
  const std::size_t before = test::allocated_bytes();
  CHECK(error("promise.flac").code == DiagnosticCode::bad_audio);
  CHECK(test::allocated_bytes() - before < 4'000'000);
  CHECK(write_mix(folder / "no/such/folder.wav", {}, 0ns, {}).error().code ==
        DiagnosticCode::file_unwritable);
  ClipBank bank;
  bank.add("knock", knock(44'100));
  const SoundEvent event{.kind = SoundEventKind::clip, .name = "knock"};
  CHECK_FALSE(make_mix_event(event, bank, {.rate = 48'000}).has_value());
  CHECK_FALSE(
      make_mix_event({.kind = SoundEventKind::clip, .name = "other"}, bank, {.rate = 44'100}));
  CHECK(make_mix_event(event, bank, {.rate = 44'100}).has_value());
}

TEST_CASE("nothing to mix is silence of the length that was asked for") {
  std::size_t samples = 0;
  const MixResult result = mix({}, 100ms, {.rate = 48'000, .channels = 1},
                               [&](std::span<const float> block) { samples += block.size(); });
  CHECK(samples == 4800 + 960);
  CHECK(result.peak == 0);
}

// --- the tool

namespace {

const std::string source = ARVIK_SOURCE_DIR;
const std::string sounds = source + "/demo/tide_clock.sounds.json";

test::Outcome arvik_mix(const std::vector<std::string>& arguments) {
  std::vector<std::string> command{ARVIK_TOOL, "mix"};
  command.insert(command.end(), arguments.begin(), arguments.end());
  return test::run(command);
}

}  // namespace

TEST_CASE("arvik mix: a line, twice the same, skipped, and at other rates") {
  const Folder folder;
  const std::string line = source + "/demo/line_odrun.txt";
  const auto mix_line = [&](const std::string& name, std::vector<std::string> more) {
    more.insert(more.end(), {"--file", line, "--typing", sounds + "#wood", "-o", folder / name});
    const auto run = arvik_mix(more);
    INFO(run.err);
    REQUIRE(run.status == 0);
    return run.out;
  };
  const std::string out = mix_line("a.wav", {});
  CHECK(out.find("48000 Hz, stereo, 16 bit") != std::string::npos);
  CHECK(out.find("typing sounds") != std::string::npos);
  mix_line("b.wav", {});
  CHECK(test::read_whole(folder / "a.wav") == test::read_whole(folder / "b.wav"));
  mix_line("seed.wav", {"--seed", "99"});
  CHECK(test::read_whole(folder / "a.wav") != test::read_whole(folder / "seed.wav"));
  mix_line("mono.wav", {"--mono", "--float", "--sample-rate", "44100"});
  const Wav mono = read_wav(folder / "mono.wav");
  CHECK(mono.info.channels == 1);
  CHECK(mono.info.samplerate == 44'100);
  CHECK((mono.info.format & SF_FORMAT_SUBMASK) == SF_FORMAT_FLOAT);
  // Behind the skip only what rings rings out: the longest sample, lowered by an octave.
  mix_line("skip.wav", {"--skip-at", "500ms", "--skip-at", "4s"});
  const Wav skipped = read_wav(folder / "skip.wav");
  for (std::size_t i = 2 * 48 * 600; i < 2 * 48 * 1500; ++i) CHECK(skipped.samples[i] == 0);
  // Faster is shorter, and thins out.
  CHECK(mix_line("fast.wav", {"--speed", "x10"}).find(" 0 more") == std::string::npos);
}

TEST_CASE("arvik mix: a line lasts as long as its text, waits at holds, and rings out") {
  const Folder folder;
  const auto frames = [&](const std::string& markup) {
    const auto run = arvik_mix({markup, "--rate", "10cps", "--typing", sounds + "#wood", "--mono",
                                "-o", folder / "line.wav"});
    INFO(run.err);
    REQUIRE(run.status == 0);
    return read_wav(folder / "line.wav").info.frames;
  };
  // Up to the last letter, two seconds, and 20 ms of silence.
  CHECK(frames("abcdefghij[pause 2s]") == 48 * (900 + 2000 + 20));
  // Up to the hold the line takes 1.2 s, which is the least that reading takes.
  CHECK(frames("abcde[hold]fghij[pause 2s]") == 48 * (1200 + 400 + 2000 + 20));
  CHECK(frames("") == 48 * 20);
}

TEST_CASE("arvik mix: a whole conversation with voices") {
  const Folder folder;
  const auto run = arvik_mix({source + "/demo/tide_clock.script.json", "the_stop", "--value",
                              "keeper=Pell", "-o", folder / "scene.wav"});
  INFO(run.err);
  REQUIRE(run.status == 0);
  CHECK(run.out.find("voices              3") != std::string::npos);
  const Wav wav = read_wav(folder / "scene.wav");
  check_silent_end(wav.samples, wav.info.samplerate * 2);
  for (const float sample : wav.samples) REQUIRE(std::abs(sample) <= mix_ceiling + 0.001F);
  // In another language the voices of that language speak, and no others.
  const auto spoken = [&](const std::string& locale) {
    return arvik_mix({source + "/demo/tide_clock.script.json", "the_stop", "--value", "keeper=Pell",
                      "--locale", locale, "-o", folder / "other.wav"})
        .out;
  };
  CHECK(spoken("pl").find("voices              3") != std::string::npos);
  CHECK(spoken("de").find("voices              0") != std::string::npos);
}

TEST_CASE("arvik mix: wrong input is told") {
  const Folder folder;
  const auto error = [&](const std::vector<std::string>& arguments, int status) {
    std::vector<std::string> all{"-o", folder / "x.wav"};
    all.insert(all.end(), arguments.begin(), arguments.end());
    const auto run = arvik_mix(all);
    INFO(run.err);
    CHECK(run.status == status);
    return run.err;
  };
  const auto has = [](const std::string& text, const std::string& part) {
    INFO(text);
    CHECK(text.find(part) != std::string::npos);
  };
  has(error({"Hi", "--typing", sounds}, 2), "name one behind #: wood, reed, valve, alarm");
  has(error({"Hi", "--typing", sounds + "#wod"}, 2), "no typing sound is named \"wod\"");
  for (const std::string option : {"--rate", "--fit", "--by", "--pace", "--typing"}) {
    const std::string value = option == "--rate" ? "9cps" : option == "--fit" ? "2s" : "word";
    has(error({source + "/demo/tide_clock.script.json", option, value}, 2), "for a single line");
  }
  has(error({"Hi", "--speed", "fast"}, 2), "--speed");
  has(error({"Hi", "--skip-at", "soon"}, 2), "--skip-at");
  has(error({"Hi", "talk"}, 2), "only a script has conversations");
  has(error({source + "/demo/tide_clock.script.json", "nobody"}, 2), "the_stop, quiet, harbour");
  has(error({"Hi", "--sample-rate", "100"}, 2), "8000");
  has(error({"[sound gong]Hi"}, 0), "there is no clip \"gong\"");
  const auto with_file = [&](const std::string& json) {
    folder.write("s.json", json);
    return error({"Hi", "--typing", folder / "s.json"}, 1);
  };
  has(with_file(R"({"arvik_sounds": 1, "sounds": {"a": {"samples": []}}})"), "no samples");
  has(with_file(R"({"arvik_sounds": 1, "sounds": {"a": {"samples": ["none.wav"]}}})"),
      "No such file");
  has(with_file(R"({"arvik_sounds": 1, "sounds": {"a": {"samples": ["s.json"]}}})"),
      "no sound file");
  has(with_file(R"({"arvik_sounds": 1, "sounds": {"a": {"samples": ["x"], "gap": "0ms"}}})"),
      "gap is out of range");
  has(with_file(
          R"({"arvik_sounds": 1, "sounds": {"a": {"samples": ["x"], "pitch": ["1st", "-1st"]}}})"),
      "the wrong way round");
  has(with_file(R"({"arvik_sounds": 1, "sounds": {"a": {"samples": ["x"], "pitch": "2"}}})"),
      "semitones");
  has(with_file(R"({"arvik_sounds": 1, "sounds": {"a": {"samples": ["x"], "chose": "cycle"}}})"),
      "did you mean \"choose\"?");
}

TEST_CASE("frames become times and times frames, to the nanosecond") {
  CHECK(time_of_frames(91'200, 48'000) == 1900ms);
  CHECK(time_of_frames(24'000, 48'000) == 500ms);
  CHECK(time_of_frames(1, 44'100) == 22'676ns);
  CHECK(time_of_frames(0, 8000) == 0ns);
  CHECK(time_of_frames(std::numeric_limits<std::int64_t>::max(), 1) == max_duration);
  CHECK(frame_at(1900ms, 48'000) == 91'200);
  for (const int rate : {8000, 11'025, 44'100, 48'000, 192'000}) {
    for (std::int64_t frames = 0; frames < 1'000'000; frames += 7919) {
      CHECK(frame_at(time_of_frames(frames, rate), rate) == frames);
    }
  }
  AudioClip clip{.rate = 48'000, .channels = 2};
  clip.samples.resize(2 * 91'200);
  CHECK(clip.length() == 1900ms);
}
