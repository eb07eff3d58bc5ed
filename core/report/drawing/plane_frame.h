// SPDX-License-Identifier: GPL-3.0-or-later
// Where a plane lies on its sheet: its ranges, its axes, and how its lines and points are named.
#pragma once

#include <string>
#include <vector>

#include "report/drawing/chart.h"
#include "report/drawing/chart_sheet.h"

namespace ash {

/// What a legend names.
struct LegendEntry {
  std::string label;
  int setupIndex = 0;
  bool isPoint = false;
  bool isLimit = false;
};

/// Every name of a plane once, in order.
std::vector<LegendEntry> legendOf(const PlanePlot& plot);

/// Names beside lines and points, or in a legend over the plot.
enum class Naming { Beside, Legend };

struct PlaneFrame {
  LabelBox area;  ///< of the plot itself
  Naming naming = Naming::Beside;
  double x0 = 0, x1 = 1, y0 = 0, y1 = 1;
  bool isLog = false;

  double x(double value) const;
  double y(double value) const;
};

/// How high the legend is where it is asked for.
double legendPx(const std::vector<LegendEntry>& entries, const ChartSheet& sheet, double width, double mostPx);
void drawLegend(const std::vector<LegendEntry>& entries, const LabelBox& room, ChartSheet& sheet);

PlaneFrame planeFrameOf(const PlanePlot& plot, const LabelBox& room, const ChartSheet& sheet, Naming naming);
void drawAxes(const PlanePlot& plot, const PlaneFrame& frame, const LabelBox& room, ChartSheet& sheet);

/// Whether lines are named at their ends: where those have room below each other, and the picture is wide enough.
bool haveEndsRoom(const PlanePlot& plot, const ChartSheet& sheet, double heightPx);

}  // namespace ash
