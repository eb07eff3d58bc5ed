// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/meaning/words.h"

#include <array>

#include "model/role.h"
#include "readings/kernel/thermal_zones.h"

namespace ash {
namespace {

struct PlaceOfDriver {
  std::string_view driver;
  HeatPlace place;
};
// By the driver, for what has no role.
constexpr PlaceOfDriver kByDriver[] = {{"coretemp", HeatPlace::Processor},
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

HeatPlace heatPlaceOf(const Device& device) {
  switch (device.kind()) {
    case DeviceKind::Cpu:
      return HeatPlace::Processor;
    case DeviceKind::Gpu:
      return HeatPlace::Graphics;
    case DeviceKind::Board:
      return device.place() == Device::kRegulators ? HeatPlace::PowerDelivery : HeatPlace::AirAndFans;
    case DeviceKind::Memory:
    case DeviceKind::Storage:
      return HeatPlace::MemoryAndDrives;
    case DeviceKind::Fan:
      return Device(device.place()).is(DeviceKind::Gpu) ? HeatPlace::Graphics : HeatPlace::AirAndFans;
    case DeviceKind::Pump:
    case DeviceKind::Case:
    case DeviceKind::Exhaust:
    case DeviceKind::Coolant:
    case DeviceKind::Surface:
      return HeatPlace::AirAndFans;
    case DeviceKind::Room:
    case DeviceKind::Wall:
    case DeviceKind::Battery:
    case DeviceKind::Noise:
      return HeatPlace::WallAndRoom;
    case DeviceKind::Work:
    case DeviceKind::Frame:
    case DeviceKind::Other:
      break;
  }
  return HeatPlace::Other;
}

}  // namespace

std::string meaningWords(const Reading& reading) {
  if (!reading.meaning.empty() && reading.meaning.find("computed") != std::string::npos) return reading.meaning;
  if (!reading.role.empty()) return reading.role.title();
  return reading.name;
}

HeatPlace heatPlaceOf(const Reading& reading) {
  if (reading.role.isKnown()) return heatPlaceOf(reading.role.device());
  for (const PlaceOfDriver& row : kByDriver) {
    if (reading.driver == row.driver) return row.place;
  }
  if (reading.driver == kThermalDriver && reading.quantity == Quantity::Temperature && isProcessorZone(reading.name))
    return HeatPlace::Processor;
  if (reading.deviceKey == "processor") return HeatPlace::Processor;
  if (reading.deviceKey == "memory") return HeatPlace::MemoryAndDrives;
  switch (reading.quantity) {
    case Quantity::Voltage:
    case Quantity::Current:
      return HeatPlace::PowerDelivery;
    case Quantity::Temperature:
    case Quantity::FanSpeed:
    case Quantity::Humidity:
      return HeatPlace::AirAndFans;
    default:
      return reading.kind == kDutyKind ? HeatPlace::AirAndFans : HeatPlace::Other;
  }
}

std::string heatPlaceWords(HeatPlace place) {
  constexpr std::array kWords = {"Processor",    "Graphics",      "Power delivery", "Memory, drives",
                                 "Air and fans", "Wall and room", "Everything else"};
  return kWords[static_cast<size_t>(place)];
}

}  // namespace ash
