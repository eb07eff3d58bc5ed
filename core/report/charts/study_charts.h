// SPDX-License-Identifier: GPL-3.0-or-later
// The charts of a study: each says what was found, and is drawn in any size (drawing/svg_chart.h).
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "report/drawing/chart.h"
#include "report/study/study_report.h"

namespace ash {

/// The setups ranked by the figure that the study asks for, or by another. None where no setup has it.
std::optional<Chart> rankChart(const StudyReport& report, const LoadStanding& load);
std::optional<Chart> rankChart(const StudyReport& report, const LoadStanding& load, const Figure& metric,
                               const std::string& id);

/// The watched temperature of each setup over time from load start, with what its runs span; over room where the room
/// is known.
std::optional<Chart> warmUpChart(const StudyReport& report, const LoadStanding& load);

/// The power of what the load works over time, with the limit in force where that is logged.
std::optional<Chart> powerChart(const StudyReport& report, const LoadStanding& load);

/// The way of each setup through clock and temperature under load: light when it begins, full when it ends.
std::optional<Chart> clockChart(const StudyReport& report, const LoadStanding& load);

/// Noise against the temperature of the question, with intervals both ways.
std::optional<Chart> noiseChart(const StudyReport& report, const LoadStanding& load);

/// Rungs of a number under test against the headroom that each left.
std::optional<Chart> ladderChart(const StudyReport& report, const LoadStanding& load);

/// The score of pass after pass.
std::optional<Chart> passesChart(const StudyReport& report, const LoadStanding& load);

/// What a task takes of energy.
std::optional<Chart> energyChart(const StudyReport& report, const LoadStanding& load);

/// What a kelvin less costs against the reference.
std::optional<Chart> priceChart(const StudyReport& report, const LoadStanding& load);

/// Third-octave bands of what a microphone heard, and the tones that stand out.
std::optional<Chart> spectrumChart(const StudyReport& report, const LoadStanding& load);

/// All but those of answer and warm-up, of every load, in that order.
std::vector<Chart> furtherCharts(const StudyReport& report);

/// All of them, in the order of the page: those of the answer first.
std::vector<Chart> studyCharts(const StudyReport& report);

}  // namespace ash
