// How a conversation begins, and what it tells of itself.

#include "arvik/conversation.hpp"

#include <algorithm>
#include <utility>

#include "../base/failure.hpp"
#include "../unicode/characters.hpp"
#include "block.hpp"
#include "impl.hpp"

namespace arvik {

using base::failure;
using conversation::is_in_line;

Conversation::Impl::Impl(Typesetter& setter, const Font& face, const Box& rectangle,
                         ConversationSettings choices)
    : typesetter(&setter), font(&face), box(rectangle), settings(std::move(choices)) {
  typing_sounds = std::make_shared<const std::vector<TypingSound>>(settings.sounds);
  events.reserve(32);
  sounds.reserve(32);
}

tl::expected<void, Diagnostic> Conversation::Impl::check(
    const std::vector<DialogueLine>& wanted) const {
  for (const DialogueLine& entry : wanted) {
    if (auto problem = find_problem(entry.pace)) return tl::unexpected(std::move(*problem));
  }
  return {};
}

// Names go into events, sounds and saved places as they are.
DialogueLines Conversation::Impl::with_good_names(DialogueLines wanted) const {
  const auto is_good = [](const DialogueLine& entry) {
    return unicode::is_valid(entry.id) && unicode::is_valid(entry.speaker) &&
           unicode::is_valid(entry.portrait) && unicode::is_valid(entry.typing) &&
           unicode::is_valid(entry.voice) &&
           std::all_of(entry.choices.begin(), entry.choices.end(), [](const Choice& choice) {
             return unicode::is_valid(choice.id) && unicode::is_valid(choice.leads_to);
           });
  };
  if (std::all_of(wanted->begin(), wanted->end(), is_good)) return wanted;
  const auto repair = [&](std::string& text) {
    if (unicode::is_valid(text)) return;
    text = unicode::repaired(text);
    typesetter->tell(
        {.code = DiagnosticCode::invalid_utf8,
         .severity = Severity::warning,
         .message = "a name of a line is not UTF-8; it is read as " + quoted_word(text)});
  };
  std::vector<DialogueLine> repaired = *wanted;
  for (DialogueLine& entry : repaired) {
    for (std::string* text :
         {&entry.id, &entry.speaker, &entry.portrait, &entry.typing, &entry.voice}) {
      repair(*text);
    }
    for (Choice& choice : entry.choices) {
      repair(choice.id);
      repair(choice.leads_to);
    }
  }
  return std::make_shared<const std::vector<DialogueLine>>(std::move(repaired));
}

void Conversation::Impl::reset(DialogueLines wanted, std::string_view called) {
  lines = std::move(wanted);
  name = unicode::is_valid(called) ? std::string(called) : unicode::repaired(called);
  clear_tick();
  if (block != nullptr) past.push_back(std::move(block));
  block.reset();
  next.reset();
  spoken_before.reset();
  told.clear();
  typing = {};
  entrances = {};
  reveal = {};
  before = {};
  portrait = {};
  chosen.reset();
  line = 0;
  overdue_told = true;
  paused = voice_plays = false;
}

BlockRequest Conversation::Impl::request(std::uint32_t first) const {
  const DialogueLine& entry = (*lines)[first];
  BlockRequest wanted{
      .lines = lines,
      .first_line = first,
      .font = font,
      .box = adjusted(settings.player, settings.box_of ? settings.box_of(entry) : box),
      .choice_box = {},
      .sounds = typing_sounds,
      .reduced_motion = settings.player.reduced_motion};
  if (settings.font_of) {
    if (const Font* own = settings.font_of(entry)) wanted.font = own;
  }
  const Box& around = wanted.box;
  const float taken = around.picture_width > 0 ? around.picture_width + around.picture_gap : 0;
  wanted.choice_box = settings.choice_box.value_or(
      Box{.width = around.width - around.padding.left - around.padding.right - taken,
          .fit_to_text = true});
  wanted.choice_box = adjusted(settings.player, wanted.choice_box);
  return wanted;
}

void Conversation::Impl::make_room() {
  std::size_t most_events = 16 + block->overdue.size();
  std::size_t most_sounds = 16 + block->overdue.size();
  for (const BlockLine& entry : block->lines) {
    const PreparedPart& part = entry.part;
    most_events += part.schedule.events.size() + 4;
    most_sounds += part.steps.size() + part.schedule.events.size() + 4 * part.typing.loops.size();
  }
  events.reserve(events.size() + most_events);
  sounds.reserve(sounds.size() + most_sounds);
}

std::optional<std::uint32_t> Conversation::Impl::first_of_next() const {
  if (block == nullptr || block->source != lines) return std::nullopt;
  const std::size_t first = block->first_line + block->lines.size();
  if (first >= lines->size()) return std::nullopt;
  return static_cast<std::uint32_t>(first);
}

std::optional<HistoryEntry> Conversation::Impl::entry() const {
  const PreparedPart& part = own().part;
  const auto& kinds = part.steps.kinds;
  if (std::none_of(kinds.begin(), kinds.begin() + reveal.shown_steps(), has_ink)) {
    return std::nullopt;
  }
  const DialogueLine& said = block->source_line(line);
  HistoryEntry shown_line{
      .conversation = name,
      .line = said.id,
      .speaker = said.speaker,
      .text = part.marked.text.substr(0, part.steps.extents[reveal.shown_steps()].bytes)};
  if (chosen) {
    shown_line.choice = said.choices[*chosen].id;
    shown_line.answer = own().choices[*chosen].marked.text;
  }
  return shown_line;
}

Conversation::Conversation(Typesetter& typesetter, const Font& font, const Box& box,
                           ConversationSettings settings)
    : impl_(std::make_unique<Impl>(typesetter, font, box, std::move(settings))) {}
Conversation::Conversation(Conversation&&) noexcept = default;
Conversation& Conversation::operator=(Conversation&&) noexcept = default;
Conversation::~Conversation() = default;

tl::expected<void, Diagnostic> Conversation::start(std::vector<DialogueLine> lines,
                                                   std::string_view from, std::string_view name) {
  return start(std::make_shared<const std::vector<DialogueLine>>(std::move(lines)), from, name);
}

tl::expected<void, Diagnostic> Conversation::start(DialogueLines lines, std::string_view from,
                                                   std::string_view name) {
  ConversationPlace begin{.conversation = std::string(name), .line = std::string(from)};
  begin.times.state = ConversationState::opening;
  return start_at(std::move(lines), begin);
}

tl::expected<void, Diagnostic> Conversation::start_at(std::vector<DialogueLine> lines,
                                                      const ConversationPlace& place) {
  return start_at(std::make_shared<const std::vector<DialogueLine>>(std::move(lines)), place);
}

tl::expected<void, Diagnostic> Conversation::start_at(DialogueLines lines,
                                                      const ConversationPlace& place) {
  if (lines == nullptr) lines = std::make_shared<const std::vector<DialogueLine>>();
  return impl_->start_at(std::move(lines), place);
}

std::span<const ConversationEvent> Conversation::tick(Nanoseconds time, Buttons buttons) {
  impl_->tick(time, buttons);
  return impl_->events;
}

void Conversation::set_voice_position(Nanoseconds position) { impl_->voice_position = position; }

std::span<const ConversationEvent> Conversation::stop() {
  impl_->stop();
  return impl_->events;
}

tl::expected<void, Diagnostic> Conversation::choose(std::size_t choice) {
  Impl& impl = *impl_;
  if (state() != ConversationState::choosing) {
    return failure(DiagnosticCode::bad_choice, "there is nothing to choose now");
  }
  const auto& choices = impl.own().choices;
  if (choice >= choices.size()) {
    return failure(DiagnosticCode::bad_choice,
                   "there are only " + std::to_string(choices.size()) + " answers to choose from");
  }
  if (!choices[choice].available) {
    return failure(DiagnosticCode::bad_choice,
                   "answer " + quoted_word(choices[choice].id) + " is not available");
  }
  impl.chosen = static_cast<std::uint32_t>(choice);
  return {};
}

void Conversation::pause() {
  impl_->paused = true;
  impl_->machine.forget_press();
}
void Conversation::resume() { impl_->paused = false; }
bool Conversation::paused() const { return impl_->paused; }
std::span<const SoundEvent> Conversation::sounds() const { return impl_->sounds; }
std::uint32_t Conversation::swallowed_sounds() const { return impl_->typing.swallowed(); }
ConversationState Conversation::state() const { return impl_->machine.state(); }
std::uint32_t Conversation::line() const { return impl_->line; }
const std::vector<DialogueLine>& Conversation::lines() const { return *impl_->lines; }
const std::string& Conversation::name() const { return impl_->name; }
Nanoseconds Conversation::clock() const { return impl_->machine.clock(); }
const ConversationSettings& Conversation::settings() const { return impl_->settings; }
ConversationPlace Conversation::place() const { return impl_->place(); }
std::shared_ptr<const Block> Conversation::next_block() const { return impl_->next; }

tl::expected<void, Diagnostic> Conversation::set_settings(ConversationSettings settings) {
  if (auto problem = find_problem(settings)) return tl::unexpected(std::move(*problem));
  impl_->settings = std::move(settings);
  impl_->speed_is_set = false;
  impl_->typing_sounds = std::make_shared<const std::vector<TypingSound>>(impl_->settings.sounds);
  impl_->next.reset();
  return {};
}

tl::expected<void, Diagnostic> Conversation::set_player(PlayerSettings player) {
  if (auto problem = find_problem(player)) return tl::unexpected(std::move(*problem));
  if (player.reduced_motion != impl_->settings.player.reduced_motion) impl_->next.reset();
  const bool same_room = player.ruby == impl_->settings.player.ruby;
  PlayerSettings before = std::exchange(impl_->settings.player, std::move(player));
  impl_->speed_is_set = false;
  if (same_room) return {};
  auto done = impl_->rebuild(impl_->lines, impl_->line);
  if (!done) impl_->settings.player = std::move(before);
  return done;
}

tl::expected<void, Diagnostic> Conversation::set_box(const Box& box) {
  const Box before = std::exchange(impl_->box, box);
  auto done = impl_->rebuild(impl_->lines, impl_->line);
  if (!done) impl_->box = before;
  return done;
}

tl::expected<void, Diagnostic> Conversation::set_font(const Font& font) {
  const Font* before = std::exchange(impl_->font, &font);
  auto done = impl_->rebuild(impl_->lines, impl_->line);
  if (!done) impl_->font = before;
  return done;
}

tl::expected<void, Diagnostic> Conversation::retell(std::vector<DialogueLine> lines,
                                                    Typesetter& typesetter,
                                                    const RetellOptions& options) {
  return retell(std::make_shared<const std::vector<DialogueLine>>(std::move(lines)), typesetter,
                options);
}

tl::expected<void, Diagnostic> Conversation::retell(DialogueLines lines, Typesetter& typesetter,
                                                    const RetellOptions& options) {
  if (lines == nullptr) lines = std::make_shared<const std::vector<DialogueLine>>();
  Impl& impl = *impl_;
  const Font* font_before = impl.font;
  const Box box_before = impl.box;
  if (options.font != nullptr) impl.font = options.font;
  if (options.box) impl.box = *options.box;
  auto done = impl.retell(std::move(lines), typesetter);
  if (!done) {
    impl.font = font_before;
    impl.box = box_before;
  }
  return done;
}

std::optional<BlockRequest> Conversation::next_request() const {
  const auto first = impl_->first_of_next();
  if (!first || impl_->next != nullptr) return std::nullopt;
  return impl_->request(*first);
}

bool Conversation::prepare_next() {
  const auto request = next_request();
  if (!request) return false;
  auto made = prepare_block(*request, *impl_->typesetter);
  if (made) impl_->next = std::move(*made);  // what fails is told when it begins
  return true;
}

bool Conversation::take_next(std::shared_ptr<const Block> block) {
  const auto wanted = next_request();
  const bool fits = wanted && block != nullptr && block->source == wanted->lines &&
                    block->first_line == wanted->first_line && block->box == wanted->box &&
                    block->font == wanted->font;
  if (fits) impl_->next = std::move(block);
  return fits;
}

std::vector<HistoryEntry> Conversation::history() const {
  std::vector<HistoryEntry> entries = impl_->told;
  if (is_in_line(state())) {
    if (auto entry = impl_->entry()) entries.push_back(std::move(*entry));
  }
  return entries;
}

std::vector<Diagnostic> Conversation::diagnostics() const {
  return impl_->block == nullptr ? std::vector<Diagnostic>{} : impl_->block->diagnostics;
}

ConversationView Conversation::view() const {
  const Impl& impl = *impl_;
  ConversationView view;
  view.state = state();
  if (view.state == ConversationState::closed) return view;
  const Nanoseconds since = impl.machine.since();
  const auto share = [&](Nanoseconds whole) {
    if (whole <= Nanoseconds::zero()) return 1.0F;
    return std::clamp(static_cast<float>(since.count()) / static_cast<float>(whole.count()), 0.0F,
                      1.0F);
  };
  view.openness = 1;
  if (view.state == ConversationState::opening) {
    view.openness = impl.settings.opening > Nanoseconds::zero() ? share(impl.settings.opening) : 0;
  } else if (view.state == ConversationState::closing) {
    view.openness = 1 - share(impl.settings.closing);
  }
  view.line = impl.line;
  view.now = impl.entrances.now();
  if (impl.block == nullptr || !impl.block->has_line(impl.line)) return view;
  view.block = impl.block;
  view.steps = impl.entrances.shown();
  view.shown = static_cast<std::uint32_t>(view.steps.size());
  const DialogueLine& said = impl.block->source_line(impl.line);
  view.speaker = said.speaker;
  view.typing = said.typing;
  view.portrait = impl.portrait;
  if (view.state == ConversationState::choosing) view.choices = impl.own().choices;
  view.indicator =
      view.state == ConversationState::waiting || view.state == ConversationState::holding;
  if (view.indicator && impl.settings.indicator_period > Nanoseconds::zero()) {
    view.phase = static_cast<float>((since % impl.settings.indicator_period).count()) /
                 static_cast<float>(impl.settings.indicator_period.count());
  }
  return view;
}

}  // namespace arvik
