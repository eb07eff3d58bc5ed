// SPDX-License-Identifier: GPL-3.0-or-later
// The verdict: settled or not, from the fit of warm_up_fit.cpp and the trend at the end.
#include "analysis/settling.h"

#include <algorithm>
#include <cmath>

#include "analysis/statistics.h"

namespace ash {
namespace {

Series after(const Series& series, double startS) { return slice(series, {startS, INFINITY}); }

Series overRoom(const Series& temperature, const Series& room) {
  if (room.empty()) return temperature;
  Series over = temperature;
  for (size_t i = 0; i < over.size(); ++i) over.v[i] -= interpolate(room, over.t[i]);
  return over;
}

// The largest change over the window that its straight line allows at 95 %.
double largestTrendK(const Series& series, double trendS) {
  const double endS = series.t.back();
  const Series part = after(series, endS - trendS);
  if (part.size() < 4) return INFINITY;
  const double meanT = meanOf(part.t), meanV = meanOf(part.v);
  double tt = 0, tv = 0;
  for (size_t i = 0; i < part.size(); ++i) {
    tt += (part.t[i] - meanT) * (part.t[i] - meanT);
    tv += (part.t[i] - meanT) * (part.v[i] - meanV);
  }
  if (tt <= 0) return INFINITY;
  const double slope = tv / tt;
  std::vector<double> residuals(part.size());
  double rss = 0;
  for (size_t i = 0; i < part.size(); ++i) {
    residuals[i] = part.v[i] - meanV - slope * (part.t[i] - meanT);
    rss += residuals[i] * residuals[i];
  }
  const double tau = autocorrelationTime(residuals);
  const double degrees = std::max(1.0, static_cast<double>(part.size()) / tau - 2);
  const double se = std::sqrt(rss / static_cast<double>(part.size()) * tau / tt);
  const double length = part.t.back() - part.t.front();
  return (std::abs(slope) + studentT95(degrees) * se) * length;
}

double worstRemaining(const WarmUpFit& fit, double t) {
  const double now = fit.at(t);
  return std::max(std::abs(fit.finalLowK - now), std::abs(fit.finalHighK - now));
}

// The first moment from which the fit stays within `within` of its final value, and from which the readings themselves
// have no larger trend either; `latestS` when there is no earlier one.
double settledSince(const WarmUpFit& fit, const Series& over, double within, double latestS) {
  constexpr int kSteps = 400;
  const double endS = over.t.back();
  double at = latestS;
  for (int i = kSteps; i >= 0; --i) {
    const double t = fit.startS + (latestS - fit.startS) * i / kSteps;
    if (std::abs(fit.finalK - fit.at(t)) >= within) break;
    at = t;
  }
  constexpr int kTries = 12;
  for (int i = 0; i < kTries; ++i) {
    const double t = at + (latestS - at) * i / kTries;
    if (largestTrendK(over, endS - t) < within) return t;
  }
  return latestS;
}

}  // namespace

namespace {

constexpr double kUnmovedAtLeastS = 120;

// A coarse sensor hides a slow rise between two of its steps: a reading that has not moved yet tells only after a
// while.
bool mayHideARise(const Series& series, double step, double trendS) {
  const Series part = after(series, series.t.back() - trendS);
  const bool isUnmoved = step >= kSettledWithinK / 2 &&
                         std::all_of(part.v.begin(), part.v.end(), [&](double v) { return v == part.v[0]; });
  if (!isUnmoved) return false;
  size_t first = series.size() - 1;
  while (first > 0 && series.v[first - 1] == series.v.back()) --first;
  return series.t.back() - series.t[first] < kUnmovedAtLeastS;
}

}  // namespace

SettlingVerdict judgeSettling(const Series& temperature, const Series& room, double step, double trendS) {
  SettlingVerdict verdict;
  if (temperature.empty()) return verdict;
  const Series over = overRoom(temperature, room);
  verdict.fit = fitWarmUp(over);
  if (!verdict.fit.isValid) return verdict;
  const double endS = temperature.t.back();
  const double roomC = room.empty() ? 0 : interpolate(room, endS);
  verdict.remainingK = verdict.fit.finalK - verdict.fit.at(endS);
  verdict.forecast = verdict.fit.finalK + roomC;
  verdict.forecastLow = verdict.fit.finalLowK + roomC;
  verdict.forecastHigh = verdict.fit.finalHighK + roomC;
  verdict.timeConstantsS = verdict.fit.timeConstantsS;
  const double within = std::max(kSettledWithinK, step);
  verdict.worstRemainingK = worstRemaining(verdict.fit, endS);
  verdict.isSettled = verdict.worstRemainingK < within && largestTrendK(over, trendS) < within &&
                      !mayHideARise(temperature, step, trendS);
  if (verdict.isSettled) verdict.atS = settledSince(verdict.fit, over, within, endS - trendS);
  return verdict;
}

double settlesAtS(const SettlingVerdict& verdict, double step) {
  const WarmUpFit& fit = verdict.fit;
  if (!fit.isValid || fit.timeConstantsS.empty()) return kMissing;
  const double within = std::max(kSettledWithinK, step);
  const double lastS = fit.endS + 6 * fit.timeConstantsS.back();
  for (int i = 0; i <= 2000; ++i) {
    const double t = fit.startS + (lastS - fit.startS) * i / 2000;
    if (std::abs(fit.finalK - fit.at(t)) < within) return t;
  }
  return kMissing;
}

}  // namespace ash
