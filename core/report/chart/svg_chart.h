// SPDX-License-Identifier: GPL-3.0-or-later
// A line chart as SVG, for the page.
#pragma once

#include <string>
#include <vector>

#include "analysis/series/series.h"
#include "report/markup/markup.h"

namespace ash {

struct ChartLine {
  std::string label;
  Series series;
  int setupIndex = 0;  ///< its colour and dash
};

struct ChartSpec {
  std::string title;
  std::string spoken;  ///< what is to be seen, to who cannot see it
  std::string unit;
  std::string xTitle;
  std::vector<ChartLine> lines;
  std::vector<TimeSpan> windows;  ///< shaded
};

/// The colour of a setup on paper, by its place in the study. Eight of them, then they start over.
std::string paperColour(int setupIndex);

/// The whole <svg> element. Each line is reduced to the lowest and highest reading per pixel column, so that a peak
/// stays.
Markup svgLineChart(const ChartSpec& chart);

/// Round numbers from `low` to `high`, about `count` of them.
std::vector<double> niceTicks(double low, double high, int count);

/// Decimals that keep neighbouring ticks apart.
int digitsOfTicks(const std::vector<double>& ticks);

/// An <svg> of that size that says these words to who cannot see it.
Element svgPicture(double width, double height, const std::string& spoken);
/// A text that begins at a place.
Element svgText(double x, double y);
/// The heading of a picture, from `x` on.
Element svgTitle(double x, const std::string& title);

}  // namespace ash
