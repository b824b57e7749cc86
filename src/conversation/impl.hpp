#pragma once

#include <memory>
#include <string>
#include <vector>

#include "arvik/conversation.hpp"
#include "machine.hpp"

namespace arvik {

/// What a conversation is made of: a block that stands in the box, a machine that says in which
/// state it is, a reveal, its entrances and its sounds. run.cpp lets time pass, and wait.cpp says
/// how long; change.cpp finds places again; conversation.cpp starts and tells.
struct Conversation::Impl {
  Typesetter* typesetter;
  const Font* font;
  Box box;
  ConversationSettings settings;
  TypingSounds typing_sounds;

  DialogueLines lines = std::make_shared<const std::vector<DialogueLine>>();
  std::string name;
  std::shared_ptr<const Block> block;  // what stands in the box
  std::shared_ptr<const Block> next;   // what was prepared ahead
  // What sounds of this tick point into.
  std::vector<std::shared_ptr<const Block>> past;

  conversation::Machine machine;
  std::uint32_t line = 0;
  Reveal reveal;
  Entrances entrances;
  TypingPlayer typing;
  PassedBefore before;        // of the line, since its schedule was relocated
  bool speed_is_set = false;  // for the reveal as it is, the settings, and hurrying as it was
  bool hurried = false;
  bool overdue_told = true;                    // the block's overdue events
  std::string_view portrait;                   // in the block
  bool voice_plays = false;                    // of the line
  std::optional<Nanoseconds> voice_position;   // in its clip, for the next tick
  std::shared_ptr<const Block> spoken_before;  // whose clip a change of language has to end …
  std::uint32_t spoken_line = 0;               // … and its line
  std::optional<std::uint32_t> chosen;
  bool paused = false;

  std::vector<HistoryEntry> told;  // of the lines that were left
  std::vector<ConversationEvent> events;
  std::vector<SoundEvent> sounds;

  Impl(Typesetter& setter, const Font& face, const Box& rectangle, ConversationSettings choices);

  [[nodiscard]] const DialogueLine& now() const { return (*lines)[line]; }
  [[nodiscard]] const BlockLine& own() const { return block->line(line); }
  [[nodiscard]] std::uint32_t shown() const { return own().part.first_step + reveal.shown_steps(); }

  // --- conversation.cpp: beginning
  [[nodiscard]] tl::expected<void, Diagnostic> check(const std::vector<DialogueLine>& wanted) const;
  [[nodiscard]] DialogueLines with_good_names(DialogueLines wanted) const;
  void reset(DialogueLines wanted, std::string_view called);
  [[nodiscard]] BlockRequest request(std::uint32_t first) const;
  [[nodiscard]] std::optional<std::uint32_t> first_of_next() const;
  /// So that no tick inside the block takes anything from the heap, however much it brings.
  void make_room();
  /// Nothing where the line shows nothing.
  [[nodiscard]] std::optional<HistoryEntry> entry() const;

  // --- run.cpp: letting time pass
  void tick(Nanoseconds time, Buttons buttons);
  void stop();
  void run(Nanoseconds time, Buttons buttons);
  void clear_tick();
  void put_block(std::shared_ptr<const Block> wanted);
  [[nodiscard]] bool begin_block(std::uint32_t first);
  [[nodiscard]] bool has_choice() const;

  // --- change.cpp: finding places again
  [[nodiscard]] tl::expected<void, Diagnostic> rebuild(DialogueLines wanted, std::uint32_t at);
  [[nodiscard]] tl::expected<void, Diagnostic> retell(DialogueLines wanted, Typesetter& setter);
  [[nodiscard]] tl::expected<void, Diagnostic> start_at(DialogueLines wanted,
                                                        const ConversationPlace& place);
  [[nodiscard]] ConversationPlace place() const;

 private:
  // --- run.cpp and wait.cpp
  void emit(ConversationEventKind kind, bool skipped = false);
  void bring(const Event& event, bool skipped);
  void pass(Nanoseconds time);
  [[nodiscard]] Nanoseconds pass_until(Nanoseconds whole, Nanoseconds time, bool& reached);
  void start_line();
  void leave_line();
  void follow_choice(const Choice& choice);
  void close();
  [[nodiscard]] Nanoseconds voice_length() const;
  void begin_voice();
  void end_sounds();
  void end_voice();
  [[nodiscard]] std::optional<Progress> follow_voice(Reveal& before_it, Nanoseconds time);
  void set_speed();
  void take(const Reveal& before_it, const Progress& progress);
  void after_reveal();
  void show_rest();
  void go_on_from_hold();
  [[nodiscard]] Nanoseconds pass_revealing(Nanoseconds time);
  [[nodiscard]] std::optional<Nanoseconds> wait_time() const;
  [[nodiscard]] Nanoseconds reading_time() const;
  void tell_overdue();
  [[nodiscard]] Nanoseconds step(Nanoseconds time);

  // --- change.cpp
  void relocate_into(Block& wanted, std::uint32_t at, const LinePlace& in_line);
  void retell_history();
  void settle_state();
  [[nodiscard]] tl::expected<std::uint32_t, Diagnostic> find_line(
      const std::vector<DialogueLine>& wanted, const ConversationPlace& place) const;
};

}  // namespace arvik
