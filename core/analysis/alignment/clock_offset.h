// SPDX-License-Identifier: GPL-3.0-or-later
// Where a log of another clock stands in time beside a run, told by two readings that move together. Pure.
#pragma once

#include <optional>

#include "analysis/series/series.h"

namespace ash {

/// Run time = offsetS + log time · (1 + driftPpm · 10⁻⁶).
struct ClockOffset {
  double offsetS = 0;
  double offsetLowS = 0, offsetHighS = 0;  ///< 95 % interval
  std::optional<double> driftPpm;          ///< empty where the pair is too short to tell it
  double likeness = 0;                     ///< correlation of the changes of both, 0 to 1: the higher, the surer
};

/// The offset at which the changes of both readings fall together. Empty where that cannot be told: too few of them,
/// a single step that any two logs share, a pattern that repeats itself, or nothing in common.
///
/// Masked normalised cross-correlation (D. Padfield, IEEE Trans. Image Process. 21, 2012) of the changes at several
/// time scales; believed when, with its strongest common change left out, the rest of the log finds the same place.
/// Then least squares at the samples, with the interval from the profile likelihood.
std::optional<ClockOffset> findClockOffset(const SeriesView& run, const SeriesView& log);

}  // namespace ash
