// SPDX-License-Identifier: GPL-3.0-or-later
// Thermal resistance of a device in the window, and what follows from it.
#include <cmath>

#include "analysis/context.h"
#include "model/role.h"

namespace ash {
namespace {

std::string fanOf(const RunContext& context, const std::string& device) {
  if (context.find("fan." + device) != nullptr) return "fan." + device;
  for (const Channel& channel : context.run.log.channels) {
    if (channel.quantity == Quantity::FanSpeed && context.find(channel.name) != nullptr) return channel.name;
  }
  return {};
}

const Throttling* throttlingOf(const std::vector<Throttling>& all, const std::string& device) {
  for (const Throttling& one : all) {
    if (one.device == device) return &one;
  }
  return nullptr;
}

bool isHotWithin(const Throttling* throttling, const TimeSpan& window) {
  if (throttling == nullptr) return false;
  for (const ThrottleInterval& interval : throttling->intervals) {
    if (interval.cause != Cause::Thermal) continue;
    if (interval.span.startS < window.endS && interval.span.endS > window.startS) return true;
  }
  return false;
}

// What it draws when heat does not hold it back (contract, "wanted power").
std::optional<double> wantedPower(const RunContext& context, const std::string& device, double windowW,
                                  const Throttling* throttling) {
  if (!isHotWithin(throttling, context.window->span)) return windowW;
  const double heldFromS = context.load->startS + throttling->timeToLimitS.value_or(0);
  const double before = meanIn(context, device + ".power", {context.load->startS, heldFromS});
  // The first seconds may hold a boost; a mean of less than that says nothing.
  if (std::isfinite(before) && heldFromS - context.load->startS >= 10) return before;
  return context.run.facts.limit(device + ".power", "sustained");
}

Heat heatOfDevice(const RunContext& context, const std::string& device, const std::vector<Throttling>& throttling) {
  Heat heat;
  heat.device = device;
  const TimeSpan& window = context.window->span;
  const double powerW = meanIn(context, device + ".power", window);
  const double celsius = meanIn(context, device + ".temp", window);
  const std::string fan = fanOf(context, device);
  const double rpm = fan.empty() ? kMissing : meanIn(context, fan, window);
  if (std::isfinite(rpm)) heat.fanRpm = rpm;
  if (!std::isfinite(powerW)) return heat;
  heat.powerW = powerW;
  heat.wantedPowerW = wantedPower(context, device, powerW, throttlingOf(throttling, device));
  if (!context.knowsRoom() || !std::isfinite(celsius) || powerW <= 0) return heat;
  double roomC = context.room.empty() ? *context.statedRoomC : meanOf(viewOf(context.room, window).v);
  if (!std::isfinite(roomC)) roomC = context.roomAt((window.startS + window.endS) / 2);
  heat.resistanceKPerW = (celsius - roomC) / powerW;
  const auto limit = throttleLimit(context.run.facts, device + ".temp");
  if (!limit || !heat.wantedPowerW || *heat.resistanceKPerW <= 0) return heat;
  heat.headroomW = (*limit - roomC) / *heat.resistanceKPerW - *heat.wantedPowerW;
  heat.hottestRoomC = *limit - *heat.resistanceKPerW * *heat.wantedPowerW;
  return heat;
}

}  // namespace

std::vector<Heat> heatOf(const RunContext& context, const std::vector<Throttling>& throttling) {
  std::vector<Heat> all;
  if (!context.window) return all;
  for (const Channel& channel : context.run.log.channels) {
    const auto role = findRole(channel.role);
    if (!role || channel.name != role->device + ".temp") continue;
    if (context.find(role->device + ".power") == nullptr || isRoomRole(channel.role)) continue;
    // A device that only idles is warmed by its neighbours: its kelvin over room say nothing about its own watts.
    if (!isDeviceLoaded(context, role->device, context.window->span)) continue;
    all.push_back(heatOfDevice(context, role->device, throttling));
  }
  return all;
}

}  // namespace ash
