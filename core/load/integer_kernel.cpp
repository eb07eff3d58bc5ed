// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/integer_kernel.h"

#include <bit>

namespace ash {

void runInteger(IntegerState& state, size_t rounds) {
  std::uint64_t x = state.seed, left = state.left, right = state.right;
  for (size_t i = 0; i < rounds; ++i) {
    x ^= x >> 12;
    x ^= x << 25;
    x ^= x >> 27;
    const std::uint64_t hash = x * 0x2545f4914f6cdd1d;
    std::uint64_t& word = state.table[hash >> 55];
    if ((hash & 0x10000) != 0) {
      left += word;
      // Keeps the compiler from turning the branch into a selection.
      asm volatile("" : "+r"(left));
    } else {
      right ^= std::rotl(left, static_cast<int>(hash & 31));
      asm volatile("" : "+r"(right));
    }
    word = hash ^ right;
  }
  state.seed = x;
  state.left = left;
  state.right = right;
}

}  // namespace ash
