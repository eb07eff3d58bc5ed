// SPDX-License-Identifier: GPL-3.0-or-later
// The test hook of the loads: one bit of their data, wrong.
#pragma once

#include <cstdint>
#include <cstring>

namespace ash {

/// Flips bit `bit` (0 … 63) of the eight bytes at `place`.
inline void flipBit(void* place, int bit) {
  std::uint64_t word;
  std::memcpy(&word, place, sizeof word);
  word ^= 1ULL << bit;
  std::memcpy(place, &word, sizeof word);
}

}  // namespace ash
