// SPDX-License-Identifier: GPL-3.0-or-later
// The phases of a run: as given, or found from power, load and work rate.
#pragma once

#include <optional>
#include <vector>

#include "analysis/series.h"

namespace ash {

/// Given phases, cut to the log; else detected ones. Sorted by start.
std::vector<PhaseSpan> phasesOf(const RunLog& run);

/// From the first sample under load to the end of load. A given soak or measure phase counts only where there was load;
/// where no reading can tell, it is taken at its word.
std::optional<TimeSpan> loadPhase(const RunLog& run, const std::vector<PhaseSpan>& phases);

/// The first idle phase, empty when there is none.
std::optional<TimeSpan> idlePhase(const std::vector<PhaseSpan>& phases);

}  // namespace ash
