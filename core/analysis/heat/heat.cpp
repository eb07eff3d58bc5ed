// SPDX-License-Identifier: GPL-3.0-or-later
// Thermal resistance of a device in the window, and what follows from it, each with a 95 % interval.
#include <algorithm>
#include <cmath>

#include "analysis/heat/heat.h"
#include "model/role.h"

namespace ash {
namespace {

std::string temperatureOf(const Device& device) { return Role(device, Quantity::Temperature).text(); }
std::string powerOf(const Device& device) { return Role(device, Quantity::Power).text(); }

std::string fanOf(const RunContext& context, const Device& device) {
  const Device own(DeviceKind::Fan, device.text());
  if (context.find(own.text()) != nullptr) return own.text();
  for (const Channel& channel : context.run.log.channels) {
    if (channel.quantity == Quantity::FanSpeed && context.find(channel.name) != nullptr) return channel.name;
  }
  return {};
}

const Throttling* throttlingOf(const std::vector<Throttling>& all, const Device& device) {
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
std::optional<double> wantedPower(const RunContext& context, const Device& device, double windowW,
                                  const Throttling* throttling) {
  if (!isHotWithin(throttling, context.window->span)) return windowW;
  const double heldFromS = context.load->startS + throttling->timeToLimitS.value_or(0);
  const double before = meanIn(context, powerOf(device), {context.load->startS, heldFromS});
  // The first seconds may hold a boost; a mean of less than that says nothing.
  if (std::isfinite(before) && heldFromS - context.load->startS >= 10) return before;
  if (const auto sustained = context.run.facts.limit(powerOf(device), "sustained")) return sustained;
  return std::isfinite(before) ? std::optional(before) : std::nullopt;
}

/// A mean over the window with its standard uncertainty.
struct Uncertain {
  double value = kMissing, u = 0;
};

Uncertain windowMean(const RunContext& context, const std::string& channel) {
  const SeriesView* series = context.find(channel);
  if (series == nullptr) return {};
  const Stats stats = statsOf(viewOf(*series, context.window->span), context.step.at(channel));
  return {stats.mean, std::isfinite(stats.se) ? stats.se : 0};
}

Uncertain windowRoom(const RunContext& context) {
  constexpr double kStatedRoomU = 0.29;  // stated to the degree: 1 K/√12
  if (context.room.empty()) return {*context.statedRoomC, kStatedRoomU};
  if (context.find(roles::kRoom) != nullptr) {
    const Uncertain logged = windowMean(context, roles::kRoom);
    if (std::isfinite(logged.value)) return logged;
  }
  const TimeSpan& window = context.window->span;
  return {context.roomAt((window.startS + window.endS) / 2), kStatedRoomU};
}

// Kelvin per watt of a difference of two temperatures, by the law of propagation of uncertainty (JCGM 100:2008, 5.1.2).
Estimate perWatt(const Uncertain& kelvin, const Uncertain& watts) {
  constexpr double kCoverage = 1.96;
  const double value = kelvin.value / watts.value;
  const double relative = std::hypot(kelvin.u / std::max(std::abs(kelvin.value), 1e-9), watts.u / watts.value);
  const double half = kCoverage * std::abs(value) * relative;
  return {value, value - half, value + half};
}

Uncertain difference(const Uncertain& a, const Uncertain& b) { return {a.value - b.value, std::hypot(a.u, b.u)}; }

// What stands between a device and the room, where it is logged: the cooler's surface, the coolant, the air in the
// case.
std::vector<HeatPart> partsOf(const RunContext& context, const Device& device, const Uncertain& room,
                              const Uncertain& watts) {
  std::vector<std::pair<std::string, Uncertain>> stations = {
      {temperatureOf(device), windowMean(context, temperatureOf(device))}};
  for (const char* between :
       {"surface.cooler", "surface.heatsink", "surface.base", roles::kCoolantTemp, roles::kCaseTemp}) {
    const Uncertain mean = windowMean(context, between);
    // Only what is really on the way: cooler than what lies before it, warmer than the room.
    if (mean.value < stations.back().second.value && mean.value > room.value) stations.emplace_back(between, mean);
  }
  if (stations.size() < 2) return {};
  stations.emplace_back(roles::kRoom, room);
  std::vector<HeatPart> parts;
  for (size_t i = 1; i < stations.size(); ++i) {
    const Uncertain kelvin = difference(stations[i - 1].second, stations[i].second);
    parts.push_back({stations[i - 1].first, stations[i].first, kelvin.value, perWatt(kelvin, watts)});
  }
  return parts;
}

// A run that has not settled would go on to a higher resistance: the far end of its forecast belongs to the interval.
void widenByForecast(const RunContext& context, const Figures& figures, const Uncertain& watts, Heat& heat) {
  const ChannelFigures* figure = figures.channel(temperatureOf(heat.device));
  if (figure == nullptr || !figure->settled || figure->settled->isSettled) return;
  const SettlingVerdict& verdict = *figure->settled;
  if (!std::isfinite(verdict.forecastHigh)) return;
  const double roomC = context.roomAt(context.load->endS);
  heat.resistance->high = std::max(heat.resistance->high, (verdict.forecastHigh - roomC) / watts.value);
}

Heat heatOfDevice(const RunContext& context, const Figures& figures, const Device& device) {
  Heat heat;
  heat.device = device;
  const Uncertain watts = windowMean(context, powerOf(device));
  const Uncertain celsius = windowMean(context, temperatureOf(device));
  heat.fan = fanOf(context, device);
  if (!heat.fan.empty()) {
    const double rpm = meanIn(context, heat.fan, context.window->span);
    if (std::isfinite(rpm)) heat.fanRpm = rpm;
  }
  if (!std::isfinite(watts.value)) return heat;
  heat.powerW = watts.value;
  heat.wantedPowerW = wantedPower(context, device, watts.value, throttlingOf(figures.throttling, device));
  if (!context.knowsRoom() || !std::isfinite(celsius.value) || watts.value <= 0) return heat;
  const Uncertain room = windowRoom(context);
  heat.resistance = perWatt(difference(celsius, room), watts);
  widenByForecast(context, figures, watts, heat);
  heat.parts = partsOf(context, device, room, watts);
  const auto limit = throttleLimit(context.run.facts, temperatureOf(device));
  if (!limit || !heat.wantedPowerW || heat.resistance->value <= 0) return heat;
  const double wantedW = *heat.wantedPowerW, above = *limit - room.value;
  const auto headroom = [&](double kPerW) { return above / std::max(kPerW, 1e-6) - wantedW; };
  const auto hottest = [&](double kPerW) { return *limit - kPerW * wantedW; };
  const Estimate& r = *heat.resistance;
  heat.headroomW = Estimate{headroom(r.value), headroom(r.high), headroom(r.low)};
  if (above < 0) std::swap(heat.headroomW->low, heat.headroomW->high);
  heat.hottestRoomC = Estimate{hottest(r.value), hottest(r.high), hottest(r.low)};
  return heat;
}

}  // namespace

std::vector<Heat> heatOf(const RunContext& context, const Figures& figures) {
  std::vector<Heat> all;
  if (!context.window) return all;
  for (const Channel& channel : context.run.log.channels) {
    const Role& role = channel.role;
    if (!role.isLoadedTemperature() || !role.isMain() || context.find(powerOf(role.device())) == nullptr) continue;
    // A device that only idles is warmed by its neighbours: its kelvin over room say nothing about its own watts.
    if (!isDeviceLoaded(context, role.device(), context.window->span)) continue;
    all.push_back(heatOfDevice(context, figures, role.device()));
  }
  return all;
}

}  // namespace ash
