// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/simultaneous.h"

#include <algorithm>
#include <boost/math/quadrature/gauss.hpp>
#include <cmath>

#include "analysis/series/statistics.h"

namespace ash {
namespace {

constexpr double kFarZ = 6;            // a standard normal is there in 2 of 1e9 cases
constexpr double kFarScatter = 6;      // standard deviations of the estimate of the scatter
constexpr double kSmallScatter = 0.3;  // times the true one
constexpr double kAsNormal = 2000;     // degrees of freedom that are no longer told from infinity
constexpr double kMostShare = 0.97;    // beyond it the rule is too coarse; a little too wide is no harm
constexpr int kMostSteps = 40;
constexpr double kNear = 1e-7;

using Rule = boost::math::quadrature::gauss<double, 15>;

/// What the comparisons come to, alike ones counted together.
struct Shared {
  double slope = 0, width = 1;  // √share and √(1 − share)
  double count = 1;
};

std::vector<Shared> sharedOf(const Simultaneous& comparisons) {
  std::vector<double> shares;
  for (const double share : comparisons.referenceShares) shares.push_back(std::clamp(share, 0.0, kMostShare));
  std::sort(shares.begin(), shares.end());
  std::vector<Shared> all;
  double last = -1;
  for (const double share : shares) {
    if (share - last < 1e-9) {
      all.back().count += 1;
      continue;
    }
    last = share;
    all.push_back({std::sqrt(share), std::sqrt(1 - share), 1});
  }
  if (comparisons.beside > 0) all.push_back({0, 1, static_cast<double>(comparisons.beside)});
  return all;
}

// That all of them lie within ±limit, where the scatter is known.
double shareWithin(const std::vector<Shared>& all, double limit) {
  const auto at = [&](double z) {
    double product = std::exp(-z * z / 2);
    for (const Shared& one : all) {
      const double within =
          normalShare((one.slope * z + limit) / one.width) - normalShare((one.slope * z - limit) / one.width);
      product *= one.count == 1 ? within : std::pow(within, one.count);
    }
    return product;
  };
  // Even in z, so that half of it is enough.
  return 2 * boost::math::quadrature::gauss<double, 20>::integrate(at, 0.0, kFarZ) / std::sqrt(2 * M_PI);
}

// The same, averaged over what the estimate of the scatter can be: s = χ/√ν.
double shareWithinT(const std::vector<Shared>& all, double limit, double degrees) {
  if (degrees > kAsNormal) return shareWithin(all, limit);
  const double logNorm = std::log(2) + degrees / 2 * std::log(degrees / 2) - std::lgamma(degrees / 2);
  const auto at = [&](double s) {
    const double density = std::exp(logNorm + (degrees - 1) * std::log(s) - degrees * s * s / 2);
    return density < 1e-12 ? 0.0 : density * shareWithin(all, limit * s);
  };
  const double sd = 1 / std::sqrt(2 * degrees);
  const double from = std::max(1e-9, 1 - kFarScatter * sd), to = 1 + kFarScatter * sd;
  // Of few degrees of freedom the small estimates count, where the limit moves fast.
  const double parting = std::max(from, kSmallScatter);
  return Rule::integrate(at, from, parting) + Rule::integrate(at, parting, to);
}

}  // namespace

Simultaneous independent(size_t count) { return {{}, std::max<size_t>(1, count), 0.95}; }

double simultaneousT(const Simultaneous& comparisons, double degrees) {
  const double confidence = comparisons.confidence;
  const auto count = static_cast<double>(std::max<size_t>(1, comparisons.count()));
  const double apart = studentT(degrees, std::pow(confidence, 1 / count));  // enough for any that share something
  if (comparisons.referenceShares.size() < 2) return apart;
  const std::vector<Shared> all = sharedOf(comparisons);
  degrees = std::max(1.0, degrees);
  double low = studentT(degrees, confidence), high = apart;
  // The share within rises smoothly with the limit: false position between two points that enclose it.
  double below = shareWithinT(all, low, degrees) - confidence, above = shareWithinT(all, high, degrees) - confidence;
  if (below >= 0) return low;
  if (above <= 0) return high;
  for (int i = 0; i < kMostSteps && high - low > kNear * high; ++i) {
    const double middle = low + (high - low) * std::clamp(-below / (above - below), 0.01, 0.99);
    const double there = shareWithinT(all, middle, degrees) - confidence;
    if (std::abs(there) < kNear) return middle;
    (there < 0 ? low : high) = middle;
    (there < 0 ? below : above) = there;
  }
  return (low + high) / 2;
}

}  // namespace ash
