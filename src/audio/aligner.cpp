#include "aligner.hpp"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <cstdio>
#include <limits>

namespace arvik::audio {

float P(const char* name, float fallback) {
  const char* v = std::getenv(name);
  return v ? std::strtof(v, nullptr) : fallback;
}

namespace {

constexpr std::size_t bands = SpeechSlice::bands;
constexpr float far = 1e30F;
using Profile = std::array<float, bands>;

// How much louder each class is in each band than the recording's speech is on the whole, in dB.
std::array<Profile, sound_classes> class_profiles{{
    {{4, 6, 7, 6, 4, 3, 0, -2}},                // open
    {{4, 3, -6, -6, 1, 1, -2, -4}},             // close
    {{4, -1, -8, -8, -8, -8, -10, -10}},        // nasal
    {{3, 2, -2, -3, -4, -4, -8, -8}},           // liquid
    {{-12, -18, -18, -12, -6, 2, 8, 10}},       // sibilant
    {{-8, -12, -12, -10, -8, -6, -2, 0}},       // fricative
    {{-20, -20, -18, -15, -12, -10, -8, -6}},   // voiceless
    {{-2, -10, -14, -14, -14, -14, -14, -12}},  // voiced
    {{0, 0, 0, 0, 0, 0, 0, 0}},                 // speech
    {{-60, -60, -60, -60, -60, -60, -60, -60}}, // silence
}};

float decibels(std::uint8_t level) { return static_cast<float>(level) / 2 - 127.5F; }
float log_add(float a, float b) {
  const float most = std::max(a, b);
  const float apart = std::abs(a - b);
  return apart > 30 ? most : most + 10 * std::log10(1 + std::pow(10.0F, -apart / 10));
}

class Placer {
 public:
  Placer(const std::vector<SpokenUnit>& units, const SpeechTrack& track)
      : units_(units), track_(track), slices_(track.slices.size()) {}

  std::vector<PlacedUnit> run() {
    if (slices_ == 0 || track_.is_silent()) return {};
    profiles_ = class_profiles;
    find_reference();
    find_change();
    find_tempo();
    std::vector<PlacedUnit> placed;
    const int rounds = static_cast<int>(P("ROUNDS", 3));
    for (int round = 0; round < rounds; ++round) {
      find_costs();
      if (!find_windows(round == 0 ? std::vector<PlacedUnit>{} : placed)) return {};
      placed = search();
      if (placed.empty()) return {};
      if (round + 1 < rounds) adapt(placed);
    }
    if (std::getenv("DUMP")) dump(placed);
    return placed;
  }

 private:
  void find_reference() {
    std::array<double, bands> sum{};
    std::array<std::vector<std::uint8_t>, bands> quiet;
    std::size_t count = 0;
    std::size_t span = 0;
    speech_.assign(slices_, false);
    for (std::size_t i = 0; i < slices_; ++i) {
      const Nanoseconds time = static_cast<std::int64_t>(i) * speech_grid;
      while (span < track_.spans.size() && track_.spans[span].end <= time) ++span;
      speech_[i] = span < track_.spans.size() && track_.spans[span].begin <= time;
      for (std::size_t b = 0; b < bands; ++b) {
        quiet[b].push_back(track_.slices[i].levels[b]);
        if (speech_[i]) sum[b] += decibels(track_.slices[i].levels[b]);
      }
      count += speech_[i] ? 1 : 0;
    }
    for (std::size_t b = 0; b < bands; ++b) {
      reference_[b] = static_cast<float>(sum[b] / static_cast<double>(std::max<std::size_t>(count, 1)));
      auto& q = quiet[b];
      const auto nth = q.begin() + static_cast<std::ptrdiff_t>(q.size() / 20);
      std::nth_element(q.begin(), nth, q.end());
      floor_[b] = std::max(decibels(*nth) , reference_[b] - P("FLOORCAP", 20));
    }
    spoken_ = count;
  }

  void find_change() {
    change_.assign(slices_ + 1, 0);
    const auto x = [&](std::size_t i, std::size_t b) {
      return std::max(decibels(track_.slices[i].levels[b]), floor_[b]);
    };
    for (std::size_t i = 1; i < slices_; ++i) {
      float sum = 0;
      const std::size_t before = i >= 2 ? i - 2 : 0;
      const std::size_t behind = std::min(i + 1, slices_ - 1);
      for (std::size_t b = 0; b < bands; ++b) {
        sum += std::abs(x(i, b) + x(behind, b) - x(i - 1, b) - x(before, b)) / 2;
      }
      change_[i] = std::min(sum / bands / 8, 1.5F);
    }
  }

  void find_tempo() {
    float expected = 0;
    for (const SpokenUnit& unit : units_) expected += unit.length;
    tempo_ = static_cast<float>(spoken_) * 10 / std::max(expected, 1.0F);
  }

  void find_costs() {
    sums_.assign(sound_classes, std::vector<float>(slices_ + 1, 0));
    const float weight = P("EMIT", 0.35F);
    const float sigma = P("SIGMA", 7);
    const float cap = P("CAP", 9);
    const float other = P("OTHER", 1.5F);
    const float vowel = P("VOWEL", 0.4F);
    const float anysil = P("ANYSIL", 4), anycost = P("ANYCOST", 1.2F), silspeech = P("SILSPEECH", 0.3F), speechsil = P("SPEECHSIL", 0.6F);
    std::array<Profile, sound_classes> means{};
    for (std::size_t c = 0; c < sound_classes; ++c) {
      for (std::size_t b = 0; b < bands; ++b) means[c][b] = log_add(reference_[b] + profiles_[c][b], floor_[b]);
    }
    constexpr std::size_t silence = static_cast<std::size_t>(SoundClass::silence);
    constexpr std::size_t any = static_cast<std::size_t>(SoundClass::speech);
    for (std::size_t i = 0; i < slices_; ++i) {
      std::array<float, sound_classes> costs{};
      for (std::size_t c = 0; c < sound_classes; ++c) {
        float cost = 0;
        for (std::size_t b = 0; b < bands; ++b) {
          const float x = std::max(decibels(track_.slices[i].levels[b]), floor_[b]);
          const float off = (x - means[c][b]) / sigma;
          cost += std::min(off * off / 2, cap);
        }
        costs[c] = cost * weight;
      }
      costs[any] = 1e9F;
      float best = 1e9F;
      for (std::size_t c = 0; c < any; ++c) best = std::min(best, costs[c]);
      for (std::size_t c = 0; c < any; ++c) {
        costs[c] = std::min(costs[c], best + other);
        if (c < 2) costs[c] = std::min(costs[c], costs[1 - c] + vowel);
        if (!speech_[i]) costs[c] += speechsil;
      }
      costs[silence] = std::min(costs[silence], best + 2 * other) + (speech_[i] ? silspeech : 0);
      costs[any] = speech_[i] ? best + anycost : anysil;
      for (std::size_t c = 0; c < sound_classes; ++c) sums_[c][i + 1] = sums_[c][i] + costs[c];
    }
  }

  // Where each unit may begin.
  bool find_windows(const std::vector<PlacedUnit>& before) {
    windows_.clear();
    if (!before.empty()) {
      const auto margin = static_cast<std::uint32_t>(P("MARGIN2", 40));
      for (const PlacedUnit& unit : before) {
        windows_.push_back({unit.begin > margin ? unit.begin - margin : 0,
                            std::min<std::uint32_t>(unit.begin + margin, static_cast<std::uint32_t>(slices_))});
      }
    } else {
      std::vector<float> times;  // slice at which so much speech has passed
      for (std::size_t i = 0; i < slices_; ++i) {
        if (speech_[i]) times.push_back(static_cast<float>(i));
      }
      float all = 0;
      for (const SpokenUnit& unit : units_) all += unit.length;
      float passed = 0;
      for (const SpokenUnit& unit : units_) {
        const auto at = static_cast<std::size_t>(passed / std::max(all, 1.0F) * static_cast<float>(times.size()));
        const float expected = at < times.size() ? times[at] : static_cast<float>(slices_);
        const float margin = P("MARGIN", 120) + 0.12F * static_cast<float>(slices_);
        windows_.push_back(
            {static_cast<std::uint32_t>(std::max(expected - margin, 0.0F)),
             static_cast<std::uint32_t>(std::min(expected + margin, static_cast<float>(slices_)))});
        passed += unit.length;
      }
    }
    windows_.front() = {0, 0};
    windows_.push_back({static_cast<std::uint32_t>(slices_), static_cast<std::uint32_t>(slices_)});
    std::size_t cells = 0;
    for (std::size_t i = 1; i < windows_.size(); ++i) {
      windows_[i].first = std::max(windows_[i].first, windows_[i - 1].first);
      cells += windows_[i].second - windows_[i].first + 1;
    }
    for (std::size_t i = windows_.size() - 1; i > 0; --i) {
      windows_[i - 1].second = std::min(windows_[i - 1].second, windows_[i].second);
      if (windows_[i - 1].second < windows_[i - 1].first) return false;
    }
    return cells <= max_cells;
  }

  float skip_cost(const SpokenUnit& unit) const {
    switch (unit.before) {
      case BoundaryKind::none: return 0;
      case BoundaryKind::space: return 0;
      case BoundaryKind::clause: return P("SKIPCLAUSE", 2);
      case BoundaryKind::dash: return P("SKIPDASH", 2);
      case BoundaryKind::paragraph: return 0;
      default: return P("SKIPSENT", 5);
    }
  }
  float enter_cost(const SpokenUnit& unit) const {
    switch (unit.before) {
      case BoundaryKind::none: return P("ENTERNONE", 12);
      case BoundaryKind::space: return P("ENTERSPACE", 7);
      default: return 0;
    }
  }

  std::vector<PlacedUnit> search() {
    const std::size_t count = units_.size();
    // best[t]: cheapest way with the unit beginning at t, t counted from its window's begin
    std::vector<std::vector<std::uint32_t>> back(count + 1);
    std::vector<float> now{0};
    const float lambda = P("DUR", 1.0F);
    const float kappa = P("CHANGE", 1.5F);
    for (std::size_t u = 0; u < count; ++u) {
      const SpokenUnit& unit = units_[u];
      const auto [first, last] = windows_[u];
      const auto [next_first, next_last] = windows_[u + 1];
      std::vector<float> next(next_last - next_first + 1, far);
      std::vector<std::uint32_t>& from = back[u + 1];
      from.assign(next.size(), 0);
      const std::vector<float>& sum = sums_[static_cast<std::size_t>(unit.sound)];
      if (unit.sound == SoundClass::silence) {
        const float skip = skip_cost(unit);
        const float enter = enter_cost(unit);
        float open = far;  // best begin so far, cost less sum at begin
        std::uint32_t open_at = 0;
        constexpr std::uint32_t least = 3;
        for (std::uint32_t t = std::min(next_first, first); t <= next_last; ++t) {
          if (t >= least && t - least >= first && t - least <= last) {
            const float cost = now[t - least - first];
            if (cost < far && cost - sum[t - least] < open) {
              open = cost - sum[t - least];
              open_at = t - least;
            }
          }
          if (t < next_first) continue;
          float best = far;
          std::uint32_t best_from = 0;
          if (t >= first && t <= last && now[t - first] < far) {
            best = now[t - first] + skip;
            best_from = t;
          }
          if (open < far && open + sum[t] + enter < best) {
            best = open + sum[t] + enter;
            best_from = open_at;
          }
          next[t - next_first] = best;
          from[t - next_first] = best_from;
        }
      } else {
        const float mean = std::max(unit.length * tempo_ / 10, 1.0F);
        const auto most = static_cast<std::uint32_t>(std::min(mean * 4 + 6, 4000.0F));
        std::vector<float> length_cost(most + 1, far);
        for (std::uint32_t d = 1; d <= most; ++d) {
          const float off = std::log(static_cast<float>(d) / mean) / unit.spread;
          length_cost[d] = lambda * off * off / 2;
        }
        for (std::uint32_t t = next_first; t <= next_last; ++t) {
          float best = far;
          std::uint32_t best_from = 0;
          const std::uint32_t low = std::max(first, t > most ? t - most : 0);
          const std::uint32_t high = std::min(last, t > 0 ? t - 1 : 0);
          for (std::uint32_t s = low; s <= high && s < t; ++s) {
            const float cost = now[s - first] + length_cost[t - s] - sum[s];
            if (cost < best) {
              best = cost;
              best_from = s;
            }
          }
          if (best < far / 2) {
            next[t - next_first] = best + sum[t] - kappa * change_[t];
            from[t - next_first] = best_from;
          }
        }
      }
      now = std::move(next);
    }
    if (now.back() >= far / 2) return {};
    std::vector<PlacedUnit> placed(count);
    auto t = static_cast<std::uint32_t>(slices_);
    for (std::size_t u = count; u > 0; --u) {
      const std::uint32_t begin = back[u][t - windows_[u].first];
      placed[u - 1].begin = begin;
      placed[u - 1].end = t;
      const auto& sum = sums_[static_cast<std::size_t>(units_[u - 1].sound)];
      if (t > begin) placed[u - 1].fit = (sum[t] - sum[begin]) / static_cast<float>(t - begin);
      t = begin;
    }
    return placed;
  }

  // Brings the profiles and the rate of speech nearer to this speaker.
  void adapt(const std::vector<PlacedUnit>& placed) {
    const float prior = P("PRIOR", 25);  // slices
    for (std::size_t c = 0; c < sound_classes; ++c) {
      const auto sound = static_cast<SoundClass>(c);
      if (sound == SoundClass::silence || sound == SoundClass::speech) continue;
      Profile sum{};
      float count = 0;
      for (std::size_t u = 0; u < placed.size(); ++u) {
        if (units_[u].sound != sound) continue;
        for (std::uint32_t i = placed[u].begin; i < placed[u].end; ++i) {
          for (std::size_t b = 0; b < bands; ++b) {
            sum[b] += std::max(decibels(track_.slices[i].levels[b]), floor_[b]) - reference_[b];
          }
          ++count;
        }
      }
      for (std::size_t b = 0; b < bands; ++b) {
        profiles_[c][b] = (class_profiles[c][b] * prior + sum[b]) / (prior + count);
      }
    }
    float expected = 0;
    float found = 0;
    for (std::size_t u = 0; u < placed.size(); ++u) {
      if (units_[u].sound == SoundClass::silence) continue;
      expected += units_[u].length;
      found += static_cast<float>(placed[u].end - placed[u].begin) * 10;
    }
    tempo_ = found / std::max(expected, 1.0F);
  }

  void dump(const std::vector<PlacedUnit>& placed) {
    for (std::size_t u = 0; u < placed.size(); ++u) {
      for (std::uint32_t i = placed[u].begin; i < placed[u].end; ++i) {
        std::printf("F %d", static_cast<int>(units_[u].sound));
        for (std::size_t b = 0; b < bands; ++b) {
          std::printf(" %.1f", static_cast<double>(decibels(track_.slices[i].levels[b]) - reference_[b]));
        }
        std::printf("\n");
      }
      if (units_[u].length > 0) std::printf("L %d %.3f\n", static_cast<int>(units_[u].sound),
                  static_cast<double>(placed[u].end - placed[u].begin) * 10.0 / static_cast<double>(tempo_));
    }
  }

  const std::vector<SpokenUnit>& units_;
  const SpeechTrack& track_;
  std::size_t slices_;
  std::vector<bool> speech_;
  std::size_t spoken_ = 0;
  Profile reference_{};
  Profile floor_{};
  std::array<Profile, sound_classes> profiles_{};
  std::vector<float> change_;
  float tempo_ = 1;
  std::vector<std::vector<float>> sums_;
  std::vector<std::pair<std::uint32_t, std::uint32_t>> windows_;
};

}  // namespace

std::vector<PlacedUnit> place_units(const std::vector<SpokenUnit>& units,
                                    const SpeechTrack& track) {
  return Placer(units, track).run();
}

}  // namespace arvik::audio
