// SPDX-License-Identifier: GPL-3.0-or-later
// The part of a load during which a governor held a temperature at its limit, evenly or swinging below it.
#include <algorithm>
#include <cmath>

#include "analysis/warm_up/settling.h"

namespace ash {
namespace {

constexpr double kTouchesK = 1.0;
constexpr double kLongestSwingS = 60;
constexpr double kLongestSwingShare = 0.15;  // of the load
constexpr double kTouchedShare = 0.03;

}  // namespace

std::optional<TimeSpan> governedSpan(const SeriesView& temperature, const TimeSpan& load, double limitC, double stepK) {
  const SeriesView part = viewOf(temperature, load);
  if (part.size() < 8) return std::nullopt;
  const double from = limitC - std::max(kTouchesK, stepK);
  const double longestS = std::max({kLongestSwingS, kLongestSwingShare * load.lengthS(), 3 * medianInterval(part.t)});
  double startS = kMissing, lastS = kMissing;
  size_t touched = 0;
  for (size_t i = 0; i < part.size(); ++i) {
    if (part.v[i] < from) continue;
    if (std::isnan(lastS) || part.t[i] - lastS > longestS) {
      startS = part.t[i];
      touched = 0;
    }
    lastS = part.t[i];
    ++touched;
  }
  if (std::isnan(lastS) || part.t.back() - lastS > longestS) return std::nullopt;
  const SeriesView held = viewOf(part, {startS, INFINITY});
  if (held.size() < 8 || static_cast<double>(touched) < kTouchedShare * static_cast<double>(held.size()))
    return std::nullopt;
  return TimeSpan{startS, load.endS};
}

}  // namespace ash
