// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/meaning/role_rules.h"

#include <algorithm>
#include <cctype>
#include <string_view>

#include "model/text.h"
#include "readings/kernel/thermal_zones.h"

namespace ash {
namespace {

/// `driver` and `label` are patterns: "*" stands for any text. In `role`, "<N>" is the number in the label and
/// "<place>" a word made of it.
struct Rule {
  std::string_view driver, kind, label, role;
  int rank;
  std::string_view otherwise;
};

constexpr Rule kRules[] = {
    // Processors. The hottest die reading is the temperature in question; a control value (Tctl) only where nothing
    // better is told.
    {"k10temp", "temp", "hottest of*", "cpu.temp", 0, ""},
    {"k10temp", "temp", "mean of*", "cpu.temp.mean", 0, ""},
    {"k10temp", "temp", "tdie", "cpu.temp", 1, ""},
    {"k10temp", "temp", "tccd*", "cpu.temp", 2, ""},
    {"k10temp", "temp", "tctl", "cpu.temp", 3, "cpu.temp.package"},
    {"zenpower", "temp", "tdie", "cpu.temp", 1, ""},
    {"coretemp", "temp", "hottest of*", "cpu.temp", 0, ""},
    {"coretemp", "temp", "mean of*", "cpu.temp.mean", 0, ""},
    {"coretemp", "temp", "package id*", "cpu.temp", 1, "cpu.temp.package"},
    {"coretemp", "temp", "physical id*", "cpu.temp", 1, "cpu.temp.package"},
    {"coretemp", "temp", "core <N>", "cpu.temp.core<N>", 0, ""},
    {"cpu_thermal", "temp", "*", "cpu.temp", 4, ""},
    {"via_cputemp", "temp", "*", "cpu.temp", 4, ""},
    {"fam15h_power", "power", "*", "cpu.power", 1, ""},
    // Graphics.
    {"amdgpu", "temp", "edge", "gpu.temp", 0, ""},
    {"amdgpu", "temp", "junction", "gpu.temp.hotspot", 0, ""},
    {"amdgpu", "temp", "mem", "gpu.temp.memory", 0, ""},
    {"amdgpu", "power", "*", "gpu.power", 0, "gpu.power.chip"},
    {"amdgpu", "fan", "*", "fan.gpu", 0, ""},
    {"amdgpu", "pwm", "*", "fan.gpu.duty", 0, ""},
    {"amdgpu", "clock", "sclk", "gpu.clock", 0, ""},
    {"amdgpu", "clock", "mclk", "gpu.clock.memory", 0, ""},
    {"amdgpu", "voltage", "vddgfx", "gpu.volt", 0, ""},
    {"radeon", "temp", "*", "gpu.temp", 0, ""},
    {"nouveau", "temp", "*", "gpu.temp", 0, ""},
    {"nouveau", "fan", "*", "fan.gpu", 0, ""},
    {"nouveau", "power", "*", "gpu.power", 0, ""},
    {"i915", "energy", "*", "gpu.energy", 0, ""},
    {"i915", "power", "*", "gpu.power", 0, "gpu.power.chip"},
    {"i915", "fan", "*", "fan.gpu", 0, ""},
    {"xe", "energy", "card", "gpu.energy", 0, ""},
    {"xe", "power", "card", "gpu.power", 0, ""},
    {"xe", "energy", "*", "gpu.energy", 1, ""},
    {"xe", "power", "*", "gpu.power", 1, "gpu.power.chip"},
    {"xe", "temp", "pkg", "gpu.temp", 0, ""},
    {"xe", "temp", "vram", "gpu.temp.memory", 0, ""},
    {"xe", "fan", "*", "fan.gpu", 0, ""},
    // Drives and memory.
    {"nvme", "temp", "composite", "storage.temp", 0, ""},
    {"drivetemp", "temp", "*", "storage.temp", 0, ""},
    {"jc42", "temp", "*", "memory.temp", 0, ""},
    {"spd5118", "temp", "*", "memory.temp", 0, ""},
    // The whole machine.
    {"power_meter", "power", "*", "wall.power", 0, ""},
    {"corsairpsu", "power", "power total", "wall.power", 1, ""},
    // Zones: the only source on boards, a second one beside a processor's own sensor.
    {"thermal", "temp", "hottest of*", "cpu.temp", 5, ""},
    {"thermal", "temp", "x86_pkg_temp", "cpu.temp", 7, ""},
    {"thermal", "temp", "cpu*", "cpu.temp", 6, ""},
    {"thermal", "temp", "soc*", "cpu.temp", 8, ""},
    {"thermal", "temp", "gpu*", "gpu.temp", 5, ""},
    {"thermal", "temp", "*skin*", "surface.skin", 5, ""},
    {"thermal", "temp", "battery*", "", 0, ""},
    // Labels of boards and controllers, which name the source or the place.
    {"*", "temp", "room", "room.temp", 0, ""},
    {"*", "temp", "ambient", "room.temp", 1, ""},
    {"*", "temp", "intake", "room.temp", 1, ""},
    {"*", "temp", "case", "case.temp", 0, ""},
    {"*", "temp", "case air", "case.temp", 0, ""},
    {"*", "temp", "*exhaust*", "exhaust.temp", 0, ""},
    {"*", "temp", "*vrm*", "board.temp.vrm", 0, ""},
    {"*", "temp", "*mos*", "board.temp.vrm", 1, ""},
    {"*", "temp", "*coolant*", "coolant.temp", 0, ""},
    {"*", "temp", "*water*", "coolant.temp", 0, ""},
    {"*", "temp", "*skin*", "surface.skin", 0, ""},
    {"*", "temp", "systin", "board.temp", 0, ""},
    {"*", "temp", "system", "board.temp", 0, ""},
    {"*", "temp", "motherboard", "board.temp", 0, ""},
    {"*", "temp", "cpu", "cpu.temp", 9, ""},
    {"*", "fan", "*pump*", "pump", 0, ""},
    {"*", "fan", "*", "fan.<place>", 0, ""},
};

// "*" stands for any text, also none; "<N>" for digits, which are handed back.
bool matches(std::string_view text, std::string_view pattern, std::string& number) {
  if (pattern.empty()) return text.empty();
  if (pattern.front() == '*') {
    for (size_t skip = 0; skip <= text.size(); ++skip) {
      if (matches(text.substr(skip), pattern.substr(1), number)) return true;
    }
    return false;
  }
  if (pattern.starts_with("<N>")) {
    size_t digits = 0;
    while (digits < text.size() && std::isdigit(static_cast<unsigned char>(text[digits])) != 0) ++digits;
    number = text.substr(0, digits);
    return digits > 0 && matches(text.substr(digits), pattern.substr(3), number);
  }
  return !text.empty() && text.front() == pattern.front() && matches(text.substr(1), pattern.substr(1), number);
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
  if (place.starts_with("fan") && place.find_first_not_of("0123456789", 3) == std::string::npos)
    place = "board" + place.substr(3);
  return place;
}

void replace(std::string& text, std::string_view what, const std::string& by) {
  if (const size_t at = text.find(what); at != std::string::npos) text.replace(at, what.size(), by);
}

}  // namespace

RoleWish wishFor(const Reading& reading) {
  if (!reading.role.empty()) return {reading.role, 0, Role()};
  const std::string label = lowerCase(reading.name), driver = lowerCase(reading.driver);
  for (const Rule& rule : kRules) {
    std::string number;
    std::string ignored;
    if (rule.kind != reading.kind || !matches(driver, rule.driver, ignored) || !matches(label, rule.label, number))
      continue;
    std::string role(rule.role);
    replace(role, "<N>", number);
    replace(role, "<place>", fanPlace(label));
    return {role, rule.rank, rule.otherwise};
  }
  if (driver == kThermalDriver && reading.quantity == Quantity::Temperature && isProcessorZone(label))
    return {roles::kCpuTemp, 9, Role()};
  return {};
}

}  // namespace ash
