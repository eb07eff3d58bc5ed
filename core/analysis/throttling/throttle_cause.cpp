// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/throttling/throttle_cause.h"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace ash {
namespace {

constexpr double kAtLimitK = 1.5;  // governors work a little below their limit
constexpr double kClearlyBelowK = 0.8;
constexpr double kRecoversS = 60;       // since it was last at its limit
constexpr double kReleasesBelowK = 15;  // the farthest that a governor lets a device cool before it lets go
constexpr double kPinnedBelow = 0.04, kPinnedAbove = 0.06;
constexpr double kTightly = 0.02;
constexpr double kPowerMeanS = 2;
constexpr double kBoostEndsWithinS = 120;
constexpr double kFlatShare = 0.015;

bool contains(const std::string& name, const char* word) {
  std::string lower = name;
  std::transform(lower.begin(), lower.end(), lower.begin(), [](unsigned char c) { return char(std::tolower(c)); });
  return lower.find(word) != std::string::npos;
}

// A counter or flag of the kernel by its name: "…throttle_count", "GPU throttled: thermal".
bool tellsHeat(const Channel& channel, const Device& device) {
  if (!contains(channel.name, "throttl") && !contains(channel.name, "prochot")) return false;
  for (const char* other : {"power", "pl1", "pl2", "pl4", "current", "vr_tdc", "ratl", "status"}) {
    if (contains(channel.name, other)) return false;
  }
  const bool isGraphics =
      contains(channel.name, "gpu") || contains(channel.name, "drm") || contains(channel.name, "gt0");
  return isGraphics == device.is(DeviceKind::Gpu);
}

double meanAround(const SeriesView& series, double t, double halfS) {
  const SeriesView part = viewOf(series, {t - halfS, t + halfS + 1e-9});
  return part.empty() ? interpolate(series, t) : meanOf(part.v);
}

// What a setup calls the limit that it states: "power_limit_w", "gpu_power_limit_w".
std::string powerLimitField(const Device& device) {
  const std::string field = "power_limit_w";
  return device == Device(DeviceKind::Cpu) ? field : device.text() + "_" + field;
}

}  // namespace

CauseFinder::CauseFinder(const RunContext& context, const Device& device) : m_context(context) {
  const auto view = [&](const std::string& name) {
    const SeriesView* found = context.find(name);
    return found == nullptr ? SeriesView() : *found;
  };
  const std::string temperature = Role(device, Quantity::Temperature).text();
  const std::string power = Role(device, Quantity::Power).text();
  m_temperature = view(temperature);
  m_power = view(power);
  m_powerMeanS = std::max(kPowerMeanS, context.intervalOf(m_power));
  m_movingLimit = view(Role(device, Quantity::Power, Part::Limit).text());
  const RunFacts& facts = context.run.facts;
  m_limitC = throttleLimit(facts, temperature);
  for (const char* which : {"sustained", "short"}) {
    if (const auto watts = facts.limit(power, which)) m_limitsW.push_back(*watts);
  }
  m_plannedW = facts.conditionNumber(powerLimitField(device));
  if (m_plannedW) m_limitsW.push_back(*m_plannedW);
  if (const auto step = context.step.find(temperature); step != context.step.end())
    m_nearK = std::max(kAtLimitK, step->second);
  if (m_limitC && !m_temperature.empty() && context.load)
    m_governed = governedSpan(m_temperature, *context.load, *m_limitC, m_nearK);
  for (const Channel& channel : context.run.log.channels) {
    const SeriesView counter = channel.role.empty() && tellsHeat(channel, device) ? view(channel.name) : SeriesView();
    if (counter.empty()) continue;
    m_heatCounters.push_back({counter, *std::max_element(counter.v.begin(), counter.v.end()) <= 1});
  }
}

bool CauseFinder::isHot(double fromS, double t) const {
  if (!m_limitC || m_temperature.empty()) return false;
  const double near = *m_limitC - m_nearK;
  if (interpolate(m_temperature, t) >= near) return true;
  const SeriesView part = viewOf(m_temperature, {fromS, t});
  return std::any_of(part.v.begin(), part.v.end(), [near](double celsius) { return celsius >= near; });
}

bool CauseFinder::isCountedHot(double fromS, double t) const {
  return std::any_of(m_heatCounters.begin(), m_heatCounters.end(), [&](const HeatCounter& counter) {
    const double now = interpolate(counter.series, t);
    return counter.isFlag ? now >= 0.5 : now > interpolate(counter.series, fromS);
  });
}

std::optional<HeldBack> CauseFinder::pinned(double t) const {
  if (m_power.empty()) return std::nullopt;
  const double watts = meanAround(m_power, t, m_powerMeanS);
  const auto isAt = [watts](double limit) {
    return watts >= (1 - kPinnedBelow) * limit && watts <= (1 + kPinnedAbove) * limit;
  };
  // The limit in force, where it is logged, is the one that counts.
  if (!m_movingLimit.empty()) {
    const double limit = interpolate(m_movingLimit, t);
    if (!isAt(limit)) return std::nullopt;
    return HeldBack{Cause::Power, m_plannedW && std::abs(limit - *m_plannedW) <= kTightly * *m_plannedW};
  }
  for (const double limit : m_limitsW) {
    if (isAt(limit)) return HeldBack{Cause::Power, m_plannedW && isAt(*m_plannedW)};
  }
  return std::nullopt;
}

HeldBack CauseFinder::causeAt(double fromS, double t) const {
  const auto byPower = pinned(t);
  if (isCountedHot(fromS, t)) return {Cause::Thermal};
  if (isHot(fromS, t)) {
    // Both: whichever it is really at.
    const bool isJustBelow =
        byPower && interpolate(m_temperature, t) < *m_limitC - std::max(kClearlyBelowK, m_nearK / 2);
    return isJustBelow ? *byPower : HeldBack{Cause::Thermal};
  }
  if (byPower) return *byPower;
  const bool knowsLimits = !m_limitsW.empty() || !m_movingLimit.empty();
  return {m_limitC && !m_temperature.empty() && !m_power.empty() && knowsLimits ? Cause::Other : Cause::Unknown};
}

std::vector<HeldBack> CauseFinder::causesOf(std::span<const double> times, double intervalS) const {
  std::vector<HeldBack> causes;
  bool isHeldByHeat = false;
  double lastHotS = -INFINITY;
  for (size_t i = 0; i < times.size(); ++i) {
    const double t = times[i];
    // At its beginning the reading may lag behind the governor, or lie between two samples.
    const double fromS = i == 0 ? t - std::max(1.0, 1.5 * intervalS) : times[i - 1];
    HeldBack now = causeAt(fromS, t);
    const bool isQuiet = now.cause == Cause::Other || now.cause == Cause::Unknown;
    const bool isGoverned = m_governed && m_governed->contains(t);
    const bool isNear =
        m_limitC && !m_temperature.empty() && interpolate(m_temperature, t) > *m_limitC - kReleasesBelowK;
    // A governor that lets the device recover for some time goes far below its limit before it lets go.
    const bool isRecovering = isHeldByHeat && t - lastHotS <= kRecoversS;
    if (now.cause == Cause::Thermal) lastHotS = t;
    if (isQuiet && ((isNear && (isHeldByHeat || isGoverned)) || isRecovering)) now = {Cause::Thermal};
    isHeldByHeat = now.cause == Cause::Thermal;
    causes.push_back(now);
  }
  return causes;
}

bool CauseFinder::isBoostRunOut(const TimeSpan& stretch, const SeriesView& rate) const {
  const TimeSpan& load = *m_context.load;
  if (stretch.startS - load.startS > kBoostEndsWithinS || stretch.endS < load.endS - 0.1 * load.lengthS()) return false;
  const SeriesView part = viewOf(rate, stretch);
  if (part.size() < 6) return false;
  const auto third = [&](size_t k) { return meanOf(part.v.subspan(k * part.size() / 3, part.size() / 3)); };
  return std::abs(third(2) - third(0)) < kFlatShare * third(0) && std::abs(third(1) - third(0)) < kFlatShare * third(0);
}

}  // namespace ash
