// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/roles.h"

#include <algorithm>
#include <cctype>
#include <map>
#include <set>
#include <string>

#include "model/role.h"

namespace ash {
namespace {

std::string lower(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return text;
}

bool contains(const std::string& text, const char* part) { return text.find(part) != std::string::npos; }

std::string coretempRole(const std::string& label) {
  // The package sensor of coretemp shows the hottest spot of the die.
  if (label.starts_with("package id") || label.starts_with("physical id")) return "cpu.temp";
  if (label.starts_with("core ")) return "cpu.temp.core" + label.substr(5);
  return {};
}

std::string amdgpuRole(const Reading& reading, const std::string& label) {
  if (reading.kind == "temp") {
    if (label == "edge") return "gpu.temp";
    if (label == "junction") return "gpu.temp.hotspot";
    return label == "mem" ? "gpu.temp.memory" : "";
  }
  if (reading.kind == "power") return "gpu.power";
  if (reading.kind == "fan") return "fan.gpu";
  if (reading.kind == "clock") return label == "sclk" ? "gpu.clock" : label == "mclk" ? "gpu.clock.memory" : "";
  return reading.kind == "voltage" && label == "vddgfx" ? "gpu.volt" : "";
}

// "CPU Fan" -> "cpu", "fan3" -> "board3": a place has to be one word.
std::string fanPlace(const std::string& label) {
  std::string place;
  for (const char c : label) {
    if (std::isalnum(static_cast<unsigned char>(c)) != 0)
      place += c;
    else if (!place.empty() && place.back() != '_')
      place += '_';
  }
  while (place.ends_with('_')) place.pop_back();
  const std::string suffix = "_fan";
  if (place.size() > suffix.size() && place.ends_with(suffix)) place.resize(place.size() - suffix.size());
  if (place.starts_with("fan") && place.find_first_not_of("0123456789", 3) == std::string::npos) {
    place = "board" + place.substr(3);
  }
  return place;
}

std::string labelRole(const Reading& reading, const std::string& label) {
  if (reading.kind == "fan") return "fan." + fanPlace(label);
  if (reading.kind != "temp") return {};
  if (label == "room" || label == "ambient" || label == "intake") return "room.temp";
  if (label == "case" || label == "case air") return "case.temp";
  if (contains(label, "vrm") || contains(label, "mos")) return "board.temp.vrm";
  if (label == "systin" || label == "motherboard" || label == "system") return "board.temp";
  if (contains(label, "coolant") || contains(label, "water")) return "coolant.temp";
  return {};
}

std::string roleFor(const Reading& reading) {
  const std::string label = lower(reading.name);
  const std::string& driver = reading.driver;
  if (driver == "k10temp" && (label == "tctl" || label == "tdie")) return "cpu.temp";
  if (driver == "coretemp") return coretempRole(label);
  if (driver == "cpu_thermal" && reading.kind == "temp") return "cpu.temp";
  if (driver == "amdgpu") return amdgpuRole(reading, label);
  if (driver == "nvme") return label == "composite" ? "storage.temp" : "";
  if (driver == "drivetemp" && reading.kind == "temp") return "storage.temp";
  if ((driver == "jc42" || driver == "spd5118") && reading.kind == "temp") return "memory.temp";
  if (driver == "fam15h_power" && reading.kind == "power") return "cpu.power";
  if (driver == "power_meter" && reading.kind == "power") return "wall.power";
  return labelRole(reading, label);
}

// Where a device slows itself down. coretemp: crit is TjMax, where it does; amdgpu: crit, with emergency above it;
// others: max, else crit. Monitoring limits of a board chip are settings, not limits of a device.
void addThrottleLimit(Reading& reading) {
  if (reading.quantity != Quantity::Temperature || !isLoadedTemperature(reading.role)) return;
  const auto limit = [&](const char* name) { return reading.limits.find(name); };
  const auto copy = [&](const char* from) {
    if (limit(from) != reading.limits.end()) reading.limits["throttle"] = limit(from)->second;
  };
  const bool slowsAtCritical = reading.driver == "coretemp" || reading.driver == "amdgpu";
  copy("critical");
  if (!slowsAtCritical) copy("max");
  if (reading.driver == "amdgpu" && limit("emergency") != reading.limits.end()) {
    reading.limits["critical"] = limit("emergency")->second;
  }
}

// fam15h_power documents power1_crit as the processor's rated power (Documentation/hwmon/fam15h_power.rst).
void addPowerLimit(Reading& reading) {
  const auto rated = reading.limits.find("critical");
  if (reading.driver == "fam15h_power" && rated != reading.limits.end()) reading.limits["sustained"] = rated->second;
}

std::string numbered(const std::string& role, int number) {
  if (number == 1) return role;
  const size_t dot = role.find('.');
  const std::string digits = std::to_string(number);
  return dot == std::string::npos ? role + digits : role.substr(0, dot) + digits + role.substr(dot);
}

// The folder a reading stands in: readings of one device share it, and so share its number.
std::string folderOf(const Reading& reading) { return reading.path.substr(0, reading.path.rfind('/')); }

}  // namespace

void assignRoles(const std::vector<Reading*>& readings) {
  std::set<std::string> taken;
  for (const Reading* reading : readings) taken.insert(reading->role);
  std::map<std::pair<std::string, std::string>, int> numberOfDevice;  // (folder, first part of the role) -> number
  for (Reading* reading : readings) {
    if (!reading->role.empty()) continue;
    const std::string role = roleFor(*reading);
    if (role.empty() || !findRole(role)) continue;
    const auto key = std::make_pair(folderOf(*reading), role.substr(0, role.find('.')));
    int number = numberOfDevice.contains(key) ? numberOfDevice[key] : 1;
    const bool isDie = reading->driver == "k10temp" && numberOfDevice.contains(key);
    if (isDie && taken.contains(numbered(role, number))) continue;  // Tdie beside Tctl: one of them is enough
    while (taken.contains(numbered(role, number))) ++number;
    numberOfDevice[key] = number;
    reading->role = numbered(role, number);
    taken.insert(reading->role);
    addThrottleLimit(*reading);
    addPowerLimit(*reading);
  }
}

}  // namespace ash
