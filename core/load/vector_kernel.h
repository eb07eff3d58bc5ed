// SPDX-License-Identifier: GPL-3.0-or-later
// The work of the `vector` load: chains of fused multiply-adds whose every result is checked.
#pragma once

#include <array>
#include <cstddef>
#include <string>
#include <vector>

namespace ash {

inline constexpr size_t kVectorLanes = 96;       ///< doubles carried along in one block
inline constexpr size_t kVectorRounds = 20'000;  ///< rounds of one block; a round is two multiply-adds per lane

using VectorLanes = std::array<double, kVectorLanes>;

/// x ← x·a + b, then x ← x·(1/a) − b/a, `rounds` times on every lane. The second step undoes the first but for
/// rounding, so values stay near where they began and a wrong bit, once there, stays to be seen.
using VectorFunction = void (*)(VectorLanes& lanes, size_t rounds);

struct VectorVariant {
  std::string name;  ///< "avx512", "avx2", "portable"
  VectorFunction run = nullptr;
  bool isFused = true;  ///< rounds once per multiply-add (IEEE 754 fusedMultiplyAdd) or twice
};

/// The variants this processor can run, fastest first. Never empty.
std::vector<VectorVariant> usableVectorVariants();

/// Where every block starts.
VectorLanes vectorStart();

/// The same work done one lane at a time with std::fma (or with separate rounding): what a block must give, bit by bit.
VectorLanes vectorReference(size_t rounds, bool isFused);

/// Floating-point operations of one block of `rounds`.
constexpr double vectorFlops(size_t rounds) {
  return 4.0 * static_cast<double>(kVectorLanes) * static_cast<double>(rounds);
}

namespace vector_constants {
inline constexpr double kA = 1.0009765625;  // 1 + 2^-10
inline constexpr double kB = 0.3333333333333333;
inline constexpr double kInverseA = 1.0 / kA;
inline constexpr double kMinusBOverA = -kB / kA;
}  // namespace vector_constants

void runVectorAvx512(VectorLanes& lanes, size_t rounds);
void runVectorAvx2(VectorLanes& lanes, size_t rounds);
void runVectorPortable(VectorLanes& lanes, size_t rounds);

}  // namespace ash
