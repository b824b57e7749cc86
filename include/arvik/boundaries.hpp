#pragma once

#include <bit>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "arvik/export.hpp"
#include "arvik/language.hpp"
#include "arvik/language_runs.hpp"
#include "arvik/steps.hpp"
#include "arvik/units.hpp"

/// Where a text rests for its reader, found once a text: pauses, page cuts and the melody of typing
/// sounds come from it, and a game may take gestures or lip movement from it.
namespace arvik {

/// What stands behind a step for a reader. Rising: where several meet, the later one says what the
/// boundary is.
enum class BoundaryKind : std::uint8_t {
  none,
  space,
  clause,
  dash,
  row_end,
  sentence,
  ellipsis,
  paragraph,
  character  ///< the pace says so of this very character
};

/// "sentence", "row end", …; empty for none.
[[nodiscard]] ARVIK_API std::string_view boundary_name(BoundaryKind kind);

/// What a sentence does that ends at a boundary, by its mark.
enum class SentenceKind : std::uint8_t { none, states, asks, exclaims };
/// "states", "asks", "exclaims"; empty for none.
[[nodiscard]] ARVIK_API std::string_view sentence_name(SentenceKind kind);

/// A pause after one character, whatever its class.
struct CharacterPause {
  std::string character{};  ///< one step, compared exactly
  Nanoseconds pause{};      ///< 0 to one hour; 0: this character does not rest
};

/// A place behind a step that is more than the space between two letters.
struct Boundary {
  static constexpr std::uint16_t no_character = 0xFFFF;

  std::uint32_t step = 0;   ///< behind which it stands
  std::uint16_t kinds = 0;  ///< all that meet there: bit 1 << kind
  /// With BoundaryKind::character: which of BoundaryOptions::characters; of several, the longest.
  std::uint16_t character = no_character;
  /// Of a boundary that ends a sentence, or a quoted question around which another sentence goes
  /// on: “Why?” he said.
  SentenceKind sentence = SentenceKind::none;

  [[nodiscard]] bool has(BoundaryKind kind) const {
    return (kinds >> static_cast<unsigned>(kind) & 1U) != 0;
  }
  /// The strongest of them, the pace's own characters left aside unless there is nothing else.
  [[nodiscard]] BoundaryKind kind() const {
    constexpr auto own = 1U << static_cast<unsigned>(BoundaryKind::character);
    const unsigned others = kinds & (own - 1);
    return static_cast<BoundaryKind>(std::bit_width(others != 0 ? others : unsigned{kinds}) -
                                     (kinds != 0 ? 1 : 0));
  }
  /// Whether a sentence ends here: sentence, ellipsis or paragraph.
  [[nodiscard]] bool ends_sentence() const {
    return has(BoundaryKind::sentence) || has(BoundaryKind::ellipsis) ||
           has(BoundaryKind::paragraph);
  }
  friend bool operator==(const Boundary&, const Boundary&) = default;
};

/// What a pace adds to what the language knows. Only looked at during the call.
struct BoundaryOptions {
  std::span<const std::string> abbreviations{};  ///< each with its full stop
  std::span<const CharacterPause> characters{};  ///< of equal ones the last counts
};

/// Reads a text. `steps` must be its steps, segmented by `language`; `others` are the stretches in
/// languages of their own (find_languages()). Replaces what `out` held: the boundaries, by step.
/// Linear in the text; reuses the memory of `out`.
ARVIK_API void read_boundaries(std::string_view text, const Steps& steps, Language& language,
                               std::span<const LanguageRun> others, const BoundaryOptions& options,
                               std::vector<Boundary>& out);
[[nodiscard]] ARVIK_API std::vector<Boundary> read_boundaries(std::string_view text,
                                                              const Steps& steps,
                                                              Language& language);

}  // namespace arvik
