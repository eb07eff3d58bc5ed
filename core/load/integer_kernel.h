// SPDX-License-Identifier: GPL-3.0-or-later
// The work of the `integer` load: multiplies, shifts, table look-ups and branches that no predictor can learn.
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>

namespace ash {

inline constexpr size_t kIntegerTable = 512;
inline constexpr size_t kIntegerRounds = 60'000;  ///< of one block
/// A round: the generator's four shifts, four exclusive ors (three and the table's), one multiply, an index, a look-up,
/// a store, a branch and one of two additions with a rotation.
inline constexpr double kIntegerOperations = 14;

struct IntegerState {
  std::uint64_t seed = 0x9e3779b97f4a7c15;  ///< of the generator; never 0
  std::uint64_t left = 1, right = 2;
  std::array<std::uint64_t, kIntegerTable> table{};

  /// One number that depends on every bit of the state.
  std::uint64_t digest() const {
    std::uint64_t sum = left * 31 + right;
    for (const std::uint64_t word : table) sum = (sum ^ word) * 0x100000001b3;
    return sum ^ seed;
  }
};

/// The generator is xorshift64* (S. Vigna, "An experimental exploration of Marsaglia's xorshift generators, scrambled",
/// ACM Trans. Math. Softw. 42, 2016): half of its numbers are odd, in no order that can be guessed.
void runInteger(IntegerState& state, size_t rounds);

/// What digest() must be after kIntegerRounds from a new state. A constant, so that a machine that computes wrongly
/// cannot agree with itself.
inline constexpr std::uint64_t kIntegerExpected = 0xe00a310465238c17;

}  // namespace ash
