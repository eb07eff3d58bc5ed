// SPDX-License-Identifier: GPL-3.0-or-later
// The phases of a run: as given, or found from power, load, work rate and clock.
#pragma once

#include <optional>
#include <vector>

#include "analysis/phases/activity.h"
#include "analysis/series/series.h"

namespace ash {

/// Given phases; else detected ones. Sorted by start. The last one ends one interval after the last sample.
std::vector<PhaseSpan> phasesOf(const RunLog& run, const Activity& activity);

/// From the first sample under load to the end of load. A given soak or measure phase counts only where there was load;
/// where no reading can tell, it is taken at its word.
std::optional<TimeSpan> loadPhase(const RunLog& run, const std::vector<PhaseSpan>& phases, const Activity& activity);

/// Where it really worked during the load: pauses lie between.
std::vector<TimeSpan> busyWithin(const Activity& activity, const Log& log, const TimeSpan& load);

/// The first idle phase, empty when there is none.
std::optional<TimeSpan> idlePhase(const std::vector<PhaseSpan>& phases);

}  // namespace ash
