// Where somebody speaks, found from energy alone.
//
// A bank of band-pass filters (second order, twice; the formulas are those of the W3C's Audio EQ
// Cookbook) gives the energy of eight bands for each hundredth of a second. Speech is where the
// level rises over a threshold that follows the recording: it lies between the level of its
// quietest twentieth and that of its loudest tenth. A gap shorter than the closure of a stop is no
// silence, and what is as short as a click is no speech. docs/voices.md tells more.
//
// Guarded by tests/voices/speech_test.cpp.

#include "arvik/speech.hpp"

#include <ebur128.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <fstream>
#include <numbers>
#include <numeric>
#include <system_error>

#include "../base/random.hpp"
#include "sound_source.hpp"

namespace arvik {
namespace {

constexpr std::size_t bands = SpeechSlice::bands;
// In Hz: each band reaches from one to the next.
constexpr std::array<float, bands + 1> edges{100, 300, 600, 1000, 1600, 2500, 3700, 5500, 8000};

std::uint8_t to_level(double power) {
  if (!(power > 0)) return 0;
  const double decibels = 10 * std::log10(power);
  return static_cast<std::uint8_t>(std::clamp(std::lround(2 * (decibels + 127.5)), 0L, 255L));
}

// Band-pass filters side by side, each twice in a row.
class FilterBank {
 public:
  using Values = std::array<float, bands>;
  explicit FilterBank(double rate) {
    for (std::size_t band = 0; band < bands; ++band) {
      const double low = edges[band];
      const double high = edges[band + 1];
      const double centre = std::sqrt(low * high);
      if (centre > 0.45 * rate) continue;  // b stays 0: nothing passes
      const double turn = 2 * std::numbers::pi * centre / rate;
      const double alpha = std::sin(turn) * (high - low) / (2 * centre);
      b_[band] = static_cast<float>(alpha / (1 + alpha));
      a1_[band] = static_cast<float>(-2 * std::cos(turn) / (1 + alpha));
      a2_[band] = static_cast<float>((1 - alpha) / (1 + alpha));
    }
  }

  // Adds the power of the samples in each band to `power`. Locals, so that the compiler sees that
  // nothing overlaps and does all bands at once.
  void pass(std::span<const float> samples, Values& power) {
    const Values b = b_, a1 = a1_, a2 = a2_;
    Values s1 = s1_, s2 = s2_, t1 = t1_, t2 = t2_, sum{};
    for (const float sample : samples) {
      for (std::size_t i = 0; i < bands; ++i) {
        // Transposed direct form II; of a band-pass b0 = -b2 and b1 = 0.
        const float in = b[i] * sample;
        const float first = in + s1[i];
        s1[i] = s2[i] - a1[i] * first;
        s2[i] = -in - a2[i] * first;
        const float between = b[i] * first;
        const float second = between + t1[i];
        t1[i] = t2[i] - a1[i] * second;
        t2[i] = -between - a2[i] * second;
        sum[i] += second * second;
      }
    }
    // In silence the filters would ring on in numbers so small that processors are slow with them.
    const auto settled = [](Values values) {
      for (float& value : values) value = std::abs(value) < 1e-15F ? 0 : value;
      return values;
    };
    s1_ = settled(s1);
    s2_ = settled(s2);
    t1_ = settled(t1);
    t2_ = settled(t2);
    for (std::size_t i = 0; i < bands; ++i) power[i] += sum[i];
  }

 private:
  Values b_{}, a1_{}, a2_{}, s1_{}, s2_{}, t1_{}, t2_{};
};

Nanoseconds time_of_slice(std::size_t slice) {
  return static_cast<std::int64_t>(slice) * speech_grid;
}

// The value below which the given share lies, by counting.
std::uint8_t quantile(std::span<const std::uint32_t, 256> counts, double share) {
  const std::uint64_t all = std::accumulate(counts.begin(), counts.end(), std::uint64_t{0});
  const auto wanted = static_cast<std::uint64_t>(share * static_cast<double>(all));
  std::uint64_t seen = 0;
  for (std::size_t level = 0; level < 256; ++level) {
    seen += counts[level];
    if (seen > wanted) return static_cast<std::uint8_t>(level);
  }
  return 255;
}

}  // namespace

struct SpeechReader::Impl {
  explicit Impl(int given)
      : rate(std::clamp(given, min_audio_rate, max_audio_rate)),
        filters(rate),
        loudness(ebur128_init(1, static_cast<unsigned long>(rate), EBUR128_MODE_I)) {}
  Impl(const Impl&) = delete;
  Impl& operator=(const Impl&) = delete;
  ~Impl() {
    if (loudness != nullptr) ebur128_destroy(&loudness);
  }

  void end_slice() {
    SpeechSlice& slice = track.slices.emplace_back();
    const auto count = static_cast<double>(in_slice);
    for (std::size_t band = 0; band < bands; ++band)
      slice.levels[band] = to_level(power[band] / count);
    slice.level = to_level(all_power / count);
    power.fill(0);
    all_power = 0;
    in_slice = 0;
    next_slice_end = frame_at(time_of_slice(track.slices.size() + 1), rate);
  }

  int rate;
  FilterBank filters;
  ebur128_state* loudness;
  SpeechTrack track;
  std::int64_t frames = 0;
  std::int64_t next_slice_end = 0;
  std::int64_t in_slice = 0;
  std::array<float, bands> power{};
  double all_power = 0;
  std::vector<float> clean;
};

SpeechReader::SpeechReader(int rate) : impl_(std::make_unique<Impl>(rate)) {
  impl_->next_slice_end = frame_at(speech_grid, impl_->rate);
}
SpeechReader::SpeechReader(SpeechReader&&) noexcept = default;
SpeechReader& SpeechReader::operator=(SpeechReader&&) noexcept = default;
SpeechReader::~SpeechReader() = default;

void SpeechReader::push(std::span<const float> mono) {
  Impl& now = *impl_;
  now.clean.assign(mono.begin(), mono.end());
  for (float& sample : now.clean) {
    sample = std::isfinite(sample) ? std::clamp(sample, -16.0F, 16.0F) : 0;
    now.track.peak = std::max(now.track.peak, std::abs(sample));
  }
  for (std::span<const float> rest = now.clean; !rest.empty();) {
    const auto left = static_cast<std::size_t>(now.next_slice_end - now.frames);
    const std::span<const float> piece = rest.first(std::min(left, rest.size()));
    now.filters.pass(piece, now.power);
    for (const float sample : piece) now.all_power += static_cast<double>(sample) * sample;
    now.in_slice += static_cast<std::int64_t>(piece.size());
    now.frames += static_cast<std::int64_t>(piece.size());
    if (now.frames >= now.next_slice_end) now.end_slice();
    rest = rest.subspan(piece.size());
  }
  if (now.loudness != nullptr) {
    (void)ebur128_add_frames_float(now.loudness, now.clean.data(), now.clean.size());
  }
}

namespace {

// Finds spans, peaks, levels and the mouth of a track whose slices are there.
class SpeechFinder {
 public:
  explicit SpeechFinder(SpeechTrack& track) : track_(track) {}

  void run() {
    track_.lead = track_.length;
    if (track_.slices.empty()) return;
    smooth();
    find_levels();
    find_spans();
    find_peaks();
    open_mouth();
  }

 private:
  // The level that speech is judged by: without the hum below 100 Hz, and even over three slices.
  void smooth() {
    const auto& slices = track_.slices;
    std::vector<float> powers(slices.size());
    for (std::size_t i = 0; i < slices.size(); ++i) {
      float sum = 0;
      for (const std::uint8_t level : slices[i].levels) {
        sum += std::pow(10.0F, SpeechSlice::decibels(level) / 10);
      }
      powers[i] = sum;
      raw_.push_back(sum > 0 ? 10 * std::log10(sum) : -127.5F);
    }
    levels_.resize(slices.size());
    for (std::size_t i = 0; i < slices.size(); ++i) {
      const float before = powers[i > 0 ? i - 1 : i];
      const float behind = powers[std::min(i + 1, slices.size() - 1)];
      levels_[i] = to_level((before + 2 * powers[i] + behind) / 4);
    }
  }

  void find_levels() {
    std::array<std::uint32_t, 256> counts{};
    for (const std::uint8_t level : levels_) ++counts[level];
    const float loud = SpeechSlice::decibels(quantile(counts, 0.9));
    const float quiet = SpeechSlice::decibels(quantile(counts, 0.05));
    track_.noise_level = std::max(quiet, loud - 60);
    track_.speech_level = loud;
  }

  // Above the floor by a third of the way to the speech, 5 dB at the least and 20 at the most.
  void find_spans() {
    const float range = track_.speech_level - track_.noise_level;
    const bool heard = track_.speech_level > -75 && range >= 6;
    // Where nothing lies below the rest, all of it is speech, or all of it noise: syllables rise
    // and fall, noise does not.
    if (!heard) return;
    const float threshold = track_.noise_level + std::clamp(range / 3, 5.0F, 20.0F);
    const std::size_t size = levels_.size();
    constexpr std::size_t bridged = 9;   // slices: a closure is shorter
    constexpr std::size_t shortest = 6;  // a click is shorter
    std::vector<std::pair<std::size_t, std::size_t>> runs;
    for (std::size_t i = 0; i < size;) {
      if (SpeechSlice::decibels(levels_[i]) < threshold) {
        ++i;
        continue;
      }
      std::size_t end = i;
      while (end < size && SpeechSlice::decibels(levels_[end]) >= threshold) ++end;
      if (!runs.empty() && i - runs.back().second < bridged) {
        runs.back().second = end;
      } else {
        runs.emplace_back(i, end);
      }
      i = end;
    }
    for (const auto& [begin, end] : runs) {
      if (end - begin < shortest) continue;
      // Without what only its neighbours have made loud.
      std::size_t first = begin;
      std::size_t last = end;
      while (first < last && raw_[first] < threshold) ++first;
      while (last > first && raw_[last - 1] < threshold) --last;
      track_.spans.push_back({time_of_slice(first), std::min(time_of_slice(last), track_.length)});
    }
    if (track_.spans.empty()) return;
    track_.lead = track_.spans.front().begin;
    track_.tail = track_.length - track_.spans.back().end;
  }

  // Where the bands of the vowels are loudest: 3 dB over the valleys on both sides, 60 ms apart.
  void find_peaks() {
    const auto vowels = [&](std::size_t i) {
      const auto& levels = track_.slices[i].levels;
      return static_cast<int>(*std::max_element(levels.begin() + 1, levels.begin() + 5));
    };
    constexpr int rise = 6;  // half decibels
    for (const SpeechSpan& span : track_.spans) {
      const auto begin = static_cast<std::size_t>(span.begin / speech_grid);
      const auto end = std::min(static_cast<std::size_t>(span.end / speech_grid), levels_.size());
      int valley = 0;
      int peak = 0;
      std::size_t at = begin;
      for (std::size_t i = begin; i < end; ++i) {
        const int level = vowels(i);
        if (i == begin) valley = peak = level;
        if (level > peak) {
          peak = level;
          at = i;
        }
        if (level <= peak - rise || i + 1 == end) {
          if (peak >= valley + rise || i + 1 == end) {
            const Nanoseconds time = time_of_slice(at) + speech_grid / 2;
            const bool apart =
                track_.peaks.empty() || time - track_.peaks.back() >= std::chrono::milliseconds(60);
            if (apart) track_.peaks.push_back(time);
            valley = level;
            peak = level;
            at = i;
          }
        }
        if (level < valley) {
          valley = level;
          peak = level;
          at = i;
        }
      }
    }
  }

  // Open in proportion to the level of the vowels' bands, opening at once and closing slowly, as
  // lips do.
  void open_mouth() {
    if (track_.spans.empty()) return;
    const float floor = track_.noise_level + (track_.speech_level - track_.noise_level) / 3;
    const float range = std::max(track_.speech_level + 2 - floor, 6.0F);
    float mouth = 0;
    std::size_t span = 0;
    for (std::size_t i = 0; i < track_.slices.size(); ++i) {
      const Nanoseconds time = time_of_slice(i);
      while (span < track_.spans.size() && track_.spans[span].end <= time) ++span;
      const bool speaks = span < track_.spans.size() && track_.spans[span].begin <= time;
      float power = 0;
      for (std::size_t band = 1; band < 5; ++band) {
        power += std::pow(10.0F, SpeechSlice::decibels(track_.slices[i].levels[band]) / 10);
      }
      const float level = power > 0 ? 10 * std::log10(power) : -127.5F;
      const float wanted = speaks ? std::clamp((level - floor) / range, 0.0F, 1.0F) : 0.0F;
      mouth += (wanted - mouth) * (wanted > mouth ? 0.6F : 0.3F);
      if (mouth < 0.02F) mouth = 0;
      track_.slices[i].mouth = static_cast<std::uint8_t>(std::lround(mouth * 255));
    }
  }

  SpeechTrack& track_;
  std::vector<std::uint8_t> levels_;
  std::vector<float> raw_;  // in dB, each slice for itself
};

}  // namespace

SpeechTrack SpeechReader::finish() {
  Impl& now = *impl_;
  now.track.length = time_of_frames(now.frames, now.rate);
  if (now.in_slice > 0) now.end_slice();
  double loudness = 0;
  if (now.loudness != nullptr &&
      ebur128_loudness_global(now.loudness, &loudness) == EBUR128_SUCCESS &&
      std::isfinite(loudness)) {
    now.track.loudness = static_cast<float>(loudness);
  }
  SpeechFinder(now.track).run();
  SpeechTrack track = std::move(now.track);
  *this = SpeechReader(now.rate);
  return track;
}

Nanoseconds SpeechTrack::spoken() const {
  Nanoseconds sum{};
  for (const SpeechSpan& span : spans) sum += span.end - span.begin;
  return sum;
}

SpeechTrack read_speech(const AudioClip& clip) {
  SpeechReader reader(clip.rate);
  if (clip.channels == 1) {
    reader.push(clip.samples);
    return reader.finish();
  }
  std::vector<float> mono;
  mono.reserve(clip.frames());
  audio::append_mean(clip.samples, 2, mono);
  reader.push(mono);
  return reader.finish();
}

tl::expected<SpeechTrack, Diagnostic> read_speech_file(const std::string& path) {
  auto source = audio::SoundSource::open(path);
  if (!source) return tl::unexpected(std::move(source.error()));
  if (source->rate() < min_audio_rate || source->rate() > max_audio_rate) {
    return source->failure("its rate of " + std::to_string(source->rate()) +
                           " Hz is not 8000 to 192000 Hz");
  }
  SpeechReader reader(source->rate());
  std::vector<float> samples;
  std::vector<float> mono;
  for (bool more = true; more;) {
    samples.clear();
    mono.clear();
    more = source->read(samples);
    if (time_of_frames(source->frames(), source->rate()) > max_speech_length) {
      return source->failure("longer than four hours");
    }
    audio::append_mean(samples, static_cast<std::size_t>(source->channels()), mono);
    reader.push(mono);
  }
  if (auto good = source->finish(); !good) return tl::unexpected(std::move(good.error()));
  return reader.finish();
}

tl::expected<std::uint64_t, Diagnostic> fingerprint_of_file(const std::string& path) {
  std::ifstream file(path, std::ios::binary);
  std::vector<char> block(std::size_t{1} << 16U);
  std::uint64_t hash = base::hash_of({});
  errno = 0;
  while (file) {
    file.read(block.data(), static_cast<std::streamsize>(block.size()));
    hash = base::hash_of({block.data(), static_cast<std::size_t>(file.gcount())}, hash);
  }
  if (file.eof()) return std::max<std::uint64_t>(hash, 1);
  return tl::unexpected(Diagnostic{
      .code = DiagnosticCode::file_unreadable,
      .severity = Severity::error,
      .message = path + ": " + std::generic_category().message(errno != 0 ? errno : EIO)});
}

float mouth_open(const SpeechTrack& track, Nanoseconds time) {
  if (time < Nanoseconds::zero() || time >= track.length || track.slices.empty()) return 0;
  const auto slice = static_cast<std::size_t>(time / speech_grid);
  const auto at = [&](std::size_t i) {
    return i < track.slices.size() ? static_cast<float>(track.slices[i].mouth) / 255 : 0.0F;
  };
  const auto part =
      static_cast<float>((time % speech_grid).count()) / static_cast<float>(speech_grid.count());
  return at(slice) * (1 - part) + at(slice + 1) * part;
}

}  // namespace arvik
