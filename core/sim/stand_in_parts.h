// SPDX-License-Identifier: GPL-3.0-or-later
// The parts of a stand-in machine beside its chips: power zones, thermal zones, throttle counters, fans, clocks,
// graphics, battery, memory (what only turns: stand_in_knobs.h). Each writes its files from the bench and carries out
// what was written into its knobs.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "model/result.h"
#include "sim/bench.h"
#include "sim/stand_in_files.h"

namespace ash::sim {

class StandInPart {
 public:
  StandInPart() = default;
  StandInPart(const StandInPart&) = delete;
  StandInPart& operator=(const StandInPart&) = delete;
  virtual ~StandInPart() = default;
  /// Takes what others have written into its knobs. Called before the bench is moved on.
  virtual Status turn(Bench& bench) {
    static_cast<void>(bench);
    return {};
  }
  /// Writes its files as the bench is now.
  virtual Status write(const Bench& bench) = 0;
};

/// Makes the parts that this bench has. `speed` = bench seconds in a second of the reader.
Result<std::vector<std::unique_ptr<StandInPart>>> makeStandInParts(const FileTree& tree, const Bench& bench,
                                                                   double speed);

/// Where the simulated power zone's counter begins and what it counts up to (µJ): it wraps within the first minutes of
/// a load, as a real one does in the middle of a run.
inline constexpr long long kStandInEnergyRangeUj = 65532610987;
inline constexpr long long kStandInEnergyStartUj = kStandInEnergyRangeUj - 400000000;

/// No limit of power goes below this.
inline constexpr double kStandInLeastW = 3;

}  // namespace ash::sim
