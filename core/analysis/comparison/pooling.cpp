// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/pooling.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

namespace ash {
namespace {

constexpr double kStatedDegrees = 8;
constexpr double kOddScatter = 0.99;

// A single run scatters like the repeats of the other.
void lend(Pooled& to, const Pooled& from) {
  if (to.n != 1 || !std::isfinite(from.sd) || std::isfinite(to.sd)) return;
  to.sd = from.sd;
  to.variance = std::max(to.variance, from.sd * from.sd);
  to.degrees = static_cast<double>(from.n) - 1;
}

}  // namespace

bool didComplete(const AnalyzedRun& run) {
  const auto& outcome = run.run.facts.outcome;
  return !outcome || ranWhole(*outcome) || outcome == Outcome::Running;
}

Pooled pooledValues(const std::vector<double>& values, const std::vector<double>& errors, double repeatability) {
  Pooled result;
  result.n = values.size();
  if (values.empty()) return result;
  double ownVariance = 0;
  for (const double error : errors) ownVariance += error * error;
  const auto n = static_cast<double>(values.size());
  result.mean = meanOf(values);
  if (values.size() == 1) {
    result.variance = ownVariance;
    if (std::isfinite(repeatability)) {
      result.sd = repeatability;
      result.variance = std::max(ownVariance, repeatability * repeatability);
    }
    return result;
  }
  double sum = 0;
  for (const double value : values) sum += (value - result.mean) * (value - result.mean);
  result.sd = std::sqrt(sum / (n - 1));
  const double between = result.sd * result.sd / n;
  result.variance = std::max(between, ownVariance / (n * n));
  result.degrees = between >= result.variance ? n - 1 : INFINITY;
  return result;
}

CommonScatter commonScatter(const std::vector<Pooled>& setups, double stated) {
  double squares = 0;
  CommonScatter common;
  const auto add = [&](double sd, double degrees) {
    if (!std::isfinite(sd) || !(degrees > 0)) return;
    squares += degrees * sd * sd;
    common.degrees += degrees;
  };
  add(stated, kStatedDegrees);
  for (const Pooled& setup : setups) {
    if (setup.n > 1) add(setup.sd, static_cast<double>(setup.n) - 1);
  }
  if (common.degrees > 0) common.sd = std::sqrt(squares / common.degrees);
  return common;
}

Pooled withCommonScatter(Pooled figure, const CommonScatter& common) {
  if (figure.n == 0 || !(common.sd > 0)) return figure;
  if (figure.n > 1) {
    const double own = static_cast<double>(figure.n) - 1, others = common.degrees - own;
    const double othersSquares = common.sd * common.sd * common.degrees - figure.sd * figure.sd * own;
    if (others > 0 && figure.sd * figure.sd > fisherF(own, others, kOddScatter) * othersSquares / others) return figure;
  }
  const double between = common.sd * common.sd / static_cast<double>(figure.n);
  const double ownVariance = std::isfinite(figure.degrees) ? 0 : figure.variance;  // what each run is known to
  figure.sd = common.sd;
  figure.variance = std::max(between, ownVariance);
  figure.degrees = between >= ownVariance ? common.degrees : INFINITY;
  figure.isCommon = true;
  return figure;
}

double halfWidth(const Pooled& figure) { return studentT95(figure.degrees) * std::sqrt(figure.variance); }

Pooled pooled(const Pool& pool, const MetricMaps& maps, const Figure& metric, double repeatability) {
  std::vector<double> values, errors;
  double accuracySe = 0, assumedSd = 0;
  std::string instrument;
  bool isEstimate = false;
  for (const AnalyzedRun* run : pool.runs) {
    const auto& metrics = maps.at(run);
    const auto found = metrics.find(metric);
    if (found == metrics.end()) continue;
    values.push_back(found->second.value);
    errors.push_back(found->second.se);
    accuracySe = std::max(accuracySe, found->second.accuracySe);
    assumedSd = found->second.assumedSd;
    isEstimate |= found->second.isEstimate;
    if (instrument.find(found->second.instrument) == std::string::npos)
      instrument += (instrument.empty() ? "" : ", ") + found->second.instrument;
  }
  Pooled result = pooledValues(values, errors, repeatability);
  result.accuracySe = accuracySe;
  result.assumedSd = assumedSd;
  result.instrument = std::move(instrument);
  result.isEstimate = isEstimate;
  return result;
}

Pooled withScatter(Pooled figure) {
  if (figure.n != 1 || std::isfinite(figure.sd) || !(figure.assumedSd > 0)) return figure;
  figure.sd = figure.assumedSd;
  figure.variance = std::max(figure.variance, figure.sd * figure.sd);
  figure.isAssumed = true;
  return figure;
}

Pooled withAccuracy(Pooled figure) {
  const double before = figure.variance;
  figure.variance += figure.accuracySe * figure.accuracySe;
  if (before > 0) figure.degrees *= figure.variance * figure.variance / (before * before);
  return figure;
}

Pooled differenceOf(Pooled a, Pooled reference) {
  lend(a, reference);
  lend(reference, a);
  a = withScatter(std::move(a));
  reference = withScatter(std::move(reference));
  Pooled difference{a.mean - reference.mean, a.variance + reference.variance, INFINITY, kMissing, 2};
  difference.isAssumed = a.isAssumed || reference.isAssumed;
  const double denominator =
      a.variance * a.variance / a.degrees + reference.variance * reference.variance / reference.degrees;
  if (denominator > 0) difference.degrees = difference.variance * difference.variance / denominator;
  if (a.isCommon && reference.isCommon) difference.degrees = std::min(a.degrees, reference.degrees);
  return difference;
}

double referenceShare(Pooled a, Pooled reference) {
  lend(a, reference);
  lend(reference, a);
  const double own = withScatter(std::move(a)).variance, others = withScatter(std::move(reference)).variance;
  return own + others > 0 ? others / (own + others) : 0;
}

DifferenceInterval differenceInterval(Pooled a, Pooled reference, const Simultaneous& comparisons) {
  const Pooled difference = differenceOf(std::move(a), std::move(reference));
  const double half = simultaneousT(comparisons, difference.degrees) * std::sqrt(difference.variance);
  return {difference.mean - half, difference.mean + half};
}

DifferenceInterval ratioInterval(const Pooled& a, const Pooled& reference, const Simultaneous& comparisons) {
  // The ratios R at which a − R·reference, with its own standard error, is not told from zero.
  Pooled scaled = reference;
  const double ratio = a.mean / reference.mean;
  scaled.mean *= ratio;
  scaled.variance *= ratio * ratio;
  if (std::isfinite(scaled.sd)) scaled.sd *= std::abs(ratio);
  scaled.assumedSd *= std::abs(ratio);
  const Pooled difference = differenceOf(a, scaled);
  const double t = simultaneousT(comparisons, difference.degrees), t2 = t * t;
  Pooled lentA = a, lentB = reference;
  lend(lentA, reference);
  lend(lentB, a);
  lentA = withScatter(std::move(lentA));
  lentB = withScatter(std::move(lentB));
  const double quadratic = lentB.mean * lentB.mean - t2 * lentB.variance;
  const double linear = lentA.mean * lentB.mean;
  const double constant = lentA.mean * lentA.mean - t2 * lentA.variance;
  const double root = linear * linear - quadratic * constant;
  if (!(quadratic > 0) || !(root >= 0)) return {};
  return {(linear - std::sqrt(root)) / quadratic, (linear + std::sqrt(root)) / quadratic};
}

std::string repeatsNeeded(const Pooled& own, const Pooled& others, double margin, const Simultaneous& comparisons) {
  const Pooled a = withScatter(own), reference = withScatter(others);
  const auto square = [](double x) { return std::isfinite(x) ? x * x : 0; };
  const int sides = int(std::isfinite(a.sd)) + int(std::isfinite(reference.sd));
  const double sd = sides == 0 ? kMissing : std::sqrt((square(a.sd) + square(reference.sd)) / sides);
  if (!std::isfinite(sd) || margin <= 0 || sd <= 0)
    return "Repeat each setup, so that the scatter between repeats is known.";
  // The half width t·sd·√(2/n) has to come below the margin.
  for (int n = 2; n <= 100; ++n) {
    if (simultaneousT(comparisons, 2.0 * n - 2) * sd * std::sqrt(2.0 / n) < margin)
      return fmt::format("{} repeats of each would do.", n);
  }
  return "More than 100 repeats of each would be needed.";
}

}  // namespace ash
