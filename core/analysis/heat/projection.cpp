// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/heat/projection.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "analysis/heat/operating_point.h"
#include "analysis/series/statistics.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr int kDraws = 4000;
constexpr double kFarthestFan = 4;
// The way of the heat is not quite straight: conduction and air change with temperature.
constexpr double kPowerShare = 0.02;  // of the rise, per e-fold of power
constexpr double kRoomShare = 0.01;   // K per kelvin of another room
// Air under a fan takes heat with speed to the power of a half (laminar, Pohlhausen 1921) to 0.8 (turbulent, Dittus and
// Boelter 1930); that is a part of the way only.
constexpr double kFanExponentLow = 0.5, kFanExponentHigh = 0.8;
constexpr double kFanPartLow = 0.3, kFanPartHigh = 0.85;     // of the way
constexpr double kStillLow = 0.05, kStillHigh = 0.4;         // of what that part carries, without a fan
constexpr double kGovernorBelowK = 1.5;                      // at most, that a governor holds below its limit
constexpr double kLeastSlope = 0.7;                          // of the resistance: what neighbours may add to a rise
constexpr double kLeakScaleLowK = 30, kLeakScaleHighK = 60;  // for e-fold leakage
constexpr double kLeastWork = 0.01;                          // of the power of the work
constexpr double kClockShare = 0.08;   // of the clock, per e-fold of power: the exponent is none of a constant
constexpr double kOwnClock = 0.003;    // of the clock: how steadily a governor holds it
constexpr double kLeastChance = 0.01;  // to tell what it would hold

/// Everything that is uncertain, drawn once.
struct Drawn {
  double overRoomK, slope, fanFactor, leakPerKelvinW, leakScaleK, exponent, rooms, powers, clocks, belowLimitK;
};

class Draws {
 public:
  Draws(const OperatingPoint& point, std::optional<double> fanRatio) : m_point(point), m_fanRatio(fanRatio) {}

  Drawn next() {
    Drawn one{};
    one.overRoomK = std::max(0.1, normal(m_point.overRoomK));
    const double resistance = one.overRoomK / m_point.powerW;
    one.slope = resistance * from(leastSlope(resistance), 1);
    one.fanFactor = fanFactor();
    one.leakPerKelvinW = std::max(0.0, normal(m_point.leakPerKelvinW));
    one.leakScaleK = from(kLeakScaleLowK, kLeakScaleHighK);
    one.exponent = std::clamp(normal(m_point.clockExponent), 1.0, 3.5);
    one.rooms = m_normal(m_random);
    one.powers = m_normal(m_random);
    one.clocks = m_normal(m_random);
    one.belowLimitK = m_point.isHeatHeld ? 0 : from(0, kGovernorBelowK);
    return one;
  }

 private:
  double normal(const Spread& spread) { return spread.mean + spread.sd * m_normal(m_random); }
  double from(double low, double high) { return low + (high - low) * m_uniform(m_random); }

  // A device that is warm at rest with little power has its neighbours to thank for it: more watts add less than R
  // each.
  double leastSlope(double resistance) const {
    const double watts = m_point.powerW - m_point.restPowerW;
    if (!std::isfinite(m_point.restOverRoomK) || !(watts > 0)) return 1;
    const double slope = (m_point.overRoomK.mean - m_point.restOverRoomK) / watts;
    return std::clamp(slope / resistance, kLeastSlope, 1.0);
  }

  double fanFactor() {
    const double part = from(kFanPartLow, kFanPartHigh), still = from(kStillLow, kStillHigh);
    const double exponent = from(kFanExponentLow, kFanExponentHigh);
    if (!m_fanRatio) return 1;
    return 1 - part + part / (still + (1 - still) * std::pow(*m_fanRatio, exponent));
  }

  const OperatingPoint& m_point;
  std::optional<double> m_fanRatio;
  std::mt19937_64 m_random{1};
  std::normal_distribution<double> m_normal;
  std::uniform_real_distribution<double> m_uniform;
};

/// Where it would end: unheld, and at its limit.
struct End {
  double celsius = kMissing, watts = kMissing;
};

double lnRatio(double watts, double own) { return std::log(std::max(watts / own, kLeastWork)); }

/// Settled with nothing held back by heat. Leakage warms, and what is warmer leaks more: solved for both at once.
End freeEnd(const OperatingPoint& point, const Drawn& drawn, double roomC, std::optional<double> askedW) {
  constexpr int kMostSteps = 60;
  constexpr double kHottestC = 150, kCloseK = 1e-3;
  const double slope = drawn.fanFactor * drawn.slope;
  const double atNone = roomC + drawn.fanFactor * (drawn.overRoomK - drawn.slope * point.powerW);
  const double ownC = point.roomC + drawn.overRoomK;
  const auto wattsAt = [&](double celsius) {
    if (askedW) return *askedW;
    if (point.isPowerHeld) return *point.powerLimitW;
    const double fromC = point.isHeatHeld ? point.wantedAtC : ownC;
    const double watts = point.wantedW + drawn.leakPerKelvinW * (leakGrowth(ownC, celsius, drawn.leakScaleK) -
                                                                 leakGrowth(ownC, fromC, drawn.leakScaleK));
    return point.powerLimitW ? std::min(watts, *point.powerLimitW) : watts;
  };
  End end{ownC, kMissing};
  for (int i = 0; i < kMostSteps; ++i) {
    const double before = end.celsius;
    end.watts = wattsAt(before);
    end.celsius = std::min(atNone + slope * end.watts, std::max(kHottestC, ownC));
    if (std::abs(end.celsius - before) < kCloseK) break;
  }
  const double riseK = end.celsius - roomC;
  end.celsius += drawn.powers * kPowerShare * riseK * std::abs(lnRatio(end.watts, point.powerW)) +
                 drawn.rooms * kRoomShare * std::abs(roomC - point.roomC);
  return end;
}

/// What it can carry off at its limit.
End heldEnd(const OperatingPoint& point, const Drawn& drawn, double roomC, double limitC) {
  End end;
  end.celsius = point.isHeatHeld ? point.roomC + drawn.overRoomK : limitC - drawn.belowLimitK;
  const double overK = end.celsius - roomC - drawn.rooms * kRoomShare * std::abs(roomC - point.roomC);
  end.watts = point.powerW + (overK / drawn.fanFactor - drawn.overRoomK) / drawn.slope;
  const double error = drawn.powers * kPowerShare * std::abs(lnRatio(end.watts, point.powerW));
  end.watts = std::max(0.0, end.watts * (1 - error));
  return end;
}

double clockAt(const OperatingPoint& point, const Drawn& drawn, const End& end) {
  const double leakW = drawn.leakPerKelvinW * leakGrowth(point.roomC + drawn.overRoomK, end.celsius, drawn.leakScaleK);
  const double own = std::max(point.powerW - point.staticW, kLeastWork * point.powerW);
  const double ln = lnRatio(end.watts - point.staticW - leakW, own);
  const double mhz =
      point.clockMhz * std::exp(ln / drawn.exponent + drawn.clocks * std::hypot(kOwnClock, kClockShare * ln));
  const bool isMostKnown = !point.isPowerHeld && std::isfinite(point.wantedMhz);
  const double most = isMostKnown ? std::max(point.wantedMhz, point.clockMhz) : mhz;
  return std::max(std::min(mhz, most), std::min(point.restMhz, point.clockMhz));
}

Estimate middleOf(std::vector<double>& values) {
  std::sort(values.begin(), values.end());
  return {quantileOfSorted(values, 0.5), quantileOfSorted(values, 0.025), quantileOfSorted(values, 0.975)};
}

/// What all draws came to.
struct Ends {
  std::vector<double> freeC, freeW, heldW, heldMhz;
};

Ends drawEnds(const OperatingPoint& point, Draws draws, const Projection& asked, std::optional<double> powerW) {
  Ends ends;
  for (int i = 0; i < kDraws; ++i) {
    const Drawn drawn = draws.next();
    const End free = freeEnd(point, drawn, asked.roomC, powerW);
    ends.freeC.push_back(free.celsius);
    ends.freeW.push_back(free.watts);
    if (!asked.limitC || free.celsius <= *asked.limitC) continue;
    const End held = heldEnd(point, drawn, asked.roomC, *asked.limitC);
    ends.heldW.push_back(held.watts);
    if (std::isfinite(point.clockMhz)) ends.heldMhz.push_back(clockAt(point, drawn, held));
  }
  return ends;
}

Projection projectDevice(const RunLog& run, const Figures& figures, const Heat& heat,
                         const ProjectionQuestion& question) {
  const OperatingPoint point = operatingPointOf(run, figures, heat);
  Projection projection;
  projection.device = heat.device;
  projection.fanRpm = question.fanRpm ? question.fanRpm : heat.fanRpm;
  projection.roomC = question.roomC.value_or(point.roomC);
  projection.limitC = run.facts.limit(Role(heat.device, Quantity::Temperature).text(), "throttle");
  std::optional<double> ratio;
  if (question.fanRpm) ratio = *question.fanRpm / *heat.fanRpm;
  Ends ends = drawEnds(point, Draws(point, ratio), projection, question.powerW);
  projection.temperatureC = middleOf(ends.freeC);
  projection.powerW = question.powerW.value_or(middleOf(ends.freeW).value);
  if (!projection.limitC) return projection;
  projection.throttleChance = static_cast<double>(ends.heldW.size()) / kDraws;
  if (*projection.throttleChance < kLeastChance) return projection;
  projection.heldPowerW = middleOf(ends.heldW);
  if (!ends.heldMhz.empty()) projection.heldMhz = middleOf(ends.heldMhz);
  return projection;
}

}  // namespace

bool isFanSpeedNear(double ownRpm, double rpm) {
  return ownRpm > 0 && rpm * kFarthestFan >= ownRpm && rpm <= kFarthestFan * ownRpm;
}

std::vector<Projection> projectRun(const RunLog& run, const Figures& figures, const ProjectionQuestion& question) {
  std::vector<Projection> all;
  for (const Heat& heat : figures.heat) {
    const ChannelFigures* temperature = figures.channel(Role(heat.device, Quantity::Temperature).text());
    if (!heat.resistance || !heat.powerW || temperature == nullptr || !temperature->overAmbientK) continue;
    if (question.fanRpm && !(heat.fanRpm && isFanSpeedNear(*heat.fanRpm, *question.fanRpm))) continue;
    all.push_back(projectDevice(run, figures, heat, question));
  }
  return all;
}

}  // namespace ash
