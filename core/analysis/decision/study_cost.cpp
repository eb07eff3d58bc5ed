// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/decision/study_cost.h"

#include <boost/math/distributions/non_central_t.hpp>
#include <cmath>

#include "analysis/comparison/pooling.h"
#include "analysis/comparison/taking_part.h"

namespace ash {
namespace {

constexpr int kMostRepeats = 100;
constexpr double kFarthestInSd = 200;  // standard deviations

// Of equally many repeats each the reference is half of the variance of every difference.
Simultaneous against(int setups) { return {std::vector<double>(static_cast<size_t>(std::max(1, setups)), 0.5)}; }

}  // namespace

RepeatScatter scatterOf(const std::vector<RepeatGroup>& groups, const Figure& figure) {
  std::vector<Pooled> setups;
  RepeatScatter scatter;
  for (const RepeatGroup& group : groups) {
    std::vector<double> values;
    for (const AnalyzedRun* run : group) {
      if (!didComplete(*run) || leftOf(*run) != 0) continue;
      const MetricValues metrics = metricsOf(run->run, run->figures);
      if (const auto found = metrics.find(figure); found != metrics.end()) values.push_back(found->second.value);
    }
    if (values.size() < 2) continue;
    setups.push_back(pooledValues(values, std::vector<double>(values.size(), 0.0)));
    scatter.runs += static_cast<int>(values.size());
  }
  const CommonScatter common = commonScatter(setups, kMissing);
  scatter.sd = common.sd;
  scatter.degrees = common.degrees;
  return scatter;
}

double powerOf(double differenceInSd, int repeats, int setups) {
  if (repeats < 2) return 0;
  const double degrees = 2.0 * repeats - 2;
  const double point = simultaneousT(against(setups), degrees);
  const double away = differenceInSd / std::sqrt(2.0 / repeats);
  if (away > 35) return 1;  // beyond what the series of the distribution is good for
  const boost::math::non_central_t shifted(degrees, away);
  return boost::math::cdf(boost::math::complement(shifted, point)) + boost::math::cdf(shifted, -point);
}

int repeatsToTell(double difference, double sd, int setups, double power) {
  if (!(difference > 0) || !(sd >= 0)) return 0;
  for (int repeats = 2; repeats <= kMostRepeats; ++repeats) {
    if (sd == 0 || powerOf(difference / sd, repeats, setups) >= power) return repeats;
  }
  return 0;
}

double differenceTold(int repeats, double sd, int setups, double power) {
  if (repeats < 2 || !std::isfinite(sd)) return kMissing;
  double low = 0, high = kFarthestInSd;
  for (int i = 0; i < 60; ++i) {
    const double middle = (low + high) / 2;
    (powerOf(middle, repeats, setups) < power ? low : high) = middle;
  }
  return high * sd;
}

}  // namespace ash
