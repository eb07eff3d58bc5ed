// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/series/statistics.h"

#include <algorithm>
#include <boost/math/distributions/fisher_f.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>

#include "analysis/series/quantiles.h"

namespace ash {
namespace {

constexpr size_t kMostForLags = 600;  // longer series are averaged in blocks first: lags cost n²

double varianceOf(std::span<const double> values, double mean) {
  return sumOf(values, [mean](double value) { return (value - mean) * (value - mean); });
}

std::vector<double> blockMeans(std::span<const double> values, size_t blockSize) {
  std::vector<double> means;
  for (size_t first = 0; first + blockSize <= values.size(); first += blockSize)
    means.push_back(meanOf(values.subspan(first, blockSize)));
  return means;
}

double autocorrelationTimeOf(std::span<const double> values) {
  const size_t n = values.size();
  const double mean = meanOf(values);
  const double c0 = varianceOf(values, mean);
  if (n < 4 || c0 <= 0) return 1;
  const auto rho = [&](size_t lag) {
    double sum = 0;
    for (size_t i = 0; i + lag < n; ++i) sum += (values[i] - mean) * (values[i + lag] - mean);
    return sum / c0;
  };
  double sum = 0, previous = 2;
  for (size_t lag = 0; lag + 1 < n; lag += 2) {
    const double pair = std::min(rho(lag) + rho(lag + 1), previous);
    if (pair <= 0) break;
    sum += pair;
    previous = pair;
  }
  return std::clamp(2 * sum - 1, 1.0, static_cast<double>(n));
}

}  // namespace

namespace {

// The same with the sum of squares around the mean known.
double autocorrelationTimeAround(std::span<const double> values, double squares) {
  if (values.size() <= kMostForLags) return autocorrelationTimeOf(values);
  const size_t blockSize = (values.size() + kMostForLags - 1) / kMostForLags;
  const std::vector<double> means = blockMeans(values, blockSize);
  // Var(mean) is the same seen either way: σ²τ/n = σ_b²τ_b/n_b.
  const double variance = squares / static_cast<double>(values.size());
  const double ofBlocks = varianceOf(means, meanOf(means)) / static_cast<double>(means.size());
  if (!(variance > 0)) return 1;
  const double tau = autocorrelationTimeOf(means) * ofBlocks / variance * static_cast<double>(blockSize);
  return std::clamp(tau, 1.0, static_cast<double>(values.size()));
}

}  // namespace

double autocorrelationTime(std::span<const double> values) {
  return autocorrelationTimeAround(values, varianceOf(values, meanOf(values)));
}

double quantileOfSorted(std::span<const double> sorted, double share) {
  const double place = share * static_cast<double>(sorted.size() - 1);
  const auto below = static_cast<size_t>(place);
  if (below + 1 >= sorted.size()) return sorted.back();
  return sorted[below] + (place - static_cast<double>(below)) * (sorted[below + 1] - sorted[below]);
}

double studentT(double degrees, double confidence) {
  if (!(degrees >= 1)) degrees = 1;
  const double share = (1 + confidence) / 2;
  if (degrees > 1e6) return boost::math::quantile(boost::math::normal(), share);
  return boost::math::quantile(boost::math::students_t(degrees), share);
}

double fisherF(double above, double below, double confidence) {
  return boost::math::quantile(boost::math::fisher_f(above, below), confidence);
}

double studentT95(double degrees) { return studentT(degrees, 0.95); }

namespace {

struct Sweep {
  double sum = 0, low = INFINITY, high = -INFINITY;
};

// Sum and extremes in one pass, four side by side.
Sweep sweepOf(std::span<const double> values) {
  double sums[4] = {0, 0, 0, 0}, low[4], high[4];
  std::fill_n(low, 4, INFINITY);
  std::fill_n(high, 4, -INFINITY);
  size_t i = 0;
  for (; i + 4 <= values.size(); i += 4) {
    for (size_t k = 0; k < 4; ++k) {
      const double value = values[i + k];
      sums[k] += value;
      low[k] = value < low[k] ? value : low[k];
      high[k] = value > high[k] ? value : high[k];
    }
  }
  for (; i < values.size(); ++i) {
    sums[0] += values[i];
    low[0] = std::min(low[0], values[i]);
    high[0] = std::max(high[0], values[i]);
  }
  return {(sums[0] + sums[1]) + (sums[2] + sums[3]), *std::min_element(low, low + 4),
          *std::max_element(high, high + 4)};
}

}  // namespace

Stats statsOf(const SeriesView& series, double step) {
  Stats stats;
  stats.n = series.size();
  if (series.empty()) return stats;
  const auto n = static_cast<double>(stats.n);
  const Sweep sweep = sweepOf(series.v);
  stats.mean = sweep.sum / n;
  stats.min = sweep.low;
  stats.max = sweep.high;
  const double sum = varianceOf(series.v, stats.mean);
  stats.sd = stats.n > 1 ? std::sqrt(sum / (n - 1)) : 0.0;
  const double ofMean = stats.sd * stats.sd * autocorrelationTimeAround(series.v, sum) / n;
  stats.se = std::sqrt(ofMean + step * step / 12);
  const auto quantiles = usualQuantiles(series.v, stats.min, stats.max);
  stats.p05 = quantiles[0];
  stats.median = quantiles[1];
  stats.p95 = quantiles[2];
  const auto top = std::find(series.v.begin(), series.v.end(), stats.max);
  stats.firstMaxAtS = series.t[static_cast<size_t>(top - series.v.begin())];
  return stats;
}

double normalShare(double x) { return 0.5 * std::erfc(-x / std::sqrt(2.0)); }

}  // namespace ash
