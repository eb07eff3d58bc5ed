// SPDX-License-Identifier: GPL-3.0-or-later
// Energy, and what was done with it: per work, per pass, out of a battery.
#pragma once

#include <optional>
#include <vector>

#include "analysis/run/context.h"

namespace ash {

std::vector<Energy> energyOf(const RunContext& context, std::vector<Problem>& problems);
std::optional<PassFigures> passesOf(const RunContext& context);
/// How fast a battery's charge falls.
struct Drain {
  double percentPerS = kMissing;  ///< above zero
  double lastS = 0, last = 0;     ///< when its gauge fell last, and to how many percent
  double overS = 0;               ///< from its first fall to its last
  double wander = 0;              ///< percent² per second: what the fall over a time lies off the rate by, squared
  double freedom = 1;             ///< of the wander
};

/// By the moments at which the gauge shows less than ever before: of a gauge of whole percents they are sharp, while
/// what it shows is up to a percent off. The wander is that of six stretches, as of a random walk with drift. Nothing
/// where less than 2 % were used between the first fall and the last.
std::optional<Drain> drainOf(const SeriesView& charge);

/// From its last fall on until the gauge shows so many percent, with its 95 % interval: what lies ahead wanders as what
/// lies behind did, and the rate is as sure as that wander lets it be. Missing where the interval reaches the last
/// fall.
Estimate drainedAfterS(const Drain& drain, double percent);

/// How it ran down under load; nothing where it did not.
std::optional<BatteryFigures> batteryOf(const RunContext& context);
Efficiency efficiencyOf(const RunContext& context);

/// Energy of a power series over a span (J): trapezoid; intervals longer than `longestS` are left out and added to
/// `leftOutS` where given. Empty when fewer than two readings.
std::optional<double> integrateW(const SeriesView& power, const TimeSpan& span, double longestS,
                                 double* leftOutS = nullptr);

/// Energy of a device over a span (J): by its counter where there is one (a fall is a wrap or a reset: that step is
/// taken from the power), else by integrateW() with the gap of the contract.
std::optional<double> joulesOf(const RunContext& context, const std::string& powerChannel, const TimeSpan& span,
                               double* leftOutS = nullptr);

}  // namespace ash
