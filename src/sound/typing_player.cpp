// Everything that a tick brings is taken in order of time: steps, events, begins and ends of loops.
// A moment of the line is heard when the reveal's real time has come to it.
//
// Guarded by tests/sound/typing_test.cpp, against a plain model.

#include "arvik/typing_player.hpp"

#include <algorithm>
#include <array>

namespace arvik {

std::string_view sound_event_name(SoundEventKind kind) {
  static constexpr std::array<std::string_view, 8> names{
      "typing", "loop_begin", "loop_gain", "loop_end", "cut", "clip", "voice_begin", "voice_end"};
  return names[static_cast<std::size_t>(kind)];
}

namespace {

std::uint64_t bit_of(std::uint16_t sound) { return std::uint64_t{1} << (sound % 64U); }

}  // namespace

void TypingPlayer::begin(const TypingPlan& plan) {
  plan_ = &plan;
  next_loop_ = 0;
  loop_ends_ = loop_runs_;  // one runs only where stop() was forgotten
  last_sample_ = no_sample;
}

void TypingPlayer::replace(const TypingPlan& plan, Nanoseconds position) {
  plan_ = &plan;
  const auto& loops = plan.loops;
  const auto next = std::find_if(loops.begin(), loops.end(),
                                 [&](const SoundLoop& loop) { return loop.end > position; });
  next_loop_ = static_cast<std::uint32_t>(next - loops.begin());
  loop_ends_ =
      loop_runs_ && (next == loops.end() || next->begin > position || next->sound != loop_sound_);
}

TypingPlace TypingPlayer::place() const {
  TypingPlace place{
      .started = started_, .swallowed = swallowed_, .last_sound = last_sound_, .ringing = rings_};
  if (last_start_ != never) place.last_start = last_start_;
  if (voice_end_ != never) place.voice_end = voice_end_;
  if (last_sample_ != no_sample) place.last_sample = last_sample_;
  return place;
}

void TypingPlayer::begin_at(const TypingPlan& plan, Nanoseconds position,
                            const TypingPlace& place) {
  *this = {};
  last_start_ = place.last_start.value_or(never);
  voice_end_ = place.voice_end.value_or(never);
  started_ = place.started;
  swallowed_ = place.swallowed;
  last_sound_ = place.last_sound;
  rings_ = place.ringing;
  // A sample that the sound does not have is none.
  const bool known = place.last_sample && last_sound_ < plan.sounds().size() &&
                     *place.last_sample < plan.sounds()[last_sound_].samples.size();
  last_sample_ = known ? *place.last_sample : no_sample;
  replace(plan, position);
}

double TypingPlayer::voice_gain(const TypingSound& sound, Nanoseconds heard) const {
  return heard < voice_end_ ? sound.under_voice : 0;
}

void TypingPlayer::step_appeared(std::uint32_t step, Nanoseconds heard,
                                 std::vector<SoundEvent>& out) {
  const StepSound& planned = plan_->steps[step];
  const TypingSound& sound = plan_->sounds()[planned.sound];
  const double lowered = voice_gain(sound, heard);
  if (lowered == silence) return;
  if (heard - last_start_ < sound.gap) {
    ++swallowed_;
    return;
  }
  const auto count = static_cast<std::uint32_t>(sound.samples.size());
  std::uint32_t sample = 0;
  switch (sound.choice) {
    case SampleChoice::cycle:
      sample = started_ % count;
      break;
    case SampleChoice::shuffle:
      // One of the others, each as likely.
      sample = last_sound_ == planned.sound && last_sample_ != no_sample && count > 1
                   ? (last_sample_ + 1 + planned.draw % (count - 1)) % count
                   : planned.draw % count;
      break;
    case SampleChoice::by_letter:
      sample = planned.draw % count;
      break;
  }
  out.push_back({.kind = SoundEventKind::typing,
                 .time = heard,
                 .name = sound.samples[sample],
                 .step = step,
                 .sound = planned.sound,
                 .sample = static_cast<std::uint16_t>(sample),
                 .channel = started_ % sound.voices,
                 .pitch = planned.pitch,
                 .gain = planned.gain + static_cast<float>(lowered),
                 .pan = static_cast<float>(sound.pan),
                 .fade = sound.fade});
  ++started_;
  last_start_ = heard;
  last_sample_ = sample;
  last_sound_ = planned.sound;
  rings_ |= bit_of(planned.sound);
}

void TypingPlayer::begin_loop(Nanoseconds heard, std::vector<SoundEvent>& out) {
  const SoundLoop& loop = plan_->loops[next_loop_];
  const TypingSound& sound = plan_->sounds()[loop.sound];
  const double lowered = voice_gain(sound, heard);
  loop_runs_ = true;
  loop_sound_ = loop.sound;
  loop_lowered_ = heard < voice_end_;
  out.push_back({.kind = SoundEventKind::loop_begin,
                 .time = heard,
                 .name = sound.samples[0],
                 .step = loop.first_step,
                 .sound = loop.sound,
                 .pitch = static_cast<float>(sound.pitch.low),
                 .gain = static_cast<float>(sound.gain.low + lowered),
                 .pan = static_cast<float>(sound.pan),
                 .fade = sound.fade});
}

void TypingPlayer::end_loop(Nanoseconds heard, std::vector<SoundEvent>& out) {
  loop_runs_ = loop_ends_ = false;
  const bool known = loop_sound_ < plan_->sounds().size();
  out.push_back({.kind = SoundEventKind::loop_end,
                 .time = heard,
                 .sound = loop_sound_,
                 .fade = known ? plan_->sounds()[loop_sound_].fade : TypingSound{}.fade});
}

void TypingPlayer::cut(Nanoseconds heard, std::vector<SoundEvent>& out) {
  if (rings_ == 0) return;
  const auto count = static_cast<std::uint16_t>(plan_->sounds().size());  // max_typing_sounds
  for (std::uint16_t i = 0; i < count; ++i) {
    const TypingSound& sound = plan_->sounds()[i];
    if (sound.ending != SoundEnding::cut || (rings_ & bit_of(i)) == 0) continue;
    out.push_back({.kind = SoundEventKind::cut, .time = heard, .sound = i, .fade = sound.fade});
  }
  rings_ = 0;
}

void TypingPlayer::pause(Nanoseconds now, std::vector<SoundEvent>& out) {
  if (loop_runs_) end_loop(now, out);
}

void TypingPlayer::stop(Nanoseconds now, std::vector<SoundEvent>& out) {
  if (plan_ == nullptr) return;
  if (loop_runs_) end_loop(now, out);
  cut(now, out);
}

// Begins, ends and changes of loops up to a moment of the line.
void TypingPlayer::run_loops(const Reveal& before, const Reveal& after, Nanoseconds until,
                             Nanoseconds now, std::vector<SoundEvent>& out) {
  const auto& loops = plan_->loops;
  const auto heard = [&](Nanoseconds time) {
    return add_saturated(now, before.real_time_to(time));
  };
  for (; next_loop_ < loops.size(); ++next_loop_) {
    const SoundLoop& loop = loops[next_loop_];
    const auto raise = [&] {  // once the voice that lowers it has ended, in a bridged rest, too
      if (!loop_runs_ || !loop_lowered_ || voice_end_ > heard(std::min(until, loop.end))) return;
      const TypingSound& sound = plan_->sounds()[loop.sound];
      loop_lowered_ = false;
      out.push_back({.kind = SoundEventKind::loop_gain,
                     .time = std::max(voice_end_, now),
                     .sound = loop.sound,
                     .gain = static_cast<float>(sound.gain.low),
                     .fade = sound.fade});
    };
    raise();
    if (loop.begin > until) return;
    // At a hold the next loop's time has come, too; it waits until the reveal goes on.
    const bool waits = after.state() != RevealState::revealing && loop.begin == after.position();
    if (waits) return;
    if (!loop_runs_ && loop.end > before.position()) begin_loop(heard(loop.begin), out);
    raise();
    if (loop.end > until) return;
    if (!loop_runs_) continue;
    // Rests shorter than `gap` do not stop the loop.
    const bool goes_on =
        next_loop_ + 1 < loops.size() && !loop.ends_at_hold &&
        loops[next_loop_ + 1].sound == loop.sound &&
        heard(loops[next_loop_ + 1].begin) - heard(loop.end) < plan_->sounds()[loop.sound].gap;
    if (!goes_on) end_loop(heard(loop.end), out);
  }
}

void TypingPlayer::follow(const Reveal& before, const Reveal& after, const Progress& progress,
                          Nanoseconds now, std::vector<SoundEvent>& out) {
  if (plan_ == nullptr) return;
  if (loop_ends_) end_loop(now, out);
  if (progress.skipped) {
    if (loop_runs_) end_loop(now, out);
    cut(now, out);
    for (const Event& event : progress.events) {
      if (event.kind != EventKind::sound) continue;
      out.push_back(
          {.kind = SoundEventKind::clip, .time = now, .name = event.name, .step = event.step});
    }
    while (next_loop_ < plan_->loops.size() && plan_->loops[next_loop_].end <= after.position()) {
      ++next_loop_;
    }
    return;
  }
  if (before.paused() || before.speed() == 0) {
    pause(now, out);
    return;
  }
  const std::uint32_t end_step =
      std::min(progress.end_step, static_cast<std::uint32_t>(plan_->steps.size()));
  std::uint32_t step = progress.first_step;
  const auto take_steps = [&](std::uint32_t end) {
    for (; step < end; ++step) {
      if (plan_->steps[step].sound == StepSound::none) continue;
      const Nanoseconds onset = before.onset(step);
      if (!plan_->loops.empty()) run_loops(before, after, onset, now, out);
      step_appeared(step, add_saturated(now, before.real_time_to(onset)), out);
    }
  };
  for (const Event& event : progress.events) {
    if (event.kind != EventKind::sound && event.kind != EventKind::finish) continue;
    take_steps(std::min(event.step, end_step));
    if (!plan_->loops.empty()) run_loops(before, after, event.time, now, out);
    const Nanoseconds heard = add_saturated(now, before.real_time_to(event.time));
    if (event.kind == EventKind::finish) {
      stop(heard, out);
    } else {
      out.push_back(
          {.kind = SoundEventKind::clip, .time = heard, .name = event.name, .step = event.step});
    }
  }
  take_steps(end_step);
  if (!plan_->loops.empty()) run_loops(before, after, after.position(), now, out);
}

}  // namespace arvik
