// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/heat/projection.h"

#include <cmath>

#include "analysis/series/statistics.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kCoverage = 1.96;
// Resistance is not quite constant: leakage makes a hotter chip draw more, warmer air carries heat away better. A tenth
// of a percent of the rise per percent of other power, and as much per kelvin of another room.
constexpr double kPowerShare = 0.1;
constexpr double kRoomShare = 0.02;

/// Settled kelvin per watt: of the window where it had settled, else of the forecast.
Estimate settledResistance(const Heat& heat, const ChannelFigures* temperature) {
  Estimate r = *heat.resistance;
  if (temperature == nullptr || !temperature->settled || !temperature->overAmbientK) return r;
  const SettlingVerdict& verdict = *temperature->settled;
  if (verdict.isSettled || verdict.isGoverned || !std::isfinite(verdict.forecast) || !(temperature->window.n > 0))
    return r;
  const double roomC = temperature->window.mean - *temperature->overAmbientK;
  r.value = (verdict.forecast - roomC) / *heat.powerW;
  r.low = std::min(r.low, (verdict.forecastLow - roomC) / *heat.powerW);
  r.high = (verdict.forecastHigh - roomC) / *heat.powerW;
  return r;
}

}  // namespace

std::vector<Projection> projectRun(const RunLog& run, const Figures& figures, const ProjectionQuestion& question) {
  std::vector<Projection> all;
  for (const Heat& heat : figures.heat) {
    const ChannelFigures* temperature = figures.channel(Role(heat.device, Quantity::Temperature).text());
    if (!heat.resistance || !heat.powerW || temperature == nullptr || !temperature->overAmbientK) continue;
    Projection projection;
    projection.device = heat.device;
    projection.fanRpm = heat.fanRpm;
    const double ownRoomC = temperature->window.mean - *temperature->overAmbientK;
    projection.roomC = question.roomC.value_or(ownRoomC);
    projection.powerW = question.powerW.value_or(heat.wantedPowerW.value_or(*heat.powerW));
    const Estimate r = settledResistance(heat, temperature);
    const double riseK = r.value * projection.powerW;
    const double farPower = std::abs(projection.powerW / *heat.powerW - 1);
    const double farRoomK = std::abs(projection.roomC - ownRoomC);
    const double model = std::hypot(kPowerShare * farPower * riseK, kRoomShare * farRoomK);
    const auto half = [&](double far) {
      return std::hypot(std::abs(far - r.value) * projection.powerW, kCoverage * model);
    };
    const double middle = projection.roomC + riseK;
    projection.temperatureC = {middle, middle - half(r.low), middle + half(r.high)};
    projection.limitC = run.facts.limit(Role(heat.device, Quantity::Temperature).text(), "throttle");
    if (projection.limitC) {
      const double over = middle - *projection.limitC;
      const double u = (over < 0 ? half(r.high) : half(r.low)) / kCoverage;
      projection.throttleChance = u > 0 ? normalShare(over / u) : over >= 0;
    }
    all.push_back(projection);
  }
  return all;
}

}  // namespace ash
