// SPDX-License-Identifier: GPL-3.0-or-later
// The figures of a run that can be compared, each with its uncertainty.
#pragma once

#include <map>

#include "analysis/catalogue/figure.h"
#include "analysis/run/figures.h"

namespace ash {

struct MetricValue {
  double value = kMissing;
  double se = 0;                ///< of this run alone
  double accuracySe = 0;        ///< of its instruments: the same in every run that they measured
  std::string instrument = {};  ///< which they are, where named
  bool isEstimate = false;      ///< brought to another distance by calculation
  double assumedSd = 0;         ///< scatter between repeats where none tell it: the catalogue's agreement
};

using MetricValues = std::map<Figure, MetricValue>;

/// The standard deviation that repeats of a figure are assumed to have where none tell it; `basis` is what a share of
/// the catalogue's agreement is taken of.
double assumedSdOf(const Figure& figure, double basis = 0);

/// Every figure that can be told for a run. Nothing is in it that could not be worked out.
MetricValues metricsOf(const RunLog& run, const Figures& figures);

}  // namespace ash
