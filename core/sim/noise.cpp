// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/noise.h"

#include <cmath>
#include <numbers>

namespace ash::sim {
namespace {

uint64_t splitMix(uint64_t x) {
  x += 0x9E3779B97F4A7C15ULL;
  x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9ULL;
  x = (x ^ (x >> 27)) * 0x94D049BB133111EBULL;
  return x ^ (x >> 31);
}

// (0, 1]: never zero, so that its logarithm exists.
double uniform(uint64_t bits) { return (static_cast<double>(bits >> 11) + 1.0) * 0x1.0p-53; }

}  // namespace

double normalNoise(uint64_t seed, uint64_t stream, uint64_t position) {
  const uint64_t a = splitMix(splitMix(splitMix(seed) ^ stream) ^ position);
  const uint64_t b = splitMix(a);
  return std::sqrt(-2 * std::log(uniform(a))) * std::cos(2 * std::numbers::pi * uniform(b));
}

}  // namespace ash::sim
