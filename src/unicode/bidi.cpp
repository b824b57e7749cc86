#include "bidi.hpp"

#include <unicode/utf16.h>

#include <algorithm>
#include <numeric>

#include "../base/memory.hpp"
#include "characters.hpp"

namespace arvik {
namespace unicode {

BidiEngine::BidiEngine() : bidi_(ubidi_open()) {
  if (bidi_.isNull()) base::out_of_memory();
}

// ICU gives one level a UTF-16 unit; the second half of a pair is passed over.
Direction BidiEngine::levels(std::u16string_view text, std::optional<Direction> base,
                             std::vector<std::uint8_t>& out) {
  UBiDiLevel level = UBIDI_DEFAULT_LTR;
  if (base) level = *base == Direction::right_to_left ? 1 : 0;
  out.clear();
  UErrorCode status = U_ZERO_ERROR;
  ubidi_setPara(bidi_.getAlias(), text.data(), static_cast<int32_t>(text.size()), level, nullptr,
                &status);
  if (U_FAILURE(status)) base::out_of_memory();
  const bool odd = (ubidi_getParaLevel(bidi_.getAlias()) & 1U) != 0;
  const Direction direction = odd ? Direction::right_to_left : Direction::left_to_right;
  if (text.empty()) return direction;
  const UBiDiLevel* levels = ubidi_getLevels(bidi_.getAlias(), &status);
  if (U_FAILURE(status)) base::out_of_memory();
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (i > 0 && U16_IS_TRAIL(text[i]) && U16_IS_LEAD(text[i - 1])) continue;
    out.push_back(levels[i]);
  }
  return direction;
}

}  // namespace unicode

void visual_order(std::span<const std::uint8_t> levels, std::vector<std::uint32_t>& out) {
  static_assert(sizeof(UBiDiLevel) == 1 && sizeof(int32_t) == sizeof(std::uint32_t));
  out.resize(levels.size());
  if (levels.empty()) return;
  // Mostly a row runs in one direction.
  const bool one_level = std::all_of(levels.begin(), levels.end(),
                                     [&](std::uint8_t level) { return level == levels.front(); });
  if (one_level) {
    std::iota(out.begin(), out.end(), 0U);
    if ((levels.front() & 1U) != 0) std::reverse(out.begin(), out.end());
    return;
  }
  // Signed and unsigned integers of one size may stand for each other.
  ubidi_reorderVisual(levels.data(), static_cast<int32_t>(levels.size()),
                      reinterpret_cast<int32_t*>(out.data()));
}

namespace {

constexpr ScriptCode latin_script = 0x4C61746E;  // "Latn"

// The script of the first character that has one; common_script if none has.
ScriptCode script_of(std::string_view step, unicode::ScriptFinder& finder) {
  unicode::Decoded now;
  for (std::size_t at = 0; at < step.size(); at += now.size) {
    now = unicode::decode(step, at);
    const ScriptCode script = finder.script_of(now.code_point);
    if (script != common_script) return script;
  }
  return common_script;
}

}  // namespace

void find_scripts(std::string_view text, const Steps& steps, std::vector<ScriptRun>& out) {
  out.clear();
  unicode::ScriptFinder finder;
  ScriptCode last = common_script;
  for (std::uint32_t i = 0; i < steps.size(); ++i) {
    ScriptCode script = latin_script;
    if (steps.end_byte(i) - steps.begin_byte(i) > 1) {
      script = script_of(steps.text(text, i), finder);
    } else if (steps.kinds[i] != StepKind::letter) {  // else of ASCII
      continue;
    }
    if (script == common_script || script == last) continue;
    if (!out.empty()) out.back().end_step = i;
    out.push_back({out.empty() ? 0 : i, steps.size(), script});
    last = script;
  }
  if (out.empty() && steps.size() > 0) out.push_back({0, steps.size(), common_script});
}

}  // namespace arvik
