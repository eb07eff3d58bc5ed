// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/statistics.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>

namespace ash {
namespace {

constexpr size_t kMostForLags = 4000;  // longer series are averaged in blocks first: lags cost n²

double varianceOf(const std::vector<double>& values, double mean) {
  double sum = 0;
  for (const double value : values) sum += (value - mean) * (value - mean);
  return sum;
}

std::vector<double> blockMeans(const std::vector<double>& values, size_t blockSize) {
  std::vector<double> means;
  for (size_t first = 0; first + blockSize <= values.size(); first += blockSize) {
    double sum = 0;
    for (size_t i = first; i < first + blockSize; ++i) sum += values[i];
    means.push_back(sum / static_cast<double>(blockSize));
  }
  return means;
}

double autocorrelationTimeOf(const std::vector<double>& values) {
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

double autocorrelationTime(const std::vector<double>& values) {
  if (values.size() <= kMostForLags) return autocorrelationTimeOf(values);
  const size_t blockSize = (values.size() + kMostForLags - 1) / kMostForLags;
  const std::vector<double> means = blockMeans(values, blockSize);
  // Var(mean) is the same seen either way: σ²τ/n = σ_b²τ_b/n_b.
  const double variance = varianceOf(values, meanOf(values)) / static_cast<double>(values.size());
  const double ofBlocks = varianceOf(means, meanOf(means)) / static_cast<double>(means.size());
  if (variance <= 0) return 1;
  const double tau = autocorrelationTimeOf(means) * ofBlocks / variance * static_cast<double>(blockSize);
  return std::clamp(tau, 1.0, static_cast<double>(values.size()));
}

double quantileOfSorted(const std::vector<double>& sorted, double share) {
  const double place = share * static_cast<double>(sorted.size() - 1);
  const auto below = static_cast<size_t>(place);
  if (below + 1 >= sorted.size()) return sorted.back();
  return sorted[below] + (place - static_cast<double>(below)) * (sorted[below + 1] - sorted[below]);
}

double studentT95(double degrees) {
  if (!(degrees >= 1)) degrees = 1;
  if (degrees > 1e6) return boost::math::quantile(boost::math::normal(), 0.975);
  return boost::math::quantile(boost::math::students_t(degrees), 0.975);
}

Stats statsOf(const Series& series, double step) {
  Stats stats;
  stats.n = series.size();
  if (series.empty()) return stats;
  const auto n = static_cast<double>(stats.n);
  stats.mean = meanOf(series.v);
  const double sum = varianceOf(series.v, stats.mean);
  stats.sd = stats.n > 1 ? std::sqrt(sum / (n - 1)) : 0.0;
  const double ofMean = stats.sd * stats.sd * autocorrelationTime(series.v) / n;
  stats.se = std::sqrt(ofMean + step * step / 12);
  std::vector<double> sorted = series.v;
  std::sort(sorted.begin(), sorted.end());
  stats.min = sorted.front();
  stats.p05 = quantileOfSorted(sorted, 0.05);
  stats.median = quantileOfSorted(sorted, 0.5);
  stats.p95 = quantileOfSorted(sorted, 0.95);
  stats.max = sorted.back();
  const auto top = std::max_element(series.v.begin(), series.v.end());
  stats.firstMaxAtS = series.t[static_cast<size_t>(top - series.v.begin())];
  return stats;
}

}  // namespace ash
