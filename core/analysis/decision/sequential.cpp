// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/decision/sequential.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <cmath>

#include "analysis/comparison/simultaneous.h"
#include "analysis/series/statistics.h"

namespace ash {
namespace {

constexpr int kCells = 300;           // of the grid between the two points; even, for Simpson's rule
constexpr double kFarthestPoint = 8;  // standard deviations: nothing is decided by a look that would need more
constexpr double kPrecision = 1e-7;   // of a point
constexpr double kSpent = 0.9;        // of the error, where Student's t is looked at several times
constexpr int kFirstLook = 2;         // repeats: one tells no scatter

double normalPoint(double share) { return boost::math::quantile(boost::math::normal(), share); }

double spentBy(double share, double error) {
  return 4 - 4 * normalShare(normalPoint(1 - error / 4) / std::sqrt(share));
}

/// What a Brownian motion that no look has ended can be at, by values on an even grid.
struct Density {
  std::vector<double> place, weight;  // weight: density times Simpson's factor
};

Density startAt(double) { return {{0.0}, {1.0}}; }

// That it is beyond ±limit a step later.
double beyond(const Density& before, double limit, double stepSd) {
  double sum = 0;
  for (size_t i = 0; i < before.place.size(); ++i) {
    sum += before.weight[i] *
           (normalShare((-limit - before.place[i]) / stepSd) + normalShare((before.place[i] - limit) / stepSd));
  }
  return sum;
}

Density within(const Density& before, double limit, double stepSd) {
  Density after;
  const double width = 2 * limit / kCells;
  for (int i = 0; i <= kCells; ++i) {
    const double place = -limit + i * width;
    double density = 0;
    for (size_t k = 0; k < before.place.size(); ++k) {
      const double z = (place - before.place[k]) / stepSd;
      density += before.weight[k] * std::exp(-z * z / 2);
    }
    const double factor = i == 0 || i == kCells ? 1 : i % 2 == 1 ? 4 : 2;
    after.place.push_back(place);
    after.weight.push_back(density / (stepSd * std::sqrt(2 * M_PI)) * factor * width / 3);
  }
  return after;
}

// The place beyond which it is with that chance.
double limitFor(const Density& before, double stepSd, double chance, double farthest) {
  double low = 0, high = farthest;
  if (beyond(before, high, stepSd) >= chance) return high;
  while (high - low > kPrecision) {
    const double middle = (low + high) / 2;
    (beyond(before, middle, stepSd) > chance ? low : high) = middle;
  }
  return (low + high) / 2;
}

}  // namespace

std::vector<double> sequentialPoints(const std::vector<double>& informationShares, double error) {
  std::vector<double> points;
  Density density = startAt(0);
  double last = 0, spent = 0;
  for (const double share : informationShares) {
    const double stepSd = std::sqrt(share - last);
    const double allowed = spentBy(share, error);
    const double limit = limitFor(density, stepSd, std::max(0.0, allowed - spent), kFarthestPoint * std::sqrt(share));
    points.push_back(limit / std::sqrt(share));
    density = within(density, limit, stepSd);
    last = share;
    spent = allowed;
  }
  return points;
}

double errorOfEach(int setups, double error) {
  const Simultaneous comparisons{std::vector<double>(static_cast<size_t>(std::max(1, setups)), 0.5), 0, 1 - error};
  return 2 - 2 * normalShare(simultaneousT(comparisons, INFINITY));
}

std::vector<double> confidenceByRounds(int mostRounds, double error) {
  mostRounds = std::max(mostRounds, kFirstLook);
  std::vector<double> shares;
  for (int round = kFirstLook; round <= mostRounds; ++round) shares.push_back(double(round) / mostRounds);
  const size_t looks = shares.size();
  std::vector<double> confidence;
  for (const double point : sequentialPoints(shares, looks > 1 ? kSpent * error : error))
    confidence.push_back(2 * normalShare(point) - 1);
  confidence.insert(confidence.begin(), kFirstLook, confidence.front());
  return confidence;
}

}  // namespace ash
