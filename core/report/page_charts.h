// SPDX-License-Identifier: GPL-3.0-or-later
// The charts of the page.
#pragma once

#include <string>

#include "report/markup/markup.h"
#include "report/study/study_report.h"

namespace ash {

/// Ranked columns of the figure that the study asks for, under one load.
Markup resultChart(const StudyReport& report, const LoadStanding& load);

/// The watched temperature of every run of a load over time from load start; over room where the room is known.
Markup warmUpChart(const StudyReport& report, const LoadStanding& load);

/// The value of a run's own figure; missing when it has none.
double figureOfRun(const AnalyzedRun& run, const Figure& metric);

/// The limit of a temperature metric in the metric's own terms (K over room, °C), at the room of the run's window.
std::optional<double> limitOfMetric(const AnalyzedRun& run, const Figure& metric);

/// True when heat held the device back inside the run's window.
bool wasAtLimit(const AnalyzedRun& run, const Figure& metric);

}  // namespace ash
