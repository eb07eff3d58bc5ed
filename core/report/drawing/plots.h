// SPDX-License-Identifier: GPL-3.0-or-later
// The plots that a sheet can hold: each draws itself into a room.
#pragma once

#include "report/drawing/chart.h"
#include "report/drawing/chart_sheet.h"

namespace ash {

/// How high a ranking becomes at a width, where the size leaves that open.
double rankHeight(const RankPlot& plot, const ChartSheet& sheet, double width);
void drawRank(const RankPlot& plot, const LabelBox& room, ChartSheet& sheet);

/// How high a plane becomes with its legend, where the size leaves that open.
double planeHeight(const PlanePlot& plot, const ChartSheet& sheet, double width);
void drawPlane(const PlanePlot& plot, const LabelBox& room, ChartSheet& sheet);

}  // namespace ash
