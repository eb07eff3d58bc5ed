// SPDX-License-Identifier: GPL-3.0-or-later
// Energy, and what was done with it: per work, per pass, out of a battery.
#pragma once

#include <optional>
#include <vector>

#include "analysis/run/context.h"

namespace ash {

std::vector<Energy> energyOf(const RunContext& context, std::vector<Problem>& problems);
std::optional<PassFigures> passesOf(const RunContext& context);
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
