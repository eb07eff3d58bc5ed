// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/statistics.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>

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

double autocorrelationTime(std::span<const double> values) {
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

double studentT95(double degrees) { return studentT(degrees, 0.95); }

namespace {

constexpr size_t kWorthCounting = 4'000;
constexpr double kMostBins = 100'000;

/// How often each value of a sensor's steps occurs: quantiles in one pass.
class Counts {
 public:
  /// Empty when the values are no whole steps, or too many of them.
  static std::optional<Counts> of(std::span<const double> values, double low, double high, double step) {
    if (!(step > 0) || values.size() < kWorthCounting || (high - low) / step > kMostBins) return std::nullopt;
    Counts counts;
    const auto bins = static_cast<size_t>((high - low) / step + 1.5);
    counts.m_count.assign(bins, 0);
    counts.m_value.assign(bins, 0);
    const double perStep = 1 / step;
    for (const double value : values) {
      const double place = (value - low) * perStep;
      const auto bin = static_cast<size_t>(place + 0.5);
      if (std::abs(place - static_cast<double>(bin)) > 0.02) return std::nullopt;
      ++counts.m_count[bin];
      counts.m_value[bin] = value;
    }
    counts.m_all = values.size();
    return counts;
  }
  double quantile(double share) const {
    const double place = share * static_cast<double>(m_all - 1);
    const auto below = static_cast<size_t>(place);
    const double low = nth(below), high = nth(std::min(below + 1, m_all - 1));
    return low + (place - static_cast<double>(below)) * (high - low);
  }

 private:
  double nth(size_t n) const {
    size_t bin = 0, seen = m_count[0];
    while (seen <= n) seen += m_count[++bin];
    return m_value[bin];
  }
  std::vector<uint32_t> m_count;
  std::vector<double> m_value;
  size_t m_all = 0;
};

/// Quantiles of any values: each one asks for less of them to be in order than sorting would.
class Ordered {
 public:
  explicit Ordered(std::span<const double> values) : m_values(values.begin(), values.end()) {}
  /// Asked in rising order.
  double quantile(double share) {
    const double place = share * static_cast<double>(m_values.size() - 1);
    const auto below = static_cast<size_t>(place);
    const double low = nth(below);
    if (below + 1 >= m_values.size()) return low;
    const double high = *std::min_element(m_values.begin() + static_cast<std::ptrdiff_t>(below) + 1, m_values.end());
    return low + (place - static_cast<double>(below)) * (high - low);
  }

 private:
  double nth(size_t n) {
    const auto from = m_values.begin() + static_cast<std::ptrdiff_t>(m_ordered);
    const auto at = m_values.begin() + static_cast<std::ptrdiff_t>(n);
    std::nth_element(from, at, m_values.end());
    m_ordered = n;
    return *at;
  }
  std::vector<double> m_values;
  size_t m_ordered = 0;
};

template <typename T>
void setQuantiles(T&& quantiles, Stats& stats) {
  stats.p05 = quantiles.quantile(0.05);
  stats.median = quantiles.quantile(0.5);
  stats.p95 = quantiles.quantile(0.95);
}

}  // namespace

Stats statsOf(const SeriesView& series, double step) {
  Stats stats;
  stats.n = series.size();
  if (series.empty()) return stats;
  const auto n = static_cast<double>(stats.n);
  stats.mean = meanOf(series.v);
  const double sum = varianceOf(series.v, stats.mean);
  stats.sd = stats.n > 1 ? std::sqrt(sum / (n - 1)) : 0.0;
  const double ofMean = stats.sd * stats.sd * autocorrelationTime(series.v) / n;
  stats.se = std::sqrt(ofMean + step * step / 12);
  const auto [low, high] = std::minmax_element(series.v.begin(), series.v.end());
  stats.min = *low;
  stats.max = *high;
  if (const auto counts = Counts::of(series.v, stats.min, stats.max, step))
    setQuantiles(*counts, stats);
  else
    setQuantiles(Ordered(series.v), stats);
  // minmax_element gives the last of the highest; the first one is wanted.
  const auto top = std::find(series.v.begin(), series.v.end(), stats.max);
  stats.firstMaxAtS = series.t[static_cast<size_t>(top - series.v.begin())];
  return stats;
}

}  // namespace ash
