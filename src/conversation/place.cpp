// A place names what has passed instead of counting it. Events of the writer are found again by
// kind and name, each as often as it has happened; those of the layout by the step that they stand
// before. What is shown follows from that: between the last event that has passed and the first
// that has not, by the same share.
//
// An event that has passed leaves the schedule, so that it cannot come again, wherever the other
// text has it. Tried before: a cursor into the new schedule. It cannot say "b has passed, a has
// not" where a translation has a before b.
//
// Guarded by tests/conversation/place_test.cpp.

#include "arvik/place.hpp"

#include <algorithm>
#include <map>
#include <optional>
#include <utility>

#include "../base/random.hpp"

namespace arvik {
namespace {

bool is_writers(const Event& event) { return !event.by_layout && event.kind != EventKind::finish; }

std::uint64_t fingerprint(const std::vector<Nanoseconds>& onsets) {
  std::uint64_t hash = onsets.size();
  for (const Nanoseconds onset : onsets) {
    hash = base::mixed(hash ^ static_cast<std::uint64_t>(onset.count()));
  }
  return hash;
}

// Which events of a schedule have passed already.
class PassedFinder {
 public:
  explicit PassedFinder(const std::vector<PassedEvent>& passed) {
    for (const PassedEvent& event : passed) ++counts_[{event.kind, event.name}];
  }

  bool take(const Event& event) {
    const auto found = counts_.find({event.kind, event.name});
    if (found == counts_.end() || found->second == 0) return false;
    --found->second;
    return true;
  }

 private:
  std::map<std::pair<EventKind, std::string_view>, std::size_t> counts_;
};

// Where between two events the other text stands.
std::uint32_t shown_between(const LinePlace& place, std::uint32_t begin, std::uint32_t end,
                            bool found_events, std::uint32_t size) {
  std::uint64_t before = std::min(place.part_begin, place.shown);
  std::uint64_t whole = std::max(place.part_end, place.shown) - before;
  if (!found_events) {  // none is there to go by: the share of the whole line
    before = 0;
    whole = std::max(place.steps, place.shown);
    begin = 0;
  }
  if (whole == 0) return begin;
  const std::uint64_t part = place.shown - before;
  // To the nearest, so that going to and fro between languages loses nothing on the way; but what
  // was not all shown is not all shown now.
  std::uint64_t share = (2 * part * (end - begin) + whole) / (2 * whole);
  if (part < whole && end > begin) share = std::min<std::uint64_t>(share, end - begin - 1);
  const auto shown = static_cast<std::uint32_t>(begin + share);
  return std::min(shown, size);
}

// One walk over a schedule that sorts its events into those that have passed, those that are
// overdue and those that are left.
class Relocator {
 public:
  Relocator(const LinePlace& place, std::string_view text, Schedule& schedule)
      : place_(place),
        schedule_(schedule),
        size_(static_cast<std::uint32_t>(schedule.onsets.size())),
        same_text_(place.text == base::hash_of(text)),
        same_times_(same_text_ && place.times == fingerprint(schedule.onsets)),
        complete_(place.state == RevealState::finished) {}

  Relocation run() {
    find_passed();
    find_shown();
    sort_events();
    find_place();
    return std::move(out_);
  }

 private:
  void find_passed() {
    PassedFinder finder(place_.passed);
    passed_.resize(schedule_.events.size());
    for (std::size_t i = 0; i < passed_.size(); ++i) {
      const Event& event = schedule_.events[i];
      if (!is_writers(event) || !finder.take(event)) continue;
      passed_[i] = true;
      found_events_ = true;
      out_.before.last_step = std::max(out_.before.last_step, event.step);
    }
    out_.before.events = place_.passed;
  }

  void find_shown() {
    const std::uint32_t begin = out_.before.last_step;
    std::uint32_t end = size_;
    for (std::size_t i = passed_.size(); i-- > 0;) {
      const Event& event = schedule_.events[i];
      if (is_writers(event) && !passed_[i] && event.step >= begin) end = event.step;
    }
    shown_ = std::min(place_.shown, size_);
    if (!same_text_) {
      shown_ = shown_between(place_, begin, end, found_events_ || place_.passed.empty(), size_);
    }
    if (complete_) shown_ = size_;
    // Events of the layout that stand here have passed as far as they had.
    std::uint32_t here = 0;
    for (std::size_t i = 0; i < passed_.size(); ++i) {
      const Event& event = schedule_.events[i];
      if (!event.by_layout) continue;
      passed_[i] =
          complete_ || event.step < shown_ || (event.step == shown_ && here++ < place_.of_layout);
    }
  }

  void sort_events() {
    std::optional<Event> last;  // that has passed, where the reveal stands
    std::vector<Event> left;
    for (std::size_t i = 0; i < passed_.size(); ++i) {
      Event& event = schedule_.events[i];
      if (passed_[i]) {
        if (event.step == shown_) last = std::move(event);
      } else if (event.kind == EventKind::finish || (event.step >= shown_ && !complete_)) {
        left.push_back(std::move(event));
      } else if (event.kind == EventKind::hold) {  // stops nothing any more
        out_.before.events.push_back({event.kind, event.name});
      } else {
        out_.overdue.push_back(std::move(event));
      }
    }
    holds_ = place_.state == RevealState::holding && last && last->kind == EventKind::hold;
    if (holds_) {
      auto& before = out_.before.events;
      const auto own =
          std::find(before.rbegin(), before.rend(), PassedEvent{last->kind, last->name});
      if (!last->by_layout && own != before.rend()) before.erase(std::next(own).base());
      left.insert(left.begin(), std::move(*last));
    }
    schedule_.events = std::move(left);
  }

  void find_place() {
    const auto& onsets = schedule_.onsets;
    RevealPlace& place = out_.place;
    place.shown = shown_;
    if (complete_) {
      place.position = schedule_.duration;
      place.next_event = 1;  // the finish is all that is left
      place.state = RevealState::finished;
      return;
    }
    place.state = holds_ ? RevealState::holding : RevealState::revealing;
    place.next_event = holds_ ? 1 : 0;
    const Nanoseconds earliest = shown_ > 0 ? onsets[shown_ - 1] : Nanoseconds::zero();
    if (holds_) {
      Nanoseconds& time = schedule_.events[0].time;
      time = std::max(time, earliest);
      place.position = time;
      return;
    }
    Nanoseconds latest = schedule_.events[0].time;
    if (shown_ < size_) latest = std::min(latest, onsets[shown_]);
    latest = std::max(latest, earliest);
    if (same_times_) {
      place.position = std::clamp(place_.position, earliest, latest);
      place.remainder = std::clamp(place_.remainder, 0, 999);
      return;
    }
    // As far behind the last step as it was; the next one comes only with time.
    const Nanoseconds nearly = std::max(latest - Nanoseconds(1), earliest);
    const Nanoseconds behind =
        std::clamp(place_.behind_step, Nanoseconds::zero(), max_written_time);
    place.position = std::clamp(add_saturated(earliest, behind), earliest, nearly);
  }

  const LinePlace& place_;
  Schedule& schedule_;
  std::uint32_t size_;
  bool same_text_;
  bool same_times_;
  bool complete_;
  bool found_events_ = false;
  bool holds_ = false;
  std::uint32_t shown_ = 0;
  std::vector<bool> passed_;  // by event
  Relocation out_;
};

}  // namespace

LinePlace place_of(const Reveal& reveal, std::string_view text, const Schedule& schedule,
                   const PassedBefore& before) {
  const RevealPlace at = reveal.place();
  LinePlace place{.text = base::hash_of(text),
                  .times = fingerprint(schedule.onsets),
                  .state = at.state,
                  .position = at.position,
                  .remainder = at.remainder,
                  .shown = at.shown,
                  .passed = before.events,
                  .steps = static_cast<std::uint32_t>(schedule.onsets.size()),
                  .part_begin = before.last_step};
  place.behind_step =
      at.position - (at.shown > 0 ? schedule.onsets[at.shown - 1] : Nanoseconds::zero());
  const auto& events = schedule.events;
  for (std::size_t i = 0; i < at.next_event && i < events.size(); ++i) {
    const Event& event = events[i];
    if (is_writers(event)) {
      place.passed.push_back({event.kind, event.name});
      place.part_begin = std::max(place.part_begin, event.step);
    } else if (event.by_layout && event.step == at.shown) {
      ++place.of_layout;
    }
  }
  place.part_end = place.steps;
  for (std::size_t i = at.next_event; i < events.size(); ++i) {
    if (!is_writers(events[i])) continue;
    place.part_end = events[i].step;
    break;
  }
  return place;
}

Relocation relocate(const LinePlace& place, std::string_view text, Schedule& schedule) {
  return Relocator(place, text, schedule).run();
}

}  // namespace arvik
