// SPDX-License-Identifier: GPL-3.0-or-later
// Figures that a comment names, so that they stay true when a run is added or voided.
#pragma once

#include <string>

#include "report/markup/markup.h"
#include "report/study/study_report.h"

namespace ash {

/// "{Mesh: CPU over room}" for a value, "{Mesh against Solid: CPU over room}" for a difference from the reference; of a
/// study of several loads with the load behind: "{Mesh: CPU over room, All cores}".
std::string figureMention(const StudyReport& report, const LoadStanding& load, const ComparisonRow& row,
                          const Figure& metric, bool isDifference);

/// A comment as it stands on the page: what names a figure is that figure as it is now, traced like every other. One
/// whose setup has none any more says so.
Markup commentWithFigures(const StudyReport& report, const std::string& comment);

}  // namespace ash
