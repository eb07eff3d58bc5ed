// SPDX-License-Identifier: GPL-3.0-or-later
// The loads of a log that nobody described: which stretches of work belong together, and what parts two loads.
#pragma once

#include <vector>

#include "analysis/phases/activity.h"
#include "model/run_facts.h"

namespace ash {

/// Where one load worked; pauses lie between.
using LoadParts = std::vector<TimeSpan>;

/// The loads of a log, in order. A rest parts two loads when the watched temperature (may be empty) falls back in it by
/// more than half of its rise, or when it is longer than a third of the load before it (contract, "Several loads in one
/// log"); a pause does neither: it is short against the work before it, or lies between the passes of one test. Bursts
/// that are too short for a load are background work and stand in none.
std::vector<LoadParts> loadsIn(const Activity& activity, const Log& log, const SeriesView& watched,
                               const std::vector<Pass>& passes);

}  // namespace ash
