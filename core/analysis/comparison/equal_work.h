// SPDX-License-Identifier: GPL-3.0-or-later
// Sums over a load can be held against each other where the same was done, or for equally long.
#pragma once

#include <vector>

#include "analysis/comparison/compare.h"

namespace ash {

/// Takes the verdict from a sum over the load (energy) where the runs did no equal work (task, passes) and their loads
/// did not last equally long (1 %, or two samples); the reason says what can be compared instead (contract, "Energy").
void refuseUnequalWork(MetricRow& row, const std::vector<const AnalyzedRun*>& runs,
                       const std::vector<const AnalyzedRun*>& others, const Figure& metric);

}  // namespace ash
