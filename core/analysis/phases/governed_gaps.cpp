// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/phases/governed_gaps.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {

constexpr double kLongestGapS = 120;
constexpr double kAboveRest = 0.05;  // of the way from rest to work
constexpr double kRestSigmas = 4;
constexpr size_t kFewestAtRest = 5;
constexpr double kSettlesS = 20;  // after work the power of rest comes down with the temperature

/// The power of real rest: before the first work and some time after the last.
struct Rest {
  double level = kMissing, spread = 0;
};

Rest restOf(const std::vector<TimeSpan>& busy, const SeriesView& power) {
  std::vector<double> values;
  for (const TimeSpan& span :
       {TimeSpan{-INFINITY, busy.front().startS}, TimeSpan{busy.back().endS + kSettlesS, INFINITY}}) {
    const SeriesView part = viewOf(power, span);
    values.insert(values.end(), part.v.begin(), part.v.end());
  }
  if (values.size() < kFewestAtRest) return {};
  Rest rest{medianOf(values)};
  for (double& value : values) value = std::abs(value - rest.level);
  rest.spread = 1.4826 * medianOf(std::move(values));
  return rest;
}

}  // namespace

std::vector<TimeSpan> withoutGovernedGaps(std::vector<TimeSpan> busy, const SeriesView& power, double restLevel,
                                          double workLevel) {
  if (busy.size() < 2 || power.empty()) return busy;
  const Rest rest = restOf(busy, power);
  if (std::isnan(rest.level)) return busy;
  const double from =
      rest.level + std::max(kAboveRest * (workLevel - std::max(restLevel, rest.level)), kRestSigmas * rest.spread);
  const double interval = medianInterval(power.t);
  std::vector<TimeSpan> spans = {busy.front()};
  double longestS = 0;
  for (size_t i = 1; i < busy.size(); ++i) {
    const TimeSpan gap{spans.back().endS, busy[i].startS};
    // A mean over the interval before belongs half to the work.
    const SeriesView inside = viewOf(power, {gap.startS + interval / 2, gap.endS - interval / 2});
    const bool isGoverned =
        gap.lengthS() <= kLongestGapS && !inside.empty() && medianOf({inside.v.begin(), inside.v.end()}) >= from;
    if (isGoverned) longestS = std::max(longestS, gap.lengthS());
    if (isGoverned)
      spans.back().endS = busy[i].endS;
    else
      spans.push_back(busy[i]);
  }
  if (longestS <= 0) return spans;
  for (const double t : viewOf(power, {spans.back().endS, spans.back().endS + longestS + interval}).t) {
    if (interpolate(power, t) < from) break;
    spans.back().endS = t + interval;
  }
  return spans;
}

}  // namespace ash
