// SPDX-License-Identifier: GPL-3.0-or-later
// What charts ask of a single run.
#pragma once

#include <optional>

#include "analysis/comparison/compare.h"
#include "report/drawing/chart.h"

namespace ash {

/// The value of a run's own figure; missing when it has none.
double figureOfRun(const AnalyzedRun& run, const Figure& metric);

/// The limit of a temperature metric in the metric's own terms (K over room, °C), at the room of the run's window.
std::optional<double> limitOfMetric(const AnalyzedRun& run, const Figure& metric);

/// The way of a run through two of its readings over a span of its time, in `parts` means; a part in which either has
/// no reading is left out, and all of it where the run lacks one.
PlotLine trailOf(const AnalyzedRun& run, const std::string& x, const std::string& y, const TimeSpan& span,
                 int parts = 120);

/// True when heat held the device back inside the run's window.
bool wasAtLimit(const AnalyzedRun& run, const Figure& metric);

}  // namespace ash
