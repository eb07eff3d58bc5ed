// SPDX-License-Identifier: GPL-3.0-or-later
// What a drive does under a long transfer: its short cache fills, or it slows itself down by heat. Findings of their
// own.
#pragma once

#include <optional>
#include <vector>

#include "analysis/run/context.h"
#include "analysis/run/figures.h"

namespace ash {

/// A rate that fell once from what a short cache takes to what is sustained, and stayed there.
struct CacheEnd {
  double atS = kMissing;
  double before = kMissing, after = kMissing;  ///< MB/s (or work per second), medians
};

/// Looked for in the rate of a drive under load: at least a fifth less, for the rest of the load, while the drive was
/// not at its limit. Nothing where the load has less than 12 readings.
std::optional<CacheEnd> cacheEndOf(const RunContext& context, const SeriesView& rate);

/// When, from what to what: the cache that was full, and the drive that heat slowed down (by `throttling`).
std::vector<Problem> findDriveChanges(const RunContext& context, const std::vector<Throttling>& throttling);

}  // namespace ash
