#pragma once

#include <unicode/ubidi.h>

#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

#include "arvik/language.hpp"

namespace arvik::unicode {

/// ICU's bidirectional algorithm, opened once and reused.
///
/// Chosen over FriBidi: both pass Unicode's tests but for a few cases in ICU 72 (rule N0 with
/// nested isolates; tests/unicode/bidi_test.cpp counts them), ICU is here already, and its licence
/// lets a game link it statically without conditions.
class BidiEngine {
 public:
  BidiEngine();
  Direction levels(std::u16string_view text, std::optional<Direction> base,
                   std::vector<std::uint8_t>& out);

 private:
  icu::LocalUBiDiPointer bidi_;
};

}  // namespace arvik::unicode
