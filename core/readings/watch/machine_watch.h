// SPDX-License-Identifier: GPL-3.0-or-later
// What happens to a machine during a run beside its readings: hardware errors, throttle counters, mains and battery.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "model/run_facts.h"
#include "readings/watch/device_watch.h"
#include "readings/watch/kernel_log.h"
#include "readings/watch/throttle_counters.h"

namespace ash {

/// Mains and battery as /sys/class/power_supply tells them (Documentation/ABI/testing/sysfs-class-power).
struct SupplyState {
  bool hasBattery = false;
  bool isDischarging = false;
  double leastPercent = kMissing;  ///< of the system's batteries
};
SupplyState readSupply(const std::string& root);

/// Asked again and again while a run goes on; tells events without a time. Kinds: "fault" (extra.source "kernel log",
/// "battery", "devices" or "alarm", extra.failure), "change" (a setting that is another one now), "settings" (all of
/// them at the end), "counter" (throttle counters before and after).
class MachineWatch {
 public:
  explicit MachineWatch(std::string root, Json asked = Json::object());

  /// "read", "needs rights" or "not there": what can be known of hardware errors here.
  const std::string& kernelLogState() const { return m_log.state(); }
  void begin();
  /// Looks at most twice a second; `isLast` looks at once and closes the counts.
  std::vector<Event> take(bool isLast);

 private:
  void takeLog(std::vector<Event>& events);
  void takeSupply(std::vector<Event>& events);
  void takeCounters(std::vector<Event>& events) const;

  std::string m_root;
  KernelLog m_log;
  std::map<std::string, int, std::less<>> m_failures;  // told and counted, by kind
  std::optional<ThrottleCounts> m_before;
  SupplyState m_supply;
  NewDevices m_devices;
  ChipAlarms m_alarms;
  SettingsWatch m_settings;
  double m_warnedPercent = 100;
  double m_lookedS = 0;
  double m_supplyS = 0;
  double m_settingsS = 0;
};

}  // namespace ash
