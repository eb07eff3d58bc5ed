// SPDX-License-Identifier: GPL-3.0-or-later
// The figures of a run that can be compared, by name, each with its uncertainty.
#pragma once

#include <map>
#include <string>

#include "analysis/figures.h"

namespace ash {

enum class Better { Lower, Higher, Neither };

/// Which way is better for a metric ("cpu.temp", "cpu.over_ambient_k", "noise", …; contract §4).
Better betterDirection(const std::string& metric, bool lowerScoreIsBetter);

/// True for metrics in °C or K, to which a plain `--margin K` applies.
bool isTemperatureMetric(const std::string& metric);

/// True for figures with a zero that means none, whose ratios say something: times, energies, scores, rates, watts.
bool isRatioMetric(const std::string& metric);

struct MetricValue {
  double value = kMissing;
  double se = 0;                ///< of this run alone
  double accuracySe = 0;        ///< of its instruments: the same in every run that they measured
  std::string instrument = {};  ///< which they are, where named
  bool isEstimate = false;      ///< brought to another distance by calculation
};

/// Every metric that can be told for a run. Nothing is in it that could not be worked out.
std::map<std::string, MetricValue> metricsOf(const RunLog& run, const Figures& figures);

/// The heading of a metric for a person, e.g. "CPU over room" and its unit "K".
std::string metricTitle(const std::string& metric);
std::string metricUnit(const std::string& metric);
/// What the figure is, in one sentence: the tooltip of its heading.
std::string metricDefinition(const std::string& metric);

}  // namespace ash
