#pragma once

#include <cstdint>
#include <random>
#include <string>

namespace arvik::test {

using Random = std::mt19937_64;

/// 0 to before `limit`.
[[nodiscard]] std::uint64_t below(Random& random, std::uint64_t limit);

/// One code point, surrogates included, in UTF-8's form.
[[nodiscard]] std::string utf8(std::uint32_t code_point);

/// Text of about `pieces` small pieces from many scripts: words, punctuation, marks, jamo, emoji
/// sequences, flags, controls, row ends. Valid UTF-8, without square brackets.
[[nodiscard]] std::string random_text(Random& random, std::size_t pieces);

/// The same with markup of every kind in it, right and wrong.
[[nodiscard]] std::string random_markup(Random& random, std::size_t pieces);

}  // namespace arvik::test
