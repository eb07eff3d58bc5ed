// SPDX-License-Identifier: GPL-3.0-or-later
// Charts of the windows that a person looks at: clock against temperature, power against clock, and how long each
// clock was held.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "report/charts/run_figures.h"

namespace ash {

/// A run that is looked at, and the part of it, in its own time. Points into what it was made of.
struct ShownWindow {
  const AnalyzedRun* run = nullptr;
  std::string label;  ///< empty for the further repeats of one that has it
  int setupIndex = 0;
  TimeSpan span;
};

/// The watched temperature across, the clock of what worked up; each run a trail from light to full. None where no run
/// has both. Runs in which another kind of device worked than in the first are left out, and named.
std::optional<Chart> windowClockHeat(const std::vector<ShownWindow>& shown);

/// The clock of what worked across, its power up; else as windowClockHeat().
std::optional<Chart> windowPowerClock(const std::vector<ShownWindow>& shown);

/// The share of its window (%) that each run spent at each clock. A reading counts for the time to the next, for no
/// more than three usual intervals where a stretch is missing.
std::optional<Chart> windowClockShares(const std::vector<ShownWindow>& shown);

/// Shares (%) of the time of a series in bins of `width` from a multiple of it, lowest first: where each begins, and
/// its share. Empty for an empty series or a width that is not above zero.
struct ShareBins {
  std::vector<double> from, percent;
};
ShareBins sharesOfTime(const SeriesView& series, double width);

}  // namespace ash
