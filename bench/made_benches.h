// SPDX-License-Identifier: GPL-3.0-or-later
// Simulated benches for the measuring programs: chains of masses of many speeds, whose end is known.
#pragma once

#include <string>
#include <vector>

#include "sim/bench.h"

namespace ash {

struct ChainNode {
  double jPerK, wPerK;  // to the next; the last one to the room
};

/// A chain of masses from the die to the room, under a device that draws `sustainedW` and for a while `shortW`.
struct BenchKind {
  std::string name;
  std::vector<ChainNode> chain;
  double sustainedW, shortW;
  double noiseK;
  double driftK, rampKPerH;
};

/// From a quick cooler to a fanless case, with rooms that stay, drift and warm.
const std::vector<BenchKind>& benchKinds();

/// The bench with a sensor of that step (0 = fine).
sim::BenchSpec specOf(const BenchKind& kind, double stepK);

/// Where it ends over a room that stays, and when under load half a kelvin is left.
struct TrueEnd {
  double overRoomK = 0, halfKelvinS = 0;
};

TrueEnd trueEnd(sim::BenchSpec spec);

}  // namespace ash
