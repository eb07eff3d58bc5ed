// SPDX-License-Identifier: GPL-3.0-or-later
// The offset and the drift of a clock at the samples, once they are known roughly. Pure.
#pragma once

#include "analysis/alignment/clock_offset.h"

namespace ash {

/// What is known before the fit.
struct RoughOffset {
  double offsetS = 0;
  double stepS = 0;   ///< of the grid on which it was found
  size_t scale = 1;   ///< steps over which changes were compared
  double events = 1;  ///< how many changes carry it
  double likeness = 0;
};

/// Least squares of the changes of the log on those of the run, at run time = offset + (1 + drift) · log time, near a
/// rough offset. Empty where the fit does not hold there.
std::optional<ClockOffset> fitClockOffset(const SeriesView& run, const SeriesView& log, const RoughOffset& rough);

/// What share of the log's changes the best place near a rough offset leaves unexplained, at the rough scale; 1 = all.
double unexplainedNear(const SeriesView& run, const SeriesView& log, const RoughOffset& rough);

}  // namespace ash
