// SPDX-License-Identifier: GPL-3.0-or-later
// Which runs take part in a comparison, and which of them are repeats of one another.
#pragma once

#include <vector>

#include "analysis/comparison/pooling.h"

namespace ash {

/// Runs with the same setup and load as one pool, in the order in which they come. Void runs, copies of another run,
/// and repeats that were cut short or had not settled beside ones that had, are left out; checks say so.
std::vector<Pool> takePart(const std::vector<const AnalyzedRun*>& runs, Comparison& comparison);

/// The kelvin that the watched temperature of a run still had to go; 0 where it had settled or nothing is known.
double leftOf(const AnalyzedRun& run);

}  // namespace ash
