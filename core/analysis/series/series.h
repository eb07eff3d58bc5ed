// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces of logs as series, and the small questions asked of them. Pure.
#pragma once

#include <deque>
#include <optional>
#include <span>
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

/// Readings that stand somewhere else: t strictly increasing, v finite, same length. Cheap to copy; must not outlive
/// what it looks at.
struct SeriesView {
  std::span<const double> t, v;
  SeriesView() = default;
  SeriesView(std::span<const double> times, std::span<const double> values) : t(times), v(values) {}
  SeriesView(const Series& series) : t(series.t), v(series.v) {}
  size_t size() const { return t.size(); }
  bool empty() const { return t.empty(); }
};

/// The finite readings of a channel, with the samples at `leftOut` (sorted indices) taken out.
Series seriesOf(const Log& log, const Channel& channel, const std::vector<size_t>& leftOut = {});
/// The same without a copy where every sample of the channel counts; else what counts is copied into `kept`.
SeriesView readingsOf(const Log& log, const Channel& channel, std::deque<Series>& kept,
                      const std::vector<size_t>& leftOut = {});

/// The readings inside a span, where they stand.
SeriesView viewOf(const SeriesView& series, const TimeSpan& span);
/// The same as a copy.
Series slice(const SeriesView& series, const TimeSpan& span);

/// Median distance between neighbouring times; 0 for fewer than two.
double medianInterval(std::span<const double> times);
double medianOf(std::vector<double> values);
double meanOf(std::span<const double> values);
/// Σ of(value), in four sums side by side: quicker than one, and it rounds less.
template <typename F>
double sumOf(std::span<const double> values, F of) {
  double sums[4] = {0, 0, 0, 0};
  size_t i = 0;
  for (; i + 4 <= values.size(); i += 4) {
    for (size_t k = 0; k < 4; ++k) sums[k] += of(values[i + k]);
  }
  for (; i < values.size(); ++i) sums[0] += of(values[i]);
  return (sums[0] + sums[1]) + (sums[2] + sums[3]);
}

/// Straight line between the readings around t, the nearest reading outside them. Empty series: missing.
double interpolate(const SeriesView& series, double t);

/// The same at many rising times at once.
std::vector<double> interpolateAt(const SeriesView& series, std::span<const double> times);

/// The sensor's step: the smallest difference between readings when all are whole multiples of it; 0 when it cannot be
/// told.
double estimateStep(std::span<const double> values);

}  // namespace ash
