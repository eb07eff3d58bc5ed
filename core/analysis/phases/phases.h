// SPDX-License-Identifier: GPL-3.0-or-later
// The phases of a run: as given, or found from power, load, work rate and clock.
#pragma once

#include <optional>
#include <vector>

#include "analysis/phases/activity.h"
#include "analysis/series/series.h"

namespace ash {

/// Given phases; else detected ones, of which each load is a soak (loads.h). Sorted by start. The last one ends one
/// interval after the last sample. `watched` is the temperature in question, may be empty.
std::vector<PhaseSpan> phasesOf(const RunLog& run, const Activity& activity, const SeriesView& watched = {});

/// The loads, each from its first sample to its end: phases under load that no rest parts; a pause goes on with the
/// load that it finds. A given soak, measure or pass phase counts only where there was load; where no reading can tell,
/// it is taken at its word.
std::vector<TimeSpan> loadPhases(const RunLog& run, const std::vector<PhaseSpan>& phases, const Activity& activity);

/// Which of the loads the figures are of where nobody says so: the last one that is long enough to have a window.
size_t lastWithWindow(const std::vector<TimeSpan>& loads, const std::vector<double>& times);

/// Where it really worked during the load: pauses lie between.
std::vector<TimeSpan> busyWithin(const Activity& activity, const Log& log, const TimeSpan& load);

/// The first idle phase, empty when there is none.
std::optional<TimeSpan> idlePhase(const std::vector<PhaseSpan>& phases);

}  // namespace ash
