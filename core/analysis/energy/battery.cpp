// SPDX-License-Identifier: GPL-3.0-or-later
// A battery that runs down under load.
#include <algorithm>
#include <cmath>

#include "analysis/energy/energy.h"

namespace ash {
namespace {

constexpr double kEmptyPercent = 5;       // below it a machine goes down when it likes
constexpr double kLeastDrainPercent = 2;  // less says nothing of a runtime

// What a gauge shows after it has reached zero says nothing of the drain.
SeriesView untilEmpty(const SeriesView& charge) {
  const auto zero = std::find_if(charge.v.begin(), charge.v.end(), [](double percent) { return percent <= 0; });
  const auto n = std::min(charge.size(), static_cast<size_t>(zero - charge.v.begin()) + 1);
  return {charge.t.first(n), charge.v.first(n)};
}

}  // namespace

std::optional<BatteryFigures> batteryOf(const RunContext& context) {
  const SeriesView* charge = context.find(roles::kBatteryCharge);
  if (charge == nullptr || !context.load) return std::nullopt;
  // A log that was cut off in its load ends with it: its last reading belongs to the load.
  const double lastS = context.run.log.timeS.back();
  const bool isCutOff = context.load->endS >= lastS;
  const SeriesView part =
      untilEmpty(viewOf(*charge, isCutOff ? TimeSpan{context.load->startS, INFINITY} : *context.load));
  if (part.size() < 3 || part.v.front() - part.v.back() < kLeastDrainPercent) return std::nullopt;
  const double middleS = meanOf(part.t), mean = meanOf(part.v);
  double xx = 0, xy = 0, left = 0;
  for (size_t i = 0; i < part.size(); ++i) {
    xx += (part.t[i] - middleS) * (part.t[i] - middleS);
    xy += (part.t[i] - middleS) * (part.v[i] - mean);
  }
  const double slope = xy / xx;
  if (!(slope < 0)) return std::nullopt;
  std::vector<double> residuals;
  for (size_t i = 0; i < part.size(); ++i) {
    residuals.push_back(part.v[i] - mean - slope * (part.t[i] - middleS));
    left += residuals.back() * residuals.back();
  }
  const auto n = static_cast<double>(part.size());
  const double together = autocorrelationTime(residuals);
  const double slopeSe = std::sqrt(left / std::max(1.0, n - 2) * together / xx);
  BatteryFigures figures;
  figures.drainPercentPerHour = -slope * 3600;
  figures.lastSampleS = lastS;
  const auto runtime = [&](double rate) { return part.v.front() / -rate; };
  const double half = studentT95(std::max(1.0, n / together - 2)) * slopeSe;
  figures.usedPercent = part.v.front() - part.v.back();
  figures.ranDown = part.v.back() <= 0 || (part.v.back() <= kEmptyPercent && isCutOff);
  figures.runtimeS = {runtime(slope), runtime(slope - half), slope + half < 0 ? runtime(slope + half) : INFINITY};
  // It ran down: no extrapolation, but the last sample before the end.
  if (figures.ranDown) {
    const double measuredS = part.t.back() - context.load->startS;
    figures.runtimeS = {measuredS, measuredS, measuredS + medianInterval(part.t)};
  }
  return figures;
}

}  // namespace ash
