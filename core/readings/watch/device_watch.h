// SPDX-License-Identifier: GPL-3.0-or-later
// Devices that come and go during a run, alarms that the chips keep themselves, and settings that are changed.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "model/run_facts.h"
#include "readings/watch/machine_settings.h"

namespace ash {

/// New entries of the classes that give readings (hwmon, thermal zones, power supplies, drives): a device that was
/// plugged in after the run began has no column in it, so it is told.
class NewDevices {
 public:
  explicit NewDevices(std::string root) : m_root(std::move(root)) {}
  void begin() { m_known = list(); }
  std::vector<Event> take();

 private:
  std::map<std::string, std::string> list() const;  // entry -> words
  std::string m_root;
  std::map<std::string, std::string> m_known;
};

/// Alarm files of the chips (tempN_crit_alarm, fanN_alarm …): they catch what happens between two samples. Only read,
/// never cleared; one that was on before the run is not told.
class ChipAlarms {
 public:
  explicit ChipAlarms(std::string root) : m_root(std::move(root)) {}
  void begin();
  std::vector<Event> take();

 private:
  struct Alarm {
    std::string file, words;
    bool isOn = false;
  };
  std::string m_root;
  std::vector<Alarm> m_alarms;
};

/// Settings read back again and again; each change is an event of kind "change" with the value before and after.
class SettingsWatch {
 public:
  explicit SettingsWatch(std::string root) : m_root(std::move(root)) {}
  /// What the setup asks for, so that a change can say "asked 45 W, got 23 W".
  void setAsked(Json conditions) { m_asked = std::move(conditions); }
  void begin() { m_before = m_atStart = readMachineSettings(m_root); }
  const std::vector<MachineSetting>& atStart() const { return m_atStart; }
  std::vector<Event> take();
  /// At the end of the run: what is set now, and what of it differs from the start.
  Event atEnd();

 private:
  std::string m_root;
  Json m_asked = Json::object();
  std::vector<MachineSetting> m_atStart, m_before;
};

}  // namespace ash
