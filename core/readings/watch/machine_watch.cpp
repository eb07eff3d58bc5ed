// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/watch/machine_watch.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "readings/kernel/found.h"
#include "readings/kernel/supply_words.h"
#include "system/clock.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr double kLookEveryS = 0.5;
constexpr double kSupplyEveryS = 5;
constexpr double kSettingsEveryS = 3;
constexpr int kMostToldOfAKind = 20;
constexpr double kLowSteps[] = {20, 10, 5, 3, 2, 1};

Event fault(const std::string& text, const char* source, std::string_view failure) {
  Event event;
  event.kind = EventKind::Fault;
  event.text = text;
  event.extra = {{"source", source}, {"failure", std::string(failure)}};
  return event;
}

}  // namespace

SupplyState readSupply(const std::string& root) {
  SupplyState state;
  bool hasAdapter = false, isOnline = false;
  std::error_code error;
  for (const fs::directory_entry& supply : fs::directory_iterator(root + "/sys/class/power_supply", error)) {
    const fs::path& folder = supply.path();
    const SupplyType type = supplyTypeOf(folder);
    if (type != SupplyType::Battery) {
      hasAdapter |= type == SupplyType::Mains || type == SupplyType::Usb;
      isOnline |= readNumber(folder / "online").value_or(0) == 1;
    }
    if (type != SupplyType::Battery || isOfPeripheral(folder) || isMissing(folder)) continue;
    state.hasBattery = true;
    state.isDischarging |= isDischarging(folder);
    if (const auto percent = readNumber(folder / "capacity"); percent && *percent >= 0 && *percent <= 100) {
      const auto value = static_cast<double>(*percent);
      state.leastPercent = std::isfinite(state.leastPercent) ? std::min(state.leastPercent, value) : value;
    }
  }
  state.isDischarging |= state.hasBattery && hasAdapter && !isOnline;
  return state;
}

MachineWatch::MachineWatch(std::string root, Json asked)
    : m_root(std::move(root)), m_log(m_root), m_devices(m_root), m_alarms(m_root), m_settings(m_root) {
  m_settings.setAsked(std::move(asked));
}

void MachineWatch::begin() {
  m_log.skipPast();
  m_before = readThrottleCounts(m_root);
  m_supply = readSupply(m_root);
  m_devices.begin();
  m_alarms.begin();
  m_settings.begin();
  m_settingsS = monotonicS();
}

void MachineWatch::takeLog(std::vector<Event>& events) {
  for (const KernelRecord& record : m_log.take()) {
    const std::string_view failure = failureIn(record.text);
    if (failure.empty()) continue;
    const int count = ++m_failures[std::string(failure)];
    if (count <= kMostToldOfAKind)
      events.push_back(fault(fmt::format("The kernel tells of a {}: {}", failure, record.text), "kernel log", failure));
  }
}

void MachineWatch::takeSupply(std::vector<Event>& events) {
  const SupplyState now = readSupply(m_root);
  if (now.hasBattery && now.isDischarging != m_supply.isDischarging) {
    events.push_back(
        fault(now.isDischarging ? "The machine went from mains to battery." : "The machine is on mains again.",
              "battery", "supply"));
    m_warnedPercent = 100;
  }
  if (now.isDischarging) {
    for (const double step : kLowSteps) {
      if (now.leastPercent > step || m_warnedPercent <= step) continue;
      m_warnedPercent = step;
      Event event = fault(fmt::format("The battery is at {:.0f} %.", now.leastPercent), "battery", "low");
      event.extra["percent"] = now.leastPercent;
      events.push_back(std::move(event));
    }
  }
  m_supply = now;
}

void MachineWatch::takeCounters(std::vector<Event>& events) const {
  const auto after = readThrottleCounts(m_root);
  if (!m_before || !after) return;
  const long long cores = after->ofCores - m_before->ofCores;
  const long long packages = after->ofPackages - m_before->ofPackages;
  Event event;
  event.kind = EventKind::Counter;
  event.text =
      cores <= 0 && packages <= 0
          ? "The processor counted no throttling by heat during the run."
          : fmt::format("The processor counted throttling by heat {} times in its cores and {} times as a whole.",
                        std::max(0LL, cores), std::max(0LL, packages));
  event.extra = {{"source", "thermal_throttle"},
                 {"cores", {{"before", m_before->ofCores}, {"after", after->ofCores}}},
                 {"packages", {{"before", m_before->ofPackages}, {"after", after->ofPackages}}}};
  events.push_back(std::move(event));
}

std::vector<Event> MachineWatch::take(bool isLast) {
  std::vector<Event> events;
  const double nowS = monotonicS();
  if (!isLast && nowS - m_lookedS < kLookEveryS) return events;
  m_lookedS = nowS;
  takeLog(events);
  if (isLast || nowS - m_supplyS >= kSupplyEveryS) {
    m_supplyS = nowS;
    takeSupply(events);
  }
  const auto add = [&](std::vector<Event> more) { events.insert(events.end(), more.begin(), more.end()); };
  add(m_alarms.take());
  if (isLast || nowS - m_settingsS >= kSettingsEveryS) {
    m_settingsS = nowS;
    add(m_devices.take());
    add(m_settings.take());
  }
  if (!isLast) return events;
  events.push_back(m_settings.atEnd());
  takeCounters(events);
  for (const auto& [failure, count] : m_failures) {
    if (count > kMostToldOfAKind)
      events.push_back(fault(
          fmt::format("The kernel told of {} more such failures ({}) in this run.", count - kMostToldOfAKind, failure),
          "kernel log", failure));
  }
  return events;
}

}  // namespace ash
