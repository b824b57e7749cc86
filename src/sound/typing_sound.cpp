// Guarded by tests/sound/typing_test.cpp.

#include "arvik/typing_sound.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "../base/random.hpp"
#include "../unicode/characters.hpp"
#include "arvik/language_runs.hpp"

namespace arvik {
namespace {

bool is_heard(StepKind kind, const HeardSteps& heard) {
  switch (kind) {
    case StepKind::letter:
      return heard.letters;
    case StepKind::digit:
      return heard.digits;
    case StepKind::symbol:
      return heard.symbols;
    case StepKind::blank:
    case StepKind::row_end:
      return heard.blanks;
    case StepKind::unseen:
      return false;
    default:
      return heard.punctuation;
  }
}

double drawn(const SoundRange& range, std::uint64_t random) {
  return range.low + (range.high - range.low) * base::uniform(base::mixed(random));
}

float on_grid(double pitch) {
  return static_cast<float>(std::round(pitch * pitch_parts) / pitch_parts);
}

class TypingPlanner {
 public:
  TypingPlanner(const MarkedText& marked, const Steps& steps, const Schedule& schedule,
                TypingSounds sounds)
      : marked_(marked), steps_(steps), schedule_(schedule) {
    plan_.all_sounds = std::move(sounds);
    sounds_ = plan_.sounds();
    plan_.steps.resize(steps.size());
    turns_.resize(sounds_.size());
  }

  TypingPlan run(Language& language, std::string_view name, const Pace& pace,
                 const std::vector<Boundary>* boundaries) {
    name_steps(name);
    find_loops();
    choose();
    move_pitch(language, pace, boundaries);
    return std::move(plan_);
  }

 private:
  // Which sound every step belongs to, whether it is heard or not.
  void name_steps(std::string_view name) {
    std::vector<std::uint16_t> open{find(name, 0)};
    std::uint32_t step = 0;
    const auto fill_to = [&](std::size_t byte) {
      const std::uint32_t end = steps_.step_from(byte);
      for (; step < end; ++step) plan_.steps[step].sound = open.back();
    };
    for (EdgeWalker edges(marked_); edges.has_edge_until(marked_.text.size());) {
      const Edge edge = edges.take();
      const auto* typing = std::get_if<tag::Typing>(edge.what);
      if (edge.kind == EdgeKind::point ||
          (typing == nullptr && !std::holds_alternative<tag::Mute>(*edge.what))) {
        continue;
      }
      fill_to(edge.at);
      if (edge.kind == EdgeKind::end) {
        open.pop_back();
      } else {
        open.push_back(typing == nullptr ? StepSound::none : find(typing->name, edge.at));
      }
    }
    fill_to(marked_.text.size());
  }

  // The index of a sound; what is not there is told, for the byte of the text at which it is named.
  std::uint16_t find(std::string_view name, std::size_t at) {
    if (name.empty()) return StepSound::none;
    const auto found = std::find_if(sounds_.begin(), sounds_.end(),
                                    [&](const TypingSound& sound) { return sound.name == name; });
    if (found != sounds_.end()) {
      return static_cast<std::uint16_t>(found - sounds_.begin());
    }
    if (plan_.diagnostics.size() < max_diagnostics) tell_unknown(name, at);
    return StepSound::none;
  }

  void tell_unknown(std::string_view name, std::size_t at) {
    std::vector<std::string_view> names;
    names.reserve(sounds_.size());
    for (const TypingSound& sound : sounds_) names.push_back(sound.name);
    const auto place = TextLocator(marked_.text).locate(at);
    plan_.diagnostics.push_back({.code = DiagnosticCode::unknown_sound,
                                 .severity = Severity::warning,
                                 .message = "no typing sound is named " + quoted_word(name),
                                 .range = {at, at},
                                 .row = place.row,
                                 .column = place.column,
                                 .hint = std::string(nearest_name(name, names))});
  }

  // A loop runs from the first of its steps to the next rest, hold or other sound.
  void find_loops() {
    auto pause = schedule_.pauses.begin();
    auto event = schedule_.events.begin();
    std::optional<SoundLoop> open;
    const auto close = [&](Nanoseconds end, bool at_hold) {
      open->end = end;
      open->ends_at_hold = at_hold;
      if (open->end > open->begin) plan_.loops.push_back(*open);
      open.reset();
    };
    for (std::uint32_t i = 0; i < steps_.size(); ++i) {
      std::optional<Nanoseconds> hold;
      for (; event != schedule_.events.end() && event->step <= i; ++event) {
        if (event->kind == EventKind::hold) hold = event->time;
      }
      if (hold && open) close(*hold, true);
      // A hold behind a loop that something else has ended already keeps the next one apart, too.
      if (hold && !plan_.loops.empty()) plan_.loops.back().ends_at_hold = true;
      if (open && i > 0) {
        while (pause != schedule_.pauses.end() && pause->step + 1 < i) ++pause;
        const bool rests = pause != schedule_.pauses.end() && pause->step + 1 == i;
        const Nanoseconds rest = rests ? pause->automatic + pause->written : Nanoseconds::zero();
        if (rest > Nanoseconds::zero()) close(schedule_.onsets[i] - rest, false);
      }
      const std::uint16_t sound = plan_.steps[i].sound;
      if (open && sound != open->sound) close(schedule_.onsets[i], false);
      const bool loops = sound != StepSound::none && sounds_[sound].loop;
      if (loops && !open) open = SoundLoop{schedule_.onsets[i], {}, i, sound, false};
    }
    if (open) close(schedule_.onsets.back(), false);
  }

  void choose() {
    const std::uint64_t of_text = base::hash_of(marked_.text);
    for (std::uint32_t i = 0; i < steps_.size(); ++i) {
      StepSound& step = plan_.steps[i];
      if (step.sound == StepSound::none) continue;
      const TypingSound& sound = sounds_[step.sound];
      const bool in_turn = !sound.loop && is_heard(steps_.kinds[i], sound.heard) &&
                           turns_[step.sound]++ % sound.every == 0;
      if (!in_turn) {
        step.sound = StepSound::none;
        continue;
      }
      const std::uint64_t what =
          sound.choice == SampleChoice::by_letter
              ? static_cast<std::uint64_t>(unicode::bare_letter(steps_.text(marked_.text, i)))
              : of_text + i;
      const std::uint64_t random = base::mixed(base::mixed(sound.seed) ^ what);
      step.draw = static_cast<std::uint32_t>(random);
      step.pitch = on_grid(drawn(sound.pitch, random + 1));
      step.gain = static_cast<float>(drawn(sound.gain, random + 2));
    }
  }

  void move_pitch(Language& language, const Pace& pace, const std::vector<Boundary>* boundaries) {
    const auto moves = [](const TypingSound& sound) {
      return sound.question_pitch != 0 || sound.statement_pitch != 0;
    };
    if (std::none_of(sounds_.begin(), sounds_.end(), moves)) return;
    std::vector<Boundary> own;
    if (boundaries == nullptr) {
      std::vector<LanguageRun> others;
      find_languages(marked_, steps_, others);
      read_boundaries(marked_.text, steps_, language, others,
                      {.abbreviations = pace.abbreviations, .characters = pace.characters}, own);
      boundaries = &own;
    }
    std::uint32_t begin = 0;
    for (const Boundary& boundary : *boundaries) {
      const bool question = boundary.sentence == SentenceKind::asks;
      const bool ends =
          boundary.has(BoundaryKind::sentence) || boundary.has(BoundaryKind::ellipsis);
      if (!ends && !question) continue;
      move_pitch_before(begin, boundary.step + 1, question);
      begin = boundary.step + 1;
    }
  }

  // Of the sentence from `begin` to before `end`.
  void move_pitch_before(std::uint32_t begin, std::uint32_t end, bool question) {
    std::uint32_t left = contour_steps;
    for (std::uint32_t i = end; i > begin && left > 0; --i) {
      StepSound& step = plan_.steps[i - 1];
      if (step.sound == StepSound::none) continue;
      const TypingSound& sound = sounds_[step.sound];
      const double most = question ? sound.question_pitch : sound.statement_pitch;
      step.pitch += on_grid(most * left / contour_steps);
      --left;
    }
  }

  const MarkedText& marked_;
  const Steps& steps_;
  const Schedule& schedule_;
  std::vector<std::uint32_t> turns_;     // by sound: how many heard steps so far
  std::span<const TypingSound> sounds_;  // the plan's
  TypingPlan plan_;
};

Diagnostic bad_sound(const TypingSound& sound, const std::string& message) {
  const std::string whose = sound.name.empty() ? "" : quoted_word(sound.name) + ": ";
  return {
      .code = DiagnosticCode::bad_sound, .severity = Severity::error, .message = whose + message};
}

// Comparisons are written so that NaN fails.
bool is_within(double value, double least, double most) { return value >= least && value <= most; }

std::optional<std::string> find_bad_range(const TypingSound& sound) {
  for (const double pitch : {sound.pitch.low, sound.pitch.high}) {
    if (!is_within(pitch, -max_semitones, max_semitones)) {
      return "pitch is out of range: it must be -48st to 48st";
    }
  }
  for (const double gain : {sound.gain.low, sound.gain.high}) {
    if (!is_within(gain, min_decibels, max_decibels)) {
      return "gain is out of range: it must be -96dB to 24dB";
    }
  }
  if (sound.pitch.low > sound.pitch.high) {
    return "the range of the pitch is the wrong way round: the lower value comes first";
  }
  if (sound.gain.low > sound.gain.high) {
    return "the range of the gain is the wrong way round: the lower value comes first";
  }
  if (!is_within(sound.question_pitch, -max_semitones, max_semitones) ||
      !is_within(sound.statement_pitch, -max_semitones, max_semitones)) {
    return "question_pitch and statement_pitch must be -48st to 48st";
  }
  if (sound.under_voice != silence && !is_within(sound.under_voice, min_decibels, 0)) {
    return "under_voice is out of range: it must be -96dB to 0dB, or silent";
  }
  return std::nullopt;
}

std::optional<std::string> find_bad_value(const TypingSound& sound) {
  if (sound.samples.empty()) return "no samples: a typing sound needs at least one";
  if (sound.loop && sound.samples.size() > 1) return "a loop has one sample";
  if (sound.every < 1 || sound.every > 1000) return "every is out of range: it must be 1 to 1000";
  if (sound.gap < min_sound_gap || sound.gap > max_sound_gap) {
    return "gap is out of range: it must be 5ms to 10s, or sounds run into a buzz";
  }
  if (sound.fade < std::chrono::milliseconds(1) || sound.fade > std::chrono::seconds(1)) {
    return "fade is out of range: it must be 1ms to 1s, or what is cut clicks";
  }
  if (sound.voices < 1 || sound.voices > max_sound_voices) {
    return "voices is out of range: it must be 1 to 16";
  }
  if (!is_within(sound.pan, -1, 1)) return "pan is out of range: it must be -1 to 1";
  return find_bad_range(sound);
}

}  // namespace

std::optional<Diagnostic> find_problem(const TypingSound& sound) {
  const auto problem = find_bad_value(sound);
  if (!problem) return std::nullopt;
  return bad_sound(sound, *problem);
}

std::optional<Diagnostic> find_problem(std::span<const TypingSound> sounds) {
  if (sounds.size() > max_typing_sounds) {
    return bad_sound({}, "more than 1000 typing sounds to choose from");
  }
  for (const TypingSound& sound : sounds) {
    if (auto problem = find_problem(sound)) return problem;
  }
  return std::nullopt;
}

tl::expected<TypingPlan, Diagnostic> plan_typing(const MarkedText& marked, const Steps& steps,
                                                 Language& language, const Schedule& schedule,
                                                 TypingSounds sounds, std::string_view name,
                                                 const Pace& pace,
                                                 const std::vector<Boundary>* boundaries) {
  if (sounds != nullptr) {
    if (auto problem = find_problem(*sounds)) return tl::unexpected(std::move(*problem));
  }
  return TypingPlanner(marked, steps, schedule, std::move(sounds))
      .run(language, name, pace, boundaries);
}

tl::expected<TypingPlan, Diagnostic> plan_typing(const MarkedText& marked, const Steps& steps,
                                                 Language& language, const Schedule& schedule,
                                                 std::span<const TypingSound> sounds,
                                                 std::string_view name, const Pace& pace,
                                                 const std::vector<Boundary>* boundaries) {
  auto copy = std::make_shared<const std::vector<TypingSound>>(sounds.begin(), sounds.end());
  return plan_typing(marked, steps, language, schedule, std::move(copy), name, pace, boundaries);
}

}  // namespace arvik
