// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/chance.h"

#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>

#include "analysis/series/statistics.h"
#include "model/reading.h"

namespace ash {
namespace {

constexpr double kNearlyNormal = 1e6;

double halfTowards(const Believed& figure, double target) {
  return target < figure.value ? figure.value - figure.low : figure.high - figure.value;
}

}  // namespace

double chanceAbove(const Believed& figure, double target) {
  const double half = halfTowards(figure, target);
  if (!std::isfinite(figure.value) || !std::isfinite(half) || half < 0) return kMissing;
  if (half == 0) return figure.value > target ? 1 : figure.value < target ? 0 : 0.5;
  const double degrees = std::max(1.0, figure.degrees);
  const double away = (figure.value - target) / half * studentT95(degrees);
  if (degrees > kNearlyNormal) return boost::math::cdf(boost::math::normal(), away);
  return boost::math::cdf(boost::math::students_t(degrees), away);
}

std::optional<int> repeatsToDecide(const Believed& figure, double target, int repeats) {
  const double away = std::abs(figure.value - target), half = halfTowards(figure, target);
  constexpr int kMost = 1000;
  if (!std::isfinite(away) || !std::isfinite(half) || away >= half || repeats < 1) return std::nullopt;
  const double spread = half / studentT95(std::max(1.0, figure.degrees)) * std::sqrt(repeats);
  for (int n = std::max(2, repeats + 1); n <= kMost; ++n) {
    if (studentT95(n - 1) * spread / std::sqrt(n) < away) return n;
  }
  return std::nullopt;
}

}  // namespace ash
