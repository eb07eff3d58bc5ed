// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces of logs as series, and the small questions asked of them. Pure.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "model/run_facts.h"

namespace ash {

/// A half-open span of time: start inside, end outside. Seconds since the first sample.
struct TimeSpan {
  double startS = 0;
  double endS = 0;
  double lengthS() const { return endS - startS; }
  bool contains(double t) const { return t >= startS && t < endS; }
};

/// The finite readings of a channel, with the samples at `leftOut` (sorted indices) taken out.
Series seriesOf(const Log& log, const Channel& channel, const std::vector<size_t>& leftOut = {});
Series slice(const Series& series, const TimeSpan& span);

/// Median distance between neighbouring times; 0 for fewer than two.
double medianInterval(const std::vector<double>& times);
double medianOf(std::vector<double> values);
double meanOf(const std::vector<double>& values);

/// Straight line between the readings around t, the nearest reading outside them. Empty series: missing.
double interpolate(const Series& series, double t);

/// The sensor's step: the smallest difference between readings when all are whole multiples of it; 0 when it cannot be
/// told.
double estimateStep(const std::vector<double>& values);

}  // namespace ash
