// SPDX-License-Identifier: GPL-3.0-or-later
// Which readings of a run and of a log move together, and what offset they tell.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "analysis/alignment/clock_offset.h"
#include "model/samples.h"

namespace ash {

/// One reading of the log that is to be placed.
struct LooseReading {
  std::string name;  ///< its role where it has one
  Role role;
  Quantity quantity = Quantity::Other;
  Series series;
};

struct SharedShape {
  ClockOffset offset;
  std::string ofLog, ofRun;
};

/// The offset by the pair that is likest, of the first kind of pairs that tells any: the same role, power with power,
/// load with power, temperature with temperature and fans with fans. Empty with `why` where none tells it, where it is
/// told to no better than five samples, or where two pairs say different things. `progress` is told how much of what
/// may have to be tried has been (0 to 1); false gives up, with no `why`.
std::optional<SharedShape> findSharedShape(const Log& run, const std::vector<LooseReading>& readings, std::string& why,
                                           const std::function<bool(double)>& progress = {});

}  // namespace ash
