// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/heat/contact.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/series/statistics.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kBeforeS = 10, kAfterS = 60;
constexpr size_t kFewestBefore = 4, kFewestAfter = 12;
constexpr double kSlowestS = 2.5;
constexpr double kLeastStepW = 3;
constexpr double kLeastStageK = 3;
constexpr double kMostSdShare = 0.06;
constexpr double kFastestS = 0.5, kSlowestFastS = 20, kNextFast = 1.15;
constexpr std::array kSlowS = {12.0, 18.0, 27.0, 40.0, 60.0, 90.0, 150.0, 300.0};
constexpr double kSlowOverFast = 3;  // nearer than that, two stages are one
constexpr double kFinestS = 0.25;    // readings that come more often are taken together
constexpr double kFinestPartS = 0.1;

/// The readings about one step of power.
struct PowerStep {
  Series temperature;
  SeriesView power;
  double stepC = 0;  // of the sensor
  double beforeW = 0;
  double stepW = 0;
};

double meanPowerIn(const SeriesView& series, const TimeSpan& span) { return meanOf(viewOf(series, span).v); }

// Means of neighbours, so many that they come no more often than needed.
Series inBins(const Series& series) {
  const double intervalS = medianInterval(series.t);
  const size_t each = intervalS > 0 ? std::max<size_t>(1, static_cast<size_t>(std::lround(kFinestS / intervalS))) : 1;
  Series means;
  for (size_t i = 0; i + each <= series.size(); i += each) {
    means.t.push_back(meanOf(std::span(series.t).subspan(i, each)));
    means.v.push_back(meanOf(std::span(series.v).subspan(i, each)));
  }
  return means;
}

std::optional<PowerStep> powerStepAt(const SeriesView& temperature, const SeriesView& power, double edgeS,
                                     const TimeSpan& free) {
  const TimeSpan before{std::max(free.startS, edgeS - kBeforeS), edgeS};
  const TimeSpan after{edgeS, std::min(free.endS, edgeS + kAfterS)};
  const Series about = slice(temperature, {before.startS, after.endS});
  const auto isEnough = [&](const SeriesView& of) {
    return viewOf(of, before).size() >= kFewestBefore && viewOf(of, after).size() >= kFewestAfter &&
           medianInterval(viewOf(of, after).t) <= kSlowestS;
  };
  if (!isEnough(about) || !isEnough(power)) return std::nullopt;
  PowerStep step{inBins(about), power, estimateStep(about.v), meanPowerIn(power, {before.startS, edgeS - 1}), 0};
  if (!std::isfinite(step.beforeW)) step.beforeW = meanPowerIn(power, before);
  step.stepW = std::abs(meanPowerIn(power, after) - step.beforeW);
  return step.stepW >= kLeastStepW ? std::optional(step) : std::nullopt;
}

// What a first-order lag of `tauS` makes of the power over what it was before, at the times of the temperatures.
Eigen::VectorXd laggedPower(const PowerStep& step, double tauS) {
  const auto& t = step.temperature.t;
  Eigen::VectorXd answers(static_cast<Eigen::Index>(t.size()));
  double answer = 0;
  for (size_t i = 0; i < t.size(); ++i) {
    if (i > 0) {
      const int parts = std::max(1, static_cast<int>(std::ceil((t[i] - t[i - 1]) / kFinestPartS)));
      const double partS = (t[i] - t[i - 1]) / parts, kept = std::exp(-partS / tauS);
      for (int part = 0; part < parts; ++part) {
        const double overW = interpolate(step.power, t[i - 1] + (part + 0.5) * partS) - step.beforeW;
        answer = kept * answer + (1 - kept) * overW;
      }
    }
    answers[static_cast<Eigen::Index>(i)] = answer;
  }
  return answers;
}

/// One pair of time constants held against the readings.
struct TwoLags {
  double fastS = 0, slowS = 0;
  double resistance = kMissing;  // K/W
  double variance = kMissing;    // of it, for readings whose variance is 1
  double squares = INFINITY;
  Eigen::VectorXd rest;
};

// The resistance between the first mass and the second of a chain whose answer is two lags side by side, a K/W in
// `fastS` and b K/W in `slowS` (Foster form turned into Cauer form: the continued fraction of its impedance).
double firstOfChain(double a, double fastS, double b, double slowS) {
  const double lowest = a + b, highest = a * slowS + b * fastS;
  const double firstMass = fastS * slowS / highest;
  const double left = fastS + slowS - firstMass * lowest;
  return highest > 0 && left > 0 ? highest / left : kMissing;
}

TwoLags twoLagsOf(const Eigen::VectorXd& temperature, const Eigen::VectorXd& fast, const Eigen::VectorXd& slow,
                  double fastS, double slowS) {
  Eigen::MatrixX3d answers(temperature.size(), 3);
  answers << Eigen::VectorXd::Ones(temperature.size()), fast, slow;
  const Eigen::Matrix3d inverse = (answers.transpose() * answers).inverse();
  const Eigen::Vector3d found = inverse * (answers.transpose() * temperature);
  TwoLags fit{fastS,    slowS,    firstOfChain(found[1], fastS, found[2], slowS),
              kMissing, INFINITY, temperature - answers * found};
  fit.squares = fit.rest.squaredNorm();
  const double nudge = 1e-4 * std::abs(found[1]);
  const Eigen::Vector2d slope{(firstOfChain(found[1] + nudge, fastS, found[2], slowS) - fit.resistance) / nudge,
                              (firstOfChain(found[1], fastS, found[2] + nudge, slowS) - fit.resistance) / nudge};
  fit.variance = slope.dot(inverse.bottomRightCorner<2, 2>() * slope);
  return fit;
}

// Every pair of time constants, weighed by how likely it makes the readings.
Spread firstResistanceOf(const PowerStep& step) {
  const auto n = static_cast<Eigen::Index>(step.temperature.size());
  const Eigen::VectorXd temperature = Eigen::Map<const Eigen::VectorXd>(step.temperature.v.data(), n);
  std::array<Eigen::VectorXd, kSlowS.size()> slow;
  for (size_t i = 0; i < kSlowS.size(); ++i) slow[i] = laggedPower(step, kSlowS[i]);
  std::vector<TwoLags> fits;
  for (double fastS = kFastestS; fastS < kSlowestFastS; fastS *= kNextFast) {
    const Eigen::VectorXd fast = laggedPower(step, fastS);
    for (size_t i = 0; i < kSlowS.size(); ++i) {
      if (kSlowS[i] > kSlowOverFast * fastS) fits.push_back(twoLagsOf(temperature, fast, slow[i], fastS, kSlowS[i]));
    }
  }
  const TwoLags& best = *std::min_element(
      fits.begin(), fits.end(), [](const TwoLags& one, const TwoLags& other) { return one.squares < other.squares; });
  if (best.fastS * kNextFast >= kSlowestFastS || !std::isfinite(best.variance))
    return {};  // no fast stage: nothing runs ahead of a mass
  // Readings that hang together count for fewer.
  const double together = autocorrelationTime({best.rest.data(), static_cast<size_t>(n)});
  const double variance = std::max(best.squares / static_cast<double>(n - 4), step.stepC * step.stepC / 12 + 1e-6) *
                          std::max(1.0, together);
  double weights = 0, mean = 0, square = 0;
  for (const TwoLags& fit : fits) {
    if (!std::isfinite(fit.variance)) continue;
    const double weight = std::exp(-(fit.squares - best.squares) / (2 * variance));
    weights += weight;
    mean += weight * fit.resistance;
    square += weight * (fit.resistance * fit.resistance + fit.variance * variance);
  }
  mean /= weights;
  const Spread spread{mean, std::sqrt(std::max(0.0, square / weights - mean * mean))};
  const bool isTold = mean * step.stepW >= kLeastStageK && spread.sd <= kMostSdShare * mean;
  return isTold ? spread : Spread{};
}

}  // namespace

Spread contactOf(const RunLog& run, const Device& device, const std::vector<TimeSpan>& loads) {
  const Channel* temperature = run.log.find(Role(device, Quantity::Temperature).text());
  const Channel* power = run.log.find(Role(device, Quantity::Power).text());
  if (temperature == nullptr || power == nullptr || run.log.timeS.empty()) return {};
  const Series celsius = seriesOf(run.log, *temperature), watts = seriesOf(run.log, *power);
  Spread all;
  std::vector<double> edges = {run.log.timeS.front()};
  for (const TimeSpan& load : loads) edges.insert(edges.end(), {load.startS, load.endS});
  edges.push_back(std::nextafter(run.log.timeS.back(), INFINITY));
  for (size_t i = 1; i + 1 < edges.size(); ++i) {
    const auto step = powerStepAt(celsius, watts, edges[i], {edges[i - 1], edges[i + 1]});
    if (!step) continue;
    if (const Spread told = firstResistanceOf(*step); told.sd > 0) all = all.sd > 0 ? together(all, told) : told;
  }
  return all;
}

}  // namespace ash
