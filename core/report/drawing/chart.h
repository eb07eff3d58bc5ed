// SPDX-License-Identifier: GPL-3.0-or-later
// A chart as a description: what it says and what it shows. It is drawn in any size and colours (svg_chart.h).
#pragma once

#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "analysis/series/series.h"

namespace ash {

/// A setup of a ranking.
struct RankedSetup {
  std::string label;
  std::string figure;  ///< as written: "57.3 K"
  std::string under;   ///< beside it: "± 0.5 K"
  double value = 0, low = 0, high = 0;
  std::optional<double> limit;
  std::vector<double> repeats;
  int setupIndex = 0;
  bool isAtLimit = false;
};

/// The best first, on one scale from zero: columns where their names have room, else bars.
struct RankPlot {
  std::string unit;
  std::vector<RankedSetup> setups;
  std::optional<double> asked;  ///< what a setup has to reach, in the unit
  std::string askedWords = {};  ///< "asked: 35 °C"
};

struct PlotAxis {
  enum class Scale { Number, Minutes, Log };
  std::string title;  ///< with its unit: "Over room, K"
  Scale scale = Scale::Number;
  bool hasZero = false;  ///< begins at zero where no value is below
};

/// A line of a plane; x rises but for a trail. A missing y is a gap.
struct PlotLine {
  enum class Stroke {
    Setup,  ///< in the colour and dashes of its setup
    Limit,  ///< what is allowed: soft, dotted, in steps
    Steps,  ///< each value holds to the next x
    Trail   ///< light at its beginning, full at its end
  };
  std::string label;  ///< empty = none of its own
  std::vector<double> x, y;
  std::vector<double> low, high;  ///< a band around it; empty = none
  int setupIndex = 0;
  Stroke stroke = Stroke::Setup;
};

/// A point of a plane, with its 95 % interval either way where it is known.
struct PlotPoint {
  double x = 0, y = 0;
  double xLow = kMissing, xHigh = kMissing, yLow = kMissing, yHigh = kMissing;
  std::string label;
  int setupIndex = 0;
  bool isHollow = false;  ///< did not hold
};

struct PlanePlot {
  PlotAxis x, y;
  std::vector<PlotLine> lines;
  std::vector<PlotPoint> points;
  std::vector<TimeSpan> windows;  ///< shaded, along x
};

struct Chart {
  std::string id;       ///< "answer", "warm-up", …; names its file
  std::string finding;  ///< the title: what was found
  std::string what;     ///< what is drawn, under which load
  std::string source;   ///< where it comes from
  std::string spoken;   ///< what is to be seen, to who cannot see it
  std::variant<RankPlot, PlanePlot> plot;
};

}  // namespace ash
