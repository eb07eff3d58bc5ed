// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>

#include "analysis/series/statistics.h"
#include "analysis/warm_up/warm_up.h"

namespace ash {
namespace {

constexpr double kGrowth = 0.03;     // a span's length over the time since the load began
constexpr double kMostSpans = 150;   // of equal length would fill the load
constexpr double kMostCounted = 40;  // readings in a span whose noise is believed to average out
constexpr double kRoomSmoothS = 45;  // a room moves slowly; its sensor's noise must not get into the fit
constexpr double kCoarseK = 0.2;

/// Means of a series between two times, in constant time.
class Means {
 public:
  explicit Means(const SeriesView& series) : m_series(series), m_sum(series.size() + 1) {
    for (size_t i = 0; i < series.size(); ++i) m_sum[i + 1] = m_sum[i] + series.v[i];
  }
  double between(double fromS, double toS) const {
    if (m_series.empty()) return kMissing;
    const auto first = std::lower_bound(m_series.t.begin(), m_series.t.end(), fromS) - m_series.t.begin();
    const auto last = std::upper_bound(m_series.t.begin(), m_series.t.end(), toS) - m_series.t.begin();
    if (last <= first) return interpolate(m_series, (fromS + toS) / 2);
    return (m_sum[static_cast<size_t>(last)] - m_sum[static_cast<size_t>(first)]) / static_cast<double>(last - first);
  }
  /// Around a span, evenly on both sides: near an end of the series less far.
  double around(double fromS, double toS, double reachS) const {
    const double middleS = (fromS + toS) / 2;
    const double reach =
        std::min({(toS - fromS) / 2 + reachS, middleS - m_series.t.front(), m_series.t.back() - middleS});
    return between(middleS - std::max(reach, 0.0), middleS + std::max(reach, 0.0));
  }

 private:
  SeriesView m_series;
  std::vector<double> m_sum;
};

// A sensor that shows only its steps while the noise is smaller than they are: it changes in one direction for long.
bool changesOneWay(const SeriesView& part, double stepK) {
  if (stepK < kCoarseK) return false;
  int changes = 0, turns = 0;
  double last = 0;
  for (size_t i = 1; i < part.size(); ++i) {
    const double change = part.v[i] - part.v[i - 1];
    if (change == 0) continue;
    ++changes;
    turns += last * change < 0;
    last = change;
  }
  return changes >= 5 && turns < 0.3 * changes;
}

void add(WeightedSpans& spans, double fromS, double toS, double value, double weight) {
  spans.fromS.push_back(fromS);
  spans.toS.push_back(toS);
  spans.value.push_back(value);
  spans.weight.push_back(weight);
}

// Where a reading goes from a to b the temperature is half way between; the last value is known to within a step.
WarmUpReadings crossings(const SeriesView& part, double stepK, const Means* room) {
  WarmUpReadings readings;
  const double floor = 0.1 * stepK;
  const auto over = [&](double value, double fromS, double toS) {
    return room == nullptr ? value : value - room->around(fromS, toS, kRoomSmoothS);
  };
  size_t lastChange = 0;
  for (size_t i = 1; i < part.size(); ++i) {
    const double change = std::abs(part.v[i] - part.v[i - 1]);
    if (change == 0) continue;
    const double beyond = std::max(0.0, change - stepK);
    const double variance = floor * floor + beyond * beyond / 12;
    const double middle = (part.t[i] + part.t[i - 1]) / 2;
    add(readings.spans, middle, middle, over((part.v[i] + part.v[i - 1]) / 2, middle, middle), 1 / variance);
    lastChange = i;
  }
  const double endS = part.t.back();
  const double held = endS - part.t[lastChange];
  if (held > 0) {
    const double fromS = part.t[lastChange] + held / 2;
    add(readings.spans, fromS, endS, over(part.v.back(), fromS, endS), 12 / (stepK * stepK));
  }
  readings.leastVariance = 1;
  return readings;
}

constexpr double kEdgeShare = 0.15;
constexpr size_t kMostEdges = 40;

// Where power jumps or work pauses: no span may reach over such an edge. Rising times.
std::vector<double> edgesOf(const SettlingQuestion& question) {
  std::vector<double> edges;
  const SeriesView power = viewOf(question.power, question.load);
  const double highest = power.empty() ? 0 : *std::max_element(power.v.begin(), power.v.end());
  for (size_t i = 1; i < power.size() && edges.size() <= kMostEdges; ++i) {
    if (std::abs(power.v[i] - power.v[i - 1]) > kEdgeShare * highest) edges.push_back(power.t[i]);
  }
  if (edges.size() > kMostEdges) edges.clear();
  for (const TimeSpan& span : question.busy) {
    edges.push_back(span.startS);
    edges.push_back(span.endS);
  }
  std::sort(edges.begin(), edges.end());
  return edges;
}

WarmUpReadings means(const SettlingQuestion& question, const SeriesView& part, const Means* room) {
  const double stepK = question.stepK;
  const std::vector<double> edges = edgesOf(question);
  WarmUpReadings readings;
  const double interval = medianInterval(part.t);
  const double widest = (part.t.back() - part.t.front()) / kMostSpans;
  size_t first = 0;
  while (first < part.size()) {
    const double since = part.t[first] - part.t.front();
    const double width = std::max(kGrowth * since, widest);
    size_t last = first;
    double sum = part.v[first];
    const auto edge = std::upper_bound(edges.begin(), edges.end(), part.t[first]);
    const double edgeS = edge == edges.end() ? INFINITY : *edge;
    while (last + 1 < part.size() && part.t[last + 1] - part.t[first] < width - interval / 2 &&
           part.t[last + 1] - part.t[last] <= 4 * interval && part.t[last + 1] < edgeS) {
      sum += part.v[++last];
    }
    const double count = static_cast<double>(last - first + 1);
    const double fromS = part.t[first] - interval / 2, toS = part.t[last] + interval / 2;
    const double roomC = room == nullptr ? 0 : room->around(fromS, toS, kRoomSmoothS);
    add(readings.spans, fromS, toS, sum / count - roomC, 1 / (1 / count + 1 / kMostCounted));
    first = last + 1;
  }
  readings.leastVariance = 1e-4 + stepK * stepK / 12;
  return readings;
}

}  // namespace

WarmUpReadings warmUpReadings(const SettlingQuestion& question) {
  const SeriesView part = viewOf(question.temperature, question.load);
  const std::optional<Means> room = question.room.empty() ? std::nullopt : std::optional<Means>(question.room);
  const Means* roomOrNone = room ? &*room : nullptr;
  return changesOneWay(part, question.stepK) ? crossings(part, question.stepK, roomOrNone)
                                             : means(question, part, roomOrNone);
}

namespace {

constexpr double kMovingShare = 0.012;  // mean deviation of the power from its end that is worth a fit of its own
constexpr size_t kPiecesBefore = 120;

double inputAt(const SettlingQuestion& question, const Means& power, double endW, double fromS, double toS) {
  if (!question.power.empty()) return power.between(fromS, toS) / endW;
  double busyS = 0;
  for (const TimeSpan& span : question.busy)
    busyS += std::max(0.0, std::min(toS, span.endS) - std::max(fromS, span.startS));
  return toS > fromS ? std::clamp(busyS / (toS - fromS), 0.0, 1.0) : 1;
}

// The power at the end of the load, pauses left out.
double endPower(const SettlingQuestion& question) {
  const TimeSpan last{question.load.endS - 0.2 * question.load.lengthS(), question.load.endS};
  const SeriesView part = viewOf(question.power, last);
  const double middle = medianOf({part.v.begin(), part.v.end()});
  double sum = 0, count = 0;
  for (const double watts : part.v) {
    if (watts < middle / 2) continue;
    sum += watts;
    ++count;
  }
  return count > 0 ? sum / count : kMissing;
}

}  // namespace

std::optional<StageInput> drivingInput(const SettlingQuestion& question, const WeightedSpans& spans) {
  const bool hasPauses = question.busy.size() > 1;
  if ((question.power.empty() && !hasPauses) || spans.size() < 4) return std::nullopt;
  const double endW = question.power.empty() ? 1 : endPower(question);
  if (!(endW > 0)) return std::nullopt;
  const Means power(question.power);
  std::vector<double> inSpan, inGap;
  double moving = 0;
  for (size_t i = 0; i < spans.size(); ++i) {
    const double fromS = spans.fromS[i], toS = spans.toS[i];
    const double gapFromS = i == 0 ? fromS : spans.toS[i - 1];
    inSpan.push_back(inputAt(question, power, endW, fromS, toS));
    inGap.push_back(fromS > gapFromS ? inputAt(question, power, endW, gapFromS, fromS) : inSpan.back());
    moving += std::abs(inSpan.back() - 1) * (toS - fromS) + std::abs(inGap.back() - 1) * (fromS - gapFromS);
  }
  if (moving < kMovingShare * question.load.lengthS()) return std::nullopt;
  std::vector<std::pair<double, double>> before;
  const double firstS = question.power.empty() ? question.load.startS : question.power.t.front();
  const double beforeS = spans.fromS.front() - firstS;
  for (size_t k = 0; beforeS > 0 && k < kPiecesBefore; ++k) {
    const double length = beforeS / kPiecesBefore;
    const double fromS = firstS + length * static_cast<double>(k);
    before.emplace_back(length, inputAt(question, power, endW, fromS, fromS + length));
  }
  return StageInput::of(spans, std::move(before), std::move(inSpan), std::move(inGap));
}

}  // namespace ash
