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

double middleOf(const WeightedSpans& spans, size_t span) { return (spans.fromS[span] + spans.toS[span]) / 2; }

// Variance of a span of weight 1, by how far each lies off the straight line between its neighbours: what no smooth
// curve explains.
double noiseVariance(const WeightedSpans& spans) {
  std::vector<double> squares;
  for (size_t i = 1; i + 1 < spans.size(); ++i) {
    const double share =
        (middleOf(spans, i) - middleOf(spans, i - 1)) / (middleOf(spans, i + 1) - middleOf(spans, i - 1));
    const double off = spans.value[i] - (1 - share) * spans.value[i - 1] - share * spans.value[i + 1];
    squares.push_back(
        off * off /
        (1 / spans.weight[i] + (1 - share) * (1 - share) / spans.weight[i - 1] + share * share / spans.weight[i + 1]));
  }
  return medianOf(std::move(squares)) / 0.455;  // median of chi-square with one degree of freedom
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

WarmUpReadings spanMeans(const SettlingQuestion& question, const SeriesView& part, const RoomBelow& room) {
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
    // Half way to the neighbours where they are nearer than usual: spans that lie over each other are no spans.
    double beforeS = first > 0 ? std::min(interval, part.t[first] - part.t[first - 1]) : interval;
    double afterS = last + 1 < part.size() ? std::min(interval, part.t[last + 1] - part.t[last]) : interval;
    if (first == last) beforeS = afterS = std::min(beforeS, afterS);  // it stands in the middle of its own
    const double fromS = part.t[first] - beforeS / 2, toS = part.t[last] + afterS / 2;
    readings.spans.add(fromS, toS, sum / count - room.during(fromS, toS), 1 / (1 / count + 1 / kMostCounted));
    first = last + 1;
  }
  readings.leastVariance = 1e-4 + stepK * stepK / 12;
  readings.noise = std::max(noiseVariance(readings.spans), readings.leastVariance);
  return readings;
}

}  // namespace

WarmUpReadings warmUpReadings(const SettlingQuestion& question, const RoomBelow& room) {
  const SeriesView part = viewOf(question.temperature, question.load);
  if (auto crossings = stepCrossings(part, question.stepK, room)) return std::move(*crossings);
  return spanMeans(question, part, room);
}

WarmUpReadings meanReadings(const SettlingQuestion& question, const RoomBelow& room) {
  return spanMeans(question, viewOf(question.temperature, question.load), room);
}

namespace {

constexpr double kMovingShare = 0.004;  // mean deviation of the power from its end that is worth a fit of its own
constexpr size_t kPiecesBefore = 120;

double inputAt(const SettlingQuestion& question, const Means& power, double endW, double fromS, double toS) {
  if (!question.power.empty()) return power.between(fromS, toS) / endW;
  double busyS = 0;
  for (const TimeSpan& span : question.busy)
    busyS += std::max(0.0, std::min(toS, span.endS) - std::max(fromS, span.startS));
  return toS > fromS ? std::clamp(busyS / (toS - fromS), 0.0, 1.0) : 1;
}

constexpr double kLeastStepShare = 0.03, kMostLeftOfSquares = 0.4;
constexpr size_t kFewestBesideAStep = 3;
constexpr double kLeastBehindAStep = 0.15;  // of the values: less is how a load that ends looks to a slow meter

// What lies behind the last lasting step: where two levels explain the values far better than one. All where there is
// none.
std::span<const double> behindAStep(std::span<const double> values) {
  const size_t n = values.size();
  double all = 0;
  for (const double value : values) all += value;
  const double mean = all / static_cast<double>(n);
  double squares = 0;
  for (const double value : values) squares += (value - mean) * (value - mean);
  size_t at = 0;
  double most = 0, step = 0, before = 0;
  for (size_t i = 1; i + kFewestBesideAStep <= n; ++i) {
    before += values[i - 1];
    if (i < kFewestBesideAStep) continue;
    const auto first = static_cast<double>(i), second = static_cast<double>(n - i);
    const double apart = (all - before) / second - before / first;
    const double explained = apart * apart * first * second / static_cast<double>(n);
    if (explained <= most) continue;
    most = explained;
    at = i;
    step = apart;
  }
  const bool lasts = static_cast<double>(n - at) >= kLeastBehindAStep * static_cast<double>(n);
  const bool isStep = lasts && squares - most < kMostLeftOfSquares * squares && std::abs(step) > kLeastStepShare * mean;
  return isStep ? values.subspan(at) : values;
}

// The power at the end of the load, pauses left out.
double endPower(const SettlingQuestion& question) {
  const TimeSpan last{question.load.endS - 0.2 * question.load.lengthS(), question.load.endS};
  const SeriesView part = viewOf(question.power, last);
  const double middle = medianOf({part.v.begin(), part.v.end()});
  std::vector<double> working;
  for (const double watts : part.v) {
    if (watts >= middle / 2) working.push_back(watts);
  }
  return working.empty() ? kMissing : meanOf(behindAStep(working));
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
  // Where nothing is known of the rest before, it was none: not what the load began with.
  if (firstS >= question.load.startS) before.emplace_back(0.0, 0.0);
  for (size_t k = 0; beforeS > 0 && k < kPiecesBefore; ++k) {
    const double length = beforeS / kPiecesBefore;
    const double fromS = firstS + length * static_cast<double>(k);
    before.emplace_back(length, inputAt(question, power, endW, fromS, fromS + length));
  }
  return StageInput::of(spans, std::move(before), std::move(inSpan), std::move(inGap));
}

}  // namespace ash
