// SPDX-License-Identifier: GPL-3.0-or-later
// Noise that depends on its place only, so that a bench gives the same samples whoever asks, and how often.
#pragma once

#include <cstdint>

namespace ash::sim {

/// A standard normal number for (seed, stream, position): SplitMix64 (Steele, Lea, Flood 2014) and Box-Muller.
double normalNoise(uint64_t seed, uint64_t stream, uint64_t position);

}  // namespace ash::sim
