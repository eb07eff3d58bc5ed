// SPDX-License-Identifier: GPL-3.0-or-later
// Is the bench ready for the next run? Each check says what it found and how to mend what is wrong.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "machine/machine_snapshot.h"
#include "model/reading.h"
#include "model/study_plan.h"

namespace ash {

struct ReadinessCheck {
  std::string name;   ///< "Other load"
  std::string found;  ///< "6 %"
  bool isGood = true;
  std::string remedy;  ///< one sentence; empty when it is good
};

/// What a look at the machine has told; whoever looks at it anyway hands this over, nobody looks for it.
struct MachineNow {
  size_t readings = 0;
  double processorC = kMissing;
  double roomC = kMissing;
  double loadPercent = kMissing;         ///< of all processors together
  std::optional<bool> isOnBattery = {};  ///< nothing where there is no battery
};

/// What readiness asks of a look at the machine.
MachineNow machineNow(const MachineSnapshot& seen);

/// Everything that should be in order before a run of this plan. `machine` is empty while it has not been looked at.
/// `restC` is the temperature at rest of the last run (missing where there was none). Looks at the drive of the book
/// and for loads at work, at no sensor.
std::vector<ReadinessCheck> readinessOf(const StudyPlan& plan, const std::string& bookPath, double restC,
                                        const std::optional<MachineNow>& machine);

}  // namespace ash
