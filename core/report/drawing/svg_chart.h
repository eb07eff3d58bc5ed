// SPDX-License-Identifier: GPL-3.0-or-later
// A chart as SVG.
#pragma once

#include "report/drawing/chart.h"
#include "report/drawing/chart_look.h"
#include "report/markup/markup.h"

namespace ash {

/// The whole <svg> element with title, plot and source; its id is the chart's with the look's suffix. No text covers
/// another or leaves the picture, whatever names are long: they are broken, shortened, moved into a legend, or, of axes
/// only, left out. Lines are reduced to the lowest and highest reading per place, so that a peak stays.
Markup svgChart(const Chart& chart, const ChartLook& look = {});

/// An <svg> of that size that says these words to who cannot see it.
Element svgPicture(double width, double height, const std::string& spoken);

}  // namespace ash
