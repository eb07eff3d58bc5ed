// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/heat/operating_point.h"

#include <algorithm>
#include <cmath>

#include "model/role.h"

namespace ash {
namespace {

constexpr double kCoverage = 1.96;
// Before anything is known of the device, as shares of its power per kelvin and as an exponent: a fiftieth to a third
// of a processor's power is leakage, which doubles every 20 to 40 K; P ~ f·V² with V rising straight with f.
constexpr Spread kLeakShare{0.0025, 0.0015};
constexpr Spread kExponent{2.2, 0.4};
// Readings follow each other too closely to count one by one.
constexpr double kReadingCounts = 0.1;
constexpr double kLeakScaleK = 45;  // K for e-fold
constexpr double kSameClock = 0.01;
constexpr double kLeastClockSd = 0.015;  // of its logarithm
constexpr double kCurvedSd = 0.2;        // of the exponent: no voltage curve is a power
constexpr double kSettledStartS = 10;    // of a load: its start
constexpr double kMostStatic = 0.8;      // of its power
constexpr double kLimitWithin = 0.02;    // of a power limit: it is what holds

const Throttling* throttlingOf(const Figures& figures, const Device& device) {
  for (const Throttling& one : figures.throttling) {
    if (one.device == device) return &one;
  }
  return nullptr;
}

bool isHeldBy(const Throttling* throttling, Cause cause, const TimeSpan& span) {
  if (throttling == nullptr) return false;
  return std::any_of(throttling->intervals.begin(), throttling->intervals.end(), [&](const ThrottleInterval& held) {
    return held.cause == cause && held.span.startS < span.endS && held.span.endS > span.startS;
  });
}

/// Readings of one device under load, at the moments at which all of them were taken.
struct WorkReadings {
  std::vector<double> t, watts, celsius, mhz;
};

WorkReadings workReadings(const RunLog& run, const Device& device, const TimeSpan& load) {
  const auto values = [&](Quantity quantity) {
    const Channel* channel = run.log.find(Role(device, quantity).text());
    return channel != nullptr ? &channel->values : nullptr;
  };
  const auto* watts = values(Quantity::Power);
  const auto* celsius = values(Quantity::Temperature);
  const auto* mhz = values(Quantity::Clock);
  WorkReadings readings;
  if (watts == nullptr || celsius == nullptr) return readings;
  for (size_t i = 0; i < run.log.timeS.size(); ++i) {
    const double t = run.log.timeS[i];
    if (t < load.startS + kSettledStartS || t >= load.endS) continue;
    if (!std::isfinite((*watts)[i]) || !std::isfinite((*celsius)[i])) continue;
    if (mhz != nullptr && !std::isfinite((*mhz)[i])) continue;
    readings.t.push_back(t);
    readings.watts.push_back((*watts)[i]);
    readings.celsius.push_back((*celsius)[i]);
    if (mhz != nullptr) readings.mhz.push_back((*mhz)[i]);
  }
  return readings;
}

// Leakage: where clock and load stand still, only temperature moves the power. A power that stands still without a
// clock to look at is one that a limit keeps, or of no leakage: either way it stays.
Spread leakageOf(const WorkReadings& readings, const OperatingPoint& point) {
  const double scale = std::isfinite(point.wantedW) ? point.wantedW : point.powerW;
  const Spread before{kLeakShare.mean * scale, kLeakShare.sd * scale};
  const bool knowsClock = !readings.mhz.empty() && std::isfinite(point.wantedMhz);
  if (point.isPowerHeld || (!knowsClock && point.isHeatHeld)) return before;
  const double endC = point.roomC + point.overRoomK.mean;
  std::vector<double> growth, watts;
  for (size_t i = 0; i < readings.t.size(); ++i) {
    if (knowsClock && std::abs(readings.mhz[i] / point.wantedMhz - 1) > kSameClock) continue;
    growth.push_back(leakGrowth(endC, readings.celsius[i], kLeakScaleK));
    watts.push_back(readings.watts[i]);
  }
  const Spread seen = slopeOf(growth, watts, kReadingCounts);
  return std::isfinite(seen.mean) ? together(before, seen) : before;
}

double sdOf(const std::vector<double>& values) {
  if (values.size() < 2) return 0;
  const double mean = meanOf(values);
  return std::sqrt(sumOf(values, [&](double v) { return (v - mean) * (v - mean); }) / double(values.size() - 1));
}

// The clock at several powers, where the run had some: a boost before its limit, a clock that heat pulled down.
Spread exponentOf(const WorkReadings& readings, const OperatingPoint& point) {
  if (readings.mhz.empty()) return kExponent;
  std::vector<double> lnMhz, lnWatts;
  for (size_t i = 0; i < readings.t.size(); ++i) {
    const double leakW =
        point.leakPerKelvinW.mean * leakGrowth(point.roomC + point.overRoomK.mean, readings.celsius[i], kLeakScaleK);
    const double watts = readings.watts[i] - point.staticW - leakW;
    if (watts <= 0 || readings.mhz[i] <= 0) continue;
    lnMhz.push_back(std::log(readings.mhz[i]));
    lnWatts.push_back(std::log(watts));
  }
  // A clock that hardly moved says nothing: its noise would flatten the slope.
  if (sdOf(lnMhz) < kLeastClockSd) return kExponent;
  Spread seen = slopeOf(lnMhz, lnWatts, kReadingCounts);
  if (!std::isfinite(seen.mean)) return kExponent;
  seen.sd = std::hypot(seen.sd, kCurvedSd);
  return together(kExponent, seen);
}

// Over room where the window, or where it had not settled its forecast, says the temperature ends.
Spread endOverRoom(const ChannelFigures& temperature, const Heat& heat, double roomC) {
  const double ownSd = (heat.resistance->value - heat.resistance->low) / kCoverage * *heat.powerW;
  const Spread asMeasured{*temperature.overAmbientK, ownSd};
  if (!temperature.settled) return asMeasured;
  const SettlingVerdict& verdict = *temperature.settled;
  if (verdict.isSettled || verdict.isGoverned || !std::isfinite(verdict.forecast)) return asMeasured;
  const double forecastSd = (verdict.forecastHigh - verdict.forecastLow) / 2 / kCoverage;
  return {verdict.forecast - roomC, std::hypot(forecastSd, ownSd)};
}

double meanOver(const WorkReadings& readings, const std::vector<double>& values, const TimeSpan& span) {
  double sum = 0;
  size_t count = 0;
  for (size_t i = 0; i < values.size(); ++i) {
    if (!span.contains(readings.t[i])) continue;
    sum += values[i];
    ++count;
  }
  return count > 0 ? sum / static_cast<double>(count) : kMissing;
}

// What it draws, and how fast it runs, while heat does not hold it.
void tellWanted(const WorkReadings& readings, const Throttling* throttling, const TimeSpan& load, const Heat& heat,
                OperatingPoint& point) {
  point.wantedW = heat.wantedPowerW.value_or(*heat.powerW);
  point.wantedAtC = point.roomC + point.overRoomK.mean;
  point.wantedMhz = point.clockMhz;
  if (!point.isHeatHeld || throttling == nullptr) return;
  if (std::isfinite(throttling->referenceMhz)) point.wantedMhz = throttling->referenceMhz;
  const double before =
      meanOver(readings, readings.celsius, {load.startS, load.startS + throttling->timeToLimitS.value_or(0)});
  if (std::isfinite(before)) point.wantedAtC = before;
  if (point.powerLimitW && point.wantedW >= *point.powerLimitW * (1 - kLimitWithin)) {
    point.isPowerHeld = true;
    point.wantedW = *point.powerLimitW;
  }
}

}  // namespace

double leakGrowth(double fromC, double toC, double scaleK) {
  constexpr double kHottestC = 150;  // nothing is alive beyond
  return scaleK * (std::exp((std::min(toC, kHottestC) - fromC) / scaleK) - 1);
}

Spread slopeOf(std::span<const double> x, std::span<const double> y, double weight) {
  constexpr size_t kFewest = 30;
  const size_t n = x.size();
  if (n < kFewest) return {};
  const double meanX = meanOf(x), meanY = meanOf(y);
  double xx = 0, xy = 0;
  for (size_t i = 0; i < n; ++i) {
    xx += (x[i] - meanX) * (x[i] - meanX);
    xy += (x[i] - meanX) * (y[i] - meanY);
  }
  if (!(xx > 0)) return {};
  const double slope = xy / xx;
  double rest = 0;
  for (size_t i = 0; i < n; ++i) rest += std::pow(y[i] - meanY - slope * (x[i] - meanX), 2);
  const double freedom = std::max(1.0, weight * static_cast<double>(n) - 2);
  return {slope, std::sqrt(rest / static_cast<double>(n) * weight * static_cast<double>(n) / freedom / (weight * xx))};
}

Spread together(const Spread& a, const Spread& b) {
  if (!(b.sd > 0)) return b;
  const double wa = 1 / (a.sd * a.sd), wb = 1 / (b.sd * b.sd);
  return {(a.mean * wa + b.mean * wb) / (wa + wb), 1 / std::sqrt(wa + wb)};
}

OperatingPoint operatingPointOf(const RunLog& run, const Figures& figures, const Heat& heat) {
  const auto figuresOf = [&](Quantity quantity) { return figures.channel(Role(heat.device, quantity).text()); };
  const ChannelFigures& temperature = *figuresOf(Quantity::Temperature);
  const Throttling* throttling = throttlingOf(figures, heat.device);
  const TimeSpan& window = figures.window->span;
  OperatingPoint point;
  point.roomC = temperature.window.mean - *temperature.overAmbientK;
  point.powerW = *heat.powerW;
  point.overRoomK = endOverRoom(temperature, heat, point.roomC);
  if (const ChannelFigures* clock = figuresOf(Quantity::Clock); clock != nullptr && clock->window.n > 0)
    point.clockMhz = clock->window.mean;
  if (const ChannelFigures* clock = figuresOf(Quantity::Clock); clock != nullptr && clock->idle.n > 0)
    point.restMhz = clock->idle.p05;
  if (const ChannelFigures* power = figuresOf(Quantity::Power); power != nullptr && power->idle.n > 0)
    point.restPowerW = std::min(power->idle.mean, point.powerW);
  if (temperature.idle.n > 0) point.restOverRoomK = temperature.idle.median - point.roomC;
  point.powerLimitW = run.facts.limit(Role(heat.device, Quantity::Power).text(), "sustained");
  point.isHeatHeld = isHeldBy(throttling, Cause::Thermal, window);
  point.isPowerHeld =
      !point.isHeatHeld && (isHeldBy(throttling, Cause::Power, window) ||
                            (point.powerLimitW && point.powerW >= *point.powerLimitW * (1 - kLimitWithin)));
  if (point.isPowerHeld) point.powerLimitW = point.powerW;
  const WorkReadings readings = workReadings(run, heat.device, *figures.load);
  tellWanted(readings, throttling, *figures.load, heat, point);
  point.leakPerKelvinW = leakageOf(readings, point);
  point.staticW = point.restPowerW;
  if (std::isfinite(point.restOverRoomK)) {
    const double endC = point.roomC + point.overRoomK.mean, restC = point.roomC + point.restOverRoomK;
    const double grownW = -point.leakPerKelvinW.mean * leakGrowth(endC, std::min(restC, endC), kLeakScaleK);
    point.staticW = std::min(point.restPowerW + grownW, kMostStatic * point.powerW);
  }
  point.clockExponent = exponentOf(readings, point);
  return point;
}

}  // namespace ash
