// The sounds that a text leads one to expect are laid over a recording by dynamic programming: of
// all ways to cut the recording into as many pieces, one after another, the cheapest. A piece costs
// what its slices cost for a sound of its class, and what its length differs from the expected one;
// a cut at a moment at which the spectrum changes is cheaper. Between words a silence may stand:
// one that the text has no reason for is dear, and one that it has a reason for is dear to leave
// out. (In the terms of speech recognition: a hidden semi-Markov model and its Viterbi path.)
//
// Nothing is trained. A slice is compared with a rough profile of each class, relative to the mean
// spectrum of this very recording, above the floor of its noise, so that neither the voice, the
// microphone nor the level matter much; then the profiles and the rate of speech are brought nearer
// to this speaker by what was found, and all is laid anew. What a class costs is bounded by what
// any other class costs and a little, since letters tell only so much about sounds.
//
// The first time a unit is looked for around the place that the share of the text before it gives,
// in a window that widens with the root of the length; later around where it was found. So the work
// grows with the length to the power of 1.5, and memory, too.
//
// Tried and dropped: bands without that floor, in which the decay of clean recordings misled; dear
// unknown sounds, which squeezed numbers to nothing and pushed their neighbours away.
//
// Guarded by tests/voices/align_test.cpp and tests/voices/accuracy_test.cpp.

#include "aligner.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace arvik::audio {
namespace {

constexpr std::size_t bands = SpeechSlice::bands;
using Profile = std::array<float, bands>;
using Costs = std::array<float, sound_classes>;

// How much louder each class is in each band than the recording's speech is on the whole, in dB.
constexpr std::array<Profile, sound_classes> class_profiles{{
    {{4, 6, 7, 6, 4, 3, 0, -2}},                 // open
    {{4, 3, -6, -6, 1, 1, -2, -4}},              // close
    {{4, -1, -8, -8, -8, -8, -10, -10}},         // nasal
    {{3, 2, -2, -3, -4, -4, -8, -8}},            // liquid
    {{-12, -18, -18, -12, -6, 2, 8, 10}},        // sibilant
    {{-8, -12, -12, -10, -8, -6, -2, 0}},        // fricative
    {{-20, -20, -18, -15, -12, -10, -8, -6}},    // voiceless
    {{-2, -10, -14, -14, -14, -14, -14, -12}},   // voiced
    {{0, 0, 0, 0, 0, 0, 0, 0}},                  // speech: not looked at
    {{-60, -60, -60, -60, -60, -60, -60, -60}},  // silence
}};

// What things cost, beside a slice that is one standard deviation off in all bands: 8/2 · emission.
constexpr float emission = 0.12F;
constexpr float deviation = 8.4F;      // of a band, in dB
constexpr float most_in_band = 13.5F;  // halves of squares of deviations
constexpr float floor_below = 17;      // dB under the mean of the speech, at the least
constexpr float other_class = 3;       // a slice is of any other class
constexpr float other_vowel = 0.4F;    // … of the other vowels
constexpr float unknown_sound = 0.2F;  // a slice of what no table knows
constexpr float unknown_in_silence = 4;
constexpr float silent_in_speech = 0.25F;
constexpr float spoken_in_silence = 0.6F;
constexpr float length_weight = 1.5F;
constexpr float change_weight = 1.8F;
constexpr float rest_without_reason = 20;
constexpr float clause_without_rest = 2;
constexpr float sentence_without_rest = 5;
constexpr float prior = 17.5F;  // slices that the rough profiles are worth

constexpr std::uint32_t least_silence = 3;  // slices
constexpr std::size_t max_cells = 40'000'000;
constexpr int rounds = 3;
constexpr float far = 1e30F;
constexpr float slice_length = 10;  // ms

constexpr std::size_t index(SoundClass sound) { return static_cast<std::size_t>(sound); }

// Of two sounds together.
float together(float a, float b) {
  const float apart = std::abs(a - b);
  const float louder = std::max(a, b);
  return apart > 30 ? louder : louder + 10 * std::log10(1 + std::pow(10.0F, -apart / 10));
}

// What a recording is like, slice by slice, relative to itself.
class Features {
 public:
  explicit Features(const SpeechTrack& track) : size_(track.slices.size()) {
    find_speech(track);
    find_floor(track);
    levels_.resize(size_);
    for (std::size_t i = 0; i < size_; ++i) {
      for (std::size_t b = 0; b < bands; ++b) {
        levels_[i][b] =
            std::max(SpeechSlice::decibels(track.slices[i].levels[b]) - mean_[b], floor_[b]);
      }
    }
    find_change();
  }

  [[nodiscard]] std::size_t size() const { return size_; }
  [[nodiscard]] bool speaks(std::size_t slice) const { return speaks_[slice]; }
  [[nodiscard]] const std::vector<std::uint32_t>& spoken() const { return spoken_; }
  /// Above the mean of the speech, the floor at the least.
  [[nodiscard]] const Profile& level(std::size_t slice) const { return levels_[slice]; }
  [[nodiscard]] const Profile& floor() const { return floor_; }
  /// How much the spectrum changes at the begin of a slice, 0 to 1.5.
  [[nodiscard]] float change(std::size_t slice) const { return change_[slice]; }

 private:
  void find_speech(const SpeechTrack& track) {
    speaks_.assign(size_, false);
    for (const SpeechSpan& span : track.spans) {
      const auto end = std::min(static_cast<std::size_t>(span.end / speech_grid), size_);
      for (auto i = static_cast<std::size_t>(span.begin / speech_grid); i < end; ++i) {
        speaks_[i] = true;
        spoken_.push_back(static_cast<std::uint32_t>(i));
      }
    }
  }

  // Of each band the mean of the speech, and the twentieth part that is quietest.
  void find_floor(const SpeechTrack& track) {
    for (std::size_t b = 0; b < bands; ++b) {
      double sum = 0;
      for (const std::uint32_t i : spoken_) sum += SpeechSlice::decibels(track.slices[i].levels[b]);
      const auto count = static_cast<double>(std::max<std::size_t>(spoken_.size(), 1));
      mean_[b] = static_cast<float>(sum / count);
      std::array<std::uint32_t, 256> counts{};
      for (const SpeechSlice& slice : track.slices) ++counts[slice.levels[b]];
      std::size_t level = 0;
      for (std::size_t seen = counts[0]; seen <= size_ / 20 && level < 255;) {
        seen += counts[++level];
      }
      floor_[b] = std::max(SpeechSlice::decibels(static_cast<std::uint8_t>(level)) - mean_[b],
                           -floor_below);
    }
  }

  // Between two slices on each side.
  void find_change() {
    constexpr float scale = 16 * bands;
    change_.assign(size_ + 1, 0);
    for (std::size_t i = 1; i < size_; ++i) {
      const Profile& before = levels_[i - 1];
      const Profile& long_before = levels_[i >= 2 ? i - 2 : 0];
      const Profile& behind = levels_[std::min(i + 1, size_ - 1)];
      float sum = 0;
      for (std::size_t b = 0; b < bands; ++b) {
        sum += std::abs(levels_[i][b] + behind[b] - before[b] - long_before[b]);
      }
      change_[i] = std::min(sum / scale, 1.5F);
    }
  }

  std::size_t size_;
  std::vector<bool> speaks_;
  std::vector<std::uint32_t> spoken_;
  Profile mean_{};
  Profile floor_{};
  std::vector<Profile> levels_;
  std::vector<float> change_;
};

// The slices in which a unit may begin, both included.
struct Window {
  std::uint32_t first = 0;
  std::uint32_t last = 0;
  [[nodiscard]] std::size_t size() const { return last - first + std::size_t{1}; }
};

class Placer {
 public:
  Placer(const std::vector<SpokenUnit>& units, const SpeechTrack& track)
      : units_(units), features_(track), end_(static_cast<std::uint32_t>(features_.size())) {}

  std::vector<PlacedUnit> run() {
    if (features_.spoken().empty()) return {};
    for (const SpokenUnit& unit : units_) expected_ += unit.length;
    if (expected_ <= 0) return {};
    rate_ = static_cast<float>(features_.spoken().size()) * slice_length / expected_;
    profiles_ = class_profiles;
    guess_windows();
    std::vector<PlacedUnit> placed;
    for (int round = 0; round < rounds; ++round) {
      if (!close_windows()) return {};
      find_costs();
      placed = search();
      if (placed.empty()) return {};
      if (round + 1 == rounds) break;
      adapt(placed);
      narrow_windows(placed);
    }
    return placed;
  }

 private:
  // Around where so much of the speech has passed.
  void guess_windows() {
    const auto& spoken = features_.spoken();
    const float margin = 120 + 6 * std::sqrt(static_cast<float>(end_));
    float passed = 0;
    for (const SpokenUnit& unit : units_) {
      const float share = passed / expected_;
      const auto at = static_cast<std::size_t>(share * static_cast<float>(spoken.size()));
      const auto guess = static_cast<float>(at < spoken.size() ? spoken[at] : end_);
      windows_.push_back({static_cast<std::uint32_t>(std::max(guess - margin, 0.0F)),
                          static_cast<std::uint32_t>(guess + margin)});
      passed += unit.length;
    }
    windows_.push_back({});
  }

  void narrow_windows(const std::vector<PlacedUnit>& placed) {
    constexpr std::uint32_t margin = 40;
    for (std::size_t u = 0; u < placed.size(); ++u) {
      const std::uint32_t begin = placed[u].begin;
      windows_[u] = {begin - std::min(begin, margin), begin + margin};
    }
  }

  // Units begin one after another, the first at the begin, and the last ends at the end.
  bool close_windows() {
    windows_.front() = {0, 0};
    windows_.back() = {end_, end_};
    std::size_t cells = 0;
    for (std::size_t i = 1; i < windows_.size(); ++i) {
      windows_[i].first = std::max(windows_[i].first, windows_[i - 1].first);
    }
    for (std::size_t i = windows_.size() - 1; i > 0; --i) {
      windows_[i - 1].last = std::min(windows_[i - 1].last, windows_[i].last);
      if (windows_[i - 1].last < windows_[i - 1].first) return false;
      cells += windows_[i].size();
    }
    return cells <= max_cells;
  }

  // Running sums of what each slice costs for each class.
  void find_costs() {
    std::array<Profile, sound_classes> means{};
    for (std::size_t c = 0; c < sound_classes; ++c) {
      for (std::size_t b = 0; b < bands; ++b) {
        means[c][b] = together(profiles_[c][b], features_.floor()[b]);
      }
    }
    sums_.assign(features_.size() + 1, {});
    for (std::size_t i = 0; i < features_.size(); ++i) {
      const Costs costs = costs_of(i, means);
      for (std::size_t c = 0; c < sound_classes; ++c) sums_[i + 1][c] = sums_[i][c] + costs[c];
    }
  }

  [[nodiscard]] Costs costs_of(std::size_t slice,
                               const std::array<Profile, sound_classes>& means) const {
    constexpr std::size_t unknown = index(SoundClass::speech);
    constexpr std::size_t silence = index(SoundClass::silence);
    const Profile& level = features_.level(slice);
    Costs costs{};
    float best = far;
    for (std::size_t c = 0; c < sound_classes; ++c) {
      if (c == unknown) continue;
      for (std::size_t b = 0; b < bands; ++b) {
        const float off = (level[b] - means[c][b]) / deviation;
        costs[c] += std::min(off * off / 2, most_in_band);
      }
      costs[c] *= emission;
      if (c != silence) best = std::min(best, costs[c]);
    }
    const bool speaks = features_.speaks(slice);
    const float open = costs[0];
    costs[0] = std::min(open, costs[1] + other_vowel);
    costs[1] = std::min(costs[1], open + other_vowel);
    for (std::size_t c = 0; c < unknown; ++c) {
      costs[c] = std::min(costs[c], best + other_class) + (speaks ? 0 : spoken_in_silence);
    }
    costs[unknown] = speaks ? best + unknown_sound : unknown_in_silence;
    costs[silence] =
        std::min(costs[silence], best + 2 * other_class) + (speaks ? silent_in_speech : 0);
    return costs;
  }

  [[nodiscard]] float sum(SoundClass sound, std::uint32_t begin, std::uint32_t end) const {
    return sums_[end][index(sound)] - sums_[begin][index(sound)];
  }

  // Cheapest ways, unit by unit: `now` has the cost of each slice at which the unit may begin.
  std::vector<PlacedUnit> search() {
    std::vector<std::vector<std::uint32_t>> from(units_.size() + 1);
    std::vector<float> now{0};
    std::vector<float> next;
    for (std::size_t u = 0; u < units_.size(); ++u) {
      next.assign(windows_[u + 1].size(), far);
      from[u + 1].assign(next.size(), 0);
      if (units_[u].sound == SoundClass::silence) {
        pass_silence(u, now, next, from[u + 1]);
      } else {
        pass_sound(u, now, next, from[u + 1]);
      }
      std::swap(now, next);
    }
    if (now.back() >= far / 2) return {};
    std::vector<PlacedUnit> placed(units_.size());
    std::uint32_t at = end_;
    for (std::size_t u = units_.size(); u-- > 0;) {
      const std::uint32_t begin = from[u + 1][at - windows_[u + 1].first];
      placed[u] = describe(units_[u], begin, at);
      at = begin;
    }
    return placed;
  }

  [[nodiscard]] PlacedUnit describe(const SpokenUnit& unit, std::uint32_t begin,
                                    std::uint32_t end) const {
    PlacedUnit placed{.begin = begin, .end = end};
    if (unit.sound == SoundClass::silence || end == begin) return placed;
    const auto length = static_cast<float>(end - begin);
    placed.fit = sum(unit.sound, begin, end) / length;
    placed.off = std::log(length / mean_length(unit));
    return placed;
  }

  [[nodiscard]] float mean_length(const SpokenUnit& unit) const {
    return std::max(unit.length * rate_ / slice_length, 1.0F);
  }

  // A silence may be left out, or begin at the best of all slices before.
  void pass_silence(std::size_t u, const std::vector<float>& now, std::vector<float>& next,
                    std::vector<std::uint32_t>& from) const {
    const Window& begins = windows_[u];
    const Window& ends = windows_[u + 1];
    const BoundaryKind reason = units_[u].before;
    const bool edge = reason == BoundaryKind::paragraph;  // before the first word, behind the last
    const float enter = reason <= BoundaryKind::space ? rest_without_reason : 0;
    float leave_out = 0;
    if (reason == BoundaryKind::clause || reason == BoundaryKind::dash) {
      leave_out = clause_without_rest;
    } else if (reason > BoundaryKind::space && !edge) {
      leave_out = sentence_without_rest;
    }
    float open = far;
    std::uint32_t open_at = 0;
    for (std::uint32_t t = begins.first; t <= ends.last; ++t) {
      if (t >= begins.first + least_silence && t - least_silence <= begins.last) {
        const std::uint32_t begin = t - least_silence;
        const float cost = now[begin - begins.first] - sums_[begin][index(SoundClass::silence)];
        if (cost < open) {
          open = cost;
          open_at = begin;
        }
      }
      if (t < ends.first) continue;
      float& best = next[t - ends.first];
      if (t <= begins.last) {
        best = now[t - begins.first] + leave_out;
        from[t - ends.first] = t;
      }
      const float rested = open + sums_[t][index(SoundClass::silence)] + enter;
      if (rested < best) {
        best = rested;
        from[t - ends.first] = open_at;
      }
    }
  }

  void pass_sound(std::size_t u, const std::vector<float>& now, std::vector<float>& next,
                  std::vector<std::uint32_t>& from) {
    const SpokenUnit& unit = units_[u];
    const Window& begins = windows_[u];
    const Window& ends = windows_[u + 1];
    const float mean = mean_length(unit);
    const auto most = static_cast<std::uint32_t>(std::min(mean * 4 + 6, 2000.0F));
    length_costs_.resize(most + std::size_t{1});
    for (std::uint32_t d = 1; d <= most; ++d) {
      const float off = std::log(static_cast<float>(d) / mean) / unit.spread;
      length_costs_[d] = length_weight * off * off / 2;
    }
    // What a way costs before the sum of its slices.
    before_.resize(now.size());
    for (std::size_t i = 0; i < now.size(); ++i) {
      before_[i] = now[i] - sums_[begins.first + i][index(unit.sound)];
    }
    for (std::uint32_t t = std::max(ends.first, begins.first + 1); t <= ends.last; ++t) {
      const std::uint32_t low = std::max(begins.first, t > most ? t - most : 0);
      const std::uint32_t high = std::min(begins.last, t - 1);
      float best = far;
      std::uint32_t at = 0;
      for (std::uint32_t s = low; s <= high; ++s) {
        const float cost = before_[s - begins.first] + length_costs_[t - s];
        if (cost < best) {
          best = cost;
          at = s;
        }
      }
      if (best >= far / 2) continue;
      next[t - ends.first] =
          best + sums_[t][index(unit.sound)] - change_weight * features_.change(t);
      from[t - ends.first] = at;
    }
  }

  // Brings the profiles and the rate of speech nearer to this speaker.
  void adapt(const std::vector<PlacedUnit>& placed) {
    std::array<Profile, sound_classes> sums{};
    Costs counts{};
    float found = 0;
    for (std::size_t u = 0; u < placed.size(); ++u) {
      const SoundClass sound = units_[u].sound;
      if (sound == SoundClass::silence) continue;
      found += static_cast<float>(placed[u].end - placed[u].begin) * slice_length;
      counts[index(sound)] += static_cast<float>(placed[u].end - placed[u].begin);
      for (std::uint32_t i = placed[u].begin; i < placed[u].end; ++i) {
        for (std::size_t b = 0; b < bands; ++b) sums[index(sound)][b] += features_.level(i)[b];
      }
    }
    rate_ = found / expected_;
    for (std::size_t c = 0; c < index(SoundClass::speech); ++c) {
      for (std::size_t b = 0; b < bands; ++b) {
        profiles_[c][b] = (class_profiles[c][b] * prior + sums[c][b]) / (prior + counts[c]);
      }
    }
  }

  const std::vector<SpokenUnit>& units_;
  Features features_;
  std::uint32_t end_;
  float expected_ = 0;  // ms, of all units
  float rate_ = 1;      // of the speech, times the ordinary
  std::array<Profile, sound_classes> profiles_{};
  std::vector<Costs> sums_;
  std::vector<Window> windows_;  // of each unit's begin, and of the end
  std::vector<float> length_costs_;
  std::vector<float> before_;
};

}  // namespace

std::vector<PlacedUnit> place_units(const std::vector<SpokenUnit>& units,
                                    const SpeechTrack& track) {
  return Placer(units, track).run();
}

}  // namespace arvik::audio
