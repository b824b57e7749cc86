// A stage adds nothing to what a conversation does: it owns several and hands time, buttons, pause
// and the player's settings on. Guarded by tests/conversation/stage_test.cpp.

#include "arvik/stage.hpp"

#include <algorithm>
#include <utility>

#include "../base/failure.hpp"

namespace arvik {
namespace {

struct Actor {
  std::string target;
  Conversation talk;
};

}  // namespace

struct Stage::Impl {
  Typesetter& typesetter;
  const Font& font;
  PlayerSettings player;
  std::vector<std::unique_ptr<Actor>> actors;  // in the order in which they began
  std::vector<std::unique_ptr<Actor>> past;    // whose events can still be looked at
  std::vector<StageEvent> events;
  std::vector<StageSound> sounds;
  std::vector<std::string> focus;
  Nanoseconds clock{};
  bool paused = false;

  [[nodiscard]] Actor* find(std::string_view target) const {
    const auto found = std::find_if(actors.begin(), actors.end(),
                                    [&](const auto& actor) { return actor->target == target; });
    return found == actors.end() ? nullptr : found->get();
  }

  void take(const Actor& actor, std::span<const ConversationEvent> of_tick) {
    for (const ConversationEvent& event : of_tick) events.push_back({actor.target, event});
    for (const SoundEvent& sound : actor.talk.sounds()) sounds.push_back({actor.target, sound});
  }

  void end(Actor& actor) {
    take(actor, actor.talk.stop());
    forget_closed();
  }

  // They live on among `past` until the next tick.
  void forget_closed() {
    const auto closed = std::stable_partition(actors.begin(), actors.end(), [](const auto& actor) {
      return actor->talk.state() != ConversationState::closed;
    });
    std::move(closed, actors.end(), std::back_inserter(past));
    actors.erase(closed, actors.end());
  }

  tl::expected<void, Diagnostic> start(StageEntry entry, const ConversationPlace* place) {
    Actor* runs = find(entry.target);
    if (runs != nullptr && entry.when_busy == WhenBusy::refuse) {
      return base::failure(
          DiagnosticCode::target_busy,
          "something runs on " + quoted_word(entry.target) + " already: end it, or let it end");
    }
    entry.settings.player = player;
    const Font& face = entry.font != nullptr ? *entry.font : font;
    auto actor = std::make_unique<Actor>(
        Actor{.target = std::move(entry.target),
              .talk = Conversation(typesetter, face, entry.box, std::move(entry.settings))});
    auto started = place != nullptr
                       ? actor->talk.start_at(std::move(entry.lines), *place)
                       : actor->talk.start(std::move(entry.lines), entry.from, entry.name);
    if (!started) return started;
    if (paused) actor->talk.pause();
    if (runs != nullptr) end(*runs);
    actors.push_back(std::move(actor));
    return {};
  }
};

Stage::Stage(Typesetter& typesetter, const Font& font, PlayerSettings player)
    : impl_(std::make_unique<Impl>(Impl{.typesetter = typesetter,
                                        .font = font,
                                        .player = std::move(player),
                                        .actors = {},
                                        .past = {},
                                        .events = {},
                                        .sounds = {},
                                        .focus = {}})) {}
Stage::Stage(Stage&&) noexcept = default;
Stage& Stage::operator=(Stage&&) noexcept = default;
Stage::~Stage() = default;

tl::expected<void, Diagnostic> Stage::start(StageEntry entry) {
  return impl_->start(std::move(entry), nullptr);
}

tl::expected<void, Diagnostic> Stage::start_at(StageEntry entry, const ConversationPlace& place) {
  return impl_->start(std::move(entry), &place);
}

void Stage::tick(Nanoseconds time, Buttons buttons) {
  Impl& impl = *impl_;
  impl.events.clear();
  impl.sounds.clear();
  impl.past.clear();
  for (const auto& actor : impl.actors) {
    const bool hears =
        std::find(impl.focus.begin(), impl.focus.end(), actor->target) != impl.focus.end();
    const Buttons heard = hears ? buttons : Buttons{};
    impl.take(*actor, actor->talk.tick(time, heard));
  }
  impl.forget_closed();
  if (!impl.paused) {
    impl.clock = add_saturated(impl.clock, std::clamp(time, Nanoseconds::zero(), max_duration));
  }
}

void Stage::set_focus(std::vector<std::string> targets) { impl_->focus = std::move(targets); }
const std::vector<std::string>& Stage::focus() const { return impl_->focus; }
std::span<const StageEvent> Stage::events() const { return impl_->events; }
std::span<const StageSound> Stage::sounds() const { return impl_->sounds; }

void Stage::stop(std::string_view target) {
  if (Actor* actor = impl_->find(target)) impl_->end(*actor);
}

void Stage::stop_all() {
  while (!impl_->actors.empty()) impl_->end(*impl_->actors.front());
}

Conversation* Stage::find(std::string_view target) {
  Actor* actor = impl_->find(target);
  return actor == nullptr ? nullptr : &actor->talk;
}

std::vector<std::string> Stage::targets() const {
  std::vector<std::string> names;
  names.reserve(impl_->actors.size());
  for (const auto& actor : impl_->actors) names.push_back(actor->target);
  return names;
}

void Stage::pause() {
  impl_->paused = true;
  for (const auto& actor : impl_->actors) actor->talk.pause();
}

void Stage::resume() {
  impl_->paused = false;
  for (const auto& actor : impl_->actors) actor->talk.resume();
}

bool Stage::paused() const { return impl_->paused; }
Nanoseconds Stage::clock() const { return impl_->clock; }
const PlayerSettings& Stage::player() const { return impl_->player; }

tl::expected<void, Diagnostic> Stage::set_player(PlayerSettings player) {
  if (auto problem = find_problem(player)) return tl::unexpected(std::move(*problem));
  for (const auto& actor : impl_->actors) {
    if (auto set = actor->talk.set_player(player); !set) return set;
  }
  impl_->player = std::move(player);
  return {};
}

}  // namespace arvik
