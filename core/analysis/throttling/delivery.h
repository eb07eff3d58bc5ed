// SPDX-License-Identifier: GPL-3.0-or-later
// What a device delivered under load, by its clock or by its work, against what it should hold.
#pragma once

#include <string>
#include <vector>

#include "analysis/run/context.h"

namespace ash {

/// One rate of a device under load. Vectors have the length of `rate`.
struct Delivery {
  std::string channel;
  bool isClock = true;  ///< else work or frames per second
  SeriesView rate;      ///< as read, under load
  double intervalS = 0;
  double noise = 0;               ///< standard deviation from sample to sample, as a part of the rate
  bool isStepping = false;        ///< a governor steps to and fro: then it is not smoothed
  std::vector<double> smooth;     ///< without its noise
  std::vector<double> reference;  ///< what it should hold: rated, or held before under the same settings
  std::vector<bool> counts;       ///< at work: no pause, no moment in which it only starts
  bool isLow(size_t i) const;
  /// The time until which sample i speaks.
  double endOf(size_t i) const { return i + 1 < rate.size() ? rate.t[i + 1] : rate.t[i] + intervalS; }
};

/// `ratedRate` is what the maker states, missing where it states nothing. A change that the tester made to clock or
/// power (event "setting") begins a new reference; fans, panels and rooms do not.
Delivery deliveryOf(const RunContext& context, const std::string& channel, double ratedRate);

}  // namespace ash
