// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/drawing/ticks.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ash {
namespace {

std::vector<double> ticksBy(double step, double low, double high) {
  std::vector<double> ticks;
  constexpr size_t kMost = 200;
  for (double tick = std::ceil(low / step) * step; tick <= high + step * 1e-9 && ticks.size() < kMost; tick += step)
    ticks.push_back(tick);
  return ticks;
}

}  // namespace

std::vector<double> niceTicks(double low, double high, int count) {
  const double raw = (high - low) / std::max(1, count);
  if (!(raw > 0) || !std::isfinite(raw)) return {};
  const double power = std::pow(10, std::floor(std::log10(raw)));
  double step = 10 * power;
  for (const double nice : {1.0, 2.0, 5.0}) {
    if (nice * power >= raw) {
      step = nice * power;
      break;
    }
  }
  return ticksBy(step, low, high);
}

std::vector<double> minuteTicks(double low, double high, int count) {
  constexpr std::array kRound = {0.25, 0.5, 1.0, 2.0, 5.0, 10.0, 15.0, 30.0, 60.0, 120.0, 240.0, 480.0, 720.0, 1440.0};
  const double raw = (high - low) / std::max(1, count);
  if (!(raw > 0) || !std::isfinite(raw)) return {};
  const auto found = std::find_if(kRound.begin(), kRound.end(), [&](double step) { return step >= raw; });
  if (raw < kRound.front() || found == kRound.end()) return niceTicks(low, high, count);
  return ticksBy(*found, low, high);
}

std::vector<double> logTicks(double low, double high) {
  std::vector<double> ticks;
  if (!(low > 0) || !(high > low) || !std::isfinite(high)) return ticks;
  for (double decade = std::pow(10, std::floor(std::log10(low))); decade <= high; decade *= 10) {
    for (const double part : {1.0, 2.0, 5.0}) {
      if (const double tick = decade * part; tick >= low * (1 - 1e-9) && tick <= high * (1 + 1e-9))
        ticks.push_back(tick);
    }
  }
  return ticks;
}

int digitsOfTicks(const std::vector<double>& ticks) {
  if (ticks.size() < 2) return 1;
  constexpr int kMost = 6;
  const double step = ticks[1] - ticks[0];
  int digits = 0;
  while (digits < kMost && step < 0.999 * std::pow(10, -digits)) ++digits;
  return digits;
}

}  // namespace ash
