// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/meaning/words.h"

#include <array>

#include "model/role.h"
#include "readings/kernel/thermal_zones.h"

namespace ash {
namespace {

struct PlaceOfDevice {
  std::string_view start;
  HeatPlace place;
};
// By the first part of the role.
constexpr PlaceOfDevice kByRole[] = {{"cpu", HeatPlace::Processor},
                                     {"gpu", HeatPlace::Graphics},
                                     {"board.temp.vrm", HeatPlace::PowerDelivery},
                                     {"memory", HeatPlace::MemoryAndDrives},
                                     {"storage", HeatPlace::MemoryAndDrives},
                                     {"fan.gpu", HeatPlace::Graphics},
                                     {"fan", HeatPlace::AirAndFans},
                                     {"pump", HeatPlace::AirAndFans},
                                     {"case", HeatPlace::AirAndFans},
                                     {"exhaust", HeatPlace::AirAndFans},
                                     {"coolant", HeatPlace::AirAndFans},
                                     {"board", HeatPlace::AirAndFans},
                                     {"surface", HeatPlace::AirAndFans},
                                     {"room", HeatPlace::WallAndRoom},
                                     {"wall", HeatPlace::WallAndRoom},
                                     {"battery", HeatPlace::WallAndRoom},
                                     {"noise", HeatPlace::WallAndRoom}};
// By the driver, for what has no role.
constexpr PlaceOfDevice kByDriver[] = {{"coretemp", HeatPlace::Processor},
                                       {"k10temp", HeatPlace::Processor},
                                       {"powercap", HeatPlace::Processor},
                                       {"thermal_throttle", HeatPlace::Processor},
                                       {"amdgpu", HeatPlace::Graphics},
                                       {"drm", HeatPlace::Graphics},
                                       {"i915", HeatPlace::Graphics},
                                       {"xe", HeatPlace::Graphics},
                                       {"nouveau", HeatPlace::Graphics},
                                       {"nvme", HeatPlace::MemoryAndDrives},
                                       {"drivetemp", HeatPlace::MemoryAndDrives},
                                       {"block", HeatPlace::MemoryAndDrives},
                                       {"jc42", HeatPlace::MemoryAndDrives},
                                       {"spd5118", HeatPlace::MemoryAndDrives},
                                       {"power_supply", HeatPlace::WallAndRoom},
                                       {"power_meter", HeatPlace::WallAndRoom}};

}  // namespace

std::string meaningWords(const Reading& reading) {
  if (!reading.meaning.empty() && reading.meaning.find("computed") != std::string::npos) return reading.meaning;
  if (!reading.role.empty()) return plainRoleName(reading.role);
  return reading.name;
}

HeatPlace heatPlaceOf(const Reading& reading) {
  if (reading.role.starts_with("board") && reading.role.ends_with(".vrm")) return HeatPlace::PowerDelivery;
  for (const PlaceOfDevice& row : kByRole) {
    if (!reading.role.empty() && reading.role.starts_with(row.start)) return row.place;
  }
  for (const PlaceOfDevice& row : kByDriver) {
    if (reading.driver == row.start) return row.place;
  }
  if (reading.driver == "thermal" && reading.kind == "temp" && isProcessorZone(reading.name))
    return HeatPlace::Processor;
  if (reading.deviceKey == "processor") return HeatPlace::Processor;
  if (reading.deviceKey == "memory") return HeatPlace::MemoryAndDrives;
  if (reading.kind == "voltage" || reading.kind == "current") return HeatPlace::PowerDelivery;
  if (reading.kind == "temp" || reading.kind == "fan" || reading.kind == "pwm" || reading.kind == "humidity")
    return HeatPlace::AirAndFans;
  return HeatPlace::Other;
}

std::string heatPlaceWords(HeatPlace place) {
  constexpr std::array kWords = {"Processor",    "Graphics",      "Power delivery", "Memory, drives",
                                 "Air and fans", "Wall and room", "Everything else"};
  return kWords[static_cast<size_t>(place)];
}

}  // namespace ash
