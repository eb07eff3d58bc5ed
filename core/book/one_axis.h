// SPDX-License-Identifier: GPL-3.0-or-later
// Sources of a run, each with times of its own, on one axis of time.
#pragma once

#include <vector>

#include "model/reading.h"
#include "model/samples.h"

namespace ash {

/// All sweeps of one source in order.
struct SourceSamples {
  std::vector<Reading> readings;
  std::vector<double> timeS;
  std::vector<std::vector<double>> columns;  // one a reading, as long as timeS
  bool isBeside = false;                     ///< of another clock: it makes no moments of its own
};

/// The moments of a run: stamps of sources that were swept one after the other within a quarter of an interval are one.
/// Only those later than `afterS`, where it is a number.
std::vector<double> mergedAxis(const std::vector<SourceSamples>& sources, double intervalS, double afterS);

/// Adds a channel to the log for each of the source's readings, with its values at the log's moments. Of a source that
/// stands beside, each moment has the mean of what lies nearest to it, within half an interval.
void appendSource(SourceSamples& source, double intervalS, Log& log);

}  // namespace ash
