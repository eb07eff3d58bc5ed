// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/series/series.h"

#include <algorithm>
#include <cmath>

namespace ash {

Series seriesOf(const Log& log, const Channel& channel, const std::vector<size_t>& leftOut) {
  Series series;
  series.t.reserve(log.timeS.size());
  series.v.reserve(log.timeS.size());
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

SeriesView readingsOf(const Log& log, const Channel& channel, std::deque<Series>& kept,
                      const std::vector<size_t>& leftOut) {
  const bool isWhole =
      leftOut.empty() && log.risesStrictly() &&
      std::all_of(channel.values.begin(), channel.values.end(), [](double v) { return std::isfinite(v); });
  if (isWhole) return {log.timeS, channel.values};
  return kept.emplace_back(seriesOf(log, channel, leftOut));
}

SeriesView viewOf(const SeriesView& series, const TimeSpan& span) {
  const auto first = std::lower_bound(series.t.begin(), series.t.end(), span.startS) - series.t.begin();
  const auto last = std::lower_bound(series.t.begin(), series.t.end(), span.endS) - series.t.begin();
  if (last <= first) return {};
  const auto from = static_cast<size_t>(first), count = static_cast<size_t>(last - first);
  return {series.t.subspan(from, count), series.v.subspan(from, count)};
}

Series slice(const SeriesView& series, const TimeSpan& span) {
  const SeriesView part = viewOf(series, span);
  return {{part.t.begin(), part.t.end()}, {part.v.begin(), part.v.end()}};
}

namespace {

constexpr size_t kMany = 10'000;  // from here on most values are passed over

// Of values of which `at` lies in the middle, the one before it counted in where their number is even.
double middleOf(std::vector<double>& values, size_t at, bool isEven) {
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(at);
  std::nth_element(values.begin(), middle, values.end());
  return isEven ? (*middle + *std::max_element(values.begin(), middle)) / 2 : *middle;
}

// The values around the middle, as a sample has them, and how many lie below: R. W. Floyd and R. L. Rivest, Expected
// time bounds for selection, CACM 18 (1975). Exact, whatever the sample was: where the middle is not among them, all
// are.
size_t keepTheMiddle(std::vector<double>& values) {
  constexpr size_t kSample = 1001;
  std::vector<double> sample;
  for (size_t i = 0; i < kSample; ++i) sample.push_back(values[i * (values.size() - 1) / (kSample - 1)]);
  std::sort(sample.begin(), sample.end());
  const double low = sample[kSample * 45 / 100], high = sample[kSample * 55 / 100];
  size_t below = 0;
  std::vector<double> kept(values.size());
  size_t count = 0;
  for (const double value : values) {  // without a branch: none of them could be foretold
    below += value < low;
    kept[count] = value;
    count += value >= low && value <= high;
  }
  const size_t middle = values.size() / 2;
  if (below + 1 > middle || middle >= below + count) return 0;
  kept.resize(count);
  values = std::move(kept);
  return below;
}

}  // namespace

double medianOf(std::vector<double> values) {
  if (values.empty()) return kMissing;
  const size_t count = values.size(), below = count < kMany ? 0 : keepTheMiddle(values);
  return middleOf(values, count / 2 - below, count % 2 == 0);
}

double meanOf(std::span<const double> values) {
  if (values.empty()) return kMissing;
  return sumOf(values, [](double v) { return v; }) / static_cast<double>(values.size());
}

double medianInterval(std::span<const double> times) {
  if (times.size() < 2) return 0;
  std::vector<double> distances(times.size() - 1);
  for (size_t i = 1; i < times.size(); ++i) distances[i - 1] = times[i] - times[i - 1];
  return medianOf(std::move(distances));
}

double interpolate(const SeriesView& series, double t) {
  if (series.empty()) return kMissing;
  if (t <= series.t.front()) return series.v.front();
  if (t >= series.t.back()) return series.v.back();
  const auto after = static_cast<size_t>(std::upper_bound(series.t.begin(), series.t.end(), t) - series.t.begin());
  const double share = (t - series.t[after - 1]) / (series.t[after] - series.t[after - 1]);
  return series.v[after - 1] + share * (series.v[after] - series.v[after - 1]);
}

std::vector<double> interpolateAt(const SeriesView& series, std::span<const double> times) {
  std::vector<double> values(times.size(), kMissing);
  if (series.empty()) return values;
  size_t next = 0;
  for (size_t i = 0; i < times.size(); ++i) {
    while (next < series.size() && series.t[next] <= times[i]) ++next;
    if (next == 0 || next == series.size()) {
      values[i] = next == 0 ? series.v.front() : series.v.back();
      continue;
    }
    const double share = (times[i] - series.t[next - 1]) / (series.t[next] - series.t[next - 1]);
    values[i] = series.v[next - 1] + share * (series.v[next] - series.v[next - 1]);
  }
  return values;
}

namespace {

constexpr size_t kTellStep = 5'000;    // readings looked at
constexpr size_t kMostValues = 2'000;  // more different ones are no steps

// The different values, rising; of a long series an evenly spread part, and none at all when there are too many.
std::vector<double> differentValues(std::span<const double> values) {
  const size_t stride = values.size() / kTellStep + 1;
  std::vector<double> some;
  some.reserve(values.size() / stride + 1);
  for (size_t i = 0; i < values.size(); i += stride) {
    if (some.empty() || values[i] != some.back()) some.push_back(values[i]);
  }
  std::sort(some.begin(), some.end());
  some.erase(std::unique(some.begin(), some.end()), some.end());
  if (some.size() > kMostValues && some.size() > values.size() / stride / 2) some.clear();
  return some;
}

}  // namespace

double estimateStep(std::span<const double> values) {
  const std::vector<double> sorted = differentValues(values);
  // Two or three values may be two or three states (a limit that moved); a step shows in more.
  if (sorted.size() < 4) return 0;
  double step = INFINITY;
  for (size_t i = 1; i < sorted.size(); ++i) {
    // Rounding in the last digits is no step.
    if (sorted[i] - sorted[i - 1] > 1e-7) step = std::min(step, sorted[i] - sorted[i - 1]);
  }
  // A floating-point value has no step that means anything: decimals beyond a millionth, or differences that do not
  // fit.
  if (step < 1e-6 || step == INFINITY) return 0;
  // The smallest difference carries the rounding of the file; the whole range divided by its steps does not.
  step = (sorted.back() - sorted.front()) / std::round((sorted.back() - sorted.front()) / step);
  if (!std::isfinite(step)) return 0;
  for (const double value : sorted) {
    const double steps = (value - sorted.front()) / step;
    if (std::abs(steps - std::round(steps)) > 0.02) return 0;
  }
  return step;
}

}  // namespace ash
