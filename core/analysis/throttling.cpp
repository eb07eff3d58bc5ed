// SPDX-License-Identifier: GPL-3.0-or-later
// Where a device delivered less clock than it held before under the same load, and what held it.
#include <algorithm>
#include <cmath>
#include <set>

#include "analysis/context.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kThrottledBelow = 0.97;  // contract: at least 3 % below the reference clock
constexpr double kAtLimitK = 1.5;         // governors work a little below their limit
constexpr double kAtPower = 0.96;
constexpr double kPauseShare = 0.5;  // power below half of its median under load is a pause, no throttling

struct DeviceSeries {
  std::string device;
  Series clock;
  const SeriesView* temperature = nullptr;
  const SeriesView* power = nullptr;
  std::optional<double> limitC;
  std::vector<double> powerLimits;
  std::optional<double> plannedW;
};

Series runningMedian(const Series& series, double overS) {
  Series smooth = series;
  const double interval = std::max(medianInterval(series.t), 1e-9);
  // A clock in microseconds by mistake must not make every window the whole log.
  constexpr double kMostReadings = 500;
  const auto half = static_cast<std::ptrdiff_t>(std::min(overS / interval / 2, kMostReadings));
  const auto n = static_cast<std::ptrdiff_t>(series.size());
  for (std::ptrdiff_t i = 0; i < n; ++i) {
    const auto first = series.v.begin() + std::max<std::ptrdiff_t>(0, i - half);
    const auto last = series.v.begin() + std::min(n, i + half + 1);
    smooth.v[i] = medianOf({first, last});
  }
  return smooth;
}

DeviceSeries gather(const RunContext& context, const std::string& device) {
  DeviceSeries found{device, slice(*context.find(device + ".clock"), *context.load), nullptr, nullptr, {}, {}, {}};
  found.temperature = context.find(device + ".temp");
  found.power = context.find(device + ".power");
  const RunFacts& facts = context.run.facts;
  found.limitC = throttleLimit(facts, device + ".temp");
  for (const char* which : {"sustained", "short"}) {
    if (const auto watts = facts.limit(device + ".power", which)) found.powerLimits.push_back(*watts);
  }
  if (device == "cpu") found.plannedW = facts.conditionNumber("power_limit_w");
  if (found.plannedW) found.powerLimits.push_back(*found.plannedW);
  return found;
}

double referenceClock(const RunContext& context, const DeviceSeries& device) {
  const auto rated = context.run.facts.rated.find(device.device + ".clock");
  if (rated != context.run.facts.rated.end()) {
    const auto all = rated->second.find("all_core");
    if (all != rated->second.end()) return all->second;
  }
  const Series smooth = runningMedian(device.clock, 5);
  return *std::max_element(smooth.v.begin(), smooth.v.end());
}

bool isNear(double value, double wanted, double share) { return std::abs(value - wanted) <= share * wanted; }

Cause causeOf(const DeviceSeries& device, const TimeSpan& span, bool& isPlanned) {
  const double celsius = device.temperature == nullptr ? kMissing : meanOf(viewOf(*device.temperature, span).v);
  const double watts = device.power == nullptr ? kMissing : meanOf(viewOf(*device.power, span).v);
  if (device.limitC && celsius >= *device.limitC - kAtLimitK) return Cause::Thermal;
  for (const double limit : device.powerLimits) {
    if (!(watts >= kAtPower * limit) || !isNear(watts, limit, 0.06)) continue;
    isPlanned = device.plannedW && isNear(watts, *device.plannedW, 0.06);
    return Cause::Power;
  }
  const bool knowsBoth = device.limitC && std::isfinite(celsius) && !device.powerLimits.empty() && std::isfinite(watts);
  return knowsBoth ? Cause::Other : Cause::Unknown;
}

// At its limit or not, sample by sample: an interval is cut where the cause changes.
bool isHot(const DeviceSeries& device, double t) {
  return device.limitC && device.temperature != nullptr &&
         interpolate(*device.temperature, t) >= *device.limitC - kAtLimitK;
}

bool isPause(const DeviceSeries& device, double medianW, double t) {
  return device.power != nullptr && interpolate(*device.power, t) < kPauseShare * medianW;
}

std::vector<ThrottleInterval> findIntervals(const DeviceSeries& device, double referenceMhz, double joinS) {
  const double interval = medianInterval(device.clock.t);
  const double medianW =
      device.power == nullptr ? 0 : medianOf(slice(*device.power, {device.clock.t.front(), INFINITY}).v);
  std::vector<std::pair<TimeSpan, bool>> spans;
  for (size_t i = 0; i < device.clock.size(); ++i) {
    const double t = device.clock.t[i];
    if (device.clock.v[i] > kThrottledBelow * referenceMhz || isPause(device, medianW, t)) continue;
    const double end = i + 1 < device.clock.size() ? device.clock.t[i + 1] : t + interval;
    const bool hot = isHot(device, t);
    const bool joins = !spans.empty() && t - spans.back().first.endS <= joinS;
    if (joins && spans.back().second == hot)
      spans.back().first.endS = end;
    else if (joins && spans.size() > 1 && spans.back().first.lengthS() < joinS)
      spans.back() = {{spans.back().first.startS, end}, hot};
    else
      spans.push_back({{t, end}, hot});
  }
  std::vector<ThrottleInterval> intervals;
  for (const auto& [span, hot] : spans) {
    ThrottleInterval found;
    found.span = span;
    found.cause = hot ? Cause::Thermal : causeOf(device, span, found.isPlanned);
    found.depthMhz = referenceMhz - meanOf(viewOf(device.clock, span).v);
    const bool joinsLast = !intervals.empty() && intervals.back().cause == found.cause &&
                           intervals.back().isPlanned == found.isPlanned &&
                           span.startS - intervals.back().span.endS <= joinS;
    if (joinsLast) {
      intervals.back().span.endS = span.endS;
      intervals.back().depthMhz = referenceMhz - meanOf(slice(device.clock, intervals.back().span).v);
    } else {
      intervals.push_back(found);
    }
  }
  return intervals;
}

Throttling judge(const RunContext& context, const DeviceSeries& device) {
  Throttling result;
  result.device = device.device;
  result.referenceMhz = referenceClock(context, device);
  const double joinS = std::max(5.0, 3 * medianInterval(device.clock.t));
  result.intervals = findIntervals(device, result.referenceMhz, joinS);
  const double loadS = context.load->lengthS();
  double throttledS = 0, lost = 0;
  for (const ThrottleInterval& interval : result.intervals) {
    const double lengthS = interval.span.lengthS();
    throttledS += lengthS;
    lost += lengthS * interval.depthMhz / result.referenceMhz;
    double& share = interval.cause == Cause::Thermal ? result.shareThermal
                    : interval.cause == Cause::Power ? result.sharePower
                                                     : result.shareOther;
    share += lengthS / loadS;
    if (interval.cause == Cause::Thermal && !result.timeToLimitS) {
      result.timeToLimitS = interval.span.startS - context.load->startS;
    }
  }
  result.share = throttledS / loadS;
  result.lostClockShare = throttledS > 0 ? lost / throttledS : 0;
  return result;
}

}  // namespace

std::vector<Throttling> findThrottling(const RunContext& context) {
  std::vector<Throttling> all;
  if (!context.load) return all;
  for (const Channel& channel : context.run.log.channels) {
    const auto role = findRole(channel.role);
    if (!role || channel.name != role->device + ".clock" || context.find(channel.name) == nullptr) continue;
    const DeviceSeries device = gather(context, role->device);
    // A device that this load does not use has no clock to lose.
    if (device.clock.size() < 4 || !isDeviceLoaded(context, role->device, *context.load)) continue;
    all.push_back(judge(context, device));
  }
  return all;
}

}  // namespace ash
