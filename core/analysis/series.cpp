// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/series.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ash {

Series seriesOf(const Log& log, const Channel& channel, const std::vector<size_t>& leftOut) {
  Series series;
  size_t next = 0;
  for (size_t i = 0; i < log.timeS.size(); ++i) {
    if (next < leftOut.size() && leftOut[next] == i) {
      ++next;
      continue;
    }
    if (!std::isfinite(channel.values[i])) continue;
    if (!series.t.empty() && log.timeS[i] <= series.t.back()) continue;
    series.t.push_back(log.timeS[i]);
    series.v.push_back(channel.values[i]);
  }
  return series;
}

Series slice(const Series& series, const TimeSpan& span) {
  const auto first = std::lower_bound(series.t.begin(), series.t.end(), span.startS) - series.t.begin();
  const auto last = std::lower_bound(series.t.begin(), series.t.end(), span.endS) - series.t.begin();
  if (last <= first) return {};
  return {{series.t.begin() + first, series.t.begin() + last}, {series.v.begin() + first, series.v.begin() + last}};
}

double medianOf(std::vector<double> values) {
  if (values.empty()) return kMissing;
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  if (values.size() % 2 == 1) return *middle;
  return (*middle + *std::max_element(values.begin(), middle)) / 2;
}

double meanOf(const std::vector<double>& values) {
  if (values.empty()) return kMissing;
  return std::accumulate(values.begin(), values.end(), 0.0) / static_cast<double>(values.size());
}

double medianInterval(const std::vector<double>& times) {
  if (times.size() < 2) return 0;
  std::vector<double> distances(times.size() - 1);
  for (size_t i = 1; i < times.size(); ++i) distances[i - 1] = times[i] - times[i - 1];
  return medianOf(std::move(distances));
}

double interpolate(const Series& series, double t) {
  if (series.empty()) return kMissing;
  if (t <= series.t.front()) return series.v.front();
  if (t >= series.t.back()) return series.v.back();
  const auto after = static_cast<size_t>(std::upper_bound(series.t.begin(), series.t.end(), t) - series.t.begin());
  const double share = (t - series.t[after - 1]) / (series.t[after] - series.t[after - 1]);
  return series.v[after - 1] + share * (series.v[after] - series.v[after - 1]);
}

double estimateStep(const std::vector<double>& values) {
  std::vector<double> sorted = values;
  std::sort(sorted.begin(), sorted.end());
  sorted.erase(std::unique(sorted.begin(), sorted.end()), sorted.end());
  // Two or three values may be two or three states (a limit that moved); a step shows in more.
  if (sorted.size() < 4) return 0;
  double step = sorted[1] - sorted[0];
  for (size_t i = 2; i < sorted.size(); ++i) step = std::min(step, sorted[i] - sorted[i - 1]);
  // A floating-point value has no step that means anything: decimals beyond a millionth, or differences that do not
  // fit.
  if (step < 1e-6) return 0;
  for (size_t i = 1; i < sorted.size(); ++i) {
    const double steps = (sorted[i] - sorted[0]) / step;
    if (std::abs(steps - std::round(steps)) > 0.02) return 0;
  }
  return step;
}

}  // namespace ash
